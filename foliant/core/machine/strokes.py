"""Strokes: what a machine has burnt, told shortly enough to be drawn."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

MOST = 20_000
"""So many strokes can be drawn in a page."""

_LEVEL = 1e-3
_FINEST = 0.5
"""The length, in mm, from which dots in a row are told as one stroke of their mean power."""


def shortly(strokes: list[list[float]], most: int = MOST) -> list[list[float]]:
    """Strokes (see `panel`) with dots that follow each other in a row told together, where there are more than that."""
    found = np.array(strokes, float).reshape(-1, 7)
    length = _FINEST
    while len(found) > most and length < 1000:
        found, length = _together(found, length), 2 * length
    return found.tolist() if len(found) < len(strokes) else strokes


def _together(strokes: Floats, length: float) -> Floats:
    """Level strokes one after the other as one for every `length` mm, as powerful as they are on the whole."""
    begins, ends = strokes[:, :2], strokes[:, 4:6]
    level = np.abs(begins[:, 1] - ends[:, 1]) < _LEVEL
    cell = np.floor((begins[:, 0] + ends[:, 0]) / 2 / length)
    with_last = level[1:] & level[:-1] & (cell[1:] == cell[:-1])
    with_last &= np.abs(begins[1:, 1] - begins[:-1, 1]) < _LEVEL
    first = np.flatnonzero(np.append(True, ~with_last))
    last = np.append(first[1:], len(strokes)) - 1
    long = np.hypot(*(ends - begins).T)
    alone = first == last
    whole = np.maximum(np.hypot(*(ends[last] - begins[first]).T), 1e-9)
    found = strokes[first].copy()
    power = np.add.reduceat(long * strokes[:, 6], first) / whole
    found[~alone, 4:6] = ends[last][~alone]
    found[~alone, 2:4] = ((begins[first] + ends[last]) / 2)[~alone]
    found[~alone, 6] = np.maximum(np.round(power[~alone] / 2) * 2, 1)
    return found
