"""The library: which font a key names. Shipped fonts are here; the workshop tells where makers' own fonts are.

A design names its font by a key, and keeps it where the font is gone: a substitute stands in, and says so.
"""

import re
from collections.abc import Callable

from foliant.core.errors import Refused
from foliant.core.lettering.catalogue import FONTS, FontEntry

SUBSTITUTE = "playfair-display"

_KEY = re.compile(r"[a-z0-9]+(-[a-z0-9]+){0,20}")

Finder = Callable[[str], FontEntry | None]

_SHIPPED = {entry.key: entry for entry in FONTS}
_HASHES = re.compile(r"-[0-9a-f]{10}(-[0-9a-f]{8})?$")  # of its file, and of its owner
_own: dict[str, FontEntry] = {}  # that were found; the file of a key never changes
_finders: list[Finder] = []


def add_finder(finder: Finder) -> None:
    """Have keys that are not shipped looked up by `finder`, which gives None for a font that it has not."""
    _finders.append(finder)


def find_font(key: str) -> FontEntry | None:
    """The font of that key, or None where it is not here."""
    found = _SHIPPED.get(key) or _own.get(key) or next((entry for finder in _finders if (entry := finder(key))), None)
    if found and key not in _SHIPPED:
        _own[key] = found
    return found


def check_font(key: str) -> str:
    """The key, if a font could have it, whether it is here or not; raises `Refused`."""
    if not _KEY.fullmatch(key):
        raise Refused(f"There is no font “{key[:40]}” here; choose one from the list.")
    return key


def font_for(key: str) -> FontEntry:
    """The font of that key, or the one that stands in for it."""
    return find_font(key) or _SHIPPED[SUBSTITUTE]


def font_name(key: str) -> str:
    """What a font is called; a font that is gone by its key alone."""
    found = find_font(key)
    if found:
        return found.name
    plain = _HASHES.sub("", key.removeprefix("own-")) if key.startswith("own-") else key
    return plain.replace("-", " ").title()
