"""Matching: the font here that is the nearest to one that a file names."""

import re
from collections.abc import Sequence
from difflib import SequenceMatcher

from foliant.core.lettering.catalogue import FONTS, FontEntry
from foliant.core.lettering.library import font_for

_ALIKE = 0.86
_LOOKS = (
    r"\b(regular|normal|roman|medium|semibold|demibold|bold|extrabold|black|light|thin|italic|oblique|book|mt|ps)\b"
)

_KINDS: tuple[tuple[str, str], ...] = (
    (r"stencil", "allerta-stencil"),
    (r"script|brush|cursive|callig|signature|chancery", "dancing-script"),
    (r"hand|marker|comic", "patrick-hand"),
    (r"slab|typewriter|courier|mono", "zilla-slab"),
    (r"sans|grotes|gothic|arial|helvetic", "archivo"),
    (r"serif|times|georgia|garamond|roman|minion|palatino|baskerville|caslon|bodoni|didot", "eb-garamond"),
    (r"display|fantasy|poster", "bebas-neue"),
)
_PLAIN = "archivo"


def nearest_font(family: str, own: Sequence[FontEntry] = ()) -> tuple[FontEntry, bool]:
    """The font that is called as a family is, or the nearest in look; and whether it is the one that was named.

    own  fonts of the maker's own, which are looked at first
    """
    wanted = _plain(family)
    if wanted:
        shares = [(_share(wanted, _plain(entry.name)), entry) for entry in (*own, *FONTS)]
        share, found = max(shares, key=lambda pair: pair[0])
        if share >= _ALIKE:
            return found, share == 1.0
    look = next((key for words, key in _KINDS if re.search(words, family, re.IGNORECASE)), _PLAIN)
    return font_for(look), False


def _plain(name: str) -> str:
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])|[-_,]", " ", name).lower()
    return re.sub(r"[^a-z0-9]", "", re.sub(_LOOKS, " ", spaced))


def _share(one: str, other: str) -> float:
    return SequenceMatcher(None, one, other).ratio()
