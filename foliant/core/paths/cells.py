"""Cells: which of a grid lie in a shape."""

import numpy as np
import shapely
from numpy.typing import NDArray

Mask = NDArray[np.bool_]


def mask_of(shape: shapely.Geometry, left: float, top: float, rows: int, columns: int, cell: float) -> Mask:
    """(rows, columns): the cells whose middles lie in a shape, on a grid that begins at (left, top) mm."""
    flips = np.zeros((rows, columns + 1), np.bool_)
    coordinates, ring = shapely.get_coordinates(_rings(shape), return_index=True)
    if not len(coordinates):
        return flips[:, :columns]
    follows = ring[1:] == ring[:-1]
    (x0, y0), (x1, y1) = (((points - (left, top)) / cell - 0.5).T for points in (coordinates[:-1], coordinates[1:]))
    x0, y0, x1, y1 = x0[follows], y0[follows], x1[follows], y1[follows]
    # Every edge crosses the middle lines of the rows between its ends; right of a crossing a cell changes sides.
    first = np.clip(np.ceil(np.minimum(y0, y1)), 0, rows).astype(np.int64)
    last = np.clip(np.ceil(np.maximum(y0, y1)), 0, rows).astype(np.int64)
    counts = last - first
    edge = np.repeat(np.arange(len(counts)), counts)
    row = np.arange(len(edge)) - np.repeat(np.cumsum(counts) - counts, counts) + first[edge]
    with np.errstate(divide="ignore", invalid="ignore"):
        across = x0[edge] + (row - y0[edge]) * ((x1 - x0) / (y1 - y0))[edge]
    column = np.clip(np.ceil(across), 0, columns).astype(np.int64)
    np.logical_xor.at(flips, (row, column), True)
    return np.asarray(np.logical_xor.accumulate(flips, axis=1)[:, :columns])


def _rings(shape: shapely.Geometry) -> shapely.Geometry:
    return shapely.get_rings(shapely.get_parts(shape))
