"""One font file opened for work: shaping by HarfBuzz, outlines as paths, sizes in em."""

from functools import cached_property, lru_cache
from io import BytesIO
from pathlib import Path as File

import uharfbuzz as hb
from fontTools.ttLib import TTFont

from foliant.core.paths import Path, PathPen, combine

WORKING_SIZE = 400.0
"""The size of the em, in mm, at which outlines are cleaned."""


class Face:
    """A font file. Outlines and advances are in em (1 = the font size), y down, baseline at 0."""

    def __init__(self, file: File) -> None:
        font = TTFont(file)
        font.flavor = None  # HarfBuzz reads plain sfnt, not WOFF2
        plain = BytesIO()
        font.save(plain)
        self.characters = frozenset(font.getBestCmap())
        self.per_em = int(font["head"].unitsPerEm)
        self._font = hb.Font(hb.Face(plain.getvalue()))
        self._glyphs: dict[int, Path] = {}

    @cached_property
    def cap_height(self) -> float:
        """The height of a capital H above the baseline, in em."""
        glyph = self._font.get_nominal_glyph(ord("H"))
        return -self.glyph(glyph).bounds[1] if glyph else 0.7

    def shape(self, text: str) -> list[tuple[int, float, float, float]]:
        """Glyphs of a run: (glyph, advance, x offset, y offset), lengths in em."""
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, {"kern": True, "liga": True, "calt": True})
        size = self.per_em
        return [
            (info.codepoint, at.x_advance / size, at.x_offset / size, -at.y_offset / size)
            for info, at in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
        ]

    def glyph(self, glyph: int) -> Path:
        """The outline of a glyph in em, without overlaps, holes running the other way; empty for a space."""
        if glyph not in self._glyphs:
            pen = PathPen()
            self._font.draw_glyph_with_pen(glyph, pen)
            # Cleaned once, at a size where the overlay's tolerances are far below what can be seen.
            scale = WORKING_SIZE / self.per_em
            clean = combine([pen.path().transformed((scale, 0, 0, -scale, 0, 0))]).path
            self._glyphs[glyph] = clean.transformed((1 / WORKING_SIZE, 0, 0, 1 / WORKING_SIZE, 0, 0))
        return self._glyphs[glyph]


@lru_cache(maxsize=64)
def open_face(file: File) -> Face:
    """The face of a file, opened once."""
    return Face(file)
