"""Which contours lie inside which."""

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import flatten
from foliant.core.paths.path import EMPTY, Path, join


def depths(path: Path) -> NDArray[np.int64]:
    """How many other contours hold each contour, shape (m,); they must not cross. An open contour holds none."""
    if not path.closed.any():
        return np.zeros(len(path.closed), np.int64)
    flat = flatten(path, 0.02)
    contour_of = path.contour_of[flat.segment]
    closed = path.closed[contour_of]
    number = np.cumsum(path.closed) - 1
    rings = shapely.polygons(shapely.linearrings(flat.points[closed], indices=number[contour_of[closed]]))
    # A point on the contour itself: its middle may lie inside the ones it holds.
    first = np.flatnonzero(np.append(True, contour_of[1:] != contour_of[:-1]))
    on_contour = shapely.points((flat.points[first] + flat.ends[first]) / 2)
    held, holder = shapely.STRtree(rings).query(on_contour, predicate="within")
    return np.bincount(held[held != np.flatnonzero(path.closed)[holder]], minlength=len(path.closed))


def contour(path: Path, index: int) -> Path:
    """One contour of a path."""
    start, end = int(path.starts[index]), int(path.ends[index])
    return Path(path.kinds[start:end], path.points[start:end], np.zeros(1, np.int64), path.closed[index : index + 1])


def chosen_contours(path: Path, chosen: NDArray[np.bool_]) -> Path:
    """The contours for which `chosen` (m,) is true."""
    return join(contour(path, int(i)) for i in np.flatnonzero(chosen)) if chosen.any() else EMPTY
