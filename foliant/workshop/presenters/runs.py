"""Runs and machines as the Run station shows them."""

from collections.abc import Iterator, Mapping
from dataclasses import asdict
from typing import Any

import numpy as np
from django.conf import settings
from django.db.models import Q
from django.utils import timezone
from fontTools.misc.transform import Transform

from foliant.core.design import Design
from foliant.core.design.benches import on_bench
from foliant.core.equipment import SIMULATED, MachineProfile, Shop
from foliant.core.machine import Status
from foliant.core.paths import ARC, LINE, Path
from foliant.core.paths.data import path_data
from foliant.core.program.bed import mapped, sheet_to_bed
from foliant.core.program.lie import STRAIGHT, Lie, Point, Spot, lie_of, spots_of
from foliant.core.ticket import plan
from foliant.core.units import MM_PER_INCH, Unit, format_duration, format_length, format_number
from foliant.workshop.machines import driver_of, is_simulated, machine_of
from foliant.workshop.models import Project, Run
from foliant.workshop.presenters.ticket import some_of

MOST_PAST = 12


def run_view(run: Run, design: Design) -> dict[str, Any]:
    """A run: its state in words, where the machine is on the design's sheet (mm, y down), and its times."""
    to_sheet = _to_sheet(on_bench(design, run.bench), run.lie)
    x, y = to_sheet.transformPoint((run.x, run.y))
    lost = run.silent  # said so, but written down only by the next run: a look changes nothing
    state, message = run.forsaken if lost else (run.state, run.message)
    share = run.clock / run.estimate if run.estimate else 0
    return {
        "id": run.pk,
        "kind": run.kind,
        "state": state,
        "active": run.active and not lost,
        "silent": lost,
        "line": _line(run) if run.in_line else "",
        "message": message,
        "done": run.done,
        "moves": run.moves,
        "percent": 100 if run.state == Run.State.DONE else min(99, int(share * 100)),
        "x": x,
        "y": y,
        "working": run.power > 0,
        "clock": format_duration(run.clock),
        "estimate": format_duration(run.estimate),
        "beside": _beside(run),
        "command": run.command,
        "doing": run.doing,
        "goOn": rest.pk if (rest := run.to_go_on_with) else 0,
        "lie": asdict(run.lie),
        "typed": typed(run.lie, design.unit),
        "lies": _lies(to_sheet.inverse()),
        "took": bool(run.gives_back),
        "tried": run.state == Run.State.DONE and bool(run.used),
    }


def _line(run: Run) -> str:
    """Its place among those that wait for the machine, with about how long the jobs before it take."""
    before = list(run.before)
    if not before:
        return ""
    seconds = sum(max(other.estimate - other.clock, 0.0) for other in before)
    jobs = f"{len(before)} job{'' if len(before) == 1 else 's'} before it"
    takes = f", about {format_duration(seconds)}" if seconds else ""
    return f"Number {len(before) + 1} in line at {run.machine}: {jobs}{takes}."


def _beside(run: Run) -> str:
    """The time taken beside the estimate, once there is one."""
    if run.state != Run.State.DONE or run.kind != Run.Kind.JOB or not run.estimate:
        return ""
    off = run.clock - run.estimate
    if abs(off) < 0.5:
        return "as estimated"
    return f"{format_duration(abs(off))} {'longer' if off > 0 else 'shorter'} than estimated"


def newest_run(project: Project, sheet: int = 1) -> Run | None:
    """The run that the page of a sheet should show: the newest of that sheet, or the one that is under way."""
    wanted = Q(sheet=sheet) | Q(state__in=Run.ACTIVE)
    return project.runs.filter(wanted).defer("burnt_strokes", "program", "takes").first()


def past_runs(project: Project) -> list[dict[str, Any]]:
    """The jobs of a project that have ended, the last first: what was sent when, how long it took, and how it ended."""
    ended = project.runs.filter(kind=Run.Kind.JOB).exclude(state__in=Run.ACTIVE).defer(*Run.HEAVY)
    return [
        {
            "id": run.pk,
            "when": f"{timezone.localtime(run.created):%-d %B, %H:%M}",
            "machine": run.machine,
            "what": _what(run),
            "state": run.state,
            "took": format_duration(run.clock),
            "said": format_duration(run.estimate),
            "message": run.message,
            "brokeOff": run.broke_off,
        }
        for run in ended[:MOST_PAST]
    ]


def _what(run: Run) -> str:
    """What of the project it was."""
    sheet = f"sheet {run.sheet}, " if run.sheet > 1 else ""
    kind = "the rest" if run.goes_on_id else {"": "all"}.get(run.only, "some of it")
    return f"{sheet}{kind} as of revision {run.revision}"


