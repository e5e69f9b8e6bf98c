"""Which contours lie inside which."""

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import flatten
from foliant.core.paths.path import EMPTY, Path, join


def depths(path: Path) -> NDArray[np.int64]:
    """How many other contours hold each contour, shape (m,); they must not cross. An open contour holds none."""
    flat = flatten(path, 0.02)
    contour_of = path.contour_of[flat.segment]
    holds = path.closed & (np.bincount(contour_of, minlength=len(path.closed)) >= 3)
    if not holds.any():
        return np.zeros(len(path.closed), np.int64)
    closed = holds[contour_of]
    number = np.cumsum(holds) - 1
    rings = shapely.polygons(shapely.linearrings(flat.points[closed], indices=number[contour_of[closed]]))
    # A point on the contour itself: its middle may lie inside the ones it holds.
    first = np.flatnonzero(np.append(True, contour_of[1:] != contour_of[:-1]))
    on_contour = shapely.points((flat.points[first] + flat.ends[first]) / 2)
    held, holder = shapely.STRtree(rings).query(on_contour, predicate="within")
    return np.bincount(held[held != np.flatnonzero(holds)[holder]], minlength=len(path.closed))


def contour(path: Path, index: int) -> Path:
    """One contour of a path."""
    if len(path.starts) == 1 and index == 0:
        return path
    start, end = int(path.starts[index]), int(path.ends[index])
    return Path(path.kinds[start:end], path.points[start:end], np.zeros(1, np.int64), path.closed[index : index + 1])


def chosen_contours(path: Path, chosen: NDArray[np.bool_]) -> Path:
    """The contours for which `chosen` (m,) is true."""
    return join(contour(path, int(i)) for i in np.flatnonzero(chosen)) if chosen.any() else EMPTY


def alternating(path: Path) -> Path:
    """Contours that do not cross, clockwise where an even number of others holds them."""
    depth = depths(path)
    found = []
    for number in range(len(path.starts)):
        one = contour(path, number)
        if (one.area > 0) != (depth[number] % 2 == 0):
            one = Path(one.kinds[::-1].copy(), one.points[::-1, ::-1].copy(), one.starts, one.closed)
        found.append(one)
    return join(found)


def bodies_of(path: Path) -> list[Path]:
    """The bodies of a region's outline, each with its own holes, in the order of their outer contours."""
    depth = depths(path)
    outer = np.flatnonzero((depth % 2 == 0) & path.closed)
    flat = flatten(path, 0.02)
    contour_of = path.contour_of[flat.segment]
    solids = [shapely.Polygon(flat.points[contour_of == i]) for i in outer]
    found: list[list[int]] = [[int(i)] for i in outer]
    for hole in np.flatnonzero((depth % 2 == 1) & path.closed):
        at = shapely.Point(flat.points[np.argmax(contour_of == hole)])
        holders = [i for i, solid in enumerate(solids) if depth[outer[i]] == depth[hole] - 1 and solid.covers(at)]
        if holders:
            found[holders[0]].append(int(hole))
    return [join(contour(path, i) for i in body) for body in found]
