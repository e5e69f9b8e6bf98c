"""Braille kept up with the words that it says: its own, or those of the part that it follows."""

from typing import Any

from foliant.core.design.model import Part, Piece
from foliant.core.design.shapes import Braille


def with_cells(piece: Piece) -> Piece:
    """The piece with the cells of all its Braille; that of a part which is gone keeps the words it has. Raises
    `Refused` where words have to be told and there is no liblouis.
    """
    if not any(isinstance(part.shape, Braille) for part in piece.parts):
        return piece
    says = {part.id: part.shape.says for part in piece.parts if part.shape.says}
    parts = tuple(_kept_up(part, says) for part in piece.parts)
    return piece if parts == piece.parts else piece.model_copy(update={"parts": parts})


def _kept_up(part: Part, says: dict[str, str]) -> Part:
    shape = part.shape
    if not isinstance(shape, Braille):
        return part
    own: dict[str, Any] = {} if shape.of in says or not shape.of else {"of": ""}
    found = shape.model_copy(update=own).kept_up(says.get(shape.of))
    return part if found == shape else part.model_copy(update={"shape": found})
