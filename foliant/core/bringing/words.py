"""Words that were read in a drawing, as words that live: in the nearest font, at the same place and size."""

import math
from collections.abc import Sequence
from typing import Any

from foliant.core.design.model import ROLES, Part
from foliant.core.design.shapes import Words
from foliant.core.drawings import Written
from foliant.core.errors import Refused
from foliant.core.lettering import FontEntry, font_for
from foliant.core.lettering.faces import face_of, faces_of
from foliant.core.lettering.matching import nearest_font
from foliant.core.lettering.style import POINT
from foliant.core.paths import join
from foliant.core.quantities import build

_WIDEST_APART = 0.25
"""A width that differs by more than this share from what the nearest font needs is not kept."""


def as_words(texts: Sequence[Written], role: str, begins: int, own: Sequence[FontEntry] = ()) -> list[Part]:
    """A part for each line of words, with ids that go on from so many; raises `Refused` for what is no role."""
    if role not in ROLES:
        raise Refused(f"There is no role “{role[:30]}”: say {', '.join(ROLES)}.")
    return [_part(text, role, begins + number, own) for number, text in enumerate(texts, 1)]


def _part(text: Written, role: str, number: int, own: Sequence[FontEntry]) -> Part:
    entry, same = nearest_font(text.family, own)
    values: dict[str, Any] = {"text": text.text, "font": entry.key, "sized_by": "points"}
    values["points"] = min(max(round(text.size / POINT, 3), 1.0), 4000.0)
    if text.bold:
        values["boldness"] = 700
    if text.italic and "italic" not in entry.name.lower():
        values["slant"] = 12.0
    words = build(Words, values)
    if text.width and not same:
        words = _as_wide(words, text.width)
    x, y = _middle(text, words)
    place = {"x": round(x, 4), "y": round(y, 4), "rotation": round(text.rotation, 4), "flipped": text.flipped}
    return build(Part, {"id": f"a{number}", "roles": (role,), **place, "shape": words})


def _as_wide(words: Words, width: float) -> Words:
    """Words of another font, made as wide as they were by their size, where that is not far off."""
    left, _, right, _ = join(words.paths()).bounds
    share = width / (right - left) if right > left else 1.0
    if abs(math.log(max(share, 1e-6))) > math.log1p(_WIDEST_APART):
        return words
    return words.model_copy(update={"points": min(max(round(words.points * share, 3), 1.0), 4000.0)})


def _middle(text: Written, words: Words) -> tuple[float, float]:
    """Where the origin of words lies, whose baseline begins, or is centred or ends, where the text says."""
    size = words.points * POINT
    faces = faces_of(font_for(words.font))
    at, left, right = 0.0, math.inf, -math.inf
    for character in words.text:
        face = face_of(faces, character) or faces[0]
        for shaped in face.shape(character, {}, False):
            box = face.glyph(shaped.glyph).bounds
            if box[2] > box[0]:
                left, right = min(left, at + box[0]), max(right, at + box[2])
            at += shaped.advance
    ink = (left + right) / 2 if right > left else at / 2
    before = {"start": 0.0, "middle": at / 2, "end": at}[text.anchor]
    along, up = (ink - before) * size, faces[0].cap_height * size / 2
    turn = math.radians(text.rotation)
    along = -along if text.flipped else along
    return (
        text.x + along * math.cos(turn) + up * math.sin(turn),
        text.y + along * math.sin(turn) - up * math.cos(turn),
    )
