"""Makers' own fonts: where the core finds them, and what is forgotten when one comes that was missing."""

from pathlib import Path

from foliant.core.lettering import FontEntry
from foliant.core.lettering.library import missed_fonts_are_here
from foliant.core.remembering import forget
from foliant.workshop.models import Typeface


def find_own_font(key: str) -> FontEntry | None:
    """The font that a maker added under this key; also one that was put away, for the designs that use it."""
    typeface = Typeface.objects.filter(key=key).first()
    return own_entry(typeface) if typeface else None


def own_entry(typeface: Typeface) -> FontEntry:
    """A maker's font as the core knows fonts."""
    return FontEntry(typeface.key, typeface.name, "your own", (Path(typeface.file.path),), licence=typeface.licence)


def look_again_for_fonts() -> None:
    """Where a font has come that was looked for in vain, forget what was set without it."""
    if missed_fonts_are_here():
        forget()
