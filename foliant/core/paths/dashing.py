"""Lines cut at lengths along them, and lines in dashes."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.path import CUBIC, EMPTY, Path, join

Floats = NDArray[np.float64]
Kinds = NDArray[np.uint8]

_PARTS = 8
"""A cubic is cut into so many pieces, whose parameter runs nearly as their length does."""

MOST_DASHES = 20_000


def cut_along(kinds: Kinds, points: Floats, along: Floats, edges: Floats) -> tuple[Kinds, Floats, Floats]:
    """Segments that follow each other, cut at some lengths along them, and the length at the middle of each piece.

    along  (n + 1,) the length at which each segment begins, and the last ends, mm
    edges  the lengths to cut at
    """
    stops = np.unique(np.concatenate([along, np.clip(edges, 0.0, along[-1])]))
    stops = stops[np.concatenate([[True], np.diff(stops) > 1e-7])]
    starts, ends = stops[:-1], stops[1:]
    middles = (starts + ends) / 2
    segment = np.clip(np.searchsorted(along, middles) - 1, 0, len(kinds) - 1)
    size = np.maximum(along[segment + 1] - along[segment], 1e-12)
    t0, t1 = (starts - along[segment]) / size, (ends - along[segment]) / size
    found = curves.cut(kinds[segment], points[segment], np.clip(t0, 0, 1), np.clip(t1, 0, 1))
    found[1:, 0] = found[:-1, 3]  # one begins where the last ends, to the last digit
    return kinds[segment], found, middles


def dashed(path: Path, pattern: Sequence[float], begins: float = 0.0) -> Path:
    """A path in dashes and gaps by turns, so long each, `begins` into the pattern: open contours; as it is where that
    would be more dashes than anybody draws.
    """
    whole = np.array(pattern if len(pattern) % 2 == 0 else [*pattern, *pattern], np.float64)
    period = float(whole.sum())
    if not len(path) or period <= 0 or (whole < 0).any() or path.length / period * len(whole) > MOST_DASHES:
        return path
    turns = np.cumsum(whole)
    return join(
        _dashes(path.kinds[segments], path.points[segments], turns, begins % period) for segments, _ in path.contours()
    )


def _dashes(kinds: Kinds, points: Floats, turns: Floats, begins: float) -> Path:
    kinds, points = _even(kinds, points)
    along = np.concatenate([[0.0], np.cumsum(curves.lengths(kinds, points))])
    period = turns[-1]
    rounds = np.arange(int((along[-1] + begins) / period) + 1) * period
    edges = (rounds[:, None] + turns - begins).ravel()
    kinds, points, middles = cut_along(kinds, points, along, edges)
    phase = np.searchsorted(turns, (middles + begins) % period, side="right")
    number = np.searchsorted(edges, middles)
    drawn = phase % 2 == 0
    if not drawn.any():
        return EMPTY
    kinds, points, number = kinds[drawn], points[drawn], number[drawn]
    starts = np.flatnonzero(np.append(True, number[1:] != number[:-1]))
    return Path(kinds, points, starts, np.zeros(len(starts), np.bool_))


def _even(kinds: Kinds, points: Floats) -> tuple[Kinds, Floats]:
    count = np.where(kinds == CUBIC, _PARTS, 1)
    which = np.repeat(np.arange(len(kinds)), count)
    part = np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count)
    share = 1.0 / count[which]
    return kinds[which], curves.cut(kinds[which], points[which], part * share, (part + 1) * share)
