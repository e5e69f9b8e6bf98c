"""Distances between parts."""

import shapely

from foliant.core.design.model import Part
from foliant.core.design.placing import part_paths
from foliant.core.paths import combine, join
from foliant.core.paths.flatten import flatten


def gap_between(one: Part, two: Part) -> float:
    """The shortest way between the edges of two parts, mm; 0 where they meet or one lies in the other's material."""
    return float(shapely.distance(_geometry(one), _geometry(two)))


def _geometry(part: Part) -> shapely.Geometry:
    paths = part_paths(part)
    region = combine(paths)
    if not region.shape.is_empty:
        return region.shape
    flat = flatten(join(paths))
    return shapely.multilinestrings([shapely.linestrings([a, b]) for a, b in zip(flat.points, flat.ends, strict=True)])
