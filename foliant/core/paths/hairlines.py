"""Hairlines: gaps between edges that nearly coincide, and fins as thin, which no machine can make."""

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import GRID
from foliant.core.paths.rings import previous_in_ring

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

HAIRLINE = 0.02
"""Gaps and fins thinner than this, in mm, are closed: a tenth of what a laser's cut takes away."""

_SHARP = np.cos(np.deg2rad(25))
_NEAR = 1.0
"""Edges that can be reached from a corner along the outline within so many mm are near it."""

_SHORTEST = 8.0
"""A hairline is at least so many times longer than it is wide; less is a corner."""


def without_hairlines(shape: shapely.Geometry) -> shapely.Geometry:
    """The polygons with hairline gaps filled and hairline fins taken off; nearly all have none and stay as they are."""
    ends = _narrow_ends(shape)
    if not len(ends):
        return shape
    closed = _buffered(_buffered(shape, HAIRLINE / 2), -HAIRLINE / 2)
    gaps = _hairlines(closed.difference(shape), ends)
    filled = shapely.union_all([shape, *_buffered(gaps, GRID / 2)]) if len(gaps) else shape
    opened = _buffered(_buffered(filled, -HAIRLINE / 2), HAIRLINE / 2)
    fins = _hairlines(filled.difference(opened), ends)
    return filled.difference(shapely.union_all(_buffered(fins, GRID / 2))) if len(fins) else filled


def _narrow_ends(shape: shapely.Geometry) -> NDArray[np.object_]:
    """The corners that lie within a hairline of an edge that is not near them along the outline: a gap or a fin
    has such ends, and the tip of an acute corner has not.
    """
    rings = shapely.get_rings(shapely.get_parts(shape))
    points, ring = shapely.get_coordinates(rings, return_index=True)
    inner = ring[1:] == ring[:-1]
    starts, ends, ring = points[:-1][inner], points[1:][inner], ring[:-1][inner]
    if not len(starts):
        return np.zeros(0, object)
    before = previous_in_ring(ring)
    leaving, arriving = ends - starts, (ends - starts)[before]
    size = np.hypot(*leaving.T)
    corners = np.flatnonzero((leaving * arriving).sum(axis=1) < _SHARP * size * size[before])
    which, edge = _close_pairs(starts[corners], starts, ends)
    corner = corners[which]
    reached = np.cumsum(size)
    around = np.bincount(ring, weights=size)[ring[corner]]
    after, until = reached[edge] - size[edge], reached[edge]
    at = reached[corner] - size[corner]
    way = np.minimum((after - at) % around, (at - until) % around)
    far = (ring[edge] != ring[corner]) | ((way > _NEAR) & (edge != corner) & (edge != before[corner]))
    return np.asarray(shapely.points(starts[np.unique(corner[far])]))


def _close_pairs(points: Floats, starts: Floats, ends: Floats) -> tuple[Ints, Ints]:
    """Which points lie within a hairline of which edges, but not on them. The edges are many: points are sorted."""
    order = np.argsort(points[:, 0])
    across = points[order, 0]
    first = np.searchsorted(across, np.minimum(starts[:, 0], ends[:, 0]) - HAIRLINE)
    last = np.searchsorted(across, np.maximum(starts[:, 0], ends[:, 0]) + HAIRLINE)
    count = last - first
    edge = np.repeat(np.arange(len(starts)), count)
    point = order[np.arange(len(edge)) - np.repeat(np.cumsum(count) - count, count) + first[edge]]
    low, high = np.minimum(starts[:, 1], ends[:, 1]) - HAIRLINE, np.maximum(starts[:, 1], ends[:, 1]) + HAIRLINE
    level = (points[point, 1] >= low[edge]) & (points[point, 1] <= high[edge])
    edge, point = edge[level], point[level]
    along, away = ends[edge] - starts[edge], points[point] - starts[edge]
    share = np.clip((away * along).sum(axis=1) / np.maximum((along * along).sum(axis=1), 1e-18), 0, 1)
    apart = np.hypot(*(away - share[:, None] * along).T)
    close = (apart <= HAIRLINE) & (apart > GRID / 2)  # what touches is no gap
    return point[close], edge[close]


def _buffered(shapes: shapely.Geometry | NDArray[np.object_], distance: float) -> shapely.Geometry:
    return shapely.buffer(shapes, distance, join_style="mitre", mitre_limit=2)


def _hairlines(shape: shapely.Geometry, ends: NDArray[np.object_]) -> NDArray[np.object_]:
    """The long thin parts of a shape that have one of these ends."""
    parts = shapely.get_parts(shape)
    parts = parts[shapely.get_dimensions(parts) == 2]
    long, wide = shapely.length(parts) / 2, 2 * shapely.area(parts) / np.maximum(shapely.length(parts), 1e-12)
    parts = parts[(long > _SHORTEST * np.maximum(wide, GRID)) & (long > 2 * HAIRLINE)]
    near, _ = shapely.STRtree(ends).query(parts, predicate="dwithin", distance=HAIRLINE)
    return np.asarray(parts[np.unique(near)])
