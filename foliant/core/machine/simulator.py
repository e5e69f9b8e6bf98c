"""The simulated machine: a controller in a process of its own, with a clock that can run fast.

It plans its motion from its own short buffer, as a real controller does, so the time it takes is not
the estimate said back. Run it with `python -m foliant machine`.
"""

import asyncio
import contextlib
import json
import time
from collections import deque
from dataclasses import dataclass, field

import numpy as np

from foliant.core.equipment import MachineProfile
from foliant.core.errors import Refused
from foliant.core.formats.hpgl import UNITS
from foliant.core.machine.interpreter import Finish, Interpreter, Move, Wait, segments
from foliant.core.machine.link import STOPPED
from foliant.core.machine.strokes import shortly
from foliant.core.paths import curves
from foliant.core.program.motion import plan_motion

STARVED = 0.4
"""How long, in real seconds, the fast clock waits for a sender that is slower than the simulated machine."""

SILENT = 2.0
"""After so many real seconds without a word from the sender the tool is off and nothing moves, until it speaks."""

MOST_STROKES = 2_000_000


@dataclass(frozen=True)
class Tell:
    """Somebody is told where the tool is, once all before it is done."""

    whom: asyncio.StreamWriter


@dataclass
class Simulator:
    """The machine's state. `rate` is how many simulated seconds pass in a real one."""

    machine: MachineProfile
    rate: float = 1.0
    state: str = "idle"
    power: float = 0.0
    done: int = 0
    clock: float = 0.0
    x: float = 0.0
    y: float = 0.0
    thick: float = 0.0
    light: bool = False
    owner: asyncio.StreamWriter | None = None
    burnt: list[list[float]] = field(default_factory=list)
    _queue: deque[Move | Wait | Finish | Tell] = field(default_factory=deque)
    _speed: float = 0.0
    _last_line: float = 0.0
    _heard: float = 0.0
    _forsaken: bool = False

    def __post_init__(self) -> None:
        self._interpreter = self._fresh()
        self._changed = asyncio.Condition()
        self._pressed = asyncio.Event()

    def _fresh(self) -> Interpreter:
        machine = self.machine
        turning = machine.kind == "turning"
        rise, z = (machine.rise or machine.plunge, machine.lift) if turning else (machine.rise, 0.0)
        bed = machine.bed_width, machine.bed_height
        return Interpreter(*bed, machine.travel_speed, (self.x, self.y), rise=rise, z=z)

    # The job's connection

    async def talk(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Serve one connection until it closes; a job whose connection breaks is stopped with the tool off."""
        pending: asyncio.Task[None] | None = None
        try:
            while raw := await reader.readline():
                line = raw.decode("ascii", "replace").strip()
                if self.owner is writer:
                    await self._hear()
                if line == "MEASURE":
                    writer.write(self._measured().encode() + b"\n")
                elif line in ("STATUS", "HOLD", "RESUME", "STOP", "LIGHT"):
                    await self._obey(line)
                    writer.write(self._status().encode())
                elif line:
                    if pending:
                        await pending
                    pending = asyncio.create_task(self._accept(line, writer))
                await writer.drain()
        except (ConnectionError, ValueError):
            pass
        finally:
            if pending:
                pending.cancel()
            if self.owner is writer:
                self.owner = None
                await self._stop()
            writer.close()

    def _status(self) -> str:
        return (
            f"status state={self.state} x={self.x:.3f} y={self.y:.3f} power={self.power:g} "
            f"done={self.done} clock={self.clock:.3f} light={int(self.light)}\n"
        )

    def _measured(self) -> str:
        """How thick what lies under the head is: it goes down until it feels that."""
        if not self.machine.measures:
            return "error: its head does not go up and down"
        if self.state not in ("idle", "stopped"):
            return "error: a job is on it"
        return f"measured {self.thick:.2f}" if self.thick > 0 else "error: nothing lies under its head"

    async def _obey(self, word: str) -> None:
        if word == "HOLD" and self.state in ("running", "holding"):
            self.state, self.power, self._forsaken = "holding", 0.0, False
        elif word == "RESUME" and self.state == "holding":
            self.state = "running"
        elif word == "LIGHT":
            self.light = self.state in ("idle", "stopped")
        elif word == "STOP":
            await self._stop()
        async with self._changed:
            self._changed.notify_all()

    async def _stop(self) -> None:
        if self.state != "idle":
            self.state = "stopped"
        self._queue.clear()
        self._speed, self.power = 0.0, 0.0
        self._pressed.set()
        async with self._changed:
            self._changed.notify_all()

    async def _hear(self) -> None:
        """The sender has spoken: a machine that stood still for its silence goes on."""
        self._heard = time.monotonic()
        if self._forsaken:
            self._forsaken = False
            if self.state == "holding":
                self.state = "running"
            async with self._changed:
                self._changed.notify_all()

    async def watch(self) -> None:
        """The watchdog: a running job whose sender is silent is held with the tool off, for ever."""
        while True:
            await asyncio.sleep(SILENT / 10)
            if self.owner and self.state == "running" and time.monotonic() - self._heard > SILENT:
                self._forsaken = True
                self.state, self.power = "holding", 0.0

    async def _accept(self, line: str, writer: asyncio.StreamWriter) -> None:
        writer.write((await self._answer(line, writer)).encode() + b"\n")

    async def _answer(self, line: str, writer: asyncio.StreamWriter) -> str:
        if self.owner is None:
            self.begin(writer)
        elif self.owner is not writer:
            return "error: the machine is busy with another job"
        if self.state == "stopped":
            return STOPPED
        try:
            found = self._interpreter.read(line)
        except Refused as refusal:
            await self._stop()
            return f"error: {refusal}"
        self._last_line = time.monotonic()
        async with self._changed:
            self._queue.extend(found)
            self._changed.notify_all()
            await self._changed.wait_for(lambda: len(self._queue) < self.machine.look_ahead or self.state == "stopped")
        return "ok"

    def begin(self, writer: asyncio.StreamWriter) -> None:
        """A job begins, whose sender is its owner from now on."""
        self.owner = writer
        self._heard, self._forsaken = time.monotonic(), False
        self.state, self.done, self.clock, self.burnt = "receiving", 0, 0.0, []
        self._queue.clear()
        self._pressed.clear()
        self._interpreter = self._fresh()

    # The machine itself

    async def work(self) -> None:
        """Carry out what is in the buffer, for ever."""
        due = time.monotonic()
        while True:
            await asyncio.sleep(0)  # one that is behind its clock still answers between two moves
            item = await self._next()
            due = max(due, time.monotonic() - 0.05)
            match item:
                case Wait():
                    self.state, self.light = "waiting", False
                    await self._pressed.wait()
                    self._pressed.clear()
                    if self.state == "waiting":
                        self.state = "running"
                    due = time.monotonic()
                case Tell():
                    self._say_where(item.whom)
                case Finish():
                    self.state, self.power, self._speed = "idle", 0.0, 0.0
                    self.owner = None
                case Move():
                    if self.state == "receiving":
                        self.state = "running"
                    due = await self._carry_out(item, due)

    def _say_where(self, whom: asyncio.StreamWriter) -> None:
        whom.write(f"{self.x * UNITS:.0f},{self.y * UNITS:.0f},{int(self.power > 0)}\n".encode())

    async def _next(self) -> Move | Wait | Finish | Tell:
        """The next item, once there is enough in the buffer to look ahead, or the sender has no more."""
        while True:
            if not self._queue:
                self.power = 0.0
            async with self._changed:
                await self._changed.wait_for(lambda: bool(self._queue))
                if self._knows_enough() or time.monotonic() - self._last_line > STARVED:
                    item = self._queue.popleft()
                    self._changed.notify_all()
                    return item
                self.power = 0.0  # while it waits for lines it stands still
                with contextlib.suppress(TimeoutError):
                    await asyncio.wait_for(self._changed.wait_for(self._knows_enough), STARVED)

    def _knows_enough(self) -> bool:
        """Whether there is all in the buffer that it looks ahead over, or the last that is to be done."""
        if self._queue and isinstance(self._queue[0], Tell):
            return True
        return len(self._queue) >= self.machine.look_ahead or (
            bool(self._queue) and isinstance(self._last, Wait | Finish)
        )

    @property
    def _last(self) -> Move | Wait | Finish | Tell:
        """The last that is to be done, whoever is told of it."""
        return next((item for item in reversed(self._queue) if not isinstance(item, Tell)), self._queue[-1])

    async def _carry_out(self, move: Move, due: float) -> float:
        seconds = self._plan(move)
        begun, clock = due, self.clock
        due += seconds / self.rate
        self.power = move.power
        while (left := due - time.monotonic()) > 0.002:
            share = 1 - max(0.0, left) / max(seconds / self.rate, 1e-9)
            self._stand_at(move, share)
            self.clock = clock + share * seconds
            await asyncio.sleep(min(left, 0.02))
            if self.state == "holding":
                held = time.monotonic()
                async with self._changed:
                    await self._changed.wait_for(lambda: self.state != "holding")
                self.power = move.power if self.state == "running" else 0.0
                due += time.monotonic() - held
            if self.state == "stopped":
                self._record(move, share)
                return begun
        self._stand_at(move, 1.0)
        self.clock = clock + seconds
        self._record(move, 1.0)
        self.done += 1
        return due

    def _plan(self, move: Move) -> float:
        """The time the move takes, looking ahead over the moves in the buffer; sets the speed it ends at."""
        ahead = [move]
        for item in self._queue:
            if isinstance(item, Move):
                ahead.append(item)
            elif not isinstance(item, Tell):
                break
        kinds, points = segments(ahead)
        asked = np.array([item.speed for item in ahead])
        speeds, seconds = plan_motion(
            kinds, points, asked, self.machine, self._speed, np.array([item.dwell for item in ahead])
        )
        self._speed = float(speeds[1])
        return float(seconds[0])

    def _stand_at(self, move: Move, share: float) -> None:
        kinds, points = segments([move])
        self.x, self.y = curves.evaluate(kinds, points, np.array([share]))[0].tolist()

    def _record(self, move: Move, share: float) -> None:
        if move.power > 0 and share > 0 and len(self.burnt) < MOST_STROKES:
            kinds, points = segments([move])
            piece = curves.cut(kinds, points, np.zeros(1), np.array([share]))[0]
            middle = piece[1] if move.middle else (piece[0] + piece[3]) / 2
            self.burnt.append([*np.round([*piece[0], *middle, *piece[3]], 3).tolist(), move.power])

    # The panel

    async def panel(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Serve the buttons: one line in, one line of JSON out."""
        line = (await reader.readline()).decode("ascii", "replace").strip()
        answer: object = {"state": self.state}
        match line:
            case "PRESS start" if self.state == "waiting":
                self._pressed.set()
            case "PRESS stop":
                await self._stop()
            case _ if line.startswith("LAY "):
                with contextlib.suppress(ValueError):
                    self.thick = float(line[4:])
            case "CLOCK":
                answer = self.clock
            case "BURNT":
                answer = shortly(self.burnt)
        writer.write(json.dumps(answer).encode() + b"\n")
        with contextlib.suppress(ConnectionError):
            await writer.drain()
        writer.close()


async def serve(simulator: Simulator, port: int, panel_port: int, host: str = "127.0.0.1") -> None:
    """Run a simulated machine until cancelled."""
    jobs = await asyncio.start_server(simulator.talk, host, port)
    panel = await asyncio.start_server(simulator.panel, host, panel_port, limit=1024)
    async with jobs, panel:
        await asyncio.gather(simulator.work(), simulator.watch())
