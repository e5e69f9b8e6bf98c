"""An independent judge of overlays: every face of a fine arrangement of all edges, told apart by winding numbers."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths import Path, curves

FINE = 0.0005
"""How far, in mm, the judge's edges may lie from the curves."""

THICK = 0.04
"""A wrong region thicker than this, in mm, is a fault."""


def fine_edges(path: Path) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Starts and ends (k, 2) of short edges along a path's closed contours, evenly divided by their bend."""
    closed = path.closed[path.contour_of]
    kinds, points = path.kinds[closed], path.points[closed]
    bend = np.zeros(len(kinds))
    cubic, arc = kinds == curves.CUBIC, kinds == curves.ARC
    p = points[cubic]
    bend[cubic] = 6 * np.hypot(
        *np.maximum(np.abs(p[:, 0] - 2 * p[:, 1] + p[:, 2]), np.abs(p[:, 1] - 2 * p[:, 2] + p[:, 3])).T
    )
    if arc.any():
        _, radius, _, sweep = curves.circles(points[arc])
        bend[arc] = radius * sweep**2
    counts = np.maximum(1, np.ceil(np.sqrt(bend / 8 / FINE))).astype(np.int64)
    segment = np.repeat(np.arange(len(kinds)), counts)
    index = np.arange(len(segment)) - np.repeat(np.cumsum(counts) - counts, counts)
    starts = np.where(
        (index == 0)[:, None],
        points[segment, 0],
        curves.evaluate(kinds[segment], points[segment], index / counts[segment]),
    )
    # An edge ends just where the next begins, to the last bit: a ray between them would go through unseen.
    last = np.append(segment[1:] != segment[:-1], True) if len(segment) else np.zeros(0, bool)
    ends = np.where(last[:, None], points[segment, 3], np.roll(starts, -1, axis=0))
    return starts, ends


def windings(path: Path, at: NDArray[np.float64]) -> NDArray[np.int64]:
    """How often a path's closed contours go round each point (n, 2)."""
    a, b = fine_edges(path)
    found = np.zeros(len(at), np.int64)
    for i in range(0, len(a), 2000):
        start, end = a[i : i + 2000], b[i : i + 2000]
        x, y = at[:, None, 0], at[:, None, 1]
        side = (end[:, 0] - start[:, 0]) * (y - start[:, 1]) - (x - start[:, 0]) * (end[:, 1] - start[:, 1])
        up = (start[:, 1] <= y) & (end[:, 1] > y) & (side > 0)
        down = (start[:, 1] > y) & (end[:, 1] <= y) & (side < 0)
        found += up.sum(axis=1) - down.sum(axis=1)
    return found


def wrong_region(result: Path, adds: Sequence[Path], cuts: Sequence[Path]) -> shapely.Geometry:
    """What of a result is material where none should be, or the other way about, and thicker than `THICK`.

    Its contours must go round material once, and never round anything else.
    """
    edges = [fine_edges(path) for path in (result, *adds, *cuts)]
    starts, ends = (np.concatenate(column) for column in zip(*edges, strict=True))
    real = (np.abs(starts - ends) > 1e-9).any(axis=1)
    lines = shapely.linestrings(np.stack([starts[real], ends[real]], axis=1))
    noded = shapely.unary_union(lines, grid_size=1e-6)
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(noded)))
    faces = faces[shapely.area(faces) > 1e-6]
    if not len(faces):
        return shapely.Polygon()
    at = shapely.get_coordinates(shapely.point_on_surface(faces))
    inside = np.zeros(len(at), bool)
    for path in adds:
        inside |= windings(path, at) != 0
    for path in cuts:
        inside &= windings(path, at) == 0
    wrong = faces[windings(result, at) != inside]
    if not len(wrong):
        return shapely.Polygon()
    return shapely.union_all(wrong, grid_size=1e-6).buffer(-THICK / 2)
