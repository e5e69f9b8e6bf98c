"""Computing: small things are worked out at once; large ones in processes of their own, with bounds on time and memory.

So one maker's heaviest work never holds up another's page. A maker can give up what is being worked out; who asks for
the same again waits for what is under way, and what nobody waits for any more is dropped.
"""

import multiprocessing
import os
import resource
import signal
import threading
import time
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, CancelledError
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any, TypeVar

from pebble import ProcessExpired, ProcessFuture, ProcessPool

from foliant.core.design import Design, Piece
from foliant.core.design.budget import weight, weight_in_all
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.remembering import recalled, remembered
from foliant.core.ticket import effort, effort_of_all

Answer = TypeVar("Answer")
Future = ProcessFuture[Any]

LIGHT = 6_000
"""Segments (see `core.design.budget`) that are worked out at once, in a few tenths of a second."""

SECONDS = 25
"""The most processor time that a work takes: a busy machine takes nothing from that."""

_ENDLESS = 20 * SECONDS
"""After so many seconds by the clock a work is taken for one that hangs."""

MEMORY = 3_000_000_000
PROCESSES = 2
_MOVES_A_SEGMENT = 16
"""How many moves are planned in the time in which a segment is welded."""

MOST_OF_A_MAKER = 3
MOST_OF_ALL = 9
"""How many works are done for a maker, and for all makers, at a time."""

MOST_LOOKS = 2
"""How many of a maker's may only be looked at: there is always room for what they change."""

MOST_FOR_ONE = 2
"""How many may wait for one and the same work: each holds a thread of the server."""

_LOOK_EVERY = 0.3
_KEPT_FOR = 3.0
"""Seconds for which a work goes on that nobody waits for: a page that is loaded anew asks for the same again."""


class Busy(Refused):
    """Too much is being worked out already."""


@dataclass(frozen=True, eq=False)
class _Asker:
    """For whom something is worked out, of which kind it is ("look", "preview" or ""), and whether whoever asked still
    waits for it.
    """

    maker: int
    kind: str
    there: Callable[[], bool]


@dataclass(eq=False)
class _Work:
    """Something that is being worked out, and who waits for it."""

    maker: int
    kind: str
    future: Future
    begun: float = field(default_factory=time.monotonic)
    done: threading.Event = field(default_factory=threading.Event)
    askers: list[_Asker] = field(default_factory=list)
    alone: float = 0.0
    """Since when nobody has waited for it, by `time.monotonic`; 0 while somebody does."""

    @property
    def waiting(self) -> int:
        return sum(asker.there() for asker in self.askers)

    def drop(self) -> None:
        self.future.cancel()  # type: ignore[no-untyped-call]


