"""Curve recovery: the polygons that GEOS returns, told again in the curves that went in.

Nearly all edges of an overlay are edges that went in, whole; they are found by a look-up of their two
ends. The rest were split where outlines cross; each is found by what lies under its middle. `assemble`
then makes paths of them.
"""

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.assemble import Edges, Told, assemble
from foliant.core.paths.flatten import GRID, Flat, on_grid
from foliant.core.paths.pairs import cross, differ, dot, size
from foliant.core.paths.path import Path

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_REACH = 3 * GRID
"""How far, in mm, a split edge may lie from the edge it was split from, after rounding."""


def recover(shape: shapely.Geometry, source: Path, flat: Flat, open_lines: bool = False) -> Told:
    """The boundary of `shape` as a path made of pieces of `source`, of which `flat` holds the edges.

    Only closed contours bound areas, unless `open_lines` says that others may too.
    """
    edges = _explain(ring_edges(shape), source, flat, open_lines)
    return assemble(edges, source)


def ring_edges(shape: shapely.Geometry) -> Edges:
    """The edges of all rings, on the grid, not yet explained."""
    rings = shapely.get_rings(shapely.get_parts(shape))
    coordinates, ring = shapely.get_coordinates(rings, return_index=True)
    coordinates = on_grid(coordinates)
    inner = ring[1:] == ring[:-1]
    inner &= differ(coordinates[1:], coordinates[:-1])
    starts, ends, ring = (found.compress(inner, 0) for found in (coordinates[:-1], coordinates[1:], ring[:-1]))
    # A ring that the grid has closed to nothing (fewer than three edges) bounds no area.
    big = np.bincount(ring, minlength=len(rings))[ring] >= 3
    if not big.all():
        starts, ends, ring = (found.compress(big, 0) for found in (starts, ends, ring))
    zero = np.zeros(len(ring))
    return Edges(starts, ends, ring, np.full(len(ring), -1), zero, zero.copy())


def _pack(points: Floats) -> Ints:
    """Grid points as single integers; coordinates up to ±50 m."""
    cells = np.round(points / GRID).astype(np.int64) + (1 << 29)
    return np.asarray((cells[:, 0] << 30) | cells[:, 1])


def _explain(edges: Edges, source: Path, flat: Flat, open_lines: bool) -> Edges:
    """Find for every edge its segment and parameters: by its ends, or else by what lies under it."""
    used = differ(flat.points, flat.ends)
    if not open_lines:
        used &= source.closed[source.contour_of[flat.segment]]
    candidates = np.flatnonzero(used)
    packed, number = np.unique(_pack(np.concatenate([flat.points, flat.ends])), return_inverse=True)
    size = len(packed)
    begins, finishes = number[: len(flat.points)][candidates], number[len(flat.points) :][candidates]
    keys = np.concatenate([begins * size + finishes, finishes * size + begins])
    order = np.argsort(keys, kind="stable")
    keys = keys[order]

    first, second = _pack(edges.starts), _pack(edges.ends)
    i, j = (np.minimum(np.searchsorted(packed, ends), size - 1) for ends in (first, second))
    known = (packed[i] == first) & (packed[j] == second)
    wanted = i * size + j
    at = np.minimum(np.searchsorted(keys, wanted), len(keys) - 1)
    known &= keys[at] == wanted
    found = order[at]
    reverse = found >= len(candidates)
    origin = candidates[np.where(reverse, found - len(candidates), found)]

    segment = np.where(known, flat.segment[origin], -1)
    t0 = np.where(reverse, flat.t1[origin], flat.t0[origin])
    t1 = np.where(reverse, flat.t0[origin], flat.t1[origin])

    split = np.flatnonzero(~known)
    if len(split):
        whole = np.zeros(len(flat.points), bool)
        whole[origin[known]] = True
        remaining = candidates[~whole[candidates]]
        middle, start, end = _look_under(edges, split, flat, remaining)
        sure = middle >= 0
        segment[split[sure]] = flat.segment[middle[sure]]
        t0[split[sure]], t1[split[sure]] = start[sure], end[sure]
    return Edges(edges.starts, edges.ends, edges.ring, segment, t0, t1)


def _look_under(edges: Edges, split: Ints, flat: Flat, remaining: Ints) -> tuple[Ints, Floats, Floats]:
    """For split edges: the flat edge each lies on (-1 for none) and the segment's parameters at both ends."""
    best = np.full(len(split), -1)
    start, end = np.zeros(len(split)), np.zeros(len(split))
    if not len(remaining):
        return best, start, end
    tree = shapely.STRtree(shapely.linestrings(np.stack([flat.points[remaining], flat.ends[remaining]], axis=1)))
    middles = shapely.points((edges.starts[split] + edges.ends[split]) / 2)
    which, hit = tree.query(middles, predicate="dwithin", distance=_REACH)
    if not len(which):
        return best, start, end
    under = remaining[hit]
    base = flat.points.take(under, 0)
    along = flat.ends.take(under, 0) - base
    length = size(along)
    unit = along / length[:, None]

    def across(points: Floats) -> Floats:
        return np.abs(cross(points - base, unit))

    def share(points: Floats) -> Floats:
        return dot(points - base, unit) / length

    a, b = edges.starts[split[which]], edges.ends[split[which]]
    miss = np.maximum(across(a), across(b))
    # Of edges that lie over each other, the one that reaches to both ends explains it best.
    from_a, from_b = share(a), share(b)
    beyond = (np.maximum(-np.minimum(from_a, from_b), np.maximum(from_a, from_b) - 1) * length > _REACH).astype(int)
    order = np.lexsort((under, miss, beyond, which))
    chosen = order[np.unique(which[order], return_index=True)[1]]
    chosen = chosen[miss[chosen] <= _REACH]
    at = which[chosen]
    best[at] = under[chosen]
    span = flat.t1[under] - flat.t0[under]
    start[at] = (flat.t0[under] + np.clip(from_a, 0, 1) * span)[chosen]
    end[at] = (flat.t0[under] + np.clip(from_b, 0, 1) * span)[chosen]
    return best, start, end
