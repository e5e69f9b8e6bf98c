"""Intake: a font file that a maker brings, proved and written anew as a plain one, or refused with a sentence."""

import hashlib
import io
import re
from dataclasses import dataclass
from typing import Any

import uharfbuzz as hb
from fontTools.pens.areaPen import AreaPen
from fontTools.ttLib import TTFont

from foliant.core.errors import Refused
from foliant.core.taking_apart import answer, taken_apart

LARGEST = 20_000_000
"""The largest file that is taken, in bytes."""

_MOST_AXES = 6
_ITALIC = 0b10  # in `macStyle`
_MOST_SEGMENTS = 4_000
_MOST_GLYPHS = 30_000
_MEMORY = 1_500_000_000
_FURTHEST = 100.0
"""How far, in em, a point of a glyph may lie from its origin."""

_SIGNATURES = (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOFF", b"wOF2")
_KEPT = ("head", "hhea", "maxp", "OS/2", "hmtx", "cmap", "loca", "glyf", "CFF ", "CFF2", "name", "post")
_LAYOUT = ("GSUB", "GPOS", "GDEF", "kern")
_VARIED = ("fvar", "avar", "gvar", "HVAR", "MVAR")

_DAMAGED = "The font file is damaged, so nothing was added: ask whoever made it for a whole one."


@dataclass(frozen=True)
class Intake:
    """A font that can be used: the plain file, its key and name, and what it says of its licence."""

    data: bytes
    key: str
    name: str
    licence: str


def take_font(data: bytes) -> Intake:
    """A font from the bytes of a TTF, OTF, WOFF or WOFF2 file; raises `Refused` for any other, or a broken one."""
    if len(data) > LARGEST:
        size, most = (f"{count / 1_000_000:.0f} MB" for count in (len(data), LARGEST))
        raise Refused(f"The font file is {size} large; files of up to {most} can be added.")
    if data[:4] == b"ttcf":
        raise Refused("This file holds several fonts; save the one that you want as a TTF or OTF file first.")
    if data[:4] not in _SIGNATURES:
        raise Refused("This is not a font file; add a TTF, OTF, WOFF or WOFF2 file.")
    kept, found = taken_apart(__name__, data, _DAMAGED)
    slug = re.sub(r"[^a-z0-9]+", "-", found["name"].lower()).strip("-")[:40].strip("-") or "font"
    key = f"own-{slug}-{hashlib.sha256(kept).hexdigest()[:10]}"
    return Intake(kept, key, found["name"], found["licence"])


def plain_font(data: bytes) -> tuple[bytes, str, str]:
    """The font with only what setting words needs, as a plain file; its name, and its licence in its own words.

    Every glyph is drawn, by the library that will draw it later. Raises `Refused`, or whatever a broken file raises.
    """
    font = TTFont(io.BytesIO(data), lazy=False, recalcTimestamp=False)  # one file, one hash
    if not any(tag in font for tag in ("glyf", "CFF ", "CFF2")):
        raise Refused("This font has pictures in place of outlines, so nothing could be cut from it.")
    if len(font.getGlyphOrder()) > _MOST_GLYPHS:
        raise Refused(f"This font has more than {_MOST_GLYPHS:,} glyphs; add one for fewer scripts.")
    if not font.getBestCmap():
        raise Refused("This font has no letters that could be typed.")
    name = " ".join((font["name"].getDebugName(4) or font["name"].getDebugName(1) or "Font").split())[:60]
    if font["head"].macStyle & _ITALIC and not re.search("italic|oblique", name, re.IGNORECASE):
        name = f"{name[:52]} italic"
    says = font["name"].getDebugName(13) or font["name"].getDebugName(0) or ""
    for tag in [tag for tag in font.keys() if tag not in (*_KEPT, *_LAYOUT, *_VARIED, "GlyphOrder")]:  # noqa: SIM118
        del font[tag]
    font.flavor = None
    written = io.BytesIO()
    font.save(written)
    plain = written.getvalue()
    _prove(plain)
    return plain, name, " ".join(says.split())[:300]


def _prove(plain: bytes) -> None:
    """Draw every glyph, at both ends of every axis too; raise `Refused` where there is none, or where one is endless or
    reaches absurdly far.
    """
    face = hb.Face(plain)
    if len(face.axis_infos) > _MOST_AXES:
        raise Refused(f"This font can be varied in more than {_MOST_AXES} ways; add a plainer one.")
    for axis in face.axis_infos:
        for end in (axis.min_value, axis.max_value):
            _prove_at(face, {str(axis.tag): end})
    _prove_at(face, {})


def _prove_at(face: hb.Face, at: dict[str, float]) -> None:
    font = hb.Font(face)
    font.set_variations(at)
    drawn = 0.0
    for glyph in range(face.glyph_count):
        pen = _Counting()
        font.draw_glyph_with_pen(glyph, pen)
        if pen.segments > _MOST_SEGMENTS:  # it would be set and welded in minutes
            raise Refused(f"A letter of this font is made of more than {_MOST_SEGMENTS:,} lines; choose a plainer one.")
        extents = font.get_glyph_extents(glyph)
        if extents and max(abs(extents.width), abs(extents.height)) > _FURTHEST * face.upem:
            raise Refused(_DAMAGED)
        drawn += abs(pen.value)
    if not drawn:
        raise Refused("This font has no outlines, so nothing could be cut from it.")


class _Counting(AreaPen):  # type: ignore[misc]  # fontTools' pens carry no types
    """Measures a glyph, and counts its segments. It cannot raise: HarfBuzz drops what a pen raises."""

    segments = 0

    def _lineTo(self, p1: Any) -> None:
        self.segments += 1
        super()._lineTo(p1)

    def _qCurveToOne(self, p1: Any, p2: Any) -> None:
        self.segments += 1
        super()._qCurveToOne(p1, p2)

    def _curveToOne(self, p1: Any, p2: Any, p3: Any) -> None:
        self.segments += 1
        super()._curveToOne(p1, p2, p3)


def _plain_and_name(data: bytes) -> tuple[bytes, dict[str, str]]:
    plain, name, licence = plain_font(data)
    return plain, {"name": name, "licence": licence}


if __name__ == "__main__":
    answer(_plain_and_name, _MEMORY, _DAMAGED)
