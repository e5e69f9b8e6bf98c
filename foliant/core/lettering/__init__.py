"""Lettering: fonts, shaping words with them, and setting the glyphs as paths in mm."""

from foliant.core.lettering.catalogue import FONTS, KINDS, FontEntry
from foliant.core.lettering.edge import Edge
from foliant.core.lettering.faces import axes_of
from foliant.core.lettering.fitting import Box, Rails, rails_between, rails_inside
from foliant.core.lettering.joining import Joining
from foliant.core.lettering.library import find_font, font_for, font_name
from foliant.core.lettering.lines import LONGEST, check_words, set_lines
from foliant.core.lettering.setting import Fill, Fit, Setting, set_words
from foliant.core.lettering.stencil import Bridge, Stencil, sideways
from foliant.core.lettering.style import Style

__all__ = [
    "FONTS",
    "KINDS",
    "LONGEST",
    "Box",
    "Bridge",
    "Edge",
    "Fill",
    "Fit",
    "FontEntry",
    "Joining",
    "Rails",
    "Setting",
    "Stencil",
    "Style",
    "axes_of",
    "check_words",
    "find_font",
    "font_for",
    "font_name",
    "rails_between",
    "rails_inside",
    "set_lines",
    "set_words",
    "sideways",
]
