"""The room that is left: the largest free rectangle."""

from collections.abc import Sequence

import numpy as np
import shapely

from foliant.core.packing.raster import Grid
from foliant.core.paths.cells import Mask

_CELLS = 160
"""By how many cells the longer side of a sheet is told."""


def largest_rectangle(
    width: float, height: float, taken: Sequence[shapely.Geometry]
) -> tuple[float, float, float, float]:
    """(left, top, right, bottom) of about the largest rectangle of a sheet (mm) that nothing of what is taken lies in;
    zeros where there is none. It is never larger than what is free.
    """
    cell = max(width, height) / _CELLS
    rows, columns = int(height / cell), int(width / cell)
    if not rows or not columns:
        return (0.0, 0.0, 0.0, 0.0)
    grid = Grid(0.0, 0.0, rows, columns, cell)
    cells = np.zeros((rows, columns), np.bool_)
    for shape in taken:
        grid.mark(cells, shapely.buffer(shape, 0.75 * cell, quad_segs=2))
    left, top, right, bottom = _largest(~cells)
    return (left * cell, top * cell, right * cell, bottom * cell)


def _largest(free: Mask) -> tuple[int, int, int, int]:
    """The largest rectangle of true cells, as (left, top, right, bottom): for every row as the lowest, how high the
    free columns above it stand, and the widest run at each height.
    """
    best, found = 0, (0, 0, 0, 0)
    heights = np.zeros(free.shape[1] + 1, np.int64)
    for row in range(free.shape[0]):
        heights[:-1] = np.where(free[row], heights[:-1] + 1, 0)
        begins: list[tuple[int, int]] = []  # (where a height begins, how high)
        for column, height in enumerate(heights.tolist()):
            start = column
            while begins and begins[-1][1] >= height:
                start, high = begins.pop()
                if high * (column - start) > best:
                    best, found = high * (column - start), (start, row - high + 1, column, row + 1)
            begins.append((start, height))
    return found
