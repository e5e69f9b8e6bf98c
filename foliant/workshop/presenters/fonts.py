"""Fonts to choose from, with a picture of the maker's own words in each."""

from typing import Any

from foliant.core.lettering import FONTS, KINDS, FontEntry, axes_of
from foliant.core.lettering.preview import preview
from foliant.workshop.models import FontUse, Typeface
from foliant.workshop.owning import own_entry, stored_key

RECENT = 6
_AXES = {"wght": "weight", "wdth": "width"}


def fonts_view(maker: Any, words: str) -> dict[str, Any]:
    """The maker's own fonts and those that ship, with the kinds there are and the keys taken last, newest first."""
    uses = {use.key: use for use in FontUse.objects.filter(owner=maker)}
    own = [own_entry(typeface) for typeface in Typeface.objects.filter(owner=maker, put_away=None)]
    used = sorted(((use.used, use.key) for use in uses.values() if use.used), reverse=True)
    entries = [*own, *FONTS]
    there = {entry.kind for entry in entries}
    return {
        "fonts": [_font(entry, words or entry.name, uses.get(entry.key)) for entry in entries],
        "kinds": [kind for kind in KINDS if kind in there],
        "recent": [key for _, key in used[:RECENT]],
    }


def is_offered(maker: Any, key: str) -> bool:
    """Whether a maker can choose the font of that key."""
    return any(font.key == key for font in FONTS) or own_typeface(maker, key) is not None


def own_typeface(maker: Any, key: str) -> Typeface | None:
    """The maker's font that goes by a key in designs, or under which it is stored."""
    return Typeface.objects.filter(owner=maker, key=stored_key(key)).first()


def _font(entry: FontEntry, words: str, use: FontUse | None) -> dict[str, Any]:
    seen = preview(words, entry)
    return {
        "key": entry.key,
        "name": entry.name,
        "kind": entry.kind,
        "licence": entry.licence,
        "varies": " and ".join(said for tag, said in _AXES.items() if tag in axes_of(entry)),
        "d": seen.d,
        "box": seen.box,
        "strokes": entry.single_line,
        "missing": seen.missing,
        "favourite": bool(use and use.favourite),
    }
