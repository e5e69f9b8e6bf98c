"""Fills compared: every way to fill the areas of an operation, with its time and a small picture."""

import math
from dataclasses import dataclass, replace
from typing import Any

from foliant.core.design import Design
from foliant.core.design.edits.putting import Holder, put
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.ticket.job import Job, Line, plan
from foliant.core.works import Marks, Moves

_PLAIN = {"fill": "rows", "angle": 0.0, "ways": "both", "by": "near"}
WAYS: tuple[tuple[str, dict[str, Any]], ...] = (
    ("in rows, there and back", {}),
    ("in rows, all one way", {"ways": "one"}),
    ("in columns", {"angle": 90.0}),
    ("slanting", {"angle": 45.0}),
    ("piece by piece", {"by": "piece"}),
    ("part by part", {"by": "part"}),
    ("the whole sheet row by row", {"by": "sheet"}),
    ("in rows, then across them", {"fill": "crossed"}),
    ("following the outline inwards", {"fill": "inwards", "by": "part"}),
)
"""Every way that is compared, as it is said, and what it differs in from rows there and back."""

_LINES_SHOWN = 14
_SHOWN = 2.4
"""How many times as wide as high the pictures are."""

_GAP_SHOWN = 5.0


@dataclass(frozen=True)
class Filled:
    """One way to fill: its name, the settings that it is, how long it takes and how long the whole job then does, s;
    whether it is as the operation is done now, whether none is faster; and a picture as path data in its box.
    """

    says: str
    values: tuple[tuple[str, Any], ...]
    seconds: float
    total: float
    now: bool
    fastest: bool
    box: str
    picture: str


def compared(design: Design, shop: Shop, operation: str = "engrave", sheet: int = 1) -> tuple[Filled, ...]:
    """Every way to fill what an operation takes on a sheet but those of too many moves, the fastest first; raises
    `Refused` where there is none.
    """
    job = plan(design, shop, sheet)
    line = _line(job, operation)
    assert line.settings
    marks = min((marks for marks, _ in line.marks if len(marks.area.path)), key=_unlike_a_picture)
    own = {name: getattr(line.settings, name) for name in _PLAIN}
    found = []
    for says, differs in WAYS:
        values = {**_PLAIN, **differs}
        done = plan(put(job.design, Holder("operation", (operation,)), values), shop, job.layout.number)
        index = next(number for number, one in enumerate(done.lines) if one.id == operation)
        if done.lines[index].excess:  # more than a machine is sent is no way to do it, however soon it would be over
            continue
        picture = _picture(done.lines[index], marks)
        seconds, total = done.program.seconds_of(index), done.program.seconds
        found.append(Filled(says, tuple(values.items()), seconds, total, values == own, False, _box(marks), picture))
    if not found:
        raise Refused(f"Every other way to fill {line.title} takes too many moves; lines farther apart take fewer.")
    found.sort(key=lambda way: (round(way.seconds, 3), not way.now))
    return (replace(found[0], fastest=True), *found[1:])


def _line(job: Job, operation: str) -> Line:
    """The line of an operation that runs and fills something."""
    title = job.design.ticket.operation(operation).title
    line = next((one for one in job.lines if one.id == operation and one.runs and one.work.filled), None)
    if line is None or not any(len(marks.area.path) for marks, _ in line.marks):
        raise Refused(f"{title} fills no area on this sheet, so there are no ways to compare.")
    return line


def _unlike_a_picture(marks: Marks) -> float:
    """How far what is filled of an instance is from being as wide and high as its picture is shown."""
    left, top, right, bottom = marks.area.shape.bounds
    return abs(math.log(max(right - left, 0.01) / max(bottom - top, 0.01) / _SHOWN))


def _box(marks: Marks) -> str:
    left, top, right, bottom = marks.area.shape.bounds
    edge = 0.04 * max(right - left, bottom - top)
    return f"{left - edge:.3f} {top - edge:.3f} {right - left + 2 * edge:.3f} {bottom - top + 2 * edge:.3f}"


def _picture(line: Line, marks: Marks) -> str:
    """The way it is done, with lines so far apart that they are told from each other."""
    left, top, right, bottom = marks.area.shape.bounds
    wide = min(5.0, max(0.02, min(right - left, bottom - top) / _LINES_SHOWN))
    assert line.settings
    coarse = line.settings.model_copy(update={"interval": wide})
    return "".join(_drawn(moves) for moves in line.work.fills(marks, coarse, _GAP_SHOWN))


def _drawn(moves: Moves) -> str:
    ends = zip(moves.points[:, 0].round(2).tolist(), moves.points[:, 3].round(2).tolist(), strict=True)
    drawn, last = [], None
    for (start, end), works in zip(ends, moves.working.tolist(), strict=True):
        if works:
            drawn.append(f"{'' if last == start else f'M{start[0]:g} {start[1]:g}'}L{end[0]:g} {end[1]:g}")
            last = end
    return "".join(drawn)
