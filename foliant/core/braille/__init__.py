"""Braille: words as cells of dots, translated by liblouis, and the sizes in which cells are made."""

from foliant.core.braille.cells import dots_of, letters_of, numbers_of
from foliant.core.braille.languages import LANGUAGES, TYPED, Language
from foliant.core.braille.sizes import SIZES, Sizes
from foliant.core.braille.translating import Telling, Told, broken, tell

__all__ = [
    "LANGUAGES",
    "SIZES",
    "TYPED",
    "Language",
    "Sizes",
    "Telling",
    "Told",
    "broken",
    "dots_of",
    "letters_of",
    "numbers_of",
    "tell",
]
