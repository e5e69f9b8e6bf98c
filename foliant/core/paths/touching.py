"""Touching: how far shapes can be slid until they meet, and where the narrowest neck of a body is."""

from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import flatten
from foliant.core.paths.overlay import Region
from foliant.core.paths.path import Path
from foliant.core.remembering import remembered

Floats = NDArray[np.float64]
Slide = Literal["across", "down"]

_CLOSE = 1e-4
_THINNEST = 0.1
_GROWTH = 1.25


@remembered
def room(first: Path, second: Path, slide: Slide) -> float | None:
    """How far apart two outlines are along one axis, mm: less than 0 by as much as they overlap.

    `second` lies right of, or below, `first`; both are where they are drawn. None where they would pass each other.
    """
    _, gaps = _gaps(first, second, slide)
    return float(gaps.min()) if len(gaps) else None


@remembered
def faced(first: Path, second: Path, slide: Slide, within: float) -> float:
    """Over what height, mm, two outlines would be less than `within` mm apart if they were slid until they met."""
    heights, gaps = _gaps(first, second, slide)
    if not len(gaps):
        return 0.0
    near = gaps - gaps.min() < within
    return float(np.diff(heights)[near[1:] & near[:-1]].sum())


def _gaps(first: Path, second: Path, slide: Slide) -> tuple[Floats, Floats]:
    """The heights (n,) where one of two outlines has a corner, and how far apart they are there, mm."""
    one, two = _edges(first, slide), _edges(second, slide)
    low = max(one[..., 1].min(), two[..., 1].min()) if len(one) and len(two) else 1.0
    high = min(one[..., 1].max(), two[..., 1].max()) if len(one) and len(two) else 0.0
    if low > high:
        return np.empty(0), np.empty(0)
    # Both sides are straight between their corners, so they are nearest at the height of a corner.
    heights = np.unique(np.concatenate([one[..., 1].ravel(), two[..., 1].ravel(), [low, high]]))
    heights = heights[(heights >= low) & (heights <= high)]
    gaps = -_reach(two, heights, -1) - _reach(one, heights, 1)
    there = np.isfinite(gaps)
    return heights[there], gaps[there]


@remembered
def _edges(path: Path, slide: Slide) -> Floats:
    """The flattened edges (n, 2 ends, 2): along the slide first, across it second."""
    flat = flatten(path)
    edges = np.stack([flat.points, flat.ends], axis=1)
    return edges if slide == "across" else edges[..., ::-1]


def _reach(edges: Floats, heights: Floats, side: int) -> Floats:
    """How far edges reach to one side at each height; minus infinity where there are none."""
    upper = np.where((edges[:, 0, 1] <= edges[:, 1, 1])[:, None, None], edges, edges[:, ::-1])
    (x0, y0), (x1, y1) = upper[:, 0].T, upper[:, 1].T
    at = heights[:, None]
    crosses = (y0 <= at) & (at <= y1)
    with np.errstate(invalid="ignore", divide="ignore"):
        share = np.where(y1 > y0, (at - y0) / (y1 - y0), 0.0)
    x = x0 + share * (x1 - x0)
    level = y1 == y0
    found = np.where(crosses, np.where(level, np.maximum(side * x0, side * x1), side * x), -np.inf)
    return np.asarray(found.max(axis=1)) if len(edges) else np.full(len(heights), -np.inf)


def weakest_neck(region: Region, most: float) -> tuple[float, tuple[float, float]] | None:
    """The narrowest neck of a region: its width in mm, and where it is; None where none is narrower than `most` mm.

    A neck is where a body comes apart into two that are each wider than the neck, once its edge is taken off.
    """
    shape = region.shape
    bodies = shapely.get_num_geometries(shape)
    if shape.is_empty:
        return None
    # Small bodies behind a neck are worn away themselves later on, so it is looked for from thin to thick.
    low = 0.0
    for high in [width for width in most * _GROWTH ** np.arange(-18.0, 0.5) if width > _THINNEST]:
        if len(_worn(shape, high)) > bodies:
            break
        low = high
    else:
        return None
    while high - low > 0.01:
        middle = (low + high) / 2
        low, high = (low, middle) if len(_worn(shape, middle)) > bodies else (middle, high)
    parts = _worn(shape, high)
    pairs = [(parts[i].distance(parts[j]), i, j) for i in range(len(parts)) for j in range(i)]
    # Of one body the two parts that lie nearest to each other; those of different bodies were apart before.
    for _, i, j in sorted(pairs):
        line = shapely.shortest_line(parts[i], parts[j])
        if shape.buffer(_CLOSE).covers(line):
            x, y = line.interpolate(0.5, normalized=True).coords[0]
            return round(float(high), 2), (x, y)
    return None


def _worn(shape: shapely.Geometry, width: float) -> list[shapely.Geometry]:
    """What is left of a shape when half of `width` is taken off its edge: but for specks of rounding."""
    left = shapely.buffer(shape, -width / 2, quad_segs=6)
    return [part for part in shapely.get_parts(left) if part.area > 0.01]
