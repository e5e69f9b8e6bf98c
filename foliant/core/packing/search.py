"""Searching: better and better answers, as long as it is let.

Passes with other orders and wishes come first; from then on some of what lies there is taken up and laid anew, which
is kept where it is no worse.
"""

import random
import time
from collections.abc import Callable, Iterator

import shapely

from foliant.core.packing.greedy import FINEST, Way, fill, largest_first, quick
from foliant.core.packing.strip import Strip
from foliant.core.packing.task import Packed, Task, lying

_UPWARD = (0.02, 0.1, 0.3)
_FAR = 40.0
_WORTH_WHILE = 2.5
"""With less than so many seconds left, no other packer is begun."""


def improving(task: Task, seconds: float, stop: Callable[[], bool] = lambda: False, seed: int = 1) -> Iterator[Packed]:
    """Answers, each better than the one before: the first as soon as there is one, the last before `seconds` are over.
    Where `stop` says so it ends.
    """
    return _Search(task, seconds, stop, seed).answers()


class _Search:
    """What is known of a task while it is looked for."""

    def __init__(self, task: Task, seconds: float, stop: Callable[[], bool], seed: int) -> None:
        self._task, self._stop, self._seed = task, stop, seed
        self._end = time.monotonic() + seconds
        self._chance = random.Random(seed)
        self._strip: Strip | None = None
        self._best: Packed | None = None

    def answers(self) -> Iterator[Packed]:
        try:
            for found in self._tries():
                for answer in (found, *(self._strip.answers() if self._strip else ())):
                    if answer.beats(self._best):
                        self._best = answer
                        yield answer
                if self._over() or self._best is None or not self._best.puts:
                    return
                left = self._end - time.monotonic()
                if self._strip is None and not self._task.bed.taken and left > _WORTH_WHILE:
                    self._strip = Strip(self._best, left - 0.5, self._seed)
        finally:
            if self._strip:
                self._strip.stop()

    def _over(self) -> bool:
        return self._stop() or (self._best is not None and time.monotonic() > self._end)

    def _tries(self) -> Iterator[Packed]:
        """Passes over all that is wanted, a quick one and finer ones with other wishes; then the best so far with some
        of it laid anew.
        """
        task, over, chance = self._task, self._over, self._chance
        yield fill(task, quick(task), over)
        order = tuple(largest_first(task))
        for cell in (FINEST, 0.75):
            for upward in _UPWARD:
                yield fill(task, Way(order, cell, upward), over)
        if len(task.kinds) > 1:
            longest = tuple(sorted(order, key=lambda stamp: -shapely.length(task.stamps[stamp].plain)))
            yield fill(task, Way(longest, 0.75), over)
        for _ in range(3):
            yield fill(task, _varied(task, order, chance), over)
        while self._best:
            yield _laid_anew(self._best, over, chance)


def _varied(task: Task, order: tuple[int, ...], chance: random.Random) -> Way:
    """Another way: some change places in the order, and turns are liked more or less."""
    likes = {(stamp, turn): chance.gauss(0, 6) for stamp in task.kinds for turn in task.stamps[stamp].turns}
    shuffled = sorted(range(len(order)), key=lambda at: at + chance.gauss(0, 0.1 * len(order)))
    return Way(tuple(order[at] for at in shuffled), chance.choice((0.5, 0.75, 1.0)), chance.choice(_UPWARD), likes)


def _laid_anew(best: Packed, over: Callable[[], bool], chance: random.Random) -> Packed:
    """What lies furthest right, and some that lie near each other, laid anew."""
    task = best.task
    boxes = [shapely.bounds(shape) for shape in lying(task, best.puts)]
    left, top, _, bottom = task.bed.inner
    edge = left + best.reach - chance.uniform(2, _FAR)
    at = (chance.uniform(left, left + best.reach), chance.uniform(top, bottom))
    count = min(len(best.puts), chance.randint(3, 14))
    near = sorted(range(len(boxes)), key=lambda i: _distance(boxes[i], at))[:count]
    taken = set(near) | {i for i, box in enumerate(boxes) if box[2] > edge}
    kept = [put for i, put in enumerate(best.puts) if i not in taken]
    again = [best.puts[i].stamp for i in sorted(taken)] + _missing(best)
    if chance.random() < 0.5:
        chance.shuffle(again)
    else:
        rank = {stamp: at for at, stamp in enumerate(largest_first(task))}
        again.sort(key=lambda stamp: rank[stamp] + chance.gauss(0, 2))
    likes = {(stamp, turn): chance.gauss(0, 4) for stamp in set(again) for turn in task.stamps[stamp].turns}
    way = Way(tuple(again), chance.choice((0.5, 0.75, 1.0)), chance.choice(_UPWARD), likes)
    return fill(task, way, over, tuple(kept))


def _missing(best: Packed) -> list[int]:
    wanted = list(best.task.wanted)
    for put in best.puts:
        wanted.remove(put.stamp)
    return wanted


def _distance(box: tuple[float, ...], at: tuple[float, float]) -> float:
    return ((box[0] + box[2]) / 2 - at[0]) ** 2 + ((box[1] + box[3]) / 2 - at[1]) ** 2
