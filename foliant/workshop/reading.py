"""Reading: the files that makers bring, while they are taken apart: how far each is, and whether it is still wanted."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from foliant.core.errors import Refused


@dataclass(eq=False)
class _Reading:
    maker: int
    share: float = 0.0
    wanted: bool = True

    def watch(self, share: float) -> None:
        if not self.wanted:
            raise Refused("That was given up, so nothing was brought in.")
        self.share = share


_lock = threading.Lock()
_under_way: set[_Reading] = set()


@contextmanager
def being_read(maker: int) -> Iterator[Callable[[float], None]]:
    """While a file of a maker is read: what is told how far it is, from 0 to 1, and raises `Refused` once it is given
    up.
    """
    reading = _Reading(maker)
    with _lock:
        _under_way.add(reading)
    try:
        yield reading.watch
    finally:
        with _lock:
            _under_way.discard(reading)


def share_read(maker: int) -> float:
    """How far what a maker waits for has been read, from 0 to 1; that of the least, and 0 where nothing is read."""
    return min((reading.share for reading in _of(maker)), default=0.0)


def stop_reading(maker: int) -> int:
    """Give up all that is read for a maker; how much that was."""
    found = _of(maker)
    for reading in found:
        reading.wanted = False
    return len(found)


def _of(maker: int) -> list[_Reading]:
    with _lock:
        return [reading for reading in _under_way if reading.maker == maker]
