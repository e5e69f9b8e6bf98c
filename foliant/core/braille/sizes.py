"""The sizes that standards ask of signs that are read by touch: Braille, letters and pictograms."""

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

BOUNDS = {
    "dot": ("its dots", "wide", 1.5, 1.6),
    "apart": ("the dots of a cell", "apart", 2.3, 2.5),
    "cell": ("its cells", "apart", 6.0, 7.6),
    "line": ("its lines", "apart", 10.0, 10.2),
}
"""What is said of each size, and the least and the most of it that is read, mm (703.3.1, and the European medium)."""

CLEAR = 9.5
"""How far Braille stays from letters and borders, mm (703.3.2)."""

CAPITALS = (16.0, 51.0)
"""How high capitals are, mm (703.2.5)."""

STEM = 0.15
"""How broad the stroke of a capital I is at most, as a share of its height (703.2.6)."""

BETWEEN = 3.2
"""How far letters stand apart at least, mm (703.2.7)."""

RAISED = 0.8
"""How far letters and pictograms stand out at least, mm (703.2.1)."""

FIELD = 152.0
"""How high the field of a pictogram is at least, mm, with neither letters nor Braille in it (703.6.1)."""

CONTRAST = 0.7
"""By how much of the lighter one letters and ground differ (as the ADAAG of 1991 advised, A4.30.3)."""

HUNG = (1220.0, 1525.0)
"""How high letters hang above the floor, mm: the lowest line at least, the highest at most (703.4.1)."""
