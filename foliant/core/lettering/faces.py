"""Faces: a font file opened for work. Shaping by HarfBuzz, outlines as paths, sizes in em."""

from collections.abc import Collection, Iterable
from functools import cached_property
from pathlib import Path as File
from typing import Protocol

import uharfbuzz as hb
from fontTools.pens.basePen import AbstractPen
from fontTools.ttLib import TTFont

from foliant.core.lettering.catalogue import FontEntry
from foliant.core.lettering.shaped import Shaped
from foliant.core.lettering.strokes import StrokeFace
from foliant.core.lettering.style import Axes
from foliant.core.paths import Path, PathPen, combine
from foliant.core.remembering import remembered

WORKING_SIZE = 400.0
"""The size of the em, in mm, at which outlines are cleaned."""

CAP_HEIGHT = 0.7
"""The height of a capital, in em, where a font has none."""

USUAL = {"kern": True, "liga": True, "calt": True}


class Face(Protocol):
    """Anything that sets characters: outlines and advances in em (1 = the font size), y down, baseline at 0."""

    single_line: bool
    characters: Collection[int]

    @property
    def cap_height(self) -> float: ...

    def __hash__(self) -> int: ...

    def shape(self, text: str, features: dict[str, bool | int], right_to_left: bool) -> list[Shaped]: ...

    def glyph(self, glyph: int) -> Path: ...


class OutlineFace:
    """A font file of outlines; `axes` are the ends of those that its letters can be varied along, by their tags."""

    single_line = False

    def __init__(self, file: File, at: Axes = ()) -> None:
        self.file = file
        face = hb.Face(hb.Blob.from_file_path(str(file)))
        self.characters: Collection[int] = frozenset(face.unicodes)
        self.per_em = int(face.upem)
        self.axes = {str(axis.tag): (axis.min_value, axis.max_value) for axis in face.axis_infos}
        self.font = hb.Font(face)
        self.font.set_variations({tag: value for tag, value in at if tag in self.axes})
        self._glyphs: dict[int, Path] = {}

    @cached_property
    def cap_height(self) -> float:
        """The height of a capital H above the baseline, in em."""
        glyph = self.font.get_nominal_glyph(ord("H"))
        return -self.glyph(glyph).bounds[1] if glyph else CAP_HEIGHT

    @cached_property
    def features(self) -> frozenset[str]:
        """The tags of the features by which it can replace and place glyphs."""
        with TTFont(self.file, lazy=True) as font:
            tables = [font[tag].table for tag in ("GSUB", "GPOS") if tag in font]
            lists = [table.FeatureList for table in tables if table.FeatureList]
            return frozenset(record.FeatureTag for found in lists for record in found.FeatureRecord)

    def shape(self, text: str, features: dict[str, bool | int], right_to_left: bool) -> list[Shaped]:
        """The glyphs of a run of one direction, from left to right."""
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        buffer.direction = "rtl" if right_to_left else "ltr"
        hb.shape(self.font, buffer, {**USUAL, **features})
        size = self.per_em
        return [
            Shaped(info.codepoint, at.x_advance / size, at.x_offset / size, -at.y_offset / size, info.cluster)
            for info, at in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
        ]

    def draw(self, glyph: int, pen: AbstractPen) -> None:
        """Tell a pen the outline of a glyph as the file has it, in its own units, y up."""
        self.font.draw_glyph_with_pen(glyph, pen)

    def glyph(self, glyph: int) -> Path:
        """The outline of a glyph in em, without overlaps, holes running the other way; empty for a space."""
        if glyph not in self._glyphs:
            pen = PathPen()
            self.draw(glyph, pen)
            # Cleaned once, at a size where the overlay's tolerances are far below what can be seen.
            scale = WORKING_SIZE / self.per_em
            clean = combine([pen.path().transformed((scale, 0, 0, -scale, 0, 0))]).path
            self._glyphs[glyph] = clean.transformed((1 / WORKING_SIZE, 0, 0, 1 / WORKING_SIZE, 0, 0))
        return self._glyphs[glyph]


def faces_of(entry: FontEntry, at: Axes = ()) -> tuple[Face, ...]:
    """The faces of a font, tried in order for each character; those that can be varied are so `at` these places."""
    if entry.strokes:
        return (_stroke_face(entry.strokes),)
    varied = at if axes_of(entry) else ()
    return tuple(open_face(file, varied) for file in entry.files)


def axes_of(entry: FontEntry) -> dict[str, tuple[float, float]]:
    """The ends of the axes that the letters of a font can be varied along, by their tags: "wght" and "wdth"."""
    return open_face(entry.files[0], ()).axes if entry.files else {}


@remembered
def open_face(file: File, at: Axes) -> OutlineFace:
    """The face of a file, opened once for each place on its axes."""
    return OutlineFace(file, at)


@remembered
def _stroke_face(name: str) -> StrokeFace:
    return StrokeFace(name)


def face_of(faces: Iterable[Face], character: str) -> Face | None:
    """The first face that has a character."""
    return next((face for face in faces if ord(character) in face.characters), None)
