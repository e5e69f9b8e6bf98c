"""Joints: the lines along which something too large is cut into cells that fit together again."""

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely

from foliant.core.paths.flatten import flatten
from foliant.core.paths.nesting import contour
from foliant.core.paths.overlay import Region, divide
from foliant.core.paths.path import Path, join
from foliant.core.paths.pens import PathPen
from foliant.core.paths.shapes import rectangle

Joint = Literal["wavy", "straight"]

_PAST = 5.0
"""How far a joint runs out over the edges, mm, so that no skin is left there."""

_DEPTH = 5.0
"""How far a wave goes to either side of the straight line at most, mm."""

_SLOPE = 8.0
"""How many times as long as it is deep a wave is, so that two that cross do so only once."""

_LEAD = 3.0
"""How far a joint runs straight, mm, on either side of where it crosses another or an edge: corners there are right
angles and no thin tips.
"""


def cells(
    bounds: tuple[float, float, float, float],
    columns: int,
    rows: int,
    joint: Joint,
    shift: tuple[float, float] = (0.0, 0.0),
) -> list[Region]:
    """A box as so many cells of one size, row by row; with a wavy joint each reaches into its neighbours. The joints
    are shifted so far (mm) across and down, which makes the first cell larger and the last smaller.
    """
    left, top, right, bottom = bounds
    across, down = np.linspace(left, right, columns + 1), np.linspace(top, bottom, rows + 1)
    across[1:-1] += shift[0]
    down[1:-1] += shift[1]
    lines = [_joint(x, down.tolist(), joint, upright=True) for x in across[1:-1].tolist()]
    lines += [_joint(y, across.tolist(), joint, upright=False) for y in down[1:-1].tolist()]
    width, height = right - left + _PAST, bottom - top + _PAST
    box = rectangle(width, height).moved((left + right) / 2, (top + bottom) / 2)
    found = divide([box], lines) if lines else [Region(box, shapely.box(*box.bounds))]

    def place(cell: Region) -> tuple[int, int]:
        x, y = cell.shape.centroid.coords[0]
        return int(np.searchsorted(down[1:-1], y)), int(np.searchsorted(across[1:-1], x))

    return sorted(found, key=place)


def within(lines: Path, cell: Region) -> Path:
    """What of open and closed lines lies in a cell. Those that reach beyond it are cut into short straight ones."""
    shapely.prepare(cell.shape)
    kept = []
    for number in range(len(lines.starts)):
        line = contour(lines, number)
        flat = flatten(line)
        points = np.vstack([flat.points, flat.ends[-1:]])
        drawn = shapely.linestrings(points)
        if shapely.contains_properly(cell.shape, drawn):
            kept.append(line)
        elif shapely.intersects(cell.shape, drawn):
            cut = shapely.get_parts(shapely.line_merge(shapely.intersection(drawn, cell.shape)))
            kept += [_polyline(shapely.get_coordinates(part)) for part in cut if part.length > 0]
    return join(kept)


def _joint(at: float, stops: Sequence[float], joint: Joint, upright: bool) -> Path:
    """One joint from stop to stop, in whole waves between them, so that others cross it where it is straight on."""

    def point(along: float, aside: float = 0.0) -> tuple[float, float]:
        return (at + aside, along) if upright else (along, at + aside)

    pen = PathPen()
    pen.moveTo(point(stops[0] - _PAST))
    for start, end in pairwise(stops) if joint == "wavy" else ():
        lead = min(_LEAD, (end - start) / _SLOPE)
        turns = _turns(start + lead, end - lead)
        pen.lineTo(point(*turns[0]))
        for here, there in pairwise(turns):
            middle = (here[0] + there[0]) / 2
            pen.curveTo(point(middle, here[1]), point(middle, there[1]), point(*there))
    pen.lineTo(point(stops[-1] + _PAST))
    pen.endPath()
    return pen.path()


def _turns(start: float, end: float) -> list[tuple[float, float]]:
    """Where waves from one place to another run straight on: how far along, and how far aside, mm."""
    depth = min(_DEPTH, (end - start) / _SLOPE)
    waves = max(1, math.floor((end - start) / (_SLOPE * depth)))
    quarter = (end - start) / waves / 4
    crests = [(start + (2 * number + 1) * quarter, depth if number % 2 == 0 else -depth) for number in range(2 * waves)]
    return [(start, 0.0), *crests, (end, 0.0)]


def _polyline(points: np.ndarray) -> Path:
    pen = PathPen()
    pen.moveTo(tuple(points[0].tolist()))
    for corner in points[1:].tolist():
        pen.lineTo(tuple(corner))
    pen.endPath()
    return pen.path()
