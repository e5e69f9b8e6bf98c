"""Makers' own fonts: where the core finds them, and whose they are.

A font file is stored once for each maker under a key that holds its hash. In designs it goes by that key with a mark of
its owner that nobody else can make: so a design of somebody else that names it is set in a substitute, until its maker
adds the file too.
"""

import hashlib
import hmac
import json
import re
from pathlib import Path
from typing import Any

from django.conf import settings

from foliant.core.design import Edit, read_edit
from foliant.core.lettering import FontEntry
from foliant.workshop.models import Typeface

_KEY = re.compile(r"\b(own-[a-z0-9-]*?[0-9a-f]{10})(?:-([0-9a-f]{8}))?\b")


def own_key(key: str, owner: int) -> str:
    """The key of a maker's font as designs name it."""
    mark = hmac.new(settings.SECRET_KEY.encode(), f"{owner} {key}".encode(), hashlib.sha256)
    return f"{key}-{mark.hexdigest()[:8]}"


def stored_key(key: str) -> str:
    """The key under which a maker's font is stored."""
    found = _KEY.fullmatch(key)
    return found.group(1) if found else key


def find_own_font(key: str) -> FontEntry | None:
    """The font that a design names by this key; also one that was put away, for the designs that use it."""
    typefaces = Typeface.objects.filter(key=stored_key(key))
    return next((own_entry(found) for found in typefaces if own_key(found.key, found.owner_id) == key), None)


def own_entry(typeface: Typeface) -> FontEntry:
    """A maker's font as the core knows fonts."""
    key = own_key(typeface.key, typeface.owner_id)
    return FontEntry(key, typeface.name, "your own", (Path(typeface.file.path),), licence=typeface.licence)


def in_own_fonts(text: str, owner: int) -> str:
    """JSON text with every font that somebody added named as this maker's, where they have it too; else as nobody's."""
    if "own-" not in text:
        return text
    has = set(Typeface.objects.filter(owner=owner).values_list("key", flat=True))

    def named(found: re.Match[str]) -> str:
        key = found.group(1)
        return own_key(key, owner) if key in has else key

    return _KEY.sub(named, text)


def edit_in_own_fonts(edit: Edit, owner: Any) -> Edit:
    """An edit so: what is pasted may name fonts of another maker."""
    text = edit.model_dump_json(by_alias=True)
    if "own-" not in text:
        return edit
    return read_edit(json.loads(in_own_fonts(text, owner.pk)))
