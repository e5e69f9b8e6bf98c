"""Names and ids of things in a design."""

from typing import Annotated

from pydantic import Field

from foliant.core.errors import Refused
from foliant.core.quantities import Quantity

Identifier = Annotated[str, Field(pattern=r"^[a-z][a-z0-9]{0,15}$")]


def _check_name(text: str) -> str:
    plain = " ".join(text.split())
    if not plain:
        raise Refused("A name needs at least one letter.")
    if len(plain) > 80:
        raise Refused(f"A name holds at most 80 characters and this has {len(plain):,}.")
    return plain


Name = Annotated[str, Quantity("words", "The name", check_text=_check_name)]
NameIfAny = Annotated[str, Quantity("words", "The name", check_text=lambda text: text and _check_name(text))]
