"""Running along: whose lines the contours of a path lie along."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import flatten
from foliant.core.paths.path import Path

_ALONG = 0.02
"""How near, in mm, an edge lies to the line that it came from."""


def takers_along(path: Path, given: Sequence[tuple[Path, str]], of: Path | None = None) -> list[str]:
    """For each contour of a path the last of those whose lines most of it lies along, "" for none: most of its length,
    or of what of it lies along `of`.
    """
    length, along = _lengths_along(path, [lines for lines, _ in given])
    whole = length if of is None else _lengths_along(path, [of])[1][0]
    found = [""] * len(length)
    for (_, taker), own in zip(given, along, strict=True):
        for number in np.flatnonzero((own > 0.5 * whole) & (whole > 0)):
            found[int(number)] = taker
    return found


def _lengths_along(path: Path, others: Sequence[Path]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
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
