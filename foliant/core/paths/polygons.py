"""Flattened contours as GEOS polygons, filled by the nonzero rule."""

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import Flat
from foliant.core.paths.pairs import cross
from foliant.core.paths.path import Path

Geometries = NDArray[np.object_]

_NOTHING = 1e-6
"""A ring that bounds less, in mm², and is yet a ring, crosses itself."""


def polygons(path: Path, flat: Flat, groups: NDArray[np.int64]) -> Geometries:
    """The filled area of a path's closed contours, as valid polygons; their union is the whole.

    `groups` (m,) numbers the contours: contours of one group (a glyph, say) are filled together, so a
    contour that runs the other way is a hole in its own group only. Contours that do not cross, which
    is nearly all of them, take a quick way; the others are noded and each face kept by its winding.
    """
    contour = path.contour_of[flat.segment]
    edges = np.bincount(contour, minlength=len(path.starts))
    usable = path.closed & (edges >= 3)
    keep = usable[contour]
    if not keep.any():
        return np.empty(0, object)
    number = np.cumsum(usable) - 1
    rings = shapely.linearrings(flat.points.compress(keep, 0), indices=number[contour[keep]])
    areas = _signed_areas(flat, contour, len(path.starts))[usable]
    # Number the groups that are used from 0, and find which way the largest contour of each runs.
    group = np.unique(groups[usable], return_inverse=True)[1]
    by_size = np.lexsort((-np.abs(areas), group))
    largest = by_size[np.unique(group[by_size], return_index=True)[1]]
    shell = areas * areas[largest][group] > 0
    plain = np.bincount(group, weights=shell)[group] == 1
    order = np.lexsort((~shell, group))
    order = order[plain[order]]
    found = _with_holes(rings[order], group[order])
    sound = shapely.is_valid(found)
    suspect = set(np.unique(group[order])[~sound].tolist()) | set(group[~plain].tolist())
    filled = [_fill_group(rings[group == number], areas[group == number]) for number in sorted(suspect)]
    result = np.array([*found[sound], *filled], object)
    return np.asarray(result[~shapely.is_empty(result)])


def _with_holes(rings: Geometries, group: NDArray[np.int64]) -> Geometries:
    """One polygon for each group of consecutive rings: the first is its shell, the others are its holes."""
    if not len(rings):
        return np.empty(0, object)
    ring_offsets = np.append(0, np.cumsum(shapely.get_num_coordinates(rings)))
    polygon_offsets = np.append(np.flatnonzero(np.append(True, group[1:] != group[:-1])), len(rings))
    points = shapely.get_coordinates(rings)
    polygon = shapely.GeometryType.POLYGON
    return np.asarray(shapely.from_ragged_array(polygon, points, (ring_offsets, polygon_offsets)))


def _signed_areas(flat: Flat, contour: NDArray[np.int64], count: int) -> NDArray[np.float64]:
    swept = cross(flat.points, flat.ends) / 2
    return np.asarray(np.bincount(contour, weights=swept, minlength=count), np.float64)


def _fill_group(rings: Geometries, areas: NDArray[np.float64]) -> shapely.Geometry:
    """Rings that belong together: those that run like the largest are filled, the others are holes."""
    largest = areas[np.argmax(np.abs(areas))]
    if (np.abs(areas) < _NOTHING).any():
        return _fill_by_winding(rings)  # a figure of eight has as much on one side as on the other
    parts = _nested(rings[areas * largest > 0], rings[areas * largest < 0])
    if parts is None:
        return _fill_by_winding(rings)
    # Of many bodies hardly one has edges that cross: only that one is noded.
    sound = shapely.is_valid(parts)
    mended = [_fill_by_winding(shapely.get_rings(part)) for part in parts[~sound]]
    bodies = np.concatenate([parts[sound], shapely.get_parts(np.array(mended, object))])
    whole = shapely.multipolygons(bodies)
    return whole if shapely.is_valid(whole) else shapely.disjoint_subset_union_all(bodies)


def _nested(shells: Geometries, holes: Geometries) -> Geometries | None:
    """A polygon for each shell with the holes in it; None where a hole lies in no shell."""
    solid = shapely.polygons(shells)
    hole, holder = shapely.STRtree(solid).query(holes, predicate="within")
    # A hole belongs to the smallest shell that holds it.
    order = np.lexsort((shapely.area(solid)[holder], hole))
    hole, first = np.unique(hole[order], return_index=True)
    if len(hole) < len(holes):
        return None
    owner = np.concatenate([np.arange(len(shells)), holder[order][first]])
    together = np.argsort(owner, kind="stable")
    return _with_holes(np.concatenate([shells, holes[hole]])[together], owner[together])


def _fill_by_winding(rings: Geometries) -> shapely.Geometry:
    """Rings that cross: every face of their arrangement whose winding number is not zero."""
    noded = shapely.unary_union(
        shapely.linestrings([shapely.get_coordinates(ring) for ring in rings])
        if len(rings) == 1
        else shapely.multilinestrings(list(rings))
    )
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(noded)))
    if not len(faces):
        return shapely.Polygon()
    inside = shapely.get_coordinates(shapely.point_on_surface(faces))
    return shapely.union_all(faces[windings(rings, inside) != 0])


def windings(rings: Geometries, points: NDArray[np.float64]) -> NDArray[np.int64]:
    """How often rings go round each point (n, 2), by counting the edges that a ray to the right crosses."""
    coordinates, ring = shapely.get_coordinates(rings, return_index=True)
    inner = ring[1:] == ring[:-1]
    a, b = coordinates[:-1][inner], coordinates[1:][inner]
    slanted = a[:, 1] != b[:, 1]
    a, b = a[slanted], b[slanted]
    tree = shapely.STRtree(shapely.linestrings(np.stack([a, b], axis=1)))
    found = np.zeros(len(points), np.int64)
    beyond = coordinates[:, 0].max() + 1
    # Some hundreds of points at once, so that a scribble of thousands of faces stays small in memory.
    for begin in range(0, len(points), 500):
        some = points[begin : begin + 500]
        which, edge = tree.query(shapely.box(some[:, 0], some[:, 1], np.full(len(some), beyond), some[:, 1]))
        x, y = some[which].T
        start, end = a[edge], b[edge]
        side = (end[:, 0] - start[:, 0]) * (y - start[:, 1]) - (x - start[:, 0]) * (end[:, 1] - start[:, 1])
        up = (start[:, 1] <= y) & (end[:, 1] > y) & (side > 0)
        down = (start[:, 1] > y) & (end[:, 1] <= y) & (side < 0)
        turns = up.astype(np.int64) - down
        found[begin : begin + 500] = np.bincount(which, weights=turns, minlength=len(some)).round()
    return found
