"""Untangling: a shorter way through things that lie in a plane.

Local search with lists of near neighbours and a queue of what is worth looking at: stretches are turned round (2-opt),
and short ones put in elsewhere (Or-opt). Then the way is shaken a little again and again, and kept where it became
shorter (iterated local search; see Lourenço, Martin, Stützle, "Iterated Local Search", 2003).
"""

from random import Random

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]

_NEAR = 8
_LITTLE = 1e-7
_WINDOW = 50
_LONGEST = 3


def untangle(order: Ints, apart: NDArray[np.float64], shakes: int) -> Ints:
    """A shorter order of the things 0 to n - 1, shaken so many times; apart (n + 1, n + 1) is how far they lie from
    each other, mm, the start being the last of them. The end is free.
    """
    count = len(order)
    if count < 3:
        return order
    near = np.argsort(apart, axis=1)[:, 1 : _NEAR + 1].tolist()
    way = _Way([count, *order.tolist()], apart.tolist(), near)
    way.improve(list(range(count + 1)))
    random = Random(count)  # the same sheet gives the same way
    for _ in range(shakes):
        way.shake(random)
    return np.array(way.order[1:])


class _Way:
    """A way that begins at the first and ends at the last of `order`."""

    def __init__(self, order: list[int], apart: list[list[float]], near: list[list[int]]) -> None:
        self.order, self._apart, self._near = order, apart, near
        self._at = [0] * len(order)
        self._number(0, len(order))

    def _number(self, begin: int, end: int) -> None:
        for i in range(begin, end):
            self._at[self.order[i]] = i

    def improve(self, waiting: list[int]) -> float:
        """Make it shorter where these lie, and wherever that changes something; by how much it became shorter."""
        gained = 0.0
        queued = set(waiting)
        while waiting:
            thing = waiting.pop()
            queued.discard(thing)
            while (gain := self._turn_round(thing)) or (gain := self._put_elsewhere(thing)):
                gained += gain[0]
                for other in gain[1]:
                    if other not in queued:
                        queued.add(other)
                        waiting.append(other)
        return gained

    def _turn_round(self, thing: int) -> tuple[float, list[int]] | None:
        """Turn a stretch round that begins or ends at a thing."""
        order, apart, at = self.order, self._apart, self._at
        i, last = at[thing], len(order) - 1
        # So that the thing is followed by a near one: the stretch from its follower to that one is turned.
        if i < last:
            follower = order[i + 1]
            for other in self._near[thing]:
                saved = apart[thing][follower] - apart[thing][other]
                if saved <= _LITTLE:
                    break
                j = at[other]
                low, high = (i, j) if i < j else (j, i)
                gain = self._gain(low, high)
                if gain > _LITTLE:
                    return self._reversed(low + 1, high, gain)
        # So that it follows a near one: the same, seen from the other end.
        if i > 0:
            before = order[i - 1]
            for other in self._near[thing]:
                saved = apart[before][thing] - apart[thing][other]
                if saved <= _LITTLE:
                    break
                j = at[other]
                if j < 1:
                    continue
                low, high = (i - 1, j - 1) if i < j else (j - 1, i - 1)
                gain = self._gain(low, high)
                if gain > _LITTLE:
                    return self._reversed(low + 1, high, gain)
            if i < last:  # the end is free: all from here on may be turned
                gain = apart[before][thing] - apart[before][order[last]]
                if gain > _LITTLE:
                    return self._reversed(i, last, gain)
        return None

    def _gain(self, low: int, high: int) -> float:
        """What is saved where all after `low` up to `high` is turned round."""
        order, apart = self.order, self._apart
        a, b, c = order[low], order[low + 1] if low + 1 < len(order) else -1, order[high]
        if b < 0 or low + 1 > high:
            return 0.0
        gain = apart[a][b] - apart[a][c]
        if high + 1 < len(order):
            d = order[high + 1]
            gain += apart[c][d] - apart[b][d]
        return gain

    def _reversed(self, begin: int, end: int, gain: float) -> tuple[float, list[int]]:
        order = self.order
        order[begin : end + 1] = order[begin : end + 1][::-1]
        self._number(begin, end + 1)
        touched = [order[begin - 1], order[begin], order[end], *order[end + 1 : end + 2]]
        return gain, touched

    def _put_elsewhere(self, thing: int) -> tuple[float, list[int]] | None:
        """Put a short stretch that begins or ends with a thing next to a near one."""
        order, apart, at = self.order, self._apart, self._at
        i = at[thing]
        for size in range(1, _LONGEST + 1):
            for begin in {i, i - size + 1}:
                end = begin + size - 1
                if begin < 1 or end >= len(order):
                    continue
                head, tail = order[begin], order[end]
                before = order[begin - 1]
                after = order[end + 1] if end + 1 < len(order) else -1
                freed = apart[before][head] + (apart[tail][after] - apart[before][after] if after >= 0 else 0.0)
                for other in self._near[thing]:
                    if freed - apart[thing][other] <= _LITTLE:
                        break
                    j = at[other]
                    if begin <= j <= end:
                        continue
                    for left in (j, j - 1):  # between this and the one that follows it
                        if left < 0 or begin - 1 <= left <= end:
                            continue
                        a, b = order[left], order[left + 1] if left + 1 < len(order) else -1
                        there = apart[a][b] if b >= 0 else 0.0
                        plain = apart[a][head] + (apart[tail][b] if b >= 0 else 0.0) - there
                        turned = apart[a][tail] + (apart[head][b] if b >= 0 else 0.0) - there
                        gain = freed - min(plain, turned)
                        if gain > _LITTLE:
                            self._move(begin, end, left, turned < plain)
                            return gain, [x for x in (before, after, head, tail, a, b) if x >= 0]
        return None

    def _move(self, begin: int, end: int, left: int, turned: bool) -> None:
        order = self.order
        stretch = order[begin : end + 1]
        if turned:
            stretch.reverse()
        del order[begin : end + 1]
        at = left + 1 if left < begin else left + 1 - len(stretch)
        order[at:at] = stretch
        self._number(min(begin, at), max(end, at + len(stretch) - 1) + 1)

    def shake(self, random: Random) -> None:
        """Exchange two short stretches somewhere, improve, and go back where that was no good."""
        count = len(self.order)
        if count < 5:
            return
        begin = random.randint(1, count - 3)
        cuts = sorted(random.sample(range(begin, min(count, begin + _WINDOW) + 1), 3))
        a, b, c = cuts
        kept, apart, order = self.order.copy(), self._apart, self.order

        def joints() -> float:
            ends = [(order[i - 1], order[i]) for i in {a, a + c - b, c} if i < count]
            return sum(apart[x][y] for x, y in ends)

        now = sum(apart[order[i - 1]][order[i]] for i in (a, b, c) if i < count)
        order[a:c] = order[b:c] + order[a:b]
        self._number(a, c)
        worse = joints() - now
        touched = {order[i] for at in (a, a + c - b, c) for i in (at - 1, at) if i < count}
        if self.improve(list(touched)) < worse - _LITTLE:
            self.order = kept
            self._number(0, count)
