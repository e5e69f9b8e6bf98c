"""Distances between parts."""

import shapely

from foliant.core.design.model import Part
from foliant.core.design.placing import part_paths
from foliant.core.paths import combine, join
from foliant.core.paths.flatten import flatten


def gap_between(one: Part, two: Part) -> float | None:
    """The shortest way between the edges of two parts, mm; 0 where they meet or one lies in the other's material.

    None where one of them is nothing: words without a glyph, outlines that have nothing in common.
    """
    shapes = _geometry(one), _geometry(two)
    return None if any(shape.is_empty for shape in shapes) else float(shapely.distance(*shapes))


def _geometry(part: Part) -> shapely.Geometry:
    paths = part_paths(part)
    region = combine(paths)
    if not region.shape.is_empty:
        return region.shape
    flat = flatten(join(paths))
    if not len(flat.points):
        return shapely.GeometryCollection()
    return shapely.multilinestrings([shapely.linestrings([a, b]) for a, b in zip(flat.points, flat.ends, strict=True)])
