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
    ends, rooms = _narrow_places(shape)
    gaps: list[shapely.Geometry] = []
    fins: list[shapely.Geometry] = []
    for room in rooms:
        local = _clipped(shape, room)
        closed = _buffered(_buffered(local, HAIRLINE / 2), -HAIRLINE / 2)
        found = _hairlines(closed.difference(local), ends)
        filled = shapely.union_all([local, *_buffered(found, GRID / 2)])
        gaps += [*_buffered(found, GRID / 2)]
        opened = _buffered(_buffered(filled, -HAIRLINE / 2), HAIRLINE / 2)
        fins += [*_buffered(_hairlines(filled.difference(opened), ends), GRID / 2)]
    if gaps:
        near, rest = _beside(shape, gaps)
        filled = shapely.union_all([near, *gaps])
        shape = _together(filled, rest) if 0 <= filled.area - near.area <= _most(gaps) else shape
    if fins:
        near, rest = _beside(shape, fins)
        opened = near.difference(shapely.union_all(fins))
        shape = _together(opened, rest) if 0 <= near.area - opened.area <= _most(fins) else shape
    return shape


def _beside(shape: shapely.Geometry, slivers: list[shapely.Geometry]) -> tuple[shapely.Geometry, NDArray[np.object_]]:
    """The bodies of a shape that slivers lie at, as one, and the others: most lie far from any."""
    bodies = shapely.get_parts(shape)
    near = np.zeros(len(bodies), np.bool_)
    near[shapely.STRtree(bodies).query(slivers, predicate="intersects")[1]] = True
    return shapely.multipolygons(bodies[near]), bodies[~near]


def _together(shape: shapely.Geometry, rest: NDArray[np.object_]) -> shapely.Geometry:
    bodies = shapely.get_parts(shape)
    return shapely.multipolygons(np.concatenate([bodies[shapely.get_dimensions(bodies) == 2], rest]))


def _most(slivers: list[shapely.Geometry]) -> float:
    """The area that taking these on or off can make out, mm²: an answer that differs by more is not taken."""
    return float(shapely.area(slivers).sum()) + 1e-6


def _narrow_places(shape: shapely.Geometry) -> tuple[NDArray[np.object_], NDArray[np.object_]]:
    """The corners that lie within a hairline of an edge that is not near them along the outline, as a gap or a fin
    has such ends, and the tip of an acute corner has not; and the boxes that hold all edges that run so near.
    """
    nothing = np.zeros(0, object)
    rings = shapely.get_rings(shapely.get_parts(shape))
    points, ring = shapely.get_coordinates(rings, return_index=True)
    inner = ring[1:] == ring[:-1]
    starts, ends, ring = points[:-1][inner], points[1:][inner], ring[:-1][inner]
    if not len(starts):
        return nothing, nothing
    before = previous_in_ring(ring)
    leaving, arriving = ends - starts, (ends - starts)[before]
    size = np.hypot(*leaving.T)
    reached = np.cumsum(size)
    around = np.bincount(ring, weights=size)[ring]

    def pairs(chosen: Ints) -> tuple[Ints, Ints]:
        which, edge = _close_pairs(starts[chosen], starts, ends)
        corner = chosen[which]
        after, until = reached[edge] - size[edge], reached[edge]
        at = reached[corner] - size[corner]
        way = np.minimum((after - at) % around[corner], (at - until) % around[corner])
        far = (ring[edge] != ring[corner]) | ((way > _NEAR) & (edge != corner) & (edge != before[corner]))
        return corner[far], edge[far]

    corner, _ = pairs(np.flatnonzero((leaving * arriving).sum(axis=1) < _SHARP * size * size[before]))
    if not len(corner):
        return nothing, nothing
    vertex, edge = pairs(np.arange(len(starts)))
    sides = np.concatenate([vertex, before[vertex], edge])
    low, high = np.minimum(starts, ends)[sides] - _NEAR, np.maximum(starts, ends)[sides] + _NEAR
    return shapely.points(starts[np.unique(corner)]), _apart(shapely.box(*low.T, *high.T))


def _apart(boxes: NDArray[np.object_]) -> NDArray[np.object_]:
    """Boxes that do not meet and hold all of these."""
    while True:
        merged = shapely.envelope(shapely.get_parts(shapely.union_all(boxes)))
        if len(merged) == len(boxes):
            return np.asarray(merged)
        boxes = merged


def _clipped(shape: shapely.Geometry, box: shapely.Geometry) -> shapely.Geometry:
    """What of a shape lies in a box."""
    found = shapely.clip_by_rect(shape, *box.bounds)
    return found if found.is_valid else shape.intersection(box)


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
    # GEOS may lose a body when it shrinks one: what is wide is no hairline, whatever the difference says.
    parts = parts[(long > _SHORTEST * np.maximum(wide, GRID)) & (long > 2 * HAIRLINE) & (wide < 2 * HAIRLINE)]
    near, _ = shapely.STRtree(ends).query(parts, predicate="dwithin", distance=HAIRLINE)
    return np.asarray(parts[np.unique(near)])
