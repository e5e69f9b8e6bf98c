"""Corners: rounded, scooped or cut off where two segments of an outline meet at an angle."""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.flatten import GRID, on_grid
from foliant.core.paths.path import ARC, LINE, Path
from foliant.core.paths.rings import next_in_ring, previous_in_ring

CornerStyle = Literal["rounded", "scooped", "cut"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_TURN = np.cos(np.deg2rad(5))
_STEP = 1e-6
_MOST = 3000.0


@dataclass(frozen=True, eq=False)
class Corners:
    """The corners of a path: the index of the segment that leaves each, and where it lies (mm), shape (k, 2)."""

    index: Ints
    at: Floats


def corners_of(path: Path) -> Corners:
    """The nodes of closed contours where the direction turns by more than 5 degrees."""
    if not len(path):
        return Corners(np.zeros(0, np.int64), np.zeros((0, 2)))
    before = previous_in_ring(path.contour_of)
    arriving = _unit(curves.derivatives(path.kinds, path.points, np.full(len(path), 1 - 1e-4)))[before]
    leaving = _unit(curves.derivatives(path.kinds, path.points, np.full(len(path), 1e-4)))
    turns = ((arriving * leaving).sum(axis=1) < _TURN) & path.closed[path.contour_of]
    index = np.flatnonzero(turns)
    return Corners(index, path.points[index, 0])


def with_corners(path: Path, style: CornerStyle, size: float, only: Collection[int] = ()) -> Path:
    """The path with its corners treated; `only` names some of them by their place in `corners_of`, else all are.

    size  the radius of a rounding or a scoop, or what a cut takes from both edges, in mm. Where it is too
          large for the shortest edge, all corners take the largest size that fits.
    """
    chosen = _chosen(path, only)
    if not len(chosen) or size < GRID:
        return path
    trims = _trims(path, chosen, style, size)
    if trims is None:
        size = largest_corner(path, style, only)
        trims = _trims(path, chosen, style, size) if size > GRID else None
    return path if trims is None else _trimmed(path, chosen, style, size, *trims)


def largest_corner(path: Path, style: CornerStyle, only: Collection[int] = ()) -> float:
    """The largest size in mm, to a hundredth, that corners of `with_corners` can have."""
    chosen = _chosen(path, only)
    if not len(chosen):
        return 0.0
    low, high = 0.0, min(_MOST, float(curves.lengths(path.kinds, path.points).max()) * 50)
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (low, middle) if _trims(path, chosen, style, middle) is None else (middle, high)
    return float(np.floor(low * 100 + 1e-3) / 100)


def _chosen(path: Path, only: Collection[int]) -> Ints:
    index = corners_of(path).index
    return index[[i for i in sorted(set(only)) if i < len(index)]] if only else index


def _unit(slopes: Floats) -> Floats:
    return np.asarray(slopes / np.maximum(np.hypot(*slopes.T), 1e-12)[:, None])


def _trims(path: Path, chosen: Ints, style: CornerStyle, size: float) -> tuple[Floats, Floats] | None:
    """Where each corner's treatment leaves the segment before it and joins the one after; None if they do not fit."""
    before = previous_in_ring(path.contour_of)[chosen]
    if style == "rounded":
        ends, begins, sound = _tangent_circle(path, before, chosen, size)
        if not sound:
            return None
    else:
        along = style == "cut"
        ends = 1 - _at_distance(path, before, size, from_end=True, along=along)
        begins = _at_distance(path, chosen, size, from_end=False, along=along)
    start, end = np.zeros(len(path)), np.ones(len(path))
    start[chosen], end[before] = begins, ends
    # Two corners may use up an edge between them, but not more.
    fits = np.isfinite(start).all() and np.isfinite(end).all() and (end - start > -1e-7).all()
    return (ends, begins) if fits else None


def _at_distance(path: Path, segments: Ints, size: float, from_end: bool, along: bool) -> Floats:
    """The share of each segment, counted from one end, that lies within `size` mm of it; NaN where all of it does."""
    kinds, points = path.kinds[segments], path.points[segments]
    if from_end:
        points = points[:, ::-1]
    corner = points[:, 0]
    low, high = np.zeros(len(segments)), np.ones(len(segments))

    def away(t: Floats) -> Floats:
        if along:
            return curves.lengths(kinds, curves.cut(kinds, points, np.zeros(len(t)), t))
        return np.asarray(np.hypot(*(curves.evaluate(kinds, points, t) - corner).T))

    whole = away(high) < size - 1e-7
    for _ in range(45):
        middle = (low + high) / 2
        near = away(middle) < size
        low, high = np.where(near, middle, low), np.where(near, high, middle)
    return np.where(whole, np.nan, (low + high) / 2)


def _tangent_circle(path: Path, before: Ints, after: Ints, radius: float) -> tuple[Floats, Floats, bool]:
    """Where circles of `radius` inside corners touch the two segments, by Newton's method; and whether all do."""
    kinds_a, points_a = path.kinds[before], path.points[before]
    kinds_b, points_b = path.kinds[after], path.points[after]
    ones = np.ones(len(after))
    arriving = _unit(curves.derivatives(kinds_a, points_a, ones * (1 - 1e-4)))
    leaving = _unit(curves.derivatives(kinds_b, points_b, ones * 1e-4))
    cross = arriving[:, 0] * leaving[:, 1] - arriving[:, 1] * leaving[:, 0]
    side = np.sign(cross)
    turn = np.arctan2(np.abs(cross), (arriving * leaving).sum(axis=1))
    trim = radius * np.tan(np.minimum(turn, 3.1) / 2)
    length_a, length_b = curves.lengths(kinds_a, points_a), curves.lengths(kinds_b, points_b)
    s, u = np.clip(1 - trim / length_a, -0.5, 1), np.clip(trim / length_b, 0, 1.5)

    def centre(kinds: NDArray[np.uint8], points: Floats, t: Floats) -> Floats:
        way = _unit(curves.derivatives(kinds, points, t))
        return curves.evaluate(kinds, points, t) + (radius * side)[:, None] * np.stack([-way[:, 1], way[:, 0]], axis=1)

    for _ in range(25):
        gap = centre(kinds_a, points_a, s) - centre(kinds_b, points_b, u)
        along_a = (centre(kinds_a, points_a, s + _STEP) - centre(kinds_a, points_a, s - _STEP)) / (2 * _STEP)
        along_b = (centre(kinds_b, points_b, u + _STEP) - centre(kinds_b, points_b, u - _STEP)) / (2 * _STEP)
        det = along_a[:, 0] * -along_b[:, 1] + along_a[:, 1] * along_b[:, 0]
        det = np.where(np.abs(det) < 1e-12, 1e-12, det)
        step_s = (gap[:, 0] * -along_b[:, 1] + gap[:, 1] * along_b[:, 0]) / det
        step_u = (along_a[:, 0] * gap[:, 1] - along_a[:, 1] * gap[:, 0]) / det
        s, u = s - np.clip(step_s, -0.5, 0.5), u - np.clip(step_u, -0.5, 0.5)
    gap = centre(kinds_a, points_a, s) - centre(kinds_b, points_b, u)
    sound = (np.hypot(*gap.T) < 1e-5) & (s > -1e-7) & (s <= 1) & (u >= 0) & (u < 1 + 1e-7)
    return s, u, bool(sound.all())


def _trimmed(path: Path, chosen: Ints, style: CornerStyle, size: float, ends: Floats, begins: Floats) -> Path:
    """The path with its corners taken off and the treatments put in."""
    before = previous_in_ring(path.contour_of)[chosen]
    start, end = np.zeros(len(path)), np.ones(len(path))
    start[chosen], end[before] = begins, ends
    points = curves.cut(path.kinds, path.points, np.clip(start, 0, 1), np.clip(end, 0, 1))
    here, there = points[before, 3], points[chosen, 0]
    corner = path.points[chosen, 0]
    if style == "rounded":
        way = _unit(curves.derivatives(path.kinds[before], path.points[before], ends))
        chord = there - here
        # The circle's centre lies off the tangent, on the side the outline turns to.
        side = np.sign(way[:, 0] * chord[:, 1] - way[:, 1] * chord[:, 0])
        centre = here + (size * side)[:, None] * np.stack([-way[:, 1], way[:, 0]], axis=1)
        towards = _unit(corner - centre)
    else:
        centre, towards = corner, _unit((here + there) / 2 - corner)
    middle = centre + size * towards
    kind = LINE if style == "cut" else ARC
    new = np.stack([here, here if kind == LINE else middle, there if kind == LINE else middle, there], axis=1)
    kinds = np.insert(path.kinds, chosen, kind)
    merged = on_grid(np.insert(points, chosen, new, axis=0).reshape(-1, 2)).reshape(-1, 4, 2)
    contour = np.insert(path.contour_of, chosen, path.contour_of[chosen])
    kept = np.hypot(*(merged[:, 3] - merged[:, 0]).T) > GRID
    return _renumbered(kinds[kept], merged[kept], contour[kept], path.closed)


def _renumbered(kinds: NDArray[np.uint8], points: Floats, contour: Ints, closed: NDArray[np.bool_]) -> Path:
    starts = np.flatnonzero(np.append(True, contour[1:] != contour[:-1])) if len(contour) else np.zeros(0, np.int64)
    after = next_in_ring(contour) if len(contour) else starts
    points[:, 3] = np.where(closed[contour][:, None], points[after, 0], points[:, 3])
    line = kinds == LINE
    points[line, 2] = points[line, 3]
    return Path(kinds, points, starts, closed[contour[starts]])
