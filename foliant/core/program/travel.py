"""Travel: in which order things are done, and where each is begun, so that the tool flies little between them.

A closed line may begin anywhere on it, an open one at either end. The order is greedy at first; `untangle` makes it
shorter, by how far things lie from each other as they begin now or, as those may change, wherever they begin; and for
the order found the best beginnings are found at once, as the shortest way through layers of them.
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from foliant.core.program.untangling import untangle

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_AT_ONCE = 1000
"""How many things are ordered together at most; more are taken in bands of the sheet, one after the other."""

_MANY = 200
"""Of more things the first order goes by their middles, which is quicker."""

_SOME = 6
"""Of so many places where a thing may begin it is looked at how near it comes to others."""

_FREE = ((40, (0.0, 0.4, 0.8)), (_MANY, (0.0, 0.7)), (_AT_ONCE, (0.0, 0.0)))
"""Of so many things at most: how far it counts, time after time, how near they come wherever they begin, rather than as
they begin now.
"""


def tour(begins: Sequence[Floats], ends: Sequence[Floats], start: tuple[float, float]) -> list[tuple[int, int]]:
    """The order of things and where each begins, as (thing, choice).

    begins, ends  for each thing its possible beginnings (k, 2) and where it ends then (k, 2), mm
    start         where the tool comes from
    """
    most = max(len(found) for found in begins)
    first, last = _even(begins, most), _even(ends, most)
    here = np.array(start)
    found: list[tuple[int, int]] = []
    middles = first.mean(axis=1)
    for band in np.array_split(np.argsort(middles[:, 1], kind="stable"), -(-len(begins) // _AT_ONCE)):
        order, choice = _in_one_go(first[band], last[band], here)
        found += zip(band[order].tolist(), choice[order].tolist(), strict=True)
        here = last[found[-1]]
    return found


def _even(choices: Sequence[Floats], most: int) -> Floats:
    """The same number of choices for each thing (n, most, 2): its last one comes again, and is never the better."""
    return np.array([np.concatenate([found, np.repeat(found[-1:], most - len(found), axis=0)]) for found in choices])


def _in_one_go(begins: Floats, ends: Floats, start: Floats) -> tuple[Ints, Ints]:
    """The order, and the choice of each thing by its number."""
    count = len(begins)
    if count > _MANY:
        middles = begins.mean(axis=1, keepdims=True)
        first = _greedy(middles, middles, start)[0]
        best = first, _best_choices(first, begins, ends, start)
    else:
        best = _greedy(begins, ends, start)
    way = _way(best, begins, ends, start)
    shares = next(shares for most, shares in _FREE if count <= most)
    nearest = _nearest(begins, ends, start) if any(shares) else np.zeros(())
    for free in shares:
        order = untangle(best[0], free * nearest + (1 - free) * _apart(begins, ends, best[1], start))
        found = order, _best_choices(order, begins, ends, start)
        if (now := _way(found, begins, ends, start)) < way - 1e-6:
            best, way = found, now
    return best


def _nearest(begins: Floats, ends: Floats, start: Floats) -> Floats:
    """How near things come to each other (n + 1, n + 1), the start being the last, wherever they begin and end."""
    count = len(begins)
    some = slice(None, None, -(-begins.shape[1] // _SOME))
    begins, ends = begins[:, some], ends[:, some]
    found = np.zeros((count + 1, count + 1))
    ways = (_lengths(begins - end[:, None, None]).min(axis=2) for end in ends.swapaxes(0, 1))
    found[:count, :count] = np.minimum.reduce(list(ways))
    found[count, :count] = found[:count, count] = _lengths(begins - start).min(axis=1)
    return np.minimum(found, found.T)


def _apart(begins: Floats, ends: Floats, choice: Ints, start: Floats) -> Floats:
    """How far things lie from each other (n + 1, n + 1), the start being the last: as they begin and end now, an open
    line either way.
    """
    every = np.arange(len(begins))
    one, two = np.vstack([begins[every, choice], start]), np.vstack([ends[every, choice], start])
    ways = [_lengths(a[:, None] - b[None]) for a in (one, two) for b in (one, two)]
    return np.asarray(np.minimum.reduce(ways))


def _lengths(ways: Floats) -> Floats:
    return np.asarray(np.hypot(ways[..., 0], ways[..., 1]))


def _way(found: tuple[Ints, Ints], begins: Floats, ends: Floats, start: Floats) -> float:
    """How long the way is, in mm."""
    order, choice = found
    own = choice[order]
    last = np.vstack([start, ends[order, own][:-1]])
    return float(_lengths(begins[order, own] - last).sum())


def _greedy(begins: Floats, ends: Floats, start: Floats) -> tuple[Ints, Ints]:
    """Whatever begins nearest to where the last ended."""
    count, most = begins.shape[:2]
    left, here = begins.copy(), start
    order, choice = np.zeros(count, np.int64), np.zeros(count, np.int64)
    for turn in range(count):
        away = left - here
        thing, own = divmod(int(np.argmin(np.einsum("ijk,ijk->ij", away, away))), most)
        order[turn], choice[thing] = thing, own
        left[thing] = np.inf
        here = ends[thing, own]
    return order, choice


def _best_choices(order: Ints, begins: Floats, ends: Floats, start: Floats) -> Ints:
    """For an order, the beginnings with the shortest way in all."""
    first, last = begins[order], ends[order]
    ways = _lengths(first[1:, None] - last[:-1, :, None])
    cost = _lengths(first[0] - start)
    back: list[Ints] = []
    for way in ways:
        reached = cost[:, None] + way
        back.append(reached.argmin(axis=0))
        cost = reached.min(axis=0)
    own = [int(cost.argmin())]
    for came in reversed(back):
        own.append(int(came[own[-1]]))
    choice = np.zeros(len(begins), np.int64)
    choice[order] = own[::-1]
    return choice
