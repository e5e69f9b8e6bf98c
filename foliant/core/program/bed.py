"""The bed: where the sheet lies on a machine. Here, and only here, the y axis is turned over."""

import numpy as np
from fontTools.misc.transform import Transform
from numpy.typing import NDArray


def sheet_to_bed(height: float, turned_over: float | None = None) -> Transform:
    """The map from a sheet so high (mm; y runs down the page) to the bed (mm; y runs away from the maker).

    The sheet lies in the near left corner of the bed; face down where it is `turned_over`, which is how wide it is.
    """
    if turned_over is None:
        return Transform(1, 0, 0, -1, 0, height)
    return Transform(-1, 0, 0, -1, turned_over, height)


def mapped(points: NDArray[np.float64], way: Transform) -> NDArray[np.float64]:
    """Points (..., 2) under a map."""
    a, b, c, d, e, f = way
    return np.asarray(points @ np.array([[a, b], [c, d]]) + np.array([e, f]))


def home(to_bed: Transform) -> tuple[float, float]:
    """Where the machine's origin lies on the sheet, mm."""
    x, y = to_bed.inverse().transformPoint((0.0, 0.0))
    return x, y
