"""Setting a line of words: characters to placed glyph outlines in mm."""

import unicodedata
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby

from foliant.core.errors import Refused
from foliant.core.lettering.catalogue import font_entry
from foliant.core.lettering.faces import Face, open_face
from foliant.core.paths import EMPTY, Path

LONGEST = 1000
"""The most characters in one line of words."""


@dataclass(frozen=True, eq=False)
class Setting:
    """A set line: one path a glyph, in mm, about the origin.

    The ink is centred on x = 0; half the height of a capital lies above y = 0 and half below, so a line
    keeps its place when its words change. `missing` are the characters the font has no glyph for, `width` is
    that of the ink in mm.
    """

    glyphs: tuple[Path, ...]
    missing: str
    width: float


def check_words(text: str) -> str:
    """The words as they can be set; raises `Refused` for what no line can hold."""
    plain = " ".join(text.split())
    if not plain:
        raise Refused("Type at least one letter; words made only of spaces would leave nothing to make.")
    if len(plain) > LONGEST:
        raise Refused(
            f"A line holds at most {LONGEST:,} characters and this has {len(plain):,}; shorten it or use two."
        )
    if any(unicodedata.category(character) in ("Cc", "Cs") for character in plain):
        raise Refused("The words hold a control character that cannot be drawn; type them again without it.")
    return unicodedata.normalize("NFC", plain)


@lru_cache(maxsize=512)
def set_line(text: str, font: str, cap_height: float, tracking: float = 0.0) -> Setting:
    """Set `text` with capitals `cap_height` mm tall and `tracking` percent of an em between letters."""
    faces = [open_face(file) for file in font_entry(font).files]
    size = cap_height / faces[0].cap_height
    gap = size * tracking / 100
    glyphs: list[Path] = []
    lefts: list[float] = []
    rights: list[float] = []
    missing: list[str] = []
    pen = 0.0
    for face, run in _runs(text, faces):
        if face is None:
            missing += [character for character in run if character not in missing]
            pen += (size * 0.5 + gap) * len(run)
            continue
        for glyph, advance, dx, dy in face.shape(run):
            outline = face.glyph(glyph)
            if len(outline):
                at = pen + dx * size
                lefts.append(at + outline.bounds[0] * size)
                rights.append(at + outline.bounds[2] * size)
                glyphs.append(outline.transformed((size, 0, 0, size, at, dy * size)))
            pen += advance * size + gap
    if not glyphs:
        return Setting((EMPTY,), "".join(missing), 0.0)
    left, right = min(lefts), max(rights)
    centred = tuple(glyph.moved(-(left + right) / 2, cap_height / 2) for glyph in glyphs)
    return Setting(centred, "".join(missing), right - left)


def _runs(text: str, faces: list[Face]) -> list[tuple[Face | None, str]]:
    """The text in runs that one face of the chain can set; None where no face has the characters."""

    def face_of(character: str) -> Face | None:
        return next((face for face in faces if ord(character) in face.characters), None)

    return [(face, "".join(run)) for face, run in groupby(text, face_of)]
