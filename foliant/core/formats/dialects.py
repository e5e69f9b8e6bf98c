"""Dialects of G-code and of HPGL: the same moves as other controllers understand them.

The link to a machine always speaks the plain one of `gcode`; files are written in that of their machine.
"""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from fontTools.misc.transform import Transform

from foliant.core.equipment import MachineProfile
from foliant.core.equipment.machines import ORIGINS
from foliant.core.errors import Refused
from foliant.core.units import MM_PER_INCH

CHORD = 0.01
"""How far, mm, short lines that stand for an arc may lie from it."""

_WORD = re.compile(r"([A-Z])([-+]?(?:\d+\.?\d*|\.\d+))")
_FULL = 1000
_LENGTHS = "XYZIJF"


@dataclass(frozen=True)
class Dialect:
    """How a controller is spoken to.

    origin  from where in the bed all is measured, into the bed
    arcs    whether it goes round in arcs, or in short lines
    steady  whether its power stays as it is set, and is switched off to travel; else it follows the speed
    full    what S is at full power
    inch    whether its lengths are inches
    whole   whether its lengths in HPGL are whole fortieths of a millimetre
    head    lines that come first, and `tail` those that come last, before the end of the program
    """

    origin: str = "near-left"
    arcs: bool = True
    steady: bool = False
    full: float = _FULL
    inch: bool = False
    whole: bool = False
    head: tuple[str, ...] = ()
    tail: tuple[str, ...] = ()


PLAIN = Dialect()


def dialect_of(machine: MachineProfile) -> Dialect:
    """The dialect that files for a machine are written in."""
    head, tail = (
        tuple(one for one in (part.strip() for part in text.split(",")) if one) for text in (machine.head, machine.tail)
    )
    arcs, steady, inch = machine.arcs == "arcs", machine.beam == "steady", machine.units == "inch"
    whole = machine.fortieths == "whole"
    return Dialect(machine.origin, arcs, steady, machine.full, inch, whole, head, tail)


def from_origin(machine: MachineProfile, origin: str) -> Transform:
    """From the bed, measured from near left, to the same measured from elsewhere in it, mm."""
    wide, high = machine.bed_width, machine.bed_height
    if origin == "middle":
        return Transform(1, 0, 0, 1, -wide / 2, -high / 2)
    left, near = origin.endswith("left"), origin.startswith("near")
    return Transform(1 if left else -1, 0, 0, 1 if near else -1, 0 if left else wide, 0 if near else high)


def read_dialect(text: str) -> Dialect:
    """A dialect as it is typed, such as "lines,steady,s=255,inch"; raises `Refused`."""
    found: dict[str, object] = {}
    known: dict[str, tuple[str, object]] = {"lines": ("arcs", False), "arcs": ("arcs", True)}
    known |= {"steady": ("steady", True), "follows": ("steady", False)}
    known |= {"inch": ("inch", True), "mm": ("inch", False)}
    known |= {"whole": ("whole", True), "parts": ("whole", False)}
    known |= {key: ("origin", key) for key, _ in ORIGINS}
    for word in filter(None, (part.strip().lower() for part in text.split(","))):
        if word in known:
            name, value = known[word]
            found[name] = value
        elif re.fullmatch(r"s=\d{1,6}", word) and int(word[2:]):
            found["full"] = float(word[2:])
        else:
            raise Refused(
                f"“{word[:30]}” is no dialect; name some of {', '.join(known)}, and s=255 for S at full power."
            )
    return Dialect(**found)  # type: ignore[arg-type]


def spoken(lines: Iterable[str], dialect: Dialect) -> Iterator[str]:
    """Lines of plain G-code, line by line as a dialect has them."""
    if replace(dialect, origin=PLAIN.origin, whole=PLAIN.whole) == PLAIN:
        yield from lines
        return
    speaker, begun = _Speaker(dialect), False
    for line in lines:
        if not begun and not line.startswith(";"):
            begun = True
            yield from dialect.head
        if line == "M2":
            yield from dialect.tail
        yield from [line] if line.startswith(";") else speaker.said(line)


