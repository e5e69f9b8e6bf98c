"""Pairs: points and ways, shape (..., 2), by their columns: numpy is many times slower where it goes along pairs.

For the same reason rows are chosen by `take` and `compress` where there are many.
"""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]


def dot(a: Floats, b: Floats) -> Floats:
    """How far each goes along the other, times its length; in mm² for ways in mm."""
    return np.asarray(a[..., 0] * b[..., 0] + a[..., 1] * b[..., 1])


def cross(a: Floats, b: Floats) -> Floats:
    """The area between ways, positive where the second turns from x towards y."""
    return np.asarray(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])


def size(ways: Floats) -> Floats:
    """How long ways are."""
    return np.asarray(np.hypot(ways[..., 0], ways[..., 1]))


def differ(a: Floats, b: Floats) -> Bools:
    """Whether points are not the same."""
    return np.asarray((a[..., 0] != b[..., 0]) | (a[..., 1] != b[..., 1]))
