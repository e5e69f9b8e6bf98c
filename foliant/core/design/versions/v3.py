"""From version 3: the middle of words, up and down, was half way between their capitals' top and their line."""

import json
from contextlib import suppress
from typing import Any

from foliant.core.design.binding import bound_row
from foliant.core.design.model import Design
from foliant.core.design.placing import measured_point, reference_point
from foliant.core.design.roster import Row
from foliant.core.errors import Refused
from foliant.core.quantities import Quantity

_DOWN = Quantity("length", "The place down", -5000, 5000)

Data = dict[str, Any]


def design(data: Data) -> Data:
    """Version 4 of a document: what was held by that says so."""
    pieces = data.get("pieces")
    return {**data, "pieces": [_piece(piece) for piece in pieces]} if isinstance(pieces, list) else data


def part(data: Data, words: frozenset[str] = frozenset()) -> Data:
    """Version 4 of a part; `words` are the ids of the words on its piece."""
    hold = data.get("down")
    if not isinstance(hold, dict) or hold.get("anchor", "middle") != "middle":
        return data
    return {**data, "down": {**hold, "anchor": "capitals"}} if _is_words(data) or hold.get("to") in words else data


def _piece(data: Any) -> Any:
    if not isinstance(data, dict):
        return data
    lifted = {**data}
    if isinstance(data.get("parts"), list):
        parts = [each for each in data["parts"] if isinstance(each, dict)]
        words = frozenset(str(each.get("id")) for each in parts if _is_words(each))
        lifted["parts"] = [part(each, words) if isinstance(each, dict) else each for each in data["parts"]]
    if isinstance(data.get("unread"), str) and data["unread"]:
        with suppress(ValueError):
            lifted["unread"] = json.dumps(_piece(json.loads(data["unread"])))
    return lifted


def _is_words(data: Data) -> bool:
    shape = data.get("shape")
    return isinstance(shape, dict) and shape.get("kind") == "words"


def with_places_measured(design: Design) -> Design:
    """The design with the places down that its rows give to words as version 4 measures them: by the ink."""
    rows = tuple(_measured(design, row) for row in design.roster.rows)
    if rows == design.roster.rows:
        return design
    return design.model_copy(update={"roster": design.roster.model_copy(update={"rows": rows})})


def _measured(design: Design, row: Row) -> Row:
    own = tuple((address, _typed(design, row, address, raw)) for address, raw in row.own)
    return row if own == row.own else row.model_copy(update={"own": own})


def _typed(design: Design, row: Row, address: str, raw: str) -> str:
    of, _, field = address.rpartition(" ")
    key = of.removeprefix("part ")
    piece = next((piece for piece in design.pieces if any(part.id == key for part in piece.parts)), None)
    if field != "y" or piece is None:
        return raw
    try:
        part = bound_row(design, piece, row.id).piece.part(key)
        away = measured_point(part, part.reference)[1] - reference_point(part, part.reference)[1]
        return raw if abs(away) < 1e-9 else f"{round(_DOWN.number(raw, design.roster.unit) + away, 6)} mm"
    except Refused:  # what could not be put before cannot be now, and its row says so
        return raw
