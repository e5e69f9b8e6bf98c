"""Overlay: areas united, cut away, met or divided, computed by GEOS and given back in true curves.

GEOS is asked in several ways, the quickest first, until an answer covers what its inputs say and its boundary can be
told in curves; see `_climbed`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, reduce
from typing import TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.errors import Refused
from foliant.core.paths.flatten import GRID, TOLERANCE, Flat, flatten, on_grid
from foliant.core.paths.hairlines import HAIRLINE, without_hairlines
from foliant.core.paths.nesting import chosen_contours
from foliant.core.paths.pairs import cross, differ
from foliant.core.paths.path import ARC, EMPTY, Path, join
from foliant.core.paths.polygons import polygons
from foliant.core.paths.recover import recover
from foliant.core.paths.scanning import area_astray
from foliant.core.paths.spikes import without_spikes

Answer = TypeVar("Answer")


@dataclass(frozen=True, eq=False)
class Region:
    """An area: its boundary in true curves, and the same area as GEOS polygons (within the tolerance).

    Outer contours run clockwise on the page, holes the other way. `rough` holds those contours of it that could only
    be told in many short lines.
    """

    path: Path
    shape: shapely.Geometry
    rough: Path = EMPTY

    @cached_property
    def bodies(self) -> tuple[shapely.Polygon, ...]:
        """The separate pieces of material, largest first."""
        parts = [part for part in shapely.get_parts(self.shape) if part.area > 0]
        return tuple(sorted(parts, key=lambda part: -part.area))


NOTHING = Region(EMPTY, shapely.Polygon())


def combine(adds: Sequence[Path], cuts: Sequence[Path] = (), keeps: Sequence[Path] = ()) -> Region:
    """The area inside any of `adds` and none of `cuts`, and that of `keeps`; each is filled by the nonzero rule.

    Open contours bound nothing and are left out. The result's curves are pieces of the curves that went in. Gaps and
    fins thinner than `HAIRLINE` are closed. Raises `Refused` where no way of asking gives an answer that can be true.
    """
    alone = _stands_alone(adds, [*cuts, *keeps])
    free = _untouched([path for path, lone in zip(adds, alone, strict=True) if lone])
    meeting = adds if free is None else [path for path, lone in zip(adds, alone, strict=True) if not lone]
    rest = _overlay([meeting, cuts, keeps], _CUT_AND_KEPT)
    if free is None or not len(free.path):
        return rest
    parts = np.concatenate([shapely.get_parts(free.shape), shapely.get_parts(rest.shape)])
    return Region(join([free.path, rest.path]), shapely.multipolygons(parts[~shapely.is_empty(parts)]), rest.rough)


def subtract(keeper: Sequence[Path], others: Sequence[Sequence[Path]]) -> Region:
    """What of `keeper` none of the others covers; raises `Refused` as `combine` does."""
    return _overlay([keeper, [path for other in others for path in other], ()], _CUT_AND_KEPT)


def intersect(groups: Sequence[Sequence[Path]]) -> Region:
    """What all groups have in common; raises `Refused` as `combine` does."""
    return _overlay(groups, _COMMON)


def exclude(groups: Sequence[Sequence[Path]]) -> Region:
    """What an odd number of groups covers: of two, what is not common to both; raises `Refused` as `combine` does."""
    return _overlay(groups, _ODD)


def divide(keeper: Sequence[Path], dividers: Sequence[Path]) -> list[Region]:
    """The parts into which `dividers`, outlines and open lines, divide `keeper`; from the top, then from the left.

    Raises `Refused` as `combine` does.
    """
    everything = join([*keeper, *dividers])
    own = join(keeper)
    if not len(own):
        return []
    flat = flatten(everything)
    groups = np.zeros(len(everything.starts), np.int64)
    mine = np.arange(len(everything.starts)) < len(own.starts)
    real = differ(flat.points, flat.ends)
    lines = shapely.linestrings(np.stack([flat.points[real], flat.ends[real]], axis=1))

    filled = _filled(everything, flat, groups, mine)

    def divided(way: _Way) -> list[Region]:
        whole = _united(filled, way)
        noded = shapely.unary_union(way.ordered(lines), grid_size=way.grid)
        faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(noded)))
        inside = faces[shapely.contains(whole, shapely.point_on_surface(faces))]
        if abs(float(shapely.area(inside).sum()) - whole.area) > _slack(way, whole.length):
            raise _Untrue
        big = inside[shapely.area(inside) > TOLERANCE]
        found = [shapely.orient_polygons(face) for face in big]
        found.sort(key=lambda face: (round(face.bounds[1], 2), round(face.bounds[0], 2)))
        return [_told(face, everything, flat, open_lines=True) for face in found]

    return _climbed(divided, lambda regions: any(len(region.rough) for region in regions))


@dataclass(frozen=True)
class _Way:
    """How GEOS is asked: on which grid (mm), or on none; and whether the other way round."""

    grid: float | None = None
    turned: bool = False

    def ordered(self, shapes: NDArray[np.object_]) -> NDArray[np.object_]:
        return shapes[::-1] if self.turned else shapes


_WAYS = (_Way(), _Way(GRID), _Way(turned=True), _Way(2 * GRID, turned=True))
"""As they are, which is quick; snapped to the grid, which is sturdy; and both in another order."""


class _Untrue(ArithmeticError):
    """An answer that cannot be true."""


def _climbed(ask: Callable[[_Way], Answer], is_rough: Callable[[Answer], bool]) -> Answer:
    """The first true answer all in curves; else the first true one; raises `Refused` where there is none."""
    rough: list[Answer] = []
    for way in _WAYS:
        try:
            answer = ask(way)
        except (_Untrue, shapely.errors.GEOSException):
            continue
        if not is_rough(answer):
            return answer
        rough.append(answer)
    if rough:
        return rough[0]
    raise Refused(
        "These outlines lie over each other in a way that cannot be worked out: "
        "move one of them by a hundredth of a millimetre."
    )


def _slack(way: _Way, length: float) -> float:
    """The area (mm²) by which an answer may differ: what snapping edges of so many mm to a grid comes to."""
    return 4 * (way.grid or 0.0) * length + 1e-6 * length + 0.001


@dataclass(frozen=True)
class _Operation:
    """What GEOS is to make of the areas of several sides; and what it should cover, by what of them covers a place."""

    shape: Callable[[list[shapely.Geometry], float | None], shapely.Geometry]
    covers: Callable[[list[NDArray[np.bool_]]], NDArray[np.bool_]]


def _cut_and_kept(sides: list[shapely.Geometry], grid: float | None) -> shapely.Geometry:
    adds, cuts, keeps = sides
    left = adds if cuts.is_empty else shapely.difference(adds, cuts, grid_size=grid)
    return left if keeps.is_empty else shapely.union(left, keeps, grid_size=grid)


_CUT_AND_KEPT = _Operation(_cut_and_kept, lambda sides: sides[0] & ~sides[1] | sides[2])
_COMMON = _Operation(
    lambda sides, grid: reduce(lambda a, b: shapely.intersection(a, b, grid_size=grid), sides),
    lambda sides: np.logical_and.reduce(sides),
)
_ODD = _Operation(
    lambda sides, grid: reduce(lambda a, b: shapely.symmetric_difference(a, b, grid_size=grid), sides),
    lambda sides: np.logical_xor.reduce(sides),
)


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
    signed = cross(flat.points, flat.ends).sum() / 2
    rings = shapely.get_num_interior_rings(shapely.get_parts(shapes)) + 1
    if rings.sum() != len(path.starts) or abs(shapely.area(shapes).sum() - signed) > 1e-6:
        return None
    shape = shapely.multipolygons(shapely.orient_polygons(shapely.get_parts(shapes)))
    return Region(Path(path.kinds, on_grid(path.points), path.starts, path.closed), shape)


def _overlay(sides: Sequence[Sequence[Path]], operation: _Operation) -> Region:
    """What GEOS makes of the areas of several sides, each the union of its paths."""
    everything = join(path for side in sides for path in side)
    if not len(everything):
        return NOTHING
    flat = flatten(everything)
    paths = [path for side in sides for path in side]
    contours = np.array([len(path.starts) for path in paths])
    groups = np.repeat(np.arange(len(paths)), contours)
    side_of = np.repeat(np.repeat(np.arange(len(sides)), [len(side) for side in sides]), contours)

    filled = [_filled(everything, flat, groups, side_of == number) for number in range(len(sides))]
    length = float(shapely.length(np.concatenate(filled)).sum())

    def overlaid(way: _Way) -> Region:
        whole = operation.shape([_united(polygons, way) for polygons in filled], way.grid)
        if area_astray(filled, whole, operation.covers) > _slack(way, length):
            raise _Untrue
        shape = shapely.orient_polygons(without_slivers(without_hairlines(without_slivers(whole))))
        return NOTHING if shape.is_empty else _told(shape, everything, flat)

    return _climbed(overlaid, lambda region: bool(len(region.rough)))


def _told(shape: shapely.Geometry, source: Path, flat: Flat, open_lines: bool = False) -> Region:
    """The region of a shape, in pieces of `source`."""
    told = recover(shape, source, flat, open_lines)
    if abs(told.path.area - shape.area) > 3 * TOLERANCE * shape.length + 1e-6:
        raise _Untrue
    return Region(told.path, shape, chosen_contours(told.path, told.rough))


def fine_shape(path: Path, tolerance: float = TOLERANCE) -> shapely.Geometry:
    """The polygons of a region's own boundary: contours that do not cross, holes run the other way."""
    found = polygons(path, flatten(path, tolerance), np.zeros(len(path.starts), np.int64))
    if not len(found):
        return shapely.Polygon()
    return shapely.orient_polygons(found[0] if len(found) == 1 else shapely.union_all(found))


def _filled(path: Path, flat: Flat, groups: NDArray[np.int64], chosen: NDArray[np.bool_]) -> NDArray[np.object_]:
    """The polygons of the chosen contours; those of one group are filled together."""
    return polygons(Path(path.kinds, path.points, path.starts, path.closed & chosen), flat, groups)


def _united(found: NDArray[np.object_], way: _Way) -> shapely.Geometry:
    """The union of polygons."""
    if len(found) < 2:
        return found[0] if len(found) else shapely.Polygon()
    if way.grid is not None:
        return shapely.union_all(way.ordered(found), grid_size=way.grid)
    # Shapes that stand apart need not be noded against each other.
    return shapely.disjoint_subset_union_all(way.ordered(found))


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
    """Whether twice the area over the length, the width of a long thin shape, is under two tolerances, and it is
    nowhere thick enough to be made: a wedge may be thin on the whole and not at its end.
    """
    thin = np.asarray(2 * shapely.area(shapes) < 2 * TOLERANCE * shapely.length(shapes))
    thin[thin] = shapely.is_empty(shapely.buffer(shapes[thin], -HAIRLINE, join_style="mitre"))
    return thin
