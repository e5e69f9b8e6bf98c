"""Shaped glyphs: what every kind of face gives for a run of characters."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Shaped:
    """A glyph of a shaped run: its number, its advance and offsets in em, and the character it stands for first."""

    glyph: int
    advance: float
    dx: float
    dy: float
    at: int
