"""Fill lines: the parallel strokes that engrave an area."""

import numpy as np
import shapely
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def fill_lines(shape: shapely.Geometry, interval: float, top: float | None = None) -> Floats:
    """Level strokes `interval` mm apart that cover `shape`, shape (k, 2, 2), in burning order.

    Rows run from top to bottom, every other one from right to left, so the head need not fly back. They lie where
    they would on a shape whose upper edge is at `top` (mm), or else its own.
    """
    found = _crossings(shape, interval, top)
    if found is None:
        return np.zeros((0, 2, 2))
    a, b, first, counts, first_row = found
    edge = np.repeat(np.arange(len(a)), counts)
    row = first[edge] + np.arange(len(edge)) - np.repeat(np.cumsum(counts) - counts, counts)
    y = first_row + row * interval
    x = a[edge, 0] + (y - a[edge, 1]) * (b[edge, 0] - a[edge, 0]) / (b[edge, 1] - a[edge, 1])
    order = np.lexsort((x, row))
    row, x, y = row[order], x[order], y[order]
    # Crossings come in pairs: into the area, out of it.
    strokes = np.stack([np.stack([x[::2], y[::2]], axis=1), np.stack([x[1::2], y[1::2]], axis=1)], axis=1)
    row = row[::2]
    backward = row % 2 == 1
    strokes[backward] = strokes[backward][:, ::-1]
    order = np.lexsort((np.where(backward, -strokes[:, 0, 0], strokes[:, 0, 0]), row))
    strokes = strokes[order]
    return np.asarray(strokes[np.abs(strokes[:, 1, 0] - strokes[:, 0, 0]) > 1e-4])


def apart(shape: shapely.Geometry, gap: float) -> list[shapely.Geometry]:
    """The shape in groups, from the left: whatever a row would reach over less than `gap` mm lies in one of them."""
    parts = shapely.get_parts(shape)
    if len(parts) < 2:
        return [shape]
    left, low, right, high = shapely.bounds(parts).T
    reach = shapely.box(left - gap / 2, low, right + gap / 2, high)
    groups = shapely.get_parts(shapely.union_all(reach))
    owner = shapely.STRtree(groups).nearest(shapely.centroid(reach))
    found = [shapely.multipolygons(parts[owner == number].tolist()) for number in range(len(groups))]
    return sorted((one for one in found if not one.is_empty), key=lambda one: one.bounds[:2])


def count_fill_lines(shape: shapely.Geometry, interval: float) -> int:
    """How many strokes `fill_lines` gives at most, reckoned without making them."""
    found = _crossings(shape, interval)
    return 0 if found is None else int(found[3].sum()) // 2


def _crossings(
    shape: shapely.Geometry, interval: float, top: float | None = None
) -> tuple[Floats, Floats, NDArray[np.int64], NDArray[np.int64], float] | None:
    """Edges as starts and ends (n, 2), the first row that each crosses and how many, and the height of row 0."""
    rings = shapely.get_rings(shapely.get_parts(shape))
    if not len(rings):
        return None
    points, ring = shapely.get_coordinates(rings, return_index=True)
    inner = ring[1:] == ring[:-1]
    a, b = points[:-1][inner], points[1:][inner]
    # A row at y crosses an edge when y lies in [low, high): shared ends count once.
    low, high = np.minimum(a[:, 1], b[:, 1]), np.maximum(a[:, 1], b[:, 1])
    first_row = float(points[:, 1].min() if top is None else top) + interval / 2
    first = np.ceil((low - first_row) / interval).astype(np.int64)
    last = np.ceil((high - first_row) / interval).astype(np.int64) - 1
    return a, b, first, np.maximum(0, last - first + 1), first_row
