"""Copy and paste: parts as text that any other project takes in, with the holds among them."""

import json
from typing import Any, Final, Literal

from pydantic import ValidationError

from foliant.core.design.edits.command import Command, renumbered, shifted, with_piece
from foliant.core.design.model import Design, Part
from foliant.core.design.names import Identifier
from foliant.core.design.placing import part_bounds
from foliant.core.design.roster import columns_in
from foliant.core.design.versions import lifted_part
from foliant.core.errors import Refused

FORMAT: Final = "foliant-parts"
MOST_CHARACTERS = 4_000_000


class PasteParts(Command):
    """Put copied parts on a piece, where they were, or shifted by `step` mm so that they can be seen.

    Holds among them are kept, and so are holds to the piece; others are let go.
    """

    do: Literal["paste-parts"]
    piece: Identifier
    text: str
    step: float = 0.0

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        copies, _ = renumbered(parts_in(self.text), design.serial, keep_holds=False)
        free = [part.model_copy(update={"group": None, "locked": False, **_ties(part, design)}) for part in copies]
        placed = [shifted(part, self.step, self.step) for part in free]
        grown = piece.model_copy(update={"parts": (*piece.parts, *placed)})
        return with_piece(design, grown, serial=design.serial + len(placed))

    def says(self, design: Design) -> str:
        return "paste parts"


def _ties(part: Part, design: Design) -> dict[str, Any]:
    """The values of a pasted part that come from columns which are here."""
    return {"ties": tuple(tie for tie in part.ties if columns_in(tie[1], design.roster))}


def parts_in(text: str) -> list[Part]:
    """The parts that a copied text holds; raises `Refused` for any other text."""
    foreign = Refused("What is on the clipboard is not parts of a Foliant piece; copy some parts first.")
    data = data_in(text, FORMAT, "parts", MOST_CHARACTERS, foreign)
    try:
        parts = [Part.model_validate(lifted_part(item, 1)) for item in data["parts"]]
    except ValidationError:
        raise Refused("The parts on the clipboard are damaged, or of another version of Foliant.") from None
    if not parts or len({part.id for part in parts}) < len(parts):
        raise foreign
    for part in parts:
        part_bounds(part)
    return parts


def data_in(text: str, named: str, key: str, most: int, foreign: Refused) -> Any:
    """The JSON object of a copied text, of the format so named and with a list under a key; else raises `foreign`."""
    if len(text) > most:
        raise foreign
    try:
        data: Any = json.loads(text)
    except (ValueError, RecursionError):
        raise foreign from None
    if not isinstance(data, dict) or data.get("format") != named or not isinstance(data.get(key), list):
        raise foreign
    return data
