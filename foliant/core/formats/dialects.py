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

_FULL = 1000
_LENGTHS = "XYZIJF"
_GOES = ("G0", "G1", "G2", "G3")


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


def chords(start: complex, centre: complex, turn: float) -> list[complex]:
    """Where the short lines end, two at least, that stand for an arc: within `CHORD` of it. Those between its ends lie
    a little outside, so that as much is gone round.
    """
    arm = start - centre
    step = 2 * float(np.arccos(max(-1.0, 1 - CHORD / max(abs(arm), CHORD))))
    count = max(2, int(np.ceil(abs(turn) / step)))
    each = turn / count
    wanted = each / np.sin(each) if 0 < abs(each) < 1 else 1.0  # of what a triangle of two arms has
    inner = count - 2
    out = (np.sqrt(1 + inner * count * wanted) - 1) / inner if inner else wanted
    arms = arm * np.exp(1j * each * np.arange(1, count + 1))
    arms[:-1] *= out
    return [complex(centre + one) for one in arms]


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
        self._follows = dialect.steady or not dialect.arcs
        self._rewords = dialect.inch or dialect.full != _FULL

    def said(self, line: str) -> Iterator[str]:
        code, *words = line.split(" ")
        if code == "G21":
            yield "G20" if self.dialect.inch else "G21"
            return
        if self._follows:
            values = {word[0]: float(word[1:]) for word in words}
            self.s = values.get("S", self.s)
            if self.dialect.steady:
                if code == "M4" or (code == "M3" and not values.get("S")):
                    self.turning = code == "M3"  # what turns or presses is left on
                    if not self.turning:
                        yield from self._off()
                        return
                elif code == "M3":
                    self.on = True
                elif code in _GOES and not self.turning:
                    if code == "G0":
                        yield from self._off()
                    elif self.s and not self.on:
                        self.on = True
                        yield f"M3 {self._word(f'S{self.s:.10g}')}"
            start, self.x, self.y = complex(self.x, self.y), values.get("X", self.x), values.get("Y", self.y)
            if code in ("G2", "G3") and not self.dialect.arcs:
                yield from self._in_lines(start, code == "G3", values)
                return
        yield " ".join([code, *map(self._word, words)]) if self._rewords else line

    def _off(self) -> list[str]:
        was, self.on = self.on, False
        return ["M5"] if was else []

    def _in_lines(self, start: complex, left: bool, values: dict[str, float]) -> Iterator[str]:
        """An arc to where it is now as short lines, anticlockwise or clockwise."""
        end = complex(self.x, self.y)
        centre = start + complex(values.get("I", 0.0), values.get("J", 0.0))
        turn = float(np.angle((end - centre) / (start - centre))) if start != centre else 0.0
        if abs(end - start) < 1e-9 or (turn <= 0) == left:
            turn += 2 * np.pi if left else -2 * np.pi
        more = [self._word(f"{letter}{values[letter]:.10g}") for letter in "FS" if letter in values]
        for at in [*chords(start, centre, turn)[:-1], end]:
            x, y = self._word(f"X{round(at.real, 3):.10g}"), self._word(f"Y{round(at.imag, 3):.10g}")
            yield " ".join(["G1", x, y, *more])
            more = []

    def _word(self, word: str) -> str:
        letter = word[0]
        if letter == "S":
            return f"S{round(float(word[1:]) * self.dialect.full / _FULL, 3):.10g}"
        if self.dialect.inch and letter in _LENGTHS:
            return f"{letter}{round(float(word[1:]) / MM_PER_INCH, 5) + 0.0:.10g}"
        return word
