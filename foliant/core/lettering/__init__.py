"""Lettering: the fonts that ship, shaping words with them, and setting the glyphs as paths in mm."""

from foliant.core.lettering.catalogue import FONTS, FontEntry, font_entry
from foliant.core.lettering.setting import LONGEST, Setting, set_line

__all__ = ["FONTS", "LONGEST", "FontEntry", "Setting", "font_entry", "set_line"]
