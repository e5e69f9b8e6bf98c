"""Computing: small things are worked out at once; large ones in processes of their own, with bounds on time and memory.

So one maker's heaviest work never holds up another's page. A maker can give up what is being worked out, and a newer
wish of the same kind drops an older one that nobody waits for any more.
"""

import multiprocessing
import os
import resource
import threading
import time
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, CancelledError
from contextlib import suppress
from typing import Any, TypeVar

from pebble import ProcessExpired, ProcessFuture, ProcessPool

from foliant.core.design import Design, Piece
from foliant.core.design.budget import weight, weight_in_all
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.remembering import remembered
from foliant.core.ticket import effort, effort_of_all

Answer = TypeVar("Answer")
Future = ProcessFuture[Any]

LIGHT = 6_000
"""Segments (see `core.design.budget`) that are worked out at once, in a few tenths of a second."""

SECONDS = 25
MEMORY = 3_000_000_000
PROCESSES = 2
_MOVES_A_SEGMENT = 16
"""How many moves are planned in the time in which a segment is welded."""

MOST_OF_A_MAKER = 3
MOST_OF_ALL = 9
"""How many works a maker, and all makers, may wait for at a time: each holds a thread of the server."""


class Busy(Refused):
    """Too much is being worked out already."""


class _Works:
    """What is being worked out, by maker and kind."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._pool: ProcessPool | None = None
        self._futures: dict[Future, tuple[int, str, float]] = {}

    def begin(self, maker: int, kind: str, function: Callable[..., Any], args: tuple[Any, ...]) -> Future:
        with self._lock:
            if kind == "preview":
                for future, (owner, what, _) in list(self._futures.items()):
                    if (owner, what) == (maker, kind):
                        future.cancel()  # type: ignore[no-untyped-call]
            mine = sum(owner == maker for owner, _, _ in self._futures.values())
            if mine >= MOST_OF_A_MAKER or len(self._futures) >= MOST_OF_ALL:
                raise Busy("Foliant is still working out what was asked before; wait for it, or give it up.")
            if self._pool is None or not self._pool.active:  # which it is not once a process died between two works
                context = multiprocessing.get_context("spawn")
                self._pool = ProcessPool(PROCESSES, max_tasks=200, initializer=_begin, context=context)
            future = self._pool.schedule(function, args=args, timeout=SECONDS)
            self._futures[future] = (maker, kind, time.monotonic())
        return future

    def end(self, future: Future) -> None:
        with self._lock:
            self._futures.pop(future, None)

    def of(self, maker: int) -> list[tuple[Future, float]]:
        """What a maker waits for, with the seconds it has taken."""
        with self._lock:
            now = time.monotonic()
            return [(future, now - begun) for future, (owner, _, begun) in self._futures.items() if owner == maker]


_works = _Works()
_asking = threading.local()


def _begin() -> None:
    """What a computing process does first: it is less urgent than the pages, and may not take all memory."""
    os.nice(5)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    import django

    django.setup()


def asked_by(maker: int, kind: str = "") -> None:
    """Whatever this thread works out from now on is for this maker, and of this kind."""
    _asking.maker, _asking.kind = maker, kind


def weight_of(*designs: Design) -> int:
    """How much there is to work out in designs: the heaviest of them counts."""
    return max(map(weight_in_all, designs), default=0)


def work_out(heavy: int, function: Callable[..., Answer], *args: Any) -> Answer:
    """What a function at the top of a module gives; where it weighs more than `LIGHT`, in a process with limits.

    Arguments and answer must be such that they can be pickled, and the former hashed. Raises `Refused` where it takes
    too long or too much memory, is given up, or raises that itself.
    """
    if heavy <= LIGHT:
        return function(*args)
    answer: Answer = _worked_out_elsewhere(function, *args)
    return answer


def planned(function: Callable[..., Answer], design: Design, shop: Shop, *args: Any, every: bool = False) -> Answer:
    """What a function of a design and a shop makes of a sheet and its ticket, or of `every` one."""
    heavy = weight_of(design)
    if heavy <= LIGHT:
        heavy = (effort_of_all if every else effort)(design, shop) // _MOVES_A_SEGMENT
    return work_out(heavy, function, design, shop, *args)


@remembered
def _worked_out_elsewhere(function: Callable[..., Any], *args: Any) -> Any:
    for _ in range(2):  # by other processes, where those that were there are gone
        with suppress(BrokenExecutor):
            return _outcome(function, args)
    raise Refused("What works that out broke off just now, so nothing was changed; try again.")


def _outcome(function: Callable[..., Any], args: tuple[Any, ...]) -> Any:
    maker, kind = getattr(_asking, "maker", 0), getattr(_asking, "kind", "")
    future = _works.begin(maker, kind, function, args)
    try:
        return future.result()
    except CancelledError:
        raise Refused("That was given up, so nothing was changed.") from None
    except TimeoutError:
        raise Refused(
            f"That takes longer than {SECONDS} seconds to work out, so it was stopped and nothing was changed: "
            "lessen the copies, the words or what is done to them."
        ) from None
    except (MemoryError, ProcessExpired):
        raise Refused(
            "That takes more memory than there is to work it out, so it was stopped and nothing was changed: "
            "lessen the copies, the words or what is done to them."
        ) from None
    finally:
        _works.end(future)


def give_up(maker: int) -> int:
    """Stop all that a maker waits for; how much that was."""
    found = _works.of(maker)
    for future, _ in found:
        future.cancel()  # type: ignore[no-untyped-call]
    return len(found)


def waiting(maker: int) -> float:
    """For how many seconds a maker has waited for what is being worked out; 0 where nothing is."""
    return max((seconds for _, seconds in _works.of(maker)), default=0.0)


def changed_weight(design: Design, before: Design | None) -> int:
    """How much of a design has to be worked out anew: its pieces that are not in `before`."""
    known: set[Piece] = set(before.pieces) if before else set()
    return sum(weight(piece) for piece in design.pieces if piece not in known)
