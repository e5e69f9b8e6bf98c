"""Reading G-code as a controller does: words to moves, with what stays set from line to line."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from foliant.core.errors import Refused
from foliant.core.paths import ARC, LINE

_WORD = re.compile(r"([A-Z])\s*([-+]?(?:\d+\.?\d*|\.\d+))")


@dataclass(frozen=True)
class Move:
    """A move in machine coordinates (mm, y away from the maker).

    middle is the point half-way along an arc, None for a line; speed in mm/s; power in %; dwell is how long it stands
    at the end with the tool on, in s.
    """

    start: tuple[float, float]
    middle: tuple[float, float] | None
    end: tuple[float, float]
    speed: float
    power: float
    dwell: float = 0.0


def segments(moves: Sequence[Move]) -> tuple[NDArray[np.uint8], NDArray[np.float64]]:
    """Moves as segments of a path: kinds (n,) and points (n, 4, 2)."""
    kinds = np.array([ARC if move.middle else LINE for move in moves], np.uint8)
    points = np.array([[m.start, m.middle or m.start, m.middle or m.end, m.end] for m in moves]).reshape(-1, 4, 2)
    return kinds, points


def is_move(line: str) -> bool:
    """Whether a line has the machine move, or stand still with its tool on."""
    return line.startswith("G4 ") or any(f" {axis}" in line for axis in "XYZ")


@dataclass(frozen=True)
class Wait:
    """`M0`: stand still until the start button is pressed."""


@dataclass(frozen=True)
class Finish:
    """`M2`: the end of the program."""


@dataclass
class Interpreter:
    """The modal state of a controller with a bed of `width` × `height` mm."""

    width: float
    height: float
    travel_speed: float
    position: tuple[float, float] = (0.0, 0.0)
    feed: float = 0.0
    rise: float = 0.0
    z: float = 0.0
    power: float = 0.0
    tool_on: bool = False
    steady: bool = False
    motion: int = 0
    _known: frozenset[str] = field(default=frozenset("GMXYZIJFSP"), repr=False)

    def read(self, line: str) -> list[Move | Wait | Finish]:
        """What a line asks for; raises `Refused` with a sentence and changes nothing but what came before it."""
        text = line.partition(";")[0].strip().upper()
        words = _WORD.findall(text)
        if _WORD.sub("", text).strip() or (not words and text):
            raise Refused("this is not G-code")
        values: dict[str, float] = {}
        found: list[Move | Wait | Finish] = []
        waits = False
        for letter, number in words:
            if letter not in self._known:
                raise Refused(f"the word {letter}{number} is not known here")
            if (letter, float(number)) == ("G", 4):
                waits = True
            elif letter in "GM":
                found += self._mode(letter, float(number))
            else:
                values[letter] = float(number)
        if "F" in values:
            self.feed = values["F"] / 60
        if "S" in values:
            self.power = min(max(values["S"] / 10, 0.0), 100.0)
        if "Z" in values:
            found += self._up_or_down(values)
        elif waits:
            found.append(self._wait(values))
        elif "X" in values or "Y" in values:
            found.append(self._move(values))
        return found

    def _mode(self, letter: str, number: float) -> list[Move | Wait | Finish]:
        match letter, number:
            case "G", (0 | 1 | 2 | 3):
                self.motion = int(number)
            case "G", (21 | 90):
                pass  # mm and absolute are all this machine knows
            case "M", 0:
                return [Wait()]
            case "M", 2:
                self.tool_on = False
                return [Finish()]
            case "M", (3 | 4):
                self.tool_on, self.steady = True, number == 3
            case "M", 5:
                self.tool_on = False
            case _:
                raise Refused(f"{letter}{number:g} is not known here")
        return []

    def _wait(self, values: dict[str, float]) -> Move:
        """Standing still: a beam whose power follows the speed is off then."""
        if not 0 < values.get("P", 0.0) <= 600:
            raise Refused("G4 needs P, the seconds to stand still, up to 600")
        here, power = self.position, self.power if self.tool_on and self.steady else 0.0
        return Move(here, None, here, self.travel_speed, power, values["P"])

    def _up_or_down(self, values: dict[str, float]) -> list[Move | Wait | Finish]:
        """The head goes up or down and nowhere else."""
        speed = self.feed if self.motion else self.rise
        if self.rise <= 0:
            raise Refused("the head of this machine does not go up and down")
        if "X" in values or "Y" in values or speed <= 0:
            raise Refused("Z goes alone, and at a feed")
        way, self.z = abs(values["Z"] - self.z), values["Z"]
        burns = self.power if self.tool_on and self.steady and self.motion else 0.0
        return [Move(self.position, None, self.position, self.travel_speed, burns, way / speed)] if way else []

    def _move(self, values: dict[str, float]) -> Move:
        start = self.position
        end = (values.get("X", start[0]), values.get("Y", start[1]))
        for name, at, most in (("X", end[0], self.width), ("Y", end[1], self.height)):
            if not -0.01 <= at <= most + 0.01:
                raise Refused(f"{name} {at:g} lies beyond the bed, which reaches from 0 to {most:g} mm")
        middle = None
        if self.motion >= 2:
            if "I" not in values and "J" not in values:
                raise Refused("an arc needs I and J")
            middle = _half_way(
                start, end, (start[0] + values.get("I", 0.0), start[1] + values.get("J", 0.0)), self.motion == 2
            )
        if self.motion and self.feed <= 0:
            raise Refused("there is no feed yet; give F before the first cut")
        self.position = end
        burns = self.motion > 0 and self.tool_on
        return Move(start, middle, end, self.feed if self.motion else self.travel_speed, self.power if burns else 0.0)


def _half_way(
    start: tuple[float, float], end: tuple[float, float], centre: tuple[float, float], clockwise: bool
) -> tuple[float, float]:
    """The point half-way along an arc; raises `Refused` where the radii at its ends differ."""
    a, b = complex(*start) - complex(*centre), complex(*end) - complex(*centre)
    if abs(a) < 1e-6 or abs(abs(a) - abs(b)) > max(0.01, abs(a) * 0.002):
        raise Refused(
            f"the arc does not close: its radius is {abs(a):.3f} where it begins and {abs(b):.3f} where it ends"
        )
    # b / a turns from start to end, anticlockwise positive; its half is the square root on the right side.
    turn = b / a / abs(b / a)
    half = turn**0.5
    if (turn.imag > 1e-9) == clockwise or abs(turn - 1) < 1e-9:
        half = -half
    if abs(turn.imag) <= 1e-9 and turn.real < 0:
        half = complex(0, -1 if clockwise else 1)
    middle = complex(*centre) + a * half
    return (middle.real, middle.imag)
