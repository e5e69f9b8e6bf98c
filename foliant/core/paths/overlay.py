"""Overlay: areas united, cut away, met or divided, computed by GEOS and given back in true curves."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, reduce

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import TOLERANCE, Flat, flatten, on_grid
from foliant.core.paths.hairlines import HAIRLINE, without_hairlines
from foliant.core.paths.path import ARC, EMPTY, Path, join
from foliant.core.paths.polygons import polygons
from foliant.core.paths.recover import recover
from foliant.core.paths.spikes import without_spikes


@dataclass(frozen=True, eq=False)
class Region:
    """An area: its boundary in true curves, and the same area as GEOS polygons (within the tolerance).

    Outer contours run clockwise on the page, holes the other way.
    """

    path: Path
    shape: shapely.Geometry

    @cached_property
    def bodies(self) -> tuple[shapely.Polygon, ...]:
        """The separate pieces of material, largest first."""
        parts = [part for part in shapely.get_parts(self.shape) if part.area > 0]
        return tuple(sorted(parts, key=lambda part: -part.area))


NOTHING = Region(EMPTY, shapely.Polygon())


def combine(adds: Sequence[Path], cuts: Sequence[Path] = (), keeps: Sequence[Path] = ()) -> Region:
    """The area inside any of `adds` and none of `cuts`, and that of `keeps`; each is filled by the nonzero rule.

    Open contours bound nothing and are left out. The result's curves are pieces of the curves that
    went in; its area agrees with GEOS's within the flattening tolerance along its boundary, or
    `ArithmeticError` is raised: an overlay never loses area in silence. Gaps and fins thinner than
    `HAIRLINE` are closed.
    """
    alone = _stands_alone(adds, [*cuts, *keeps])
    free = _untouched([path for path, lone in zip(adds, alone, strict=True) if lone])
    meeting = adds if free is None else [path for path, lone in zip(adds, alone, strict=True) if not lone]
    rest = _overlay([meeting, cuts, keeps], _cut_and_kept)
    if free is None or not len(free.path):
        return rest
    parts = np.concatenate([shapely.get_parts(free.shape), shapely.get_parts(rest.shape)])
    return Region(join([free.path, rest.path]), shapely.multipolygons(parts[~shapely.is_empty(parts)]))


def _cut_and_kept(sides: list[shapely.Geometry]) -> shapely.Geometry:
    adds, cuts, keeps = sides
    left = adds if cuts.is_empty else adds.difference(cuts)
    return left if keeps.is_empty else left.union(keeps)


def subtract(keeper: Sequence[Path], others: Sequence[Sequence[Path]]) -> Region:
    """What of `keeper` none of the others covers."""
    return _overlay([keeper, [path for other in others for path in other]], lambda found: found[0].difference(found[1]))


def intersect(groups: Sequence[Sequence[Path]]) -> Region:
    """What all groups have in common."""
    return _overlay(groups, shapely.intersection_all)


def exclude(groups: Sequence[Sequence[Path]]) -> Region:
    """What an odd number of groups covers: of two, what is not common to both."""
    return _overlay(groups, lambda found: reduce(shapely.symmetric_difference, found))


def divide(keeper: Sequence[Path], dividers: Sequence[Path]) -> list[Region]:
    """The parts into which `dividers`, outlines and open lines, divide `keeper`; from the top, then from the left."""
    everything = join([*keeper, *dividers])
    own = join(keeper)
    if not len(own):
        return []
    flat = flatten(everything)
    groups = np.zeros(len(everything.starts), np.int64)
    whole = _united(everything, flat, groups, np.arange(len(everything.starts)) < len(own.starts))
    real = (flat.points != flat.ends).any(axis=1)
    lines = shapely.linestrings(np.stack([flat.points[real], flat.ends[real]], axis=1))
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(shapely.unary_union(lines))))
    inside = shapely.contains(whole, shapely.point_on_surface(faces)) & (shapely.area(faces) > TOLERANCE)
    found = [shapely.orient_polygons(face) for face in faces[inside]]
    found.sort(key=lambda face: (round(face.bounds[1], 2), round(face.bounds[0], 2)))
    return [Region(recover(face, everything, flat, open_lines=True), face) for face in found]


def _stands_alone(adds: Sequence[Path], cuts: Sequence[Path]) -> NDArray[np.bool_]:
    """For each of `adds` whether its bounds meet those of no other path: words are mostly such letters."""
    boxes = np.array([(*low, *high) for low, high in (_reach(path) for path in (*adds, *cuts))]).reshape(-1, 4)
    shapes = shapely.box(*boxes.T)
    first, second = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    met = np.bincount(first[first != second], minlength=len(shapes)) > 0
    return np.asarray(~met[: len(adds)])


def _reach(path: Path) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Bounds of all points of a path, controls and bulges of arcs included with room to spare."""
    points = path.points.reshape(-1, 2)
    if not len(points):
        return np.full(2, np.inf), np.full(2, np.inf)
    low, high = points.min(axis=0), points.max(axis=0)
    room = (high - low).max() if (path.kinds == ARC).any() else 0.0
    return low - room - HAIRLINE, high + room + HAIRLINE


