"""Spacing: letters that touch only since they are bent along an edge or set tight, and the tracking that parts them."""

from itertools import pairwise

from foliant.core.design.shapes import Words
from foliant.core.paths.overlay import fine_shape

_TOUCH = 1e-3  # mm² of two letters that lie on each other
_FINE = 0.02  # mm
_STEPS = (1, 2, 3, 5, 8, 12, 18, 25)  # per cent of tracking that are tried, one after the other


def touching(words: Words) -> set[int]:
    """The letters that touch the next one of their word and stand apart in their font, by their number."""
    straight = words.model_copy(update={"edge": None, "tracking": 0.0, "sources": ()})
    return _touching(words) - _touching(straight)


def parted(words: Words) -> float | None:
    """The least tracking, in per cent, with which no letters touch that are not meant to; None where none does it."""
    for more in (0, *_STEPS):
        tracking = round(words.tracking + more, 2)
        if not touching(words.model_copy(update={"tracking": tracking})):
            return tracking
    return None


def _touching(words: Words) -> set[int]:
    letters = words.setting().letters
    shapes = [fine_shape(letter.path, _FINE) for letter in letters]
    return {
        at
        for at, ((one, two), (here, there)) in enumerate(zip(pairwise(letters), pairwise(shapes), strict=True))
        if (one.line, one.word) == (two.line, two.word) and here.intersection(there).area > _TOUCH
    }
