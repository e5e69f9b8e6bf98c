"""Scanning: whether an overlay covers what it should, held against its inputs on level lines across the drawing.

GEOS may answer with a face too many or too few and raise nothing. Every edge is cut by some two hundred level lines; on
each line the intervals that the inputs cover are told by counting edges, and those of the answer must be the same.
"""

from collections.abc import Callable, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import GRID

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
Geometries = NDArray[np.object_]

_ROWS = 240
_CLOSEST = 0.02
"""Lines are at least so far apart, in mm."""


def area_astray(sides: Sequence[Geometries], answer: shapely.Geometry, wanted: Callable[[list[Bools]], Bools]) -> float:
    """About how much area (mm²) an answer covers that it should not, or does not cover that it should.

    sides   the polygons of each side of an operation, which may overlap
    wanted  from whether each side covers some places to whether the answer should
    """
    every = [*sides, shapely.get_parts(answer)]
    edges = [_edges(polygons) for polygons in every]
    owner = np.repeat(np.arange(len(every)), [len(starts) for starts, _ in edges])
    starts, ends = (np.concatenate(column) for column in zip(*edges, strict=True))
    if not len(starts):
        return 0.0
    low, high = np.minimum(starts[:, 1], ends[:, 1]), np.maximum(starts[:, 1], ends[:, 1])
    step = max((high.max() - low.min()) / _ROWS, _CLOSEST)
    first_row = low.min() + GRID * (np.floor(step / GRID / 2) + 0.5)  # level edges lie on the grid, lines between
    first = np.ceil((low - first_row) / step).astype(np.int64)
    counts = np.maximum(0, np.ceil((high - first_row) / step).astype(np.int64) - first)
    edge = np.repeat(np.arange(len(starts)), counts)
    row = first[edge] + np.arange(len(edge)) - np.repeat(np.cumsum(counts) - counts, counts)
    share = (first_row + row * step - starts[edge, 1]) / (ends[edge, 1] - starts[edge, 1])
    x = starts[edge, 0] + share * (ends[edge, 0] - starts[edge, 0])
    order = np.lexsort((x, row))
    edge, row, x = edge[order], row[order], x[order]
    # Every line leaves all that it enters, so a running sum over all lines tells how deep each place lies.
    turn = np.where(starts[edge, 1] < ends[edge, 1], -1, 1)
    inside = [np.cumsum(np.where(owner[edge] == number, turn, 0)) != 0 for number in range(len(every))]
    wrong = wanted(inside[:-1]) != inside[-1]
    length = np.where(row[1:] == row[:-1], np.diff(x), 0.0)
    return float(length[wrong[:-1]].sum() * step)


def _edges(polygons: Geometries) -> tuple[Floats, Floats]:
    """Starts and ends (k, 2) of all edges that are not level, outer rings going one way and holes the other."""
    rings = shapely.get_rings(shapely.orient_polygons(shapely.get_parts(polygons)))
    points, ring = shapely.get_coordinates(rings, return_index=True)
    inner = (ring[1:] == ring[:-1]) & (points[1:, 1] != points[:-1, 1])
    return points[:-1].compress(inner, 0), points[1:].compress(inner, 0)
