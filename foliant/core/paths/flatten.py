"""Flattening: whole paths to straight edges at once, each edge remembering the piece of curve it stands for."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.path import ARC, CUBIC, Path

TOLERANCE = 0.005
"""How far, in mm, an edge may lie from its curve."""

GRID = 0.0001
"""The grid, in mm, on which all coordinates live."""

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Flat:
    """The edges of a flattened path, in path order.

    points   (k, 2) where each edge starts, on the grid
    ends     (k, 2) where each edge ends, on the grid
    segment  (k,)   the segment of the path it stands for
    t0, t1   (k,)   the parameters of the segment at its two ends
    """

    points: Floats
    ends: Floats
    segment: NDArray[np.int64]
    t0: Floats
    t1: Floats


def on_grid(points: Floats) -> Floats:
    """Coordinates rounded to the grid."""
    return np.asarray(np.round(points / GRID) * GRID)


def flatten(path: Path, tolerance: float = TOLERANCE) -> Flat:
    """Edges that lie within `tolerance` mm of the path.

    Cubics are divided evenly by Wang's bound on their second differences. Arcs are divided at fixed
    angles of their circle, so that two arcs of one circle give the same edges where they coincide.
    """
    kinds, points = path.kinds, path.points
    counts = np.ones(len(path), np.int64)
    cubic = np.flatnonzero(kinds == CUBIC)
    if len(cubic):
        first, one, two, last = points.take(cubic, 0).transpose(1, 2, 0)
        bends = np.maximum(np.hypot(*(first - 2 * one + two)), np.hypot(*(one - 2 * two + last)))
        counts[cubic] = np.maximum(1, np.ceil(np.sqrt(0.75 * bends / tolerance))).astype(np.int64)
    arc = np.flatnonzero(kinds == ARC)
    if len(arc):
        _, radius, angle, sweep = curves.circles(points[arc])
        steps = 2 ** np.ceil(np.log2(np.maximum(8, np.pi / np.arccos(1 - np.minimum(1, tolerance / radius)))))
        step = 2 * np.pi / steps
        forward = np.sign(sweep)
        first = np.floor(angle * forward / step + 1e-6) + 1
        last = np.ceil((angle + sweep) * forward / step - 1e-6) - 1
        counts[arc] = np.maximum(0, last - first + 1).astype(np.int64) + 1
    segment = np.repeat(np.arange(len(path)), counts)
    begin = np.cumsum(counts) - counts
    index = np.arange(len(segment)) - begin[segment]
    t0 = index / counts[segment]
    if len(arc):
        of_arc = np.full(len(path), -1)
        of_arc[arc] = np.arange(len(arc))
        edge_arc = of_arc[segment]
        inner = (edge_arc >= 0) & (index > 0)
        which = edge_arc[inner]
        at = (first[which] + index[inner] - 1) * step[which] * forward[which]
        t0[inner] = (at - angle[which]) / sweep[which]
    t1 = np.ones(len(segment))
    same = segment[1:] == segment[:-1]
    t1[:-1][same] = t0[1:][same]
    starts = on_grid(curves.Curves(kinds, points).among(segment, t0))
    ends = np.empty_like(starts)
    ends[:-1] = starts[1:]
    final = np.append(~same, True) if len(segment) else np.zeros(0, bool)
    ends[final] = on_grid(points[segment[final], 3])
    return Flat(starts, ends, segment, t0, t1)
