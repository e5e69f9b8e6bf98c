"""The simulated cutter that takes HPGL: the same machine as the others, with another ear. See `plotting`."""

import asyncio
import re
from dataclasses import dataclass

import numpy as np

from foliant.core.formats.hpgl import UNITS
from foliant.core.machine.interpreter import Finish, Move, Wait
from foliant.core.machine.plotting import AHEAD, EMPTY, WAITING, WORKING
from foliant.core.machine.simulator import Simulator, Tell

_CONTROL = re.compile(r"\x1b\.(.)")
_NUMBER = re.compile(r"[-+]?\d+(?:\.\d+)?")
_LONGEST = 100_000
_OVER = 1 / UNITS
_FLAT = 1e-4
"""An arc that rises no more than that, mm, over its chord is as good as a line."""


@dataclass
class Plotter(Simulator):
    """Its state, and what stays set from command to command: the pen's place (mm), speed (mm/s) and force (%)."""

    _at: tuple[float, float] = (0.0, 0.0)
    _down: bool = False
    _pace: float = 50.0
    _force: float = 30.0
    _busy: bool = False

    async def talk(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        text = ""
        try:
            while raw := await reader.read(4096):
                if self.owner is writer:
                    await self._hear()
                text += raw.decode("ascii", "replace")
                text = await self._read(text, writer)
                await writer.drain()
                if len(text) > _LONGEST:
                    break
        except ConnectionError:
            pass
        finally:
            if self.owner is writer:
                self.owner = None
                await self._stop()
            writer.close()

    async def _read(self, text: str, writer: asyncio.StreamWriter) -> str:
        """Do what is said; gives what is not said to its end yet."""
        while control := _CONTROL.search(text):
            rest = await self._obeyed(text[: control.start()], writer)
            text = rest + text[control.end() :]
            if control[1] == "K":
                await self._stop()
            elif control[1] == "O":
                writer.write(f"{self._extended()}\n".encode())
        return await self._obeyed(text, writer)

    async def _obeyed(self, text: str, writer: asyncio.StreamWriter) -> str:
        *commands, rest = text.replace("\n", "").replace("\r", "").split(";")
        for command in commands:
            await self._command(command.strip().upper(), writer)
        return rest

    def _extended(self) -> int:
        if self.state == "waiting":
            return WAITING
        return WORKING if self._queue or self._busy else EMPTY

    async def _command(self, command: str, writer: asyncio.StreamWriter) -> None:
        word, numbers = command[:2], [float(number) for number in _NUMBER.findall(command[2:])]
        if word == "OA" and self.owner is not writer:
            writer.write(f"{self.x * UNITS:.0f},{self.y * UNITS:.0f},{int(self.power > 0)}\n".encode())
            return
        if self.owner is None and word == "IN":
            await self._begin(writer)
        if self.owner is not writer or self.state == "stopped":
            return
        found = self._items(word, numbers, writer)
        if any(isinstance(item, Move) and not self._reaches(item.end) for item in found):
            await self._stop()
            return
        async with self._changed:
            self._queue.extend(found)
            self._changed.notify_all()

    async def _begin(self, writer: asyncio.StreamWriter) -> None:
        self.begin(writer)
        self._at, self._down = (self.x, self.y), False

    def _items(
        self, word: str, numbers: list[float], writer: asyncio.StreamWriter
    ) -> list[Move | Wait | Finish | Tell]:
        match word:
            case "PU" | "PD":
                self._down = word == "PD"
                pairs = zip(numbers[::2], numbers[1::2], strict=False)
                return [self._to((x / UNITS, y / UNITS)) for x, y in pairs]
            case "AA" if len(numbers) >= 3:
                return [self._round((numbers[0] / UNITS, numbers[1] / UNITS), np.radians(numbers[2]))]
            case "VS" if numbers:
                self._pace = numbers[0] * 10
            case "FS" if numbers:
                self._force = numbers[0]
            case "NR":
                return [Wait()]
            case "SP" if numbers == [0]:
                return [Finish()]
            case "OA":
                return [Tell(writer)]
        return []

    async def _carry_out(self, move: Move, due: float) -> float:
        self._busy = True
        try:
            return await super()._carry_out(move, due)
        finally:
            self._busy = False

    def _knows_enough(self) -> bool:
        """It plans as soon as it has half of what it is sent ahead: moves, each with somebody to be told of it."""
        return super()._knows_enough() or len(self._queue) >= AHEAD

    def _reaches(self, point: tuple[float, float]) -> bool:
        across, along = self.machine.bed_width, self.machine.bed_height
        return -_OVER <= point[0] <= across + _OVER and -_OVER <= point[1] <= along + _OVER

    def _to(self, end: tuple[float, float], middle: tuple[float, float] | None = None) -> Move:
        start, self._at = self._at, end
        speed = self._pace if self._down else self.machine.travel_speed
        return Move(start, middle, end, speed, self._force if self._down else 0.0)

    def _round(self, centre: tuple[float, float], sweep: float) -> Move:
        arm = complex(*self._at) - complex(*centre)
        middle, end = (complex(*centre) + arm * np.exp(1j * sweep * share) for share in (0.5, 1.0))
        rises = abs(arm) * (1 - np.cos(sweep / 2))
        return self._to((end.real, end.imag), (middle.real, middle.imag) if rises > _FLAT else None)
