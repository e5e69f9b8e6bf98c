"""The raster: a grid of cells over the free area, on which all places of a shape are found at once.

A correlation of what is taken with a shape's mask, by way of the fast Fourier transform, is nought just where the
shape meets nothing. Cells are sampled at their middles, so a place that is found may be off by less than a cell:
`touching` settles it.
"""

from dataclasses import dataclass, field

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.cells import Mask, mask_of

_SMOOTH = tuple(sorted({2**a * 3**b * 5**c for a in range(13) for b in range(8) for c in range(6)}))


@dataclass(frozen=True, eq=False)
class Grid:
    """Cells of so many mm over a rectangle that begins at (left, top)."""

    left: float
    top: float
    rows: int
    columns: int
    cell: float

    @property
    def size(self) -> tuple[int, int]:
        """Rows and columns that are quick to transform, none fewer than there are."""
        return _smooth(self.rows), _smooth(self.columns)

    def mask(self, shape: shapely.Geometry) -> Mask:
        """The cells of a shape that lies on the grid."""
        return mask_of(shape, self.left, self.top, self.rows, self.columns, self.cell)

    def mark(self, cells: Mask, shape: shapely.Geometry) -> None:
        """Have the cells of a shape that lies on the grid be marked."""
        left, top, right, bottom = shapely.bounds(shape)
        if not left < right:
            return
        row, column = (max(0, int((near - begin) / self.cell)) for near, begin in ((top, self.top), (left, self.left)))
        last_row = min(self.rows, int((bottom - self.top) / self.cell) + 2)
        last_column = min(self.columns, int((right - self.left) / self.cell) + 2)
        if row >= last_row or column >= last_column:
            return
        at = (self.left + column * self.cell, self.top + row * self.cell)
        found = mask_of(shape, *at, last_row - row, last_column - column, self.cell)
        cells[row:last_row, column:last_column] |= found


@dataclass(eq=False)
class Turned:
    """A shape at one turn, as the raster knows it.

    left, top      of its bounds, about its origin, mm
    width, height  of its bounds, mm
    mask           its cells, from the left and top of its bounds
    """

    shape: shapely.Geometry
    cell: float
    left: float = field(init=False)
    top: float = field(init=False)
    width: float = field(init=False)
    height: float = field(init=False)
    mask: Mask = field(init=False)

    def __post_init__(self) -> None:
        self.left, self.top, right, bottom = map(float, shapely.bounds(self.shape))
        self.width, self.height = right - self.left, bottom - self.top
        rows, columns = (max(1, int(np.ceil(size / self.cell))) for size in (self.height, self.width))
        self.mask = mask_of(self.shape, self.left, self.top, rows, columns, self.cell)
        if not self.mask.any():
            self.mask[:] = True  # thinner than a cell, and still there


def spectrum(mask: Mask, size: tuple[int, int]) -> NDArray[np.complex64]:
    """The transform of cells on a grid of this size."""
    return np.asarray(np.fft.rfft2(mask.astype(np.float32), size))


def free_places(taken: NDArray[np.complex64], mask: Mask, size: tuple[int, int], rows: int, columns: int) -> Mask:
    """(rows, columns): at which cell a mask can begin without meeting what is taken, given as its spectrum."""
    meets = np.fft.irfft2(taken * np.conj(spectrum(mask, size)), size)
    return np.asarray(meets[:rows, :columns] < 0.5)


def meeting(taken: Mask, mask: Mask) -> Mask:
    """Where a mask meets another: cell (r, c) of the answer is that it begins (r, c) after the last place at which it
    lies wholly above and left of the other.
    """
    rows, columns = (a + b - 1 for a, b in zip(taken.shape, mask.shape, strict=True))
    size = (_smooth(rows), _smooth(columns))
    meets = np.fft.irfft2(spectrum(taken, size) * spectrum(mask[::-1, ::-1], size), size)
    return np.asarray(meets[:rows, :columns] > 0.5)


def _smooth(number: int) -> int:
    return next((found for found in _SMOOTH if found >= number), number)
