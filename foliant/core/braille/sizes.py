"""The sizes of Braille that standards ask for."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Sizes:
    """Sizes of Braille, mm.

    title  what they are
    dot    how wide a dot is at its base
    apart  from the middle of a dot to that of the next in its cell
    cell   from a cell to the next, and `line` from a line to the next, by the same dots
    """

    title: str
    dot: float
    apart: float
    cell: float
    line: float


SIZES: dict[str, Sizes] = {
    # ADA Standards for Accessible Design (2010), 703.3.1: 1.5-1.6, 2.3-2.5, 6.1-7.6 and 10.0-10.2 mm.
    "signs": Sizes("as on signs, US 703.3", 1.5, 2.3, 6.1, 10.0),
    # The medium of the European Blind Union, as on packages of medicine (EN ISO 17351:2014).
    "medium": Sizes("European medium", 1.6, 2.5, 6.0, 10.0),
}
