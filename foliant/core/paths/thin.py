"""Thin places: where material is narrower than a limit, and where openings are."""

from dataclasses import dataclass

import numpy as np
import shapely

from foliant.core.paths.overlay import Region


@dataclass(frozen=True, eq=False)
class ThinPlace:
    """A place narrower than the limit: its area, how narrow it is at its narrowest (mm), and where that is."""

    shape: shapely.Polygon
    width: float
    at: tuple[float, float]


_QUARTER = 12
_SLACK = 0.02
"""Offsets are made of edges, so what is left within this share of the limit is not thin but rounding."""


def thin_places(region: Region, limit: float) -> list[ThinPlace]:
    """Where a region is narrower than `limit` mm, narrowest first: what a disc of that width cannot enter.

    The tip of a corner is narrow by nature, and is left out until it is twice as long as the limit.
    """
    if region.shape.is_empty or limit <= 0:
        return []
    core = shapely.buffer(region.shape, -limit / 2 * (1 - _SLACK), quad_segs=_QUARTER)
    opened = shapely.buffer(core, limit / 2, quad_segs=_QUARTER)
    return _measured(region.shape.difference(opened), opened, limit)


def thin_openings(region: Region, limit: float) -> list[ThinPlace]:
    """Where an opening of a region, or a gap between its bodies, is narrower than `limit` mm."""
    if region.shape.is_empty or limit <= 0:
        return []
    grown = shapely.buffer(region.shape, limit / 2 * (1 - _SLACK), quad_segs=_QUARTER)
    closed = shapely.buffer(grown, -limit / 2, quad_segs=_QUARTER)
    room = shapely.box(*region.shape.buffer(2 * limit).bounds).difference(closed)
    return _measured(closed.difference(region.shape), room, limit)


def _measured(rest: shapely.Geometry, wide: shapely.Geometry, limit: float) -> list[ThinPlace]:
    """The thin parts of an area with their widths; `wide` is what is not thin."""
    parts = shapely.get_parts(rest)
    parts = parts[(shapely.get_dimensions(parts) == 2) & (shapely.area(parts) > 0.02 * limit * limit)]
    found = []
    for part in parts:
        left, top, right, bottom = part.bounds
        shore = shapely.clip_by_rect(wide, left - limit, top - limit, right + limit, bottom + limit).buffer(
            limit * _SLACK
        )
        sides = shapely.get_parts(shapely.line_merge(part.exterior.difference(shore)))
        sides = sides[np.argsort(-shapely.length(sides))]
        ends = len(shapely.get_parts(shapely.line_merge(part.exterior.intersection(shore))))
        if len(sides) >= 2 and ends >= 2:
            across = shapely.shortest_line(sides[0], sides[1])
            found.append(ThinPlace(part, float(across.length), _middle(across)))
        elif ends == 0 or shapely.length(part) / 2 > 2 * limit:
            # A stroke that ends: its width is about its area by its length.
            found.append(ThinPlace(part, float(2 * part.area / part.length), _middle(part.representative_point())))
    return sorted(found, key=lambda place: place.width)


def _middle(shape: shapely.Geometry) -> tuple[float, float]:
    return float(shape.centroid.x), float(shape.centroid.y)
