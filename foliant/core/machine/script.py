"""Scripts: the very lines that a machine is sent, with what is known of them before they run."""

from dataclasses import dataclass
from typing import Literal

from foliant.core.checks import check
from foliant.core.design import Design
from foliant.core.design.references import union
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.formats.gcode import write_gcode
from foliant.core.layout import all_sheets
from foliant.core.paths import join
from foliant.core.ticket import Job, plan
from foliant.core.ticket.only import only

ScriptKind = Literal["job", "trace"]

_OF_A_TRACE = 6


@dataclass(frozen=True)
class Script:
    """Lines for a machine, how many moves they make, and the seconds they are reckoned to take (0 for a trace)."""

    lines: tuple[str, ...]
    moves: int
    seconds: float


def script_of(design: Design, shop: Shop, kind: ScriptKind, sheet: int = 1, what: str = "") -> Script:
    """The job of one of a design's sheets or only some of it, see `only`, or a trace of its bounds. Raises `Refused`
    where it should not run.
    """
    job = plan(design, shop, sheet)
    if sheet > (count := len(all_sheets(design))):
        raise Refused(f"There is no sheet {sheet} any more: the design takes {count}.")
    if not job.layout.instances:
        raise Refused("Nothing lies on the sheet, so there is nothing to run.")
    if kind == "trace":
        return Script(tuple(trace_lines(job)), _OF_A_TRACE, 0.0)
    stops = [finding for finding in check(job) if finding.level == "stop"]
    if stops:
        raise Refused(f"The check found what would spoil the job: {stops[0].sentence}")
    job = only(job, what)
    if not len(job.program):
        raise Refused("Nothing on the ticket is on, so the machine would do nothing.")
    return Script(tuple(run_lines(job)), len(job.program), job.program.seconds)


def run_lines(job: Job) -> list[str]:
    """The lines that run a job: `M0` first, so that it waits for the start button on the machine."""
    return ["M0", *_bare(write_gcode(job))]


def trace_lines(job: Job) -> list[str]:
    """The lines that lead the head once round all that will be made, with the tool off."""
    weeding = join(line.weeding for line in job.lines)
    left, top, right, bottom = union([job.layout.bounds, *([weeding.bounds] if len(weeding) else [])])
    corners = [(left, bottom), (right, bottom), (right, top), (left, top), (left, bottom)]
    on_bed = job.program.to_bed.transformPoints(corners)
    return ["G21", "G90", "M5", *(f"G0 X{x:.3f} Y{y:.3f}" for x, y in on_bed), "G0 X0 Y0", "M2"]


def _bare(gcode: str) -> list[str]:
    """G-code without comments and empty lines, which a controller need not be sent."""
    return [line for line in (raw.partition(";")[0].strip() for raw in gcode.splitlines()) if line]