def _untouched(paths: Sequence[Path]) -> Region | None:
    """Paths that meet nothing as they are, if their contours do not cross and holes run the other way; else None."""
    path = join(paths)
    if not len(path):
        return NOTHING
    if not path.closed.all():
        return None
    flat = flatten(path)
    groups = np.repeat(np.arange(len(paths)), [len(found.starts) for found in paths])
    shapes = polygons(path, flat, groups)
    signed = (flat.points[:, 0] * flat.ends[:, 1] - flat.points[:, 1] * flat.ends[:, 0]).sum() / 2
    rings = shapely.get_num_interior_rings(shapely.get_parts(shapes)) + 1
    if rings.sum() != len(path.starts) or abs(shapely.area(shapes).sum() - signed) > 1e-6:
        return None
    shape = shapely.multipolygons(shapely.orient_polygons(shapely.get_parts(shapes)))
    return Region(Path(path.kinds, on_grid(path.points), path.starts, path.closed), shape)


def _overlay(sides: Sequence[Sequence[Path]], overlaid: Callable[[list[shapely.Geometry]], shapely.Geometry]) -> Region:
    """What GEOS makes of the areas of several sides, each the union of its paths."""
    everything = join(path for side in sides for path in side)
    if not len(everything):
        return NOTHING
    flat = flatten(everything)
    paths = [path for side in sides for path in side]
    contours = np.array([len(path.starts) for path in paths])
    groups = np.repeat(np.arange(len(paths)), contours)
    side_of = np.repeat(np.repeat(np.arange(len(sides)), [len(side) for side in sides]), contours)
    found = [_united(everything, flat, groups, side_of == number) for number in range(len(sides))]
    shape = shapely.orient_polygons(without_slivers(without_hairlines(without_slivers(overlaid(found)))))
    if shape.is_empty:
        return NOTHING
    path = recover(shape, everything, flat)
    if abs(path.area - shape.area) > 2 * TOLERANCE * shape.length + 0.001:
        raise ArithmeticError(
            f"The outline's curves hold {path.area:.3f} mm² where its polygons hold {shape.area:.3f}."
        )
    return Region(path, shape)


def fine_shape(path: Path, tolerance: float = TOLERANCE) -> shapely.Geometry:
    """The polygons of a region's own boundary: contours that do not cross, holes run the other way."""
    found = polygons(path, flatten(path, tolerance), np.zeros(len(path.starts), np.int64))
    return shapely.orient_polygons(shapely.union_all(found)) if len(found) else shapely.Polygon()


def _united(path: Path, flat: Flat, groups: NDArray[np.int64], chosen: NDArray[np.bool_]) -> shapely.Geometry:
    """The union of the chosen contours; those of one group are filled together."""
    found = polygons(Path(path.kinds, path.points, path.starts, path.closed & chosen), flat, groups)
    if not len(found):
        return shapely.Polygon()
    return found[0] if len(found) == 1 else shapely.union_all(found)


def without_slivers(shape: shapely.Geometry) -> shapely.Geometry:
    """The polygons of a result, without what touching edges leave behind.

    Stray points and lines go, and so do gaps and bodies so thin that they are only the difference of two
    flattenings of one curve.
    """
    parts = shapely.get_parts(shape)
    parts = without_spikes(parts[shapely.get_dimensions(parts) == 2])
    parts = parts[~_is_sliver(parts)]
    rings, part = shapely.get_rings(parts, return_index=True)
    outer = np.append(True, part[1:] != part[:-1])[: len(rings)]
    thin = ~outer & _is_sliver(shapely.polygons(rings))
    for i in np.unique(part[thin]):
        own = part == i
        parts[i] = shapely.polygons(rings[own & outer][0], holes=rings[own & ~outer & ~thin])
    return parts[0] if len(parts) == 1 else shapely.multipolygons(parts)


def _is_sliver(shapes: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Whether twice the area over the length, the width of a long thin shape, is under two tolerances."""
    return np.asarray(2 * shapely.area(shapes) < 2 * TOLERANCE * shapely.length(shapes))
