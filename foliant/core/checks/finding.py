"""A finding: something about the job that the maker should know, and where."""

from dataclasses import dataclass
from typing import Literal

from foliant.core.paths import EMPTY, Path
from foliant.core.units import Unit, format_length

Bounds = tuple[float, float, float, float]


@dataclass(frozen=True, eq=False)
class Finding:
    """What is wrong, in plain words, and the place on the drawing.

    check     the name of the check
    level     "stop" would spoil the job, "look" is worth a look
    title     a few words
    sentence  what, where, and what to do
    station   where it is mended: "shape", "sheet" or "ticket"
    piece     the id of the piece concerned, or ""
    place     bounds on the sheet (mm) to show, or None where nothing lies on the sheet
    spot      the bad places as paths on the sheet, to mark them
    """

    check: str
    level: Literal["stop", "look"]
    title: str
    sentence: str
    station: Literal["shape", "sheet", "ticket"]
    piece: str = ""
    place: Bounds | None = None
    spot: Path = EMPTY


def say(millimetres: float, unit: Unit) -> str:
    """A length as findings say it: tenths of a millimetre, or hundredths of an inch, are enough."""
    step = 0.1 if unit == "mm" else 0.254
    return format_length(round(millimetres / step) * step, unit)
