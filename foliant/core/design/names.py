"""Names and ids of things in a design."""

from typing import Annotated

from pydantic import Field

from foliant.core.equipment.names import check_name
from foliant.core.quantities import Quantity

Identifier = Annotated[str, Field(pattern=r"^[a-z][a-z0-9]{0,15}$")]


def _check_name(text: str) -> str:
    return check_name(text, 80)


Name = Annotated[str, Quantity("words", "The name", check_text=_check_name)]
NameIfAny = Annotated[str, Quantity("words", "The name", check_text=lambda text: text and _check_name(text))]
