"""Spikes: lines there and back that bound nothing, left where an edge was cut along itself."""

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths.flatten import GRID, TOLERANCE
from foliant.core.paths.pairs import cross, dot, size
from foliant.core.paths.rings import next_in_ring, previous_in_ring

Floats = NDArray[np.float64]

_WIDTH = 2 * GRID
_NARROW = np.cos(np.deg2rad(3))


def without_spikes(parts: NDArray[np.object_]) -> NDArray[np.object_]:
    """Polygons without spikes; their other corners stay where they were. Those that are nothing else go."""
    rings, owner = shapely.get_rings(parts, return_index=True)
    points, ring = shapely.get_coordinates(rings, return_index=True)
    inner = ring[1:] == ring[:-1]
    starts, ring = points[:-1].compress(inner, 0), ring[:-1][inner]
    if not len(starts):
        return parts
    before, after = previous_in_ring(ring), next_in_ring(ring)
    spiked = np.unique(ring[_are_spikes(starts.take(before, 0), starts, starts.take(after, 0))])
    if not len(spiked):
        return parts
    result = parts.copy()
    for number in np.unique(owner[spiked]):
        own = np.flatnonzero(owner == number)
        clean = [_cleaned(starts[ring == i]) if i in spiked else starts[ring == i] for i in own]
        shell, holes = clean[0], [hole for hole in clean[1:] if len(hole) > 2]
        result[number] = shapely.Polygon(shell, holes) if len(shell) > 2 else shapely.Polygon()
    return np.asarray(result[~shapely.is_empty(result)])


def _are_spikes(a: Floats, b: Floats, c: Floats) -> NDArray[np.bool_]:
    """Whether the way from a to b turns back on itself to c: the shorter arm ends on the longer one, or next to it
    where two flattenings of one curve make a fin.
    """
    there, back = b - a, c - b
    aside, along = np.abs(cross(there, back)), dot(there, back)
    one, two = size(there), size(back)
    longer = np.maximum(one, two)
    fin = (along < -_NARROW * one * two) & (aside <= TOLERANCE * longer)
    return np.asarray((along < 0) & (aside <= _WIDTH * longer) | fin)


def _cleaned(points: Floats) -> Floats:
    """A ring without its spikes, taken off from their tips, all at once."""
    while len(points) > 2:
        before, after = np.roll(points, 1, axis=0), np.roll(points, -1, axis=0)
        same = np.hypot(*(points - before).T) < GRID / 2
        gone = np.flatnonzero(same | _are_spikes(before, points, after))
        if not len(gone):
            break
        # Of tips side by side one goes, as the other may then be none.
        apart = np.append(True, np.diff(gone) > 1)
        if len(gone) > 1 and gone[0] == 0 and gone[-1] == len(points) - 1:
            apart[0] = False
        points = np.delete(points, gone[apart] if apart.any() else gone[:1], axis=0)
    return points
