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

_SWING = 0.3642
_HEIGHT = 4 / 3
"""The handles of a half wave: along it, and across it as shares of its depth."""


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
    pen.lineTo(point(stops[0]))
    for start, end in pairwise(stops):
        if joint == "straight":
            pen.lineTo(point(end))
            continue
        depth = min(_DEPTH, (end - start) / _SLOPE)
        halves = 2 * max(1, math.floor((end - start) / (_SLOPE * depth)))
        half = (end - start) / halves
        for number in range(halves):
            here, there = start + number * half, start + (number + 1) * half
            aside = _HEIGHT * depth * (1 if number % 2 == 0 else -1)
            pen.curveTo(point(here + _SWING * half, aside), point(there - _SWING * half, aside), point(there))
    pen.lineTo(point(stops[-1] + _PAST))
    pen.endPath()
    return pen.path()


def _polyline(points: np.ndarray) -> Path:
    pen = PathPen()
    pen.moveTo(tuple(points[0].tolist()))
    for corner in points[1:].tolist():
        pen.lineTo(tuple(corner))
    pen.endPath()
    return pen.path()
