"""Styles: how words are set, whatever they say."""

from dataclasses import dataclass
from typing import Literal

POINT = 25.4 / 72
"""A typographic point, in mm."""

Axes = tuple[tuple[str, float], ...]
"""Places on the axes of a variable font, by their tags."""

SizedBy = Literal["capitals", "height", "width", "points"]
Align = Literal["left", "middle", "right", "filled"]


@dataclass(frozen=True)
class Style:
    """How words are set.

    sized_by, size  the measure that is kept, and it in mm (points for "points"): the height of the capitals, of all
                    the ink, its width, or the size of the em
    tracking        added between letters, percent of an em; word_spacing and line_spacing are percent of the usual
    further         the size of lines after the first, percent of the first
    weight          how far the outlines are moved outwards, mm; less than 0 thins them
    slant           how far letters lean to the right, degrees
    features        OpenType features that are turned on ("swsh") or off ("-liga"); "swsh first" and "swsh last"
                    for the first or the last letter of each word alone
    axes            where on its axes a variable font is
    """

    font: str
    sized_by: SizedBy = "capitals"
    size: float = 7.5
    tracking: float = 0.0
    word_spacing: float = 100.0
    line_spacing: float = 100.0
    align: Align = "middle"
    capitals: bool = False
    weight: float = 0.0
    slant: float = 0.0
    further: float = 100.0
    features: tuple[str, ...] = ()
    axes: Axes = ()
