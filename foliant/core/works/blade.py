"""Drag blades: a blade that trails behind the pivot it swivels on, so that the pivot has to lead.

Along a line the pivot runs as far ahead as the blade trails; at a corner it swings round it on an arc, while the point
of the blade stands still there.
"""

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import ARC, LINE, curves
from foliant.core.works.work import TOGETHER, Moves

Floats = NDArray[np.float64]

_STRAIGHT = np.deg2rad(0.5)
"""A turn by less needs no swing."""


def dragged(moves: Moves, trail: float, overcut: float) -> Moves:
    """The way of the pivot whose blade trails `trail` mm behind it, for moves along which its point is to run. What
    ends where it began is gone on with for `overcut` mm, so that it is cut through there.
    """
    if not len(moves):
        return moves
    kinds: list[NDArray[np.uint8]] = []
    points: list[Floats] = []
    for start, end in _strokes(moves):
        one = _over(moves.kinds[start:end], moves.points[start:end], overcut)
        found = _led(*one, trail)
        kinds.append(found[0])
        points.append(found[1])
    return Moves.along(np.concatenate(kinds), np.concatenate(points))


def _strokes(moves: Moves) -> list[tuple[int, int]]:
    """Where each run of work begins and ends."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], moves.working, [False]]).astype(np.int8)))
    return [(int(start), int(end)) for start, end in zip(edges[::2], edges[1::2], strict=True)]


def _over(kinds: NDArray[np.uint8], points: Floats, overcut: float) -> tuple[NDArray[np.uint8], Floats]:
    """A closed stroke with its beginning once more, so far as that."""
    if overcut <= 0 or float(np.hypot(*(points[0, 0] - points[-1, 3]))) > TOGETHER:
        return kinds, points
    lengths = np.cumsum(curves.lengths(kinds, points))
    last = int(np.searchsorted(lengths, overcut))
    if last >= len(kinds):
        return kinds, points
    before = lengths[last - 1] if last else 0.0
    share = (overcut - before) / max(lengths[last] - before, 1e-9)
    tail = curves.cut(kinds[last : last + 1], points[last : last + 1], np.zeros(1), np.array([share]))
    more = np.concatenate([points[:last], tail])
    return np.concatenate([kinds, kinds[: last + 1]]), np.concatenate([points, more])


def _led(kinds: NDArray[np.uint8], points: Floats, trail: float) -> tuple[NDArray[np.uint8], Floats]:
    """Each move so far ahead of itself as the blade trails, with a swing round every corner between them."""
    out, into = (_units(curves.derivatives(kinds, points, np.full(len(kinds), at))) for at in (0.0, 1.0))
    led = np.stack([points[:, 0] + trail * out, *_handles(kinds, points, trail), points[:, 3] + trail * into], axis=1)
    all_kinds, all_points = [], []
    for number in range(len(kinds)):
        if number:
            turn = _turn(into[number - 1], out[number])
            if abs(turn) > _STRAIGHT:
                swing = _swing(points[number, 0], into[number - 1], turn, trail)
                all_kinds += [ARC] * len(swing)
                all_points += swing
        all_kinds.append(int(kinds[number]))
        all_points.append(led[number])
    found = np.array(all_points)
    found[1:, 0] = found[:-1, 3]
    lines = np.array(all_kinds) == LINE
    found[lines, 1], found[lines, 2] = found[lines, 0], found[lines, 3]
    return np.array(all_kinds, np.uint8), found


def _handles(kinds: NDArray[np.uint8], points: Floats, trail: float) -> tuple[Floats, Floats]:
    """The points half-way of what leads arcs: on the circle about the same centre."""
    middle = curves.evaluate(kinds, points, np.full(len(kinds), 0.5))
    ahead = middle + trail * _units(curves.derivatives(kinds, points, np.full(len(kinds), 0.5)))
    return ahead, ahead


def _swing(corner: Floats, before: Floats, turn: float, trail: float) -> list[Floats]:
    """Arcs round a corner, each of at most a quarter."""
    parts = max(1, int(np.ceil(abs(turn) / (np.pi / 2) - 1e-9)))
    first = float(np.arctan2(before[1], before[0]))
    found = []
    for part in range(parts):
        angles = first + turn * (part + np.array([0.0, 0.5, 1.0])) / parts
        start, middle, end = corner + trail * np.stack([np.cos(angles), np.sin(angles)], axis=1)
        found.append(np.array([start, middle, middle, end]))
    return found


def _turn(before: Floats, after: Floats) -> float:
    """By how much the way turns, radians, from -π to π."""
    return float(np.arctan2(before[0] * after[1] - before[1] * after[0], before @ after))


def _units(ways: Floats) -> Floats:
    return np.asarray(ways / np.maximum(np.hypot(ways[:, 0], ways[:, 1]), 1e-12)[:, None])