class _Speaker:
    """What a controller knows while it is spoken to: where it is, mm, and its power as S."""

    def __init__(self, dialect: Dialect) -> None:
        self.dialect = dialect
        self.x, self.y, self.s, self.on, self.turning = 0.0, 0.0, 0.0, False, False

    def said(self, line: str) -> Iterator[str]:
        words = [(letter, float(number)) for letter, number in _WORD.findall(line)]
        values = {letter: number for letter, number in words if letter not in "GM"}
        codes = [f"{letter}{number:g}" for letter, number in words if letter in "GM"]
        self.s = values.get("S", self.s)
        if codes == ["G21"]:
            yield "G20" if self.dialect.inch else "G21"
            return
        if self.dialect.steady and (switched := self._switched(codes, values)) is not None:
            yield from switched
            return
        if codes and codes[0] in ("G2", "G3") and not self.dialect.arcs:
            yield from self._in_lines(codes[0] == "G3", values)
        else:
            yield " ".join(self._word(letter, number) for letter, number in words)
        self.x, self.y = values.get("X", self.x), values.get("Y", self.y)

    def _switched(self, codes: list[str], values: dict[str, float]) -> list[str] | None:
        """What switches a steady beam; None for a line that is said as it is. It is off whenever it travels."""
        if "M4" in codes or ("M3" in codes and not values.get("S")):
            self.turning = "M3" in codes  # what turns or presses is left on
            if self.turning:
                return None
            return self._off()
        if "M3" in codes:
            self.on = True
            return None
        if self.turning or not codes or codes[0] not in ("G0", "G1", "G2", "G3"):
            return None
        off = self._off() if codes[0] == "G0" else []
        if codes[0] != "G0" and not self.on and self.s:
            self.on = True
            return [f"M3 {self._word('S', self.s)}", *self._plain(codes[0], values)]
        return [*off, *self._plain(codes[0], values)] if off else None

    def _off(self) -> list[str]:
        was, self.on = self.on, False
        return ["M5"] if was else []

    def _plain(self, code: str, values: dict[str, float]) -> list[str]:
        if code in ("G2", "G3") and not self.dialect.arcs:
            found = list(self._in_lines(code == "G3", values))
        else:
            found = [" ".join([code, *(self._word(letter, number) for letter, number in values.items())])]
        self.x, self.y = values.get("X", self.x), values.get("Y", self.y)
        return found

    def _in_lines(self, left: bool, values: dict[str, float]) -> Iterator[str]:
        """An arc as short lines, anticlockwise or clockwise."""
        start = complex(self.x, self.y)
        end = complex(values.get("X", self.x), values.get("Y", self.y))
        centre = start + complex(values.get("I", 0.0), values.get("J", 0.0))
        radius = abs(start - centre)
        turn = float(np.angle((end - centre) / (start - centre))) if radius else 0.0
        if abs(end - start) < 1e-9 or (turn <= 0) == left:
            turn += 2 * np.pi if left else -2 * np.pi
        step = 2 * float(np.arccos(max(-1.0, 1 - CHORD / max(radius, CHORD))))
        count = max(1, int(np.ceil(abs(turn) / step)))
        more = [self._word(letter, values[letter]) for letter in "FS" if letter in values]
        for number in range(1, count + 1):
            at = centre + (start - centre) * np.exp(1j * turn * number / count) if number < count else end
            x, y = self._word("X", round(at.real, 3)), self._word("Y", round(at.imag, 3))
            yield " ".join(["G1", x, y, *more])
            more = []

    def _word(self, letter: str, number: float) -> str:
        if letter == "S":
            number = round(number * self.dialect.full / _FULL, 3)
        elif letter in _LENGTHS and self.dialect.inch:
            number = round(number / MM_PER_INCH, 5)
        return f"{letter}{number:.5f}".rstrip("0").rstrip(".")
