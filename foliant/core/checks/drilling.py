"""Whether what is drilled comes out as wide as it is drawn."""

from collections.abc import Iterator

import numpy as np

from foliant.core.checks.finding import Finding, Fix
from foliant.core.design.benches import cut_here
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.operations import AssignMarks
from foliant.core.paths import Path
from foliant.core.paths.nesting import contour
from foliant.core.ticket import Job, Line
from foliant.core.ticket.doing import drill_of
from foliant.core.ticket.sorting import assigned
from foliant.core.units import format_length

_SEEN = 0.1
"""What a hole may come out wider or narrower than it is drawn, mm."""


def drills_are_as_wide(job: Job) -> Iterator[Finding]:
    """A drill stands still on one spot, so a hole comes out as wide as that is, however wide it was drawn."""
    for line in job.lines:
        drill = drill_of(line.settings, job.machine)
        if not (line.runs and drill):
            continue
        off = [hole for hole in _holes(line) if abs(_across(hole) - drill) > max(_SEEN, drill / 4)]
        if off:
            yield _off(job, line, drill, off)


def _off(job: Job, line: Line, drill: float, holes: list[Path]) -> Finding:
    unit = job.design.unit
    widths = sorted({format_length(round(_across(hole), 2), unit) for hole in holes})
    drawn = widths[0] if len(widths) == 1 else f"{widths[0]} and other widths"
    one = len(holes) == 1
    many = "one hole" if one else f"{len(holes)} holes"
    wide = format_length(round(drill, 2), unit)
    boxes = np.array([hole.bounds for hole in holes])
    return Finding(
        "drills_are_as_wide",
        "look",
        f"{line.title}: {many} of {drawn} {'comes' if one else 'come'} out {wide} wide",
        f"{line.title} makes spots {wide} wide, and {many} given to it {'is' if one else 'are'} drawn {drawn} wide: "
        f"cut {'it' if one else 'them'} instead, or type how wide the drill is.",
        "ticket",
        place=(*boxes[:, :2].min(axis=0).tolist(), *boxes[:, 2:].max(axis=0).tolist()),
        fixes=tuple(_cut_instead(job, line, drill)),
    )


def _cut_instead(job: Job, line: Line, drill: float) -> Iterator[Fix]:
    """Giving what it was given to the usual operations again."""
    if line.operation.holes > drill + _SEEN:
        values = {"holes": round(drill, 3)}
        yield Fix("Cut what is wider", Change(do="change", of=f"operation {line.id}", values=values))
    for piece in cut_here(job.design):
        for index, mark, operation in assigned(piece):
            if operation == line.id and mark in ("inner", "outer", "adds", "cuts"):
                parts = (piece.made[index].id,) if index >= 0 else ()
                name = piece.made[index].shape.label()[:30] if parts else f"the holes of {piece.name}"
                yield Fix(f"Cut {name}", AssignMarks(do="assign-marks", piece=piece.id, parts=parts, mark=mark))


def _holes(line: Line) -> Iterator[Path]:
    """The closed outlines that it takes, on the sheet."""
    for path in (line.areas, line.lines):
        for at in np.flatnonzero(path.closed).tolist():
            yield contour(path, at)


def _across(hole: Path) -> float:
    left, top, right, bottom = hole.bounds
    return max(right - left, bottom - top)