class _Works:
    """What is being worked out, by who wants it and what it is."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._pool: ProcessPool | None = None
        self._works: dict[tuple[Any, ...], _Work] = {}

    def join(self, asker: _Asker, function: Callable[..., Any], args: tuple[Any, ...]) -> _Work:
        """The work that gives this for the maker: the one that is under way, or a new one."""
        what = (asker.maker, function, *args)
        with self._lock:
            work = self._works.get(what)
            if work is None or work.done.is_set():
                self._make_room(asker)
                work = self._works[what] = self._begin(asker, function, args)
            elif work.waiting >= MOST_FOR_ONE:
                raise Busy(_BUSY)
            work.askers.append(asker)
            work.kind = work.kind and asker.kind  # what was only tried is meant by now
            return work

    def _make_room(self, asker: _Asker) -> None:
        going = [work for work in self._works.values() if not work.done.is_set()]
        mine = [work for work in going if work.maker == asker.maker]
        for work in mine:
            if work.kind == "preview" and asker.kind != "look":
                work.drop()  # a newer wish has come
        looks = [work for work in mine if work.kind == asker.kind == "look"]
        for most, works in ((MOST_LOOKS, looks), (MOST_OF_A_MAKER, mine), (MOST_OF_ALL, going)):
            for work in works:
                if sum(not one.done.is_set() for one in works) >= most and not work.waiting:
                    work.drop()
            if sum(not one.done.is_set() for one in works) >= most:
                raise Busy(_BUSY)

    def _begin(self, asker: _Asker, function: Callable[..., Any], args: tuple[Any, ...]) -> _Work:
        if self._pool is None or not self._pool.active:  # which it is not once a process died between two works
            context = multiprocessing.get_context("spawn")
            self._pool = ProcessPool(PROCESSES, max_tasks=200, initializer=_begin, context=context)
        future = self._pool.schedule(_limited, args=(function, args, SECONDS), timeout=_ENDLESS)
        work = _Work(asker.maker, asker.kind, future)
        work.future.add_done_callback(lambda _: work.done.set())
        return work

    def wait(self, work: _Work, asker: _Asker) -> None:
        """Until a work is done. Raises `Refused` for one who is gone, where others wait for it."""
        while not work.done.wait(_LOOK_EVERY):
            with self._lock:
                if work.waiting:
                    work.alone = 0.0
                    if not asker.there():
                        raise Refused("Others wait for that by now.")
                elif not work.alone:
                    work.alone = time.monotonic()
                elif time.monotonic() - work.alone > _KEPT_FOR:
                    work.drop()

    def leave(self, work: _Work, asker: _Asker) -> None:
        with self._lock:
            work.askers.remove(asker)
            if work.done.is_set():
                self._works = {what: one for what, one in self._works.items() if one is not work}

    def of(self, maker: int) -> list[_Work]:
        """What is being worked out for a maker."""
        with self._lock:
            return [work for work in self._works.values() if work.maker == maker and not work.done.is_set()]


_BUSY = "Foliant is still working out what was asked before; wait for it, or give it up."
_NOBODY = _Asker(0, "", lambda: True)
_works = _Works()
_asking = threading.local()


def _begin() -> None:
    """What a computing process does first: it is less urgent than the pages, and may not take all memory."""
    os.nice(5)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    import django

    django.setup()


class _OutOfTimeError(BaseException):
    """Nothing that answers for what goes wrong in a work may take this for its own."""


def _limited(function: Callable[..., Any], args: tuple[Any, ...], seconds: float) -> Any:
    """What a function gives, in a computing process; raises `TimeoutError` after so much processor time."""

    def out_of_time(*_: object) -> None:
        raise _OutOfTimeError

    signal.signal(signal.SIGPROF, out_of_time)
    signal.setitimer(signal.ITIMER_PROF, seconds)
    try:
        return function(*args)
    except _OutOfTimeError:
        raise TimeoutError from None
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)


def asked_by(maker: int, kind: str = "", there: Callable[[], bool] = lambda: True) -> None:
    """What this thread works out from now on is for this maker, of this kind, and wanted while who asked is there."""
    _asking.asker = _Asker(maker, kind, there)


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
    return work_out(_heavy(design, shop, every), function, design, shop, *args)


def planned_soon(function: Callable[..., Any], design: Design, shop: Shop, *args: Any) -> bool:
    """Whether `planned` gives that at once: it is light, or known."""
    return _heavy(design, shop) <= LIGHT or recalled(_worked_out_elsewhere, function, design, shop, *args)


def _heavy(design: Design, shop: Shop, every: bool = False) -> int:
    heavy = weight_of(design)
    return heavy if heavy > LIGHT else (effort_of_all if every else effort)(design, shop) // _MOVES_A_SEGMENT


@remembered
def _worked_out_elsewhere(function: Callable[..., Any], *args: Any) -> Any:
    for _ in range(2):  # by other processes, where those that were there are gone
        with suppress(BrokenExecutor):
            return _outcome(function, args)
    raise Refused("What works that out broke off just now, so nothing was changed; try again.")


def _outcome(function: Callable[..., Any], args: tuple[Any, ...]) -> Any:
    asker = getattr(_asking, "asker", _NOBODY)
    work = _works.join(asker, function, args)
    try:
        _works.wait(work, asker)
        return work.future.result()
    except CancelledError:
        raise Refused("That was given up, so nothing was changed.") from None
    except TimeoutError:
        raise Refused(
            f"That takes more than {SECONDS} seconds of computing, so it was stopped and nothing was changed: "
            "lessen the copies, the words or what is done to them."
        ) from None
    except (MemoryError, ProcessExpired):
        raise Refused(
            "That takes more memory than there is to work it out, so it was stopped and nothing was changed: "
            "lessen the copies, the words or what is done to them."
        ) from None
    finally:
        _works.leave(work, asker)


def give_up(maker: int) -> int:
    """Stop all that a maker waits for; how much that was."""
    found = _works.of(maker)
    for work in found:
        work.drop()
    return len(found)


def waiting(maker: int) -> float:
    """For how many seconds a maker has waited for what is being worked out; 0 where nothing is."""
    return max((time.monotonic() - work.begun for work in _works.of(maker)), default=0.0)


def changed_weight(design: Design, before: Design | None) -> int:
    """How much of a design has to be worked out anew: its pieces that are not in `before`."""
    known: set[Piece] = set(before.pieces) if before else set()
    return sum(weight(piece) for piece in design.pieces if piece not in known)
