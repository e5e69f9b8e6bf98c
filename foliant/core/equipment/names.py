"""Keys and names of what stands in a workshop."""

import re
import unicodedata
from collections.abc import Collection, Iterable
from difflib import SequenceMatcher
from typing import Annotated, TypeVar

from pydantic import Field

from foliant.core.errors import Refused
from foliant.core.quantities import Quantity

Key = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
"""How a design names a thing of the shop; it never changes."""

Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


def check_name(text: str, most: int) -> str:
    """A name on one line, at most so many characters long; raises `Refused`."""
    plain = " ".join(text.split())
    if not plain:
        raise Refused("A name needs at least one letter.")
    if len(plain) > most:
        raise Refused(f"A name holds at most {most} characters and this has {len(plain):,}.")
    return plain


def _check_note(text: str) -> str:
    plain = " ".join(text.split())
    if len(plain) > 120:
        raise Refused(f"A note holds at most 120 characters and this has {len(plain):,}.")
    return plain


Name = Annotated[str, Quantity("words", "The name", check_text=lambda text: check_name(text, 60))]
Note = Annotated[str, Quantity("words", "The note", check_text=_check_note)]

Named = TypeVar("Named")


def key_for(name: str, taken: Collection[str]) -> str:
    """A new key that reads like a name."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    base = re.sub("[^a-z0-9]+", "-", plain).strip("-")[:32].strip("-") or "thing"
    return next(key for n in range(1, len(taken) + 2) if (key := base if n == 1 else f"{base}-{n}") not in taken)


def nearest(key: str, keys: Iterable[str]) -> str:
    """Which of the keys reads most like one that is not there; of equal ones the first."""
    return max(keys, key=lambda other: SequenceMatcher(None, key, other).ratio())
