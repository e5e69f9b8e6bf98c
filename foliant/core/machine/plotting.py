"""The driver for cutters that take HPGL over their link: the lines of a job are said in it, move by move.

`OA;` after each piece of a move is answered when the cutter has come to it, with where the pen is: so it is known how
far it is, and never more than a few are ahead. Device controls, which begin with ESC, are heard at once: `ESC.O` is
answered 0 while it works, 8 when it has nothing left to do, and 16 when it waits for its own button; `ESC.K` drops all
that it has.
"""

import time
from collections import deque
from collections.abc import Callable, Iterable, Iterator

import numpy as np

from foliant.core.errors import Refused
from foliant.core.formats.hpgl import UNITS, arc_to, place
from foliant.core.machine.driver import NetDriver, OnTick
from foliant.core.machine.interpreter import Finish, Interpreter, Move, Wait, segments
from foliant.core.machine.link import SILENCE, TICK, Command, Link, LinkLost, Listening, Status
from foliant.core.paths import curves

STATUS, ABORT = "\x1b.O", "\x1b.K"
WORKING, EMPTY, WAITING = 0, 8, 16
"""What `ESC.O` is answered with."""

AHEAD = 16
"""How many pieces of moves a cutter is sent before it has made them: it still makes those when it is held."""

PIECE = 2.0
"""So long, mm, are they where it works: that near is known where it is."""

_LATE = 1000
"""Within how many moves it is looked for where it was stopped, once whoever fed it is gone."""

_FAR = 1e6
_CM = 10.0
"""`VS` takes cm/s."""


class HpglDriver(NetDriver):
    """The cutters that take HPGL."""

    ahead = _LATE

    def greet(self) -> Status:
        with self._link() as link:
            return _Sending(link, (), self._clock).stand()

    def send(self, lines: Iterable[str], on_tick: OnTick) -> Status:
        with self._link() as link:
            return _Sending(link, lines, self._clock).run(on_tick)

    def lead(self, lines: Iterable[str], on_tick: OnTick) -> Status:
        return self.send(lines, on_tick)

    def tell(self, command: Command, within: float) -> Status:
        """Only a stop is heard beside whoever sends; the others are for that to say."""
        if command != "STOP":
            raise LinkLost("This cutter is held and let go on by what it is sent.")
        with self._link(within) as link:
            link.write(ABORT)
            return _Sending(link, (), self._clock).stand()

    def measure(self) -> float:
        raise Refused("The head of this cutter does not measure.")

    def _clock(self, begun: float) -> float:
        """The seconds since a job began: a simulated cutter lives faster than they pass, and has a clock."""
        return self._panel().clock() if self.address.panel_port else time.monotonic() - begun


def said(lines: Iterable[str]) -> Iterator[tuple[str, bool]]:
    """The lines of a job in HPGL, and whether with each command a move is made whole."""
    controller = Interpreter(_FAR, _FAR, 0.0)
    speed = power = -1.0
    yield "IN;PA;SP1;", False
    for line in lines:
        for found in controller.read(line):
            match found:
                case Wait():
                    yield "NR;", False
                case Finish():
                    yield "PU;SP0;", False
                case Move():
                    before = ""
                    if found.power and (found.speed, found.power) != (speed, power):
                        speed, power = found.speed, found.power
                        before = f"VS{speed / _CM:g};FS{power:g};"
                    *pieces, last = _moved(found)
                    for piece in pieces:
                        yield before + piece, False
                        before = ""
                    yield before + last, True


def _moved(move: Move) -> Iterator[str]:
    """A move as commands, one for each piece: up to fly, down to work, along an arc as it is drawn."""
    if not move.power:
        yield f"PU{place(move.end)};"
        return
    kinds, points = segments([move])
    count = max(1, int(np.ceil(curves.lengths(kinds, points)[0] / PIECE)))
    ends = np.linspace(0, 1, count + 1)
    pieces = curves.cut(np.repeat(kinds, count), np.repeat(points, count, axis=0), ends[:-1], ends[1:])
    bent = move.middle is not None and bool(np.isfinite(curves.circles(points)[0]).all())
    for piece in pieces:
        yield arc_to(piece[None]) if bent else f"PD{place(piece[3])};"


class _Sending:
    """A job on its way to a cutter."""

    def __init__(self, link: Link, lines: Iterable[str], clock: Callable[[float], float]) -> None:
        self._link, self._clock = link, clock
        self._commands = said(lines) if lines else iter(())
        self._begun = time.monotonic()
        self._ahead: deque[bool] = deque()  # what was sent and is not come to yet: whether each is a move
        self._come_to, self._sent = 0, 0
        self._asked: deque[int] = deque()  # how much was sent when it was asked what it does
        self._all_sent = not lines
        self._done, self._x, self._y, self._down = 0, 0.0, 0.0, False
        self._state, self._holding = "receiving", False

    def stand(self) -> Status:
        """Where the pen is, and whether it works."""
        self._link.write("OA;")
        self._ask()
        until = time.monotonic() + SILENCE
        told: set[bool] = set()
        while len(told) < 2:
            line = self._link.read(max(0.0, until - time.monotonic()))
            if line is None:
                raise LinkLost("The machine did not answer in time.")
            told.add(self._hear(line, False))
        return self._status()

    def run(self, on_tick: OnTick) -> Status:
        """Send all of it and stay until it is done; see `Link.run`."""
        listening, asked = Listening(), time.monotonic()
        while True:
            self._feed()
            line = self._link.read(TICK)
            now = listening.take(line)
            if line is not None and self._hear(line, self._sent > 0):
                command = on_tick(self._status(), self._done)
                if command == "STOP":
                    self._link.write(ABORT)
                    self._state = "stopped"
                elif command:
                    self._holding = command == "HOLD"
                if self._state in ("stopped", "idle"):
                    return self._status()
            if now - asked >= TICK:
                self._ask()
                asked = now

    def _ask(self) -> None:
        self._link.write(STATUS)
        self._asked.append(self._sent)

    def _feed(self) -> None:
        if self._holding and self._down and not self._ahead:
            self._link.write("PU;")  # the next move that works lets it down again
            self._down = False
        while not (self._holding or self._all_sent) and len(self._ahead) < AHEAD:
            command = next(self._commands, None)
            if command is None:
                self._all_sent = True
                return
            self._link.write(command[0] + "OA;")
            self._ahead.append(command[1])
            self._sent += 1

    def _hear(self, line: str, begun: bool) -> bool:
        """Take in an answer; whether it is one to what it does, and not to where it is."""
        numbers = line.split(",")
        try:
            values = [int(number) for number in numbers]
        except ValueError:
            raise LinkLost(
                "The machine answered in a way Foliant does not understand; is it a cutter that takes HPGL?"
            ) from None
        if len(values) == 3:
            self._x, self._y, self._down = values[0] / UNITS, values[1] / UNITS, bool(values[2])
            if self._ahead:
                self._done += self._ahead.popleft()
                self._come_to += 1
            return False
        before = self._asked.popleft() if self._asked else 0
        self._state = self._reads(values[0], begun, self._come_to < before)
        return True

    def _reads(self, told: int, begun: bool, missing: bool) -> str:
        if told == WAITING:
            return "waiting"
        if told != EMPTY:
            return "running"
        if not begun:
            return "idle"
        if missing:
            return "stopped"  # what it was sent before it was asked is gone, and it never came to it
        if self._ahead:
            return "running"
        return "idle" if self._all_sent else "holding"

    def _status(self) -> Status:
        power = 100.0 if self._down and self._state == "running" else 0.0
        return Status(self._state, self._x, self._y, power, self._done, self._clock(self._begun))
