"""Thin places: where material is narrower than a limit, and where the cut takes openings away."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.overlay import Region
from foliant.core.remembering import remembered


@dataclass(frozen=True, eq=False)
class ThinPlace:
    """A place narrower than the limit: its area, how narrow it is at its narrowest (mm), and where that is."""

    shape: shapely.Polygon
    width: float
    at: tuple[float, float]


_QUARTER = 12
_ROOM = 0.25
"""What is left of an opening counts where its area is more than so many squares of the cut."""

_SLACK = 0.02
"""Offsets are made of edges, so what is left within this share of the limit is not thin but rounding."""


@remembered
def thin_places(region: Region, limit: float) -> list[ThinPlace]:
    """Where a region is narrower than `limit` mm, narrowest first: what a disc of that width cannot enter.

    The tip of a corner is narrow by nature, and is left out until it is twice as long as the limit.
    """
    if region.shape.is_empty or limit <= 0:
        return []
    core = shapely.buffer(region.shape, -limit / 2 * (1 - _SLACK), quad_segs=_QUARTER)
    opened = shapely.buffer(core, limit / 2, quad_segs=_QUARTER)
    webs = _measured(region.shape.difference(opened), opened, limit)
    return sorted([*webs, *_necks(region.shape, core, limit)], key=lambda place: place.width)


def _necks(region: shapely.Geometry, core: shapely.Geometry, limit: float) -> list[ThinPlace]:
    """Where two areas that discs can enter meet in less than a disc, like two coins that overlap a little."""
    rooms = shapely.buffer(shapely.get_parts(core), limit / 2, quad_segs=_QUARTER)
    first, second = shapely.STRtree(rooms).query(rooms, predicate="intersects")
    pairs = first < second
    lenses = shapely.intersection(rooms[first[pairs]], rooms[second[pairs]])
    lenses = lenses[shapely.area(lenses) > 0]
    near = np.array([shapely.clip_by_rect(region, *box) for box in shapely.bounds(lenses)], object)
    shared = shapely.intersection(lenses, shapely.make_valid(near))  # with all of the region each would take long
    found = []
    edge = shapely.boundary(region)
    for lens in shapely.get_parts(shared[shapely.area(shared) > 0]):
        width = float(2 * shapely.distance(shapely.centroid(lens), edge))
        if lens.area > 0 and width < limit * (1 - _SLACK / 2):
            found.append(ThinPlace(shapely.buffer(lens, limit * _SLACK), width, _middle(lens)))
    return found


@remembered
def lost_openings(openings: shapely.Geometry, cut: float) -> list[ThinPlace]:
    """Where openings vanish or fall apart once they are narrowed by a cut of a width (mm), narrowest first.

    The points of a V, a notch between strokes, the tip of a slot are narrow by nature, and lose nothing.
    """
    if openings.is_empty or cut <= 0:
        return []
    found = []
    whole = shapely.get_parts(openings)
    for opening, left in zip(whole, shapely.buffer(whole, -cut / 2 * (1 - _SLACK), quad_segs=_QUARTER), strict=True):
        rooms = [room for room in shapely.get_parts(left) if room.area > _ROOM * cut * cut]
        if not rooms:
            widest = shapely.maximum_inscribed_circle(opening)
            found.append(ThinPlace(opening, float(2 * widest.length), _middle(shapely.Point(widest.coords[0]))))
        elif len(rooms) > 1:
            opened = shapely.buffer(shapely.multipolygons(rooms), cut / 2, quad_segs=_QUARTER)
            ways = [part for part in shapely.get_parts(opening.difference(opened)) if _joins(part, opened)]
            found += _measured(shapely.multipolygons(ways), opened, cut) if ways else []
    return sorted(found, key=lambda place: place.width)


def _joins(way: shapely.Geometry, rooms: shapely.Geometry) -> bool:
    """Whether an area lies between two rooms, and not at the end of one."""
    near = shapely.buffer(way, _SLACK)
    return int(shapely.intersects(shapely.get_parts(rooms), near).sum()) > 1


def _measured(rest: shapely.Geometry, wide: shapely.Geometry, limit: float) -> list[ThinPlace]:
    """The thin parts of an area with their widths; `wide` is what is not thin."""
    parts = shapely.get_parts(rest)
    parts = parts[(shapely.get_dimensions(parts) == 2) & (shapely.area(parts) > 0.02 * limit * limit)]
    if not len(parts):
        return []
    # What is thin lies beside what is not: its edge is shore where it is near the edge of that.
    part, edge, edges = _edges_near(parts, wide, limit * _SLACK)
    order = np.argsort(part, kind="stable")
    touched, begins = np.unique(part[order], return_index=True)
    near = np.array([shapely.multilinestrings(few) for few in np.split(edges[edge[order]], begins[1:])], object)
    shores = np.full(len(parts), shapely.Polygon(), object)
    shores[touched] = shapely.buffer(shapely.line_merge(near), limit * _SLACK)  # chains, as edges alone take long
    rims = shapely.line_merge(shapely.difference(shapely.get_exterior_ring(parts), shores))
    found = []
    for shape, rim, shore in zip(parts, rims, shores, strict=True):
        sides = shapely.get_parts(rim)
        sides = sides[np.argsort(-shapely.length(sides))]
        if len(sides) >= 2:  # and as many ends between them
            across = shapely.shortest_line(sides[0], sides[1])
            found.append(ThinPlace(shape, float(across.length), _middle(across)))
        elif shore.is_empty or shapely.length(shape) / 2 > 2 * limit:
            # A stroke that ends: its width is about its area by its length.
            found.append(ThinPlace(shape, float(2 * shape.area / shape.length), _middle(shape.representative_point())))
    return sorted(found, key=lambda place: place.width)


def _edges_near(
    parts: NDArray[np.object_], wide: shapely.Geometry, reach: float
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.object_]]:
    """Pairs (part, edge) of which edges of a shape lie within `reach` mm of which parts, and all those edges."""
    points, ring = shapely.get_coordinates(shapely.get_rings(shapely.get_parts(wide)), return_index=True)
    inner = ring[1:] == ring[:-1]
    edges = shapely.linestrings(np.stack([points[:-1][inner], points[1:][inner]], axis=1))
    part, edge = shapely.STRtree(edges).query(parts, predicate="dwithin", distance=reach)
    return part, edge, edges


def _middle(shape: shapely.Geometry) -> tuple[float, float]:
    return float(shape.centroid.x), float(shape.centroid.y)
