"""Refining: a shorter way through things that may begin anywhere, where every move has them begin anew.

Single things are put in elsewhere and stretches turned round, next to what comes near them; what a move saves is
reckoned with the best beginnings of the things that it moves. For an order found so, the best beginnings of all are
found at once (`chosen_way`). Then the way is shaken a little and refined again, and kept where it became shorter
(iterated local search; see Lourenço, Martin, Stützle, "Iterated Local Search", 2003).
"""

from dataclasses import dataclass
from functools import cached_property
from random import Random

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Move = tuple[float, bool, int, int]
"""What it saves, mm; whether a stretch is turned round, else a thing put in elsewhere; where it begins and where it
ends, or which thing and before which.
"""

_NEAR = 8
_SOME = 6
"""Of so many places where a thing may begin it is reckoned what a move saves."""

_TRIED = 16
"""So many moves at most are done at once, and a few of them by themselves where those are no good together."""

_LITTLE = 1e-6
_SHAKES, _EFFORT = 8, 240
"""Shakes at most; but no more than so many by things in all, as each costs the more the longer the way is."""

_WINDOW = 30
_TURNS = 4
"""How often at most things begin anew one after the other before all are looked at at once."""


@dataclass(frozen=True, eq=False)
class Things:
    """What is to be done.

    begins, ends  where each of n things may begin, and where it ends then (2, n, k), mm
    start         where the tool comes from (2, 1)
    """

    begins: Floats
    ends: Floats
    start: Floats

    def __len__(self) -> int:
        return int(self.begins.shape[1])

    @cached_property
    def some(self) -> "Things":
        """The same with fewer places where they may begin."""
        few = slice(None, None, -(-self.begins.shape[2] // _SOME))
        return Things(self.begins[:, :, few].copy(), self.ends[:, :, few].copy(), self.start)


@dataclass(frozen=True, eq=False)
class Way:
    """An order of things, the choice of each by its number, and how long the way to and between them is, mm."""

    order: Ints
    choice: Ints
    long: float


def chosen_way(things: Things, order: Ints) -> Way:
    """An order with the beginnings that make its way the shortest: the shortest way through layers of them."""
    first, last = things.begins.take(order, 1), things.ends.take(order, 1)
    ways = _long(first[:, 1:, None], last[:, :-1, :, None])
    cost = _long(first[:, 0], things.start)
    back: list[Ints] = []
    for way in ways:
        reached = cost[:, None] + way
        back.append(reached.argmin(axis=0))
        cost = reached.min(axis=0)
    own = [int(cost.argmin())]
    for came in reversed(back):
        own.append(int(came[own[-1]]))
    choice = np.zeros(len(things), np.int64)
    choice[order] = own[::-1]
    return Way(order, choice, float(cost.min()))


def _long(a: Floats, b: Floats) -> Floats:
    """How far places, the first axis of which is x and y, lie from each other; 0 for those that are none."""
    across, down = a[0] - b[0], a[1] - b[1]
    return np.asarray(np.fmax(np.sqrt(across * across + down * down), 0.0))


def refine(things: Things, way: Way, apart: Floats) -> Way:
    """A way that is no longer; apart (n, n) is how near things come to each other wherever they begin, mm."""
    count = len(things)
    if count < 3:
        return way
    near = np.argsort(apart + np.diag(np.full(count, np.inf)), axis=1)[:, : min(_NEAR, count - 1)]
    way = _refined(things, way, near)
    random = Random(count)  # the same sheet gives the same way
    for _ in range(min(_SHAKES, _EFFORT // count) if count > 4 else 0):
        found = _refined(things, chosen_way(things, _shaken(way.order, random)), near)
        way = found if found.long < way.long - _LITTLE else way
    return way


def _shaken(order: Ints, random: Random) -> Ints:
    """Two stretches that follow each other, exchanged."""
    count = len(order)
    begin = random.randint(0, count - 3)
    a, b, c = sorted(random.sample(range(begin, min(count, begin + _WINDOW) + 1), 3))
    return np.concatenate([order[:a], order[b:c], order[a:b], order[c:]])


def _refined(things: Things, way: Way, near: Ints) -> Way:
    while True:
        laid = _laid(things, way)
        moves = sorted((*_put_in(things, way, laid, near), *_turned_round(things, way, laid, near)), reverse=True)
        for some in (_apart(moves[:_TRIED]), *([move] for move in moves[:3])):
            order = way.order
            for move in some:
                order = _moved(order, move)
            found = _begun_anew(things, order, way.choice)
            if found.long < way.long - _LITTLE:
                way = found
                break
        else:
            return min(way, chosen_way(things, way.order), key=lambda one: one.long)


def _begun_anew(things: Things, order: Ints, choice: Ints) -> Way:
    """An order with better beginnings than these: every other thing begins where it suits those beside it, then the
    others do, and so on.
    """
    begins, ends = things.begins.take(order, 1), things.ends.take(order, 1)
    own, every = choice[order], np.arange(len(order))
    came, goes = _chain(things.start, ends[:, every, own]), _chain(begins[:, every, own], _NOWHERE)
    long = float(_long(goes[:, :-1], came[:, :-1]).sum())
    for _ in range(_TURNS):
        for some in (every[::2], every[1::2]):
            there = _long(begins.take(some, 1), came.take(some, 1)[..., None])
            on = _long(ends.take(some, 1), goes.take(some + 1, 1)[..., None])
            best = (there + on).argmin(axis=1)
            own[some] = best
            came[:, some + 1], goes[:, some] = ends[:, some, best], begins[:, some, best]
        before, long = long, float(_long(goes[:, :-1], came[:, :-1]).sum())
        if long > before - _LITTLE:
            break
    found = choice.copy()
    found[order] = own
    return Way(order, found, long)


_NOWHERE = np.full((2, 1), np.nan)


def _chain(one: Floats, other: Floats) -> Floats:
    return np.concatenate([one, other], axis=1)


def _apart(moves: list[Move]) -> list[Move]:
    """Those of some moves that touch other stretches than the better ones."""
    found: list[Move] = []
    for move in moves:
        low, high = min(move[2:]), max(move[2:])
        if all(high + 1 < min(other[2:]) or low > max(other[2:]) + 1 for other in found):
            found.append(move)
    return found


def _moved(order: Ints, move: Move) -> Ints:
    _, turns, at, to = move
    if turns:
        return np.concatenate([order[:at], order[at : to + 1][::-1], order[to + 1 :]])
    rest = np.delete(order, at)
    return np.insert(rest, to if to < at else to - 1, order[at])


@dataclass(frozen=True, eq=False)
class _Laid:
    """A way laid out.

    begins    (2, n + 1) where each begins, and none after the last
    came      (2, n + 1) where the tool comes from to each, and where it ends
    links     (n + 1,)   how far it is to each, and 0 after the last
    at        (n,)       the place of each thing in the order
    """

    begins: Floats
    came: Floats
    links: Floats
    at: Ints


def _laid(things: Things, way: Way) -> _Laid:
    order, choice = way.order, way.choice[way.order]
    begins = _chain(things.begins[:, order, choice], _NOWHERE)
    came = _chain(things.start, things.ends[:, order, choice])
    at = np.empty_like(order)
    at[order] = np.arange(len(order))
    return _Laid(begins, came, _long(begins, came), at)


def _between(things: Things, thing: Ints, came: Floats, goes: Floats) -> Floats:
    """The shortest way from places (2, m) by things (m,) to other places, none where it ends there."""
    some = things.some
    there = _long(some.begins.take(thing, 1), came[..., None])
    return np.asarray((there + _long(some.ends.take(thing, 1), goes[..., None])).min(axis=1))


def _put_in(things: Things, way: Way, laid: _Laid, near: Ints) -> list[Move]:
    """Things put in before or after what comes near them."""
    beside = laid.at[near[way.order]]
    at = np.repeat(np.arange(len(things)), 2 * near.shape[1])
    to = np.concatenate([beside, beside + 1], axis=1).ravel()
    other = (to != at) & (to != at + 1)
    at, to = at[other], to[other]
    skips = _long(laid.begins[:, 1:], laid.came[:, :-1])
    freed = (laid.links[:-1] + laid.links[1:] - skips)[at]
    cost = _between(things, way.order[at], laid.came.take(to, 1), laid.begins.take(to, 1)) - laid.links[to]
    return _best(freed - cost, False, at, to)


def _turned_round(things: Things, way: Way, laid: _Laid, near: Ints) -> list[Move]:
    """Stretches of three or more turned round, so that one of their ends is next to what comes near it."""
    count = len(things)
    beside = laid.at[near[way.order]]
    own = np.repeat(np.arange(count), near.shape[1])
    every = np.arange(count)
    begins = np.concatenate([beside.ravel() + 1, own, every, np.zeros(count, np.int64)])
    ends = np.concatenate([own, beside.ravel() - 1, np.full(count, count - 1), every])
    long = ends >= begins + 2
    at, to = begins[long], ends[long]
    first = _between(things, way.order[to], laid.came.take(at, 1), laid.came.take(to, 1))
    last = _between(things, way.order[at], laid.begins.take(at + 1, 1), laid.begins.take(to + 1, 1))
    freed = laid.links[at] + laid.links[at + 1] + laid.links[to] + laid.links[to + 1]
    return _best(freed - first - last, True, at, to)


def _best(saved: Floats, turns: bool, at: Ints, to: Ints) -> list[Move]:
    good = np.flatnonzero(saved > _LITTLE)
    good = good[np.argsort(-saved[good], kind="stable")][:_TRIED]
    return [(float(saved[i]), turns, int(at[i]), int(to[i])) for i in good]
