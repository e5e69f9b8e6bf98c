"""Travel: in which order things are done, and where each is begun, so that the tool flies little between them.

A closed line may begin anywhere on it, an open one at either end. The order is greedy at first; `untangle` makes it
shorter, by how far things lie from each other as they begin now or, as those may change, wherever they begin; and for
the order found the best beginnings are found at once. `refine` then goes on with both together.
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from foliant.core.program.refining import Things, Way, chosen_way, refine
from foliant.core.program.untangling import untangle

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_AT_ONCE = 1000
"""How many things are ordered together at most; more are taken in bands of the sheet, one after the other."""

_MANY = 200
"""Of more things the first order goes by their middles, which is quicker, and is not refined."""

_SOME = 6
"""Of so many places where a thing may begin it is looked at how near it comes to others."""

_SHAKES, _EFFORT = 5, 1200
"""An order is shaken so many times at least, and so many by things in all."""

_SHAKES_OF_MANY = 30
"""How many times that of many things is, which is not refined."""

_FREE = (0.0, 0.4, 0.8)
"""How far it counts, time after time, how near things come wherever they begin, rather than as they begin now."""


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
    things = Things(begins.transpose(2, 0, 1).copy(), ends.transpose(2, 0, 1).copy(), start[:, None])
    many = len(begins) > _MANY
    middles = begins.mean(axis=1, keepdims=True)
    way = chosen_way(things, _greedy(middles, middles, start) if many else _greedy(begins, ends, start))
    if many:
        for _ in range(2):
            way = _untangled(things, way, _apart(begins, ends, way.choice, start), _SHAKES_OF_MANY)
        return way.order, way.choice
    nearest = _nearest(begins, ends, start)
    shakes = max(_SHAKES, min(_SHAKES * len(begins), _EFFORT // len(begins)))
    for free in _FREE:
        apart = free * nearest + (1 - free) * _apart(begins, ends, way.choice, start)
        way = _untangled(things, way, apart, shakes)
    way = refine(things, way, nearest[:-1, :-1])
    return way.order, way.choice


def _untangled(things: Things, way: Way, apart: Floats, shakes: int) -> Way:
    found = chosen_way(things, untangle(way.order, apart, shakes))
    return min(way, found, key=lambda one: one.long)


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
    across, down = ways[..., 0], ways[..., 1]
    return np.asarray(np.sqrt(across * across + down * down))


def _greedy(begins: Floats, ends: Floats, start: Floats) -> Ints:
    """Whatever begins nearest to where the last ended."""
    count, most = begins.shape[:2]
    left, here = begins.copy(), start
    order = np.zeros(count, np.int64)
    for turn in range(count):
        away = left - here
        thing, own = divmod(int(np.argmin(np.einsum("ijk,ijk->ij", away, away))), most)
        order[turn] = thing
        left[thing] = np.inf
        here = ends[thing, own]
    return order
