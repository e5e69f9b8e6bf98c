"""Single-line letters: strokes without width, from the Hershey fonts, with accents put over the plain letters."""

import unicodedata
from collections.abc import Collection
from typing import Any

import numpy as np
from HersheyFonts import HersheyFonts
from numpy.typing import NDArray

from foliant.core.lettering.shaped import Shaped
from foliant.core.paths import CUBIC, EMPTY, LINE, Path, join

_PER_EM = 30.0
_BASELINE = 9.0
_CAPITAL = 21.0 / _PER_EM

_SHARP = 0.5
"""The cosine of the turn from which on two strokes meet in a corner: 60 degrees."""

_STEM = 2.2
"""How many times as long as the stroke that it runs into a straight one is."""

_REACH = 0.345
"""How long the handles of a curve are, as a share of its chord: those of an arc of 45 degrees."""

Floats = NDArray[np.float64]

# Accents as strokes about the middle of the letter's top, in the fonts' own units, y down.
_ACCENTS: dict[str, list[list[tuple[float, float]]]] = {
    "\u0300": [[(-3, -5), (1, -2)]],
    "\u0301": [[(3, -5), (-1, -2)]],
    "\u0302": [[(-3, -2), (0, -5), (3, -2)]],
    "\u0303": [[(-4, -2), (-2, -4), (2, -3), (4, -5)]],
    "\u0304": [[(-4, -3), (4, -3)]],
    "\u0306": [[(-3, -5), (-1, -3), (1, -3), (3, -5)]],
    "\u0307": [[(0, -4), (0, -3)]],
    "\u0308": [[(-3, -4), (-3, -3)], [(3, -4), (3, -3)]],
    "\u030a": [[(-2, -4), (0, -6), (2, -4), (0, -2), (-2, -4)]],
    "\u030b": [[(0, -5), (-3, -2)], [(5, -5), (2, -2)]],
    "\u030c": [[(-3, -5), (0, -2), (3, -5)]],
}
_BELOW: dict[str, list[list[tuple[float, float]]]] = {
    "\u0327": [[(0, 0), (1, 2), (0, 4), (-2, 4)]],
    "\u0328": [[(1, 0), (0, 2), (1, 4), (3, 4)]],
}


class StrokeFace:
    """A font of strokes: open paths, in em, y down, baseline at 0."""

    single_line = True
    cap_height = _CAPITAL

    def __init__(self, name: str) -> None:
        fonts = HersheyFonts()
        fonts.load_default_font(name)
        self._letters: dict[str, Any] = fonts.all_glyphs
        plain = {ord(letter) for letter in self._letters}
        accented = {code for code in range(0xC0, 0x180) if self._parts(chr(code))}
        self.characters: Collection[int] = frozenset(plain | accented)
        self._glyphs: dict[int, Path] = {}

    def _parts(self, character: str) -> tuple[str, str] | None:
        """A letter that the font has and its accent, of an accented character."""
        base, *accents = list(unicodedata.normalize("NFD", character))
        if len(accents) != 1 or base not in self._letters or accents[0] not in (_ACCENTS | _BELOW):
            return None
        return base, accents[0]

    def shape(self, text: str, features: dict[str, bool | int], right_to_left: bool) -> list[Shaped]:
        """One glyph for each character, its code point its number."""
        return [Shaped(ord(letter), self._advance(letter), 0.0, 0.0, at) for at, letter in enumerate(text)]

    def _advance(self, letter: str) -> float:
        parts = None if letter in self._letters else self._parts(letter)
        return float(self._letters[parts[0] if parts else letter].char_width) / _PER_EM

    def glyph(self, glyph: int) -> Path:
        """The strokes of a character in em."""
        if glyph not in self._glyphs:
            letter = chr(glyph)
            parts = None if letter in self._letters else self._parts(letter)
            base = self._letters[parts[0] if parts else letter]
            strokes = [_without_stops(np.array(stroke, float)) for stroke in base.strokes]
            if parts:
                strokes = self._accented(parts[0], parts[1], strokes)
            shift = np.array([-float(base.left_offset), -_BASELINE])
            lines = [_smooth((stroke + shift) / _PER_EM) for stroke in strokes if len(stroke) > 1]
            self._glyphs[glyph] = join(lines) if lines else EMPTY
        return self._glyphs[glyph]

    def _accented(self, base: str, accent: str, strokes: list[Any]) -> list[Any]:
        if base in "ij":  # the accent stands in place of the dot
            strokes = [stroke for stroke in strokes if stroke[:, 1].max() > -5]
        points = np.concatenate(strokes)
        middle = (points[:, 0].min() + points[:, 0].max()) / 2
        below = accent in _BELOW
        edge = _BASELINE if below else points[:, 1].min()
        marks = (_BELOW if below else _ACCENTS)[accent]
        return [*strokes, *(np.array(mark, float) + np.array([middle, edge]) for mark in marks)]


def _without_stops(points: Floats) -> Floats:
    """Points without those that repeat the one before."""
    return points[np.append(True, np.any(np.diff(points, axis=0) != 0, axis=1))] if len(points) else points


def _smooth(points: Floats) -> Path:
    """An open path through points (n, 2): round where the stroke goes on, with corners where it turns sharply.

    The fonts were drawn for small sizes, as short straight strokes that stand for curves.
    """
    steps = np.diff(points, axis=0)
    lengths = np.hypot(*steps.T)
    ways = steps / lengths[:, None]
    begins, ends = ways.copy(), ways.copy()  # the direction of each stroke at both its ends
    loop = bool(np.allclose(points[0], points[-1])) and len(steps) > 2
    for at in range(0 if loop else 1, len(steps)):
        before, after = at - 1, at
        if ways[before] @ ways[after] < _SHARP:
            continue
        longer, shorter = sorted((before, after), key=lambda which: -lengths[which])
        # A stem that runs into a bow stays straight.
        straight = lengths[longer] > _STEM * lengths[shorter]
        way = ways[longer] if straight else ways[before] + ways[after]
        ends[before] = begins[after] = way / np.hypot(*way)
    reach = lengths[:, None] * _REACH
    segments = np.stack([points[:-1], points[:-1] + begins * reach, points[1:] - ends * reach, points[1:]], axis=1)
    bent = (np.abs(begins - ways).max(axis=1) > 1e-9) | (np.abs(ends - ways).max(axis=1) > 1e-9)
    segments[~bent, 1], segments[~bent, 2] = segments[~bent, 0], segments[~bent, 3]
    return Path(np.where(bent, CUBIC, LINE).astype(np.uint8), segments, np.zeros(1, np.int64), np.zeros(1, np.bool_))
