"""Running along: how much of a path's contours lies on the lines of other paths."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import flatten
from foliant.core.paths.path import Path

_ALONG = 0.02
"""How near, in mm, an edge lies to the line that it came from."""


def lengths_along(path: Path, others: Sequence[Path]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """How long each of m contours of a path is, (m,), and how much of it lies along each of n others, (n, m), mm."""
    flat = flatten(path)
    middles = shapely.points((flat.points + flat.ends) / 2)
    lengths = np.hypot(*(flat.ends - flat.points).T)
    contours = path.contour_of[flat.segment]
    count = len(path.starts)
    found = np.zeros((len(others), count))
    for number, other in enumerate(others):
        lines = _as_lines(other)
        shapely.prepare(lines)
        found[number] = np.bincount(contours, lengths * shapely.dwithin(lines, middles, _ALONG), count)
    return np.bincount(contours, lengths, count).astype(np.float64), found


def _as_lines(path: Path) -> shapely.Geometry:
    if not len(path):
        return shapely.GeometryCollection()
    flat = flatten(path)
    return shapely.multilinestrings(shapely.linestrings(np.stack([flat.points, flat.ends], axis=1)))
