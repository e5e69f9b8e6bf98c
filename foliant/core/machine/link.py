"""The link to a controller: connecting, sending a job line by line, and speaking in between."""

import socket
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

from foliant.core.errors import Refused

Command = Literal["HOLD", "RESUME", "STOP"]
Word = Literal["STATUS", "HOLD", "RESUME", "STOP", "LIGHT"]

STOPPED = "error: the job was stopped"
"""What a controller answers to lines that come after a stop."""

SILENCE = 5.0
"""How many seconds without a word from the machine count as a lost connection."""

THICKEST = 50.0
"""What is thicker than that, mm, no machine has measured."""

TICK = 0.05
"""How often, in seconds, a running job asks for the machine's status."""


class LinkLost(ConnectionError):
    """The machine no longer answers; the message is a sentence for the maker."""


@dataclass(frozen=True)
class Status:
    """What a controller says of itself: state, position in mm (y away from the maker), power in %, and whether
    its light shows where the head is.
    """

    state: str
    x: float
    y: float
    power: float
    done: int
    clock: float
    light: bool = False

    @classmethod
    def parse(cls, line: str) -> "Status":
        """Read a `status` line; raises `LinkLost` where it is not one."""
        try:
            words = dict(word.split("=", 1) for word in line.split()[1:])
            return cls(
                words["state"],
                float(words["x"]),
                float(words["y"]),
                float(words["power"]),
                int(words["done"]),
                float(words["clock"]),
                words.get("light") == "1",
            )
        except (KeyError, ValueError):
            raise LinkLost(
                "The machine answered in a way Foliant does not understand; is it the right address?"
            ) from None


class Listening:
    """Whether whoever feeds a machine still has a connection to it."""

    def __init__(self) -> None:
        self._listened = time.monotonic()
        self._silent = 0.0

    def take(self, line: str | None) -> float:
        """Told of each line that is read, or that there was none; gives the time, in seconds. Raises `LinkLost` where
        the machine has said nothing for too long, or where nobody has listened for as long: what the machine said
        before that waits to be read, but whoever looked has told the run lost by then, and it may be gone on with.

        Only time spent listening counts as the machine's silence: what held Foliant up may have held the machine up.
        """
        now = time.monotonic()
        unheard, self._listened = now - self._listened, now
        if unheard > SILENCE:
            raise LinkLost(f"Foliant was held up for {unheard:.0f} seconds and did not hear the machine meanwhile.")
        self._silent = self._silent + min(unheard, 2 * TICK) if line is None else 0.0
        if self._silent > SILENCE:
            raise LinkLost(f"The machine has not answered for {SILENCE:.0f} seconds.")
        return now


def _thickness(text: str) -> float:
    """A thickness as a machine says it, mm; raises `ValueError` where that is none."""
    value = float(text)
    if not 0 < value < THICKEST:
        raise ValueError(text)
    return value


class Link:
    """A connection to a controller; use it with `with`, so that it is always closed."""

    def __init__(self, host: str, port: int, timeout: float = SILENCE) -> None:
        try:
            self._socket = socket.create_connection((host, port), timeout)
        except OSError:
            raise LinkLost(
                f"No machine answers at {host}:{port}; check that it is switched on and plugged in, then connect again."
            ) from None
        self._socket.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        self._waiting = b""

    def __enter__(self) -> "Link":
        return self

    def __exit__(self, *_: object) -> None:
        self._socket.close()

    def write(self, line: str) -> None:
        """Send one line; raises `LinkLost`."""
        try:
            self._socket.sendall(line.encode("ascii", "replace") + b"\n")
        except OSError:
            raise LinkLost("The connection to the machine broke.") from None

    def read(self, timeout: float) -> str | None:
        """The next line, or None after `timeout` seconds without one; raises `LinkLost`."""
        until = time.monotonic() + timeout
        while b"\n" not in self._waiting:
            left = until - time.monotonic()
            if left <= 0:
                return None
            self._socket.settimeout(left)
            try:
                received = self._socket.recv(65536)
            except TimeoutError:
                return None
            except OSError:
                raise LinkLost("The connection to the machine broke.") from None
            if not received:
                raise LinkLost("The machine closed the connection; was it switched off or unplugged?")
            self._waiting += received
        line, _, self._waiting = self._waiting.partition(b"\n")
        return line.decode("ascii", "replace").strip()

    def status(self, timeout: float = SILENCE) -> Status:
        """Ask where the machine is; raises `LinkLost`."""
        return self.command("STATUS", timeout)

    def command(self, word: Word, timeout: float = SILENCE) -> Status:
        """Send one of the words that are said outside a job, and wait for the status that answers it."""
        self.write(word)
        until = time.monotonic() + timeout
        while (line := self.read(max(0.0, until - time.monotonic()))) is not None:
            if line.startswith("status"):
                return Status.parse(line)
        raise LinkLost("The machine did not answer in time.")

    def measure(self, timeout: float = SILENCE) -> float:
        """How thick what lies under the head is, mm; the machine has its focus on the face of that from then on. Raises
        `LinkLost`, and `Refused` where it measures nothing.
        """
        self.write("MEASURE")
        until = time.monotonic() + timeout
        while (line := self.read(max(0.0, until - time.monotonic()))) is not None:
            if line.startswith("error:"):
                raise Refused(f"The machine measured nothing: {line[6:].strip()}.")
            word, _, value = line.partition(" ")
            if word == "measured":
                try:
                    return _thickness(value)
                except ValueError:
                    break
        raise LinkLost("The machine does not measure; is it one that can?")

    def run(self, lines: Iterable[str], on_tick: Callable[[Status, int], Command | None]) -> Status:
        """Send a job and stay until it has ended, one way or another; gives the last status.

        `on_tick` is called about every `TICK` seconds with the status and the number of lines sent; what
        it returns is passed on to the machine. Raises `LinkLost`, and `Refused` where a line is refused.
        """
        listening, asked = Listening(), time.monotonic()
        sent, status = 0, None
        awaiting = stopping = False
        left = iter(lines)
        going = next(left, None)  # the line that is sent, until the machine has taken it; None once all are
        while True:
            if not awaiting and going is not None:
                self.write(going)
                awaiting = True
            line = self.read(TICK)
            now = listening.take(line)
            if line == "ok":
                awaiting = False
                sent += 1
                going = next(left, None)
            elif line == STOPPED:
                return self.command("STATUS")
            elif line is not None and line.startswith("error:"):
                raise Refused(f"The machine refused line {sent + 1} (“{going or 'the end'}”): {line[6:].strip()}")
            elif line is not None and line.startswith("status"):
                status = Status.parse(line)
                if not sent and not stopping and status.state in ("idle", "stopped"):
                    # That is how the job before ended: of this one it has not taken a line yet.
                    status = replace(status, state="receiving")
                command = on_tick(status, sent)
                if command:
                    self.write(command)
                    stopping = stopping or command == "STOP"
                if status.state == "stopped" or (going is None and status.state == "idle"):
                    return status
            if now - asked >= TICK:
                self.write("STATUS")
                asked = now