def machine_view(design: Design, shop: Shop, sheet: int = 1) -> dict[str, Any]:
    """The machine: its bed, where the sheet's work lies on it, and how fast the simulated one runs."""
    job = plan(design, shop, sheet)
    machine = job.machine
    left, top, right, bottom = job.layout.bounds
    (x0, y0), (x1, y1) = job.program.to_bed.transformPoints([(left, bottom), (right, top)])
    return {
        "key": machine.key,
        "name": machine.name,
        "about": f"{machine.watts:g} W {machine.about}".strip() if machine.watts else machine.about,
        "bed": [machine.bed_width, machine.bed_height],
        "work": [min(x0, x1), y0, max(x0, x1), y1],
        "simulated": machine.link == SIMULATED,
        "checklist": machine.checklist,
        "eye": eye_view(machine),
        "measures": machine.measures,
        "spots": [(spot, says) for spot, (says, _) in spots_at(job.design).items()],
        "steps": [(step, format_length(step, job.design.unit)) for step in STEPS[job.design.unit]],
        "typed": typed(STRAIGHT, job.design.unit),
        "lies": _lies(job.program.to_bed),
        "bench": job.design.bench,
        "some": some_of(job),
        "rate": settings.MACHINE_RATE,
        "estimate": format_duration(job.program.seconds),
    }


def eye_view(machine: MachineProfile) -> dict[str, Any]:
    """Whether there is a camera over a machine, and what is known of it."""
    lens = machine.lens
    says = f"Its marks lay within {max(lens.off, 0.01):.2f} mm." if lens else ""
    return {
        "camera": bool(machine.camera),
        "simulated": is_simulated(machine.camera),
        "known": lens is not None,
        "says": says,
    }


def greet(design: Design, shop: Shop) -> Status:
    """Connect to the machine and ask where it is; raises `LinkLost`."""
    return driver_of(machine_of(design, shop)).greet()


STEPS: dict[Unit, tuple[float, ...]] = {
    "mm": (0.1, 1, 10, 50),
    "in": tuple(MM_PER_INCH * part for part in (0.01, 0.1, 0.5, 2)),
    "fraction": tuple(MM_PER_INCH * part for part in (1 / 64, 1 / 8, 1 / 2, 2)),
}
"""How far a press leads the head, mm."""


def lie_view(design: Design, marks: Mapping[Spot, Point]) -> dict[str, Any]:
    """Where the sheet lies by points of it, in words too, and the maps between the bed and it."""
    return lies_view(design, lie_of(marks, spots_at(design)))


def spots_at(design: Design) -> dict[Spot, tuple[str, Point]]:
    """The points of a design's sheet that the head is led to."""
    return spots_of(design.stock.width, design.stock.height, design.sheet.jig)


def typed(lie: Lie, unit: Unit) -> dict[str, str]:
    """How a sheet lies, as its maker types it."""
    x, y = (format_length(value, unit) for value in (lie.x, lie.y))
    return {"x": x, "y": y, "turn": f"{format_number(lie.turn)}°"}


def lies_view(design: Design, lie: Lie) -> dict[str, Any]:
    """The same where it is known how it lies."""
    turn = f", turned {abs(lie.turn):.2f}° {'left' if lie.turn > 0 else 'right'}" if abs(lie.turn) > 0.005 else ""
    place = f"{format_length(lie.x, design.unit, with_unit=False)} × {format_length(lie.y, design.unit)}"
    says = f"Its near left corner lies at {place}{turn}." if lie != STRAIGHT else ""
    told = {"lie": asdict(lie), "typed": typed(lie, design.unit), "liesSays": says}
    return {**told, "lies": _lies(_to_sheet(design, lie).inverse())}


def _lies(to_bed: Transform) -> dict[str, Any]:
    """The maps from the sheet to the bed, and back."""
    return {"toBed": list(to_bed), "toSheet": list(to_bed.inverse())}


def _to_sheet(design: Design, lie: Lie) -> Transform:
    """From the bed to the design's sheet where it lies."""
    stock, over = design.stock, design.ticket.face == "down"
    return lie.map.transform(sheet_to_bed(stock.height, stock.width if over else None)).inverse()


def _whole(run: Run | None) -> Iterator[Run]:
    """A run with those that it goes on with."""
    while run:
        yield run
        run = run.goes_on


def burnt_data(run: Run, design: Design) -> list[dict[str, Any]]:
    """What a machine has burnt in a run and those that it goes on with, as path data on the sheet for each power (%) it
    used, gentlest first.
    """
    strokes = np.array([stroke for one in _whole(run) for stroke in one.burnt], np.float64).reshape(-1, 7)
    points = strokes[:, [0, 1, 2, 3, 2, 3, 4, 5]].reshape(-1, 4, 2)
    points = mapped(points, _to_sheet(on_bench(design, run.bench), run.lie))
    chord = points[:, 3] - points[:, 0]
    half = points[:, 1] - points[:, 0]
    bent = np.abs(chord[:, 0] * half[:, 1] - chord[:, 1] * half[:, 0]) > 1e-4
    groups = []
    for power in np.unique(strokes[:, 6]):
        chosen = strokes[:, 6] == power
        count = int(chosen.sum())
        kinds = np.where(bent[chosen], ARC, LINE).astype(np.uint8)
        path = Path(kinds, points[chosen], np.arange(count), np.zeros(count, bool))
        groups.append({"power": float(power), "d": path_data(path, 2)})
    return groups
