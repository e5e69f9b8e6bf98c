"""Travel: in which order things are done, and where each is begun, so that the tool flies little between them.

A closed line may begin anywhere on it, an open one at either end. The order is greedy at first; `untangle` makes it
shorter; and for the order found the best beginnings are found at once, as the shortest way through layers of them.
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from foliant.core.program.untangling import untangle

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_AT_ONCE = 1000
"""How many things are ordered together at most; more are taken in bands of the sheet, one after the other."""

_ROUNDS = 2
_MANY = 200
"""Of so many things the first order goes by their middles, which is quicker."""

_MOST_TRIES = 4
_EFFORT = 40
"""Few things are ordered anew from other orders, so many things in all: where each begins decides as much there."""


def tour(begins: Sequence[Floats], ends: Sequence[Floats], start: tuple[float, float]) -> list[tuple[int, int]]:
    """The order of things and where each begins, as (thing, choice).

    begins, ends  for each thing its possible beginnings (k, 2) and where it ends then (k, 2), mm
    start         where the tool comes from
    """
    middles = np.array([found.mean(axis=0) for found in begins])
    here = np.array(start)
    found: list[tuple[int, int]] = []
    for band in np.array_split(np.argsort(middles[:, 1], kind="stable"), -(-len(begins) // _AT_ONCE)):
        order, choice = _in_one_go([begins[i] for i in band], [ends[i] for i in band], here)
        found += [(int(band[i]), int(choice[i])) for i in order]
        last = found[-1]
        here = ends[last[0]][last[1]]
    return found


def _in_one_go(begins: list[Floats], ends: list[Floats], start: Floats) -> tuple[Ints, Ints]:
    """The order, and the choice of each thing by its number."""
    count = len(begins)
    if count > _MANY:
        middles = [found.mean(axis=0, keepdims=True) for found in begins]
        first = _greedy(middles, middles, start)[0]
        best = first, _best_choices(first, begins, ends, start)
    else:
        best = _greedy(begins, ends, start)
    way = _way(best, begins, ends, start)
    random = np.random.default_rng(count)  # the same sheet gives the same way
    orders = [best[0], *(random.permutation(count) for _ in range(min(_MOST_TRIES, _EFFORT // count)))]
    for order in orders:
        choice = _best_choices(order, begins, ends, start)
        for _ in range(_ROUNDS):
            order = untangle(order, _apart(begins, ends, choice, start))
            choice = _best_choices(order, begins, ends, start)
            if (now := _way((order, choice), begins, ends, start)) >= way - 1e-6:
                break
            best, way = (order, choice), now
    return best


def _apart(begins: list[Floats], ends: list[Floats], choice: Ints, start: Floats) -> Floats:
    """How far things lie from each other (n + 1, n + 1), the start being the last: as they begin and end now, an open
    line either way.
    """
    one = np.array([*(begins[i][choice[i]] for i in range(len(begins))), start])
    two = np.array([*(ends[i][choice[i]] for i in range(len(begins))), start])
    ways = [np.hypot(*np.moveaxis(a[:, None] - b[None], 2, 0)) for a in (one, two) for b in (one, two)]
    return np.asarray(np.minimum.reduce(ways))


def _way(found: tuple[Ints, Ints], begins: list[Floats], ends: list[Floats], start: Floats) -> float:
    """How long the way is, in mm."""
    order, choice = found
    first = np.array([begins[i][choice[i]] for i in order])
    last = np.array([start, *(ends[i][choice[i]] for i in order[:-1])])
    return float(np.hypot(*(first - last).T).sum())


def _greedy(begins: list[Floats], ends: list[Floats], start: Floats) -> tuple[Ints, Ints]:
    """Whatever begins nearest to where the last ended."""
    owner = np.repeat(np.arange(len(begins)), [len(found) for found in begins])
    number = np.concatenate([np.arange(len(found)) for found in begins])
    first, last = np.concatenate(begins), np.concatenate(ends)
    away = np.empty(len(first))
    open_ = np.ones(len(first), bool)
    order, choice, here = [], np.zeros(len(begins), np.int64), start
    for _ in range(len(begins)):
        away = np.where(open_, ((first - here) ** 2).sum(axis=1), np.inf)
        at = int(np.argmin(away))
        order.append(owner[at])
        choice[owner[at]] = number[at]
        open_ &= owner != owner[at]
        here = last[at]
    return np.array(order), choice


def _best_choices(order: Ints, begins: list[Floats], ends: list[Floats], start: Floats) -> Ints:
    """For an order, the beginnings with the shortest way in all."""
    cost, here = np.zeros(1), start[None]
    back: list[Ints] = []
    for thing in order:
        ways = cost[:, None] + np.hypot(*np.moveaxis(begins[thing][None] - here[:, None], 2, 0))
        back.append(np.argmin(ways, axis=0))
        cost, here = ways.min(axis=0), ends[thing]
    choice = np.zeros(len(begins), np.int64)
    at = int(np.argmin(cost))
    for thing, came in zip(order[::-1], back[::-1], strict=True):
        choice[thing] = at
        at = int(came[at])
    return choice
