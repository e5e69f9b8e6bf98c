"""Travel: in which order things are done so that the tool flies little between them."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

_AT_ONCE = 3000
"""How many are compared with each other at most."""


def nearest_order(begins: Floats, ends: Floats, start: tuple[float, float]) -> list[int]:
    """The order in which each begins nearest to where the last ended (greedy), from (n, 2) beginnings and ends in mm.

    Very many are taken in bands of the sheet, one after the other.
    """
    here = np.array(start)
    order: list[int] = []
    for band in np.array_split(np.argsort(begins[:, 1], kind="stable"), -(-len(begins) // _AT_ONCE)):
        waiting = np.ones(len(band), bool)
        for _ in band:
            away = np.where(waiting, ((begins[band] - here) ** 2).sum(axis=1), np.inf)
            chosen = int(np.argmin(away))
            waiting[chosen] = False
            here = ends[band[chosen]]
            order.append(int(band[chosen]))
    return order
