"""What makers added: where the core finds their fonts and pictures, and whose they are.

A file is stored once for each maker under a key that holds its hash. In designs it goes by that key with a mark of its
owner that nobody else can make: so a design of somebody else that names it is made with a substitute, until its maker
adds the file too.
"""

import hashlib
import hmac
import json
import re
from contextlib import suppress
from pathlib import Path
from typing import Any

from django.conf import settings

from foliant.core.design import Edit, read_edit
from foliant.core.lettering import FontEntry
from foliant.workshop.models import PictureFile, Typeface

_KEY = re.compile(r"\b(own-[a-z0-9-]*?[0-9a-f]{10}|picture-[0-9a-f]{32})(?:-([0-9a-f]{8}))?\b")
_MARKS = ("own-", "picture-")


def own_key(key: str, owner: int) -> str:
    """The key of a maker's font or picture as designs name it."""
    mark = hmac.new(settings.SECRET_KEY.encode(), f"{owner} {key}".encode(), hashlib.sha256)
    return f"{key}-{mark.hexdigest()[:8]}"


def stored_key(key: str) -> str:
    """The key under which it is stored."""
    found = _KEY.fullmatch(key)
    return found.group(1) if found else key


def find_own_font(key: str) -> FontEntry | None:
    """The font that a design names by this key; also one that was put away, for the designs that use it."""
    typefaces = Typeface.objects.filter(key=stored_key(key))
    return next((own_entry(found) for found in typefaces if own_key(found.key, found.owner_id) == key), None)


def find_own_picture(key: str) -> bytes | None:
    """The picture that a design names by this key; None also where its file is gone."""
    if not key.startswith("picture-"):
        return None
    pictures = PictureFile.objects.filter(key=stored_key(key))
    own = (found for found in pictures if own_key(found.key, found.owner_id) == key)
    with suppress(OSError):
        return next((Path(found.file.path).read_bytes() for found in own), None)
    return None


def own_entry(typeface: Typeface) -> FontEntry:
    """A maker's font as the core knows fonts."""
    key = own_key(typeface.key, typeface.owner_id)
    return FontEntry(key, typeface.name, "your own", (Path(typeface.file.path),), licence=typeface.licence)


def in_own_keys(text: str, owner: int) -> str:
    """JSON text with every font and picture that somebody added named as this maker's, where they have it too; else as
    nobody's.
    """
    if not any(mark in text for mark in _MARKS):
        return text
    has = {
        key
        for kind in (Typeface, PictureFile)
        for key in kind.objects.filter(owner=owner).values_list("key", flat=True)
    }

    def named(found: re.Match[str]) -> str:
        key = found.group(1)
        return own_key(key, owner) if key in has else key

    return _KEY.sub(named, text)


def edit_in_own_keys(edit: Edit, owner: Any) -> Edit:
    """An edit so: what is pasted may name fonts and pictures of another maker."""
    text = edit.model_dump_json(by_alias=True)
    found = in_own_keys(text, owner.pk)
    return edit if found == text else read_edit(json.loads(found))
