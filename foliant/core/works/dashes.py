"""Lines that are not followed all along: bridges left standing, and perforations."""

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.dashing import cut_along

Floats = NDArray[np.float64]
Kinds = NDArray[np.uint8]

_CORNER = float(np.cos(np.deg2rad(15)))
_TRIES = 24
_LEAST = 6.0
"""A line has at most one bridge to so many of its widths."""

Dashed = tuple[Kinds, Floats, NDArray[np.bool_]]
"""Moves as in `Moves`: kinds, points, and whether each works."""


def with_bridges(kinds: Kinds, points: Floats, count: int, width: float) -> Dashed:
    """A line with so many stretches of a width, mm, along which nothing is done: evenly spaced, but rather away from
    its corners and from where it begins. Lines and arcs only.
    """
    along = np.concatenate([[0.0], np.cumsum(curves.lengths(kinds, points))])
    total = float(along[-1])
    count = min(count, int(total / (_LEAST * width)))
    if count <= 0:
        return kinds, points, np.ones(len(kinds), np.bool_)
    avoid = np.concatenate([[0.0, total], along[:-1][_corners(kinds, points)]])
    middles = [_away(total * (number + 0.5) / count, total / count, avoid, width) for number in range(count)]
    edges = np.sort(np.array([middle + side * width / 2 for middle in middles for side in (-1, 1)]))
    cut_kinds, cut_points, centres = cut_along(kinds, points, along, edges)
    working = np.searchsorted(edges, centres) % 2 == 0
    return cut_kinds, cut_points, np.asarray(working)


def perforated(kinds: Kinds, points: Floats, dash: float, gap: float) -> Dashed:
    """A line in dashes with gaps between, mm, beginning and ending with a dash; the gaps are as long as is said, the
    dashes as near to it as comes out evenly. Lines and arcs only.
    """
    along = np.concatenate([[0.0], np.cumsum(curves.lengths(kinds, points))])
    total = float(along[-1])
    count = max(1, round((total + gap) / (dash + gap)))
    long = (total - (count - 1) * gap) / count
    if count == 1 or long <= 0:
        return kinds, points, np.ones(len(kinds), np.bool_)
    starts = np.arange(1, count) * (long + gap)
    edges = np.sort(np.concatenate([starts - gap, starts]))
    cut_kinds, cut_points, centres = cut_along(kinds, points, along, edges)
    return cut_kinds, cut_points, np.asarray(np.searchsorted(edges, centres) % 2 == 0)


def _away(at: float, room: float, avoid: Floats, width: float) -> float:
    """The place nearest to `at` that is well away from what is to be avoided; else the one that is farthest away."""
    steps = np.arange(_TRIES) * 0.4 * room / _TRIES
    tried = at + np.concatenate([steps, -steps])
    away = np.abs(tried[:, None] - avoid).min(axis=1) - width / 2
    good = away >= max(1.0, width)
    if good.any():
        return float(tried[good][np.argmin(np.abs(tried[good] - at))])
    return float(tried[np.argmax(away)])


def _corners(kinds: Kinds, points: Floats) -> NDArray[np.bool_]:
    """Whether each move begins at a corner."""
    out = curves.derivatives(kinds, points, np.zeros(len(kinds)))
    into = np.roll(curves.derivatives(kinds, points, np.ones(len(kinds))), 1, axis=0)
    lengths = np.hypot(*out.T) * np.hypot(*into.T)
    return np.asarray((into * out).sum(axis=1) < _CORNER * lengths)
