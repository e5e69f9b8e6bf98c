"""Rings: arrays of items grouped by the ring they belong to, each ring going round."""

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]


def previous_in_ring(ring: Ints) -> Ints:
    """For items grouped by ring, the index of the one before, going round its ring."""
    index = np.arange(len(ring)) - 1
    first = np.append(True, ring[1:] != ring[:-1])
    last = np.append(ring[1:] != ring[:-1], True)
    index[first] = np.flatnonzero(last)
    return index


def next_in_ring(ring: Ints) -> Ints:
    """For items grouped by ring, the index of the one after, going round its ring."""
    index = np.arange(len(ring)) + 1
    first = np.append(True, ring[1:] != ring[:-1])
    last = np.append(ring[1:] != ring[:-1], True)
    index[last] = np.flatnonzero(first)
    return index
