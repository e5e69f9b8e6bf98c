"""Scripts: the very lines that a machine is sent, with what is known of them before they run."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from foliant.core.checks import check
from foliant.core.design import Design
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.formats.gcode import gcode_lines
from foliant.core.layout import all_sheets
from foliant.core.machine.interpreter import is_move
from foliant.core.machine.tracing import Round, trace_lines, traced
from foliant.core.program.lie import STRAIGHT, Lie
from foliant.core.ticket import Job, plan
from foliant.core.ticket.again import once_more
from foliant.core.ticket.only import CUTS, only

ScriptKind = Literal["job", "trace"]

_MOST_STEPS = 2000
_LITTLE = 0.01  # mm

Steps = tuple[tuple[int, str], ...]
"""What a job does, as (the number of the first move, what is done on which instance)."""


@dataclass(frozen=True)
class Script:
    """Lines for a machine, how many moves they make, the seconds they are reckoned to take (0 for a trace), and what
    they do from which move on.
    """

    lines: tuple[str, ...]
    moves: int
    seconds: float
    steps: Steps = ()


def doing(steps: Steps, done: int) -> str:
    """What a job does once it has made so many moves."""
    return next((says for first, says in reversed(steps) if first <= done), "")


def script_of(
    design: Design,
    shop: Shop,
    kind: ScriptKind,
    sheet: int = 1,
    what: str = "",
    lie: Lie = STRAIGHT,
    how: Round = "box",
) -> Script:
    """The job of one of a design's sheets or only some of it, see `only`, or a trace round it, on the sheet where that
    lies. Raises `Refused` where it should not run.
    """
    job = plan(design, shop, sheet)
    if sheet > (count := len(all_sheets(design))):
        raise Refused(f"There is no sheet {sheet} any more: the design takes {count}.")
    if not job.layout.instances:
        raise Refused("Nothing lies on the sheet, so there is nothing to run.")
    if kind == "trace":
        job = lain(job, lie)
        _check_reach(job, (point for way in traced(job, how) for point in way))
        lines = tuple(trace_lines(job, how))
        return Script(lines, sum(map(is_move, lines)), 0.0)
    stops = [finding for finding in check(job) if finding.level == "stop"]
    if stops:
        raise Refused(f"The check found what would spoil the job: {stops[0].sentence}")
    job = once_more(design, shop, sheet) if what == CUTS else only(job, what)
    if not len(job.program):
        raise Refused("Nothing on the ticket is on, so the machine would do nothing.")
    job = lain(job, lie)
    _check_reach(job, (point for stretch in job.program.stretches() for point in _box(stretch.points)))
    return job_script(job)


def lain(job: Job, lie: Lie) -> Job:
    """The job on its sheet where that lies."""
    program = job.program
    return job if lie == STRAIGHT else replace(job, program=replace(program, to_bed=lie.map.transform(program.to_bed)))


def _box(points: NDArray[np.float64]) -> list[tuple[float, float]]:
    ends = points.reshape(-1, 2)
    return [tuple(ends.min(axis=0).tolist()), tuple(ends.max(axis=0).tolist())]


def _check_reach(job: Job, points: Iterable[tuple[float, float]]) -> None:
    """Raises `Refused` where the machine cannot reach all of it."""
    machine, found = job.machine, np.array(list(points))
    (left, near), (right, far) = found.min(axis=0), found.max(axis=0)
    over = max(-left, -near, right - machine.bed_width, far - machine.bed_height)
    if over > _LITTLE:
        raise Refused(
            f"Where the sheet lies, {over:.1f} mm of the work is beyond the bed of {machine.name}, which is "
            f"{machine.bed_width:g} × {machine.bed_height:g} mm: move the sheet, or say again where it lies."
        )


def job_script(job: Job) -> Script:
    """The script of a job: `M0` first, so that it waits for the start button on the machine, and nothing that a
    controller need not be sent.
    """
    program, lines, count = job.program, ["M0"], 0
    steps: list[tuple[int, tuple[int, int]]] = []
    for written in gcode_lines(job):
        if written.place >= 0:
            does = int(program.operation[written.place]), int(program.instance[written.place])
            if not steps or steps[-1][1] != does:
                steps.append((count, does))
        lines.extend(line for line in written.lines if not line.startswith(";"))
        count += written.moves
    if len(steps) > _MOST_STEPS:
        steps = [(first, (line, -1)) for first, (line, _) in steps]
    said = [(first, _says(job, *does)) for first, does in steps]
    fewer = tuple(one for at, one in enumerate(said) if not at or one[1] != said[at - 1][1])
    return Script(tuple(lines), count, program.seconds, fewer)


def _says(job: Job, line: int, instance: int) -> str:
    on = f" of {job.layout.instances[instance].label}" if instance >= 0 else ""
    return f"{job.lines[line].title}{on}"


def run_lines(job: Job) -> list[str]:
    """The lines that run a job."""
    return list(job_script(job).lines)


def go_lines(x: float, y: float) -> list[str]:
    """The lines that lead the head to a place of the bed, mm, with the tool off."""
    return ["G21", "G90", "M5", f"G0 X{x:.3f} Y{y:.3f}", "M2"]
