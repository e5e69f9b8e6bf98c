"""Whole pieces as text: what is copied to another project, kept as a starter, and begun from one."""

import json
import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Final, Literal

from pydantic import ValidationError

from foliant.core.design.edits.benches import with_bench
from foliant.core.design.edits.clipboard import data_in
from foliant.core.design.edits.command import Command, fields, renumbered, with_design
from foliant.core.design.edits.project import unused_name
from foliant.core.design.edits.raising import USUAL
from foliant.core.design.model import Design, Group, Part, Piece
from foliant.core.design.placing import part_bounds
from foliant.core.design.roster import Column, Roster, columns_in
from foliant.core.design.versions import lifted_part
from foliant.core.errors import Refused
from foliant.core.quantities import build

FORMAT: Final = "foliant-pieces"
MOST_CHARACTERS = 8_000_000


class AddPieces(Command):
    """Put whole pieces into the project, as `pieces_text` gives them. What of them comes from the roster comes from
    columns that are called the same, which are added where there are none.
    """

    do: Literal["add-pieces"]
    text: str

    def apply(self, design: Design) -> Design:
        pieces, columns = pieces_in(self.text)
        design, ids = _with_columns(design, columns)
        parts, known = renumbered((part for piece in pieces for part in piece.parts), design.serial, keep_holds=False)
        serial, new = design.serial + len(parts), {part.id: part for part in parts}
        onto = next((one.bench for one in design.pieces if one.raises), "")
        if not onto and any(piece.raises in known for piece in pieces):
            design, onto = with_bench(with_design(design, serial=serial), USUAL)
            serial = design.serial
        for piece in pieces:
            serial += 1
            own, groups = f"p{serial}", {group.id: f"g{serial + i}" for i, group in enumerate(piece.groups, 1)}
            serial += len(groups)
            copies = (_changed(new[known[part.id]], groups.get(part.group or ""), ids) for part in piece.parts)
            values = {
                **fields(piece),
                "id": own,
                "name": unused_name(piece.name, design),
                "parts": tuple(copies),
                "groups": tuple(
                    Group(id=groups[group.id], group=groups.get(group.group or "")) for group in piece.groups
                ),
                "ties": _ties(piece.ties, ids),
                "operations": (),
                "raises": known.get(piece.raises, ""),
                "bench": onto if piece.raises in known else design.bench,
            }
            design = with_design(design, pieces=(*design.pieces, build(Piece, values)), serial=serial)
        return design

    def says(self, design: Design) -> str:
        return "put in a piece"


def pieces_text(design: Design, ids: Iterable[str]) -> str:
    """Pieces with the columns that their values come from, as text; raises `Refused` for one that is gone."""
    pieces = [design.piece(one) for one in ids]
    used = {one for piece in pieces for _, says in piece.all_ties() for one in columns_in(says, design.roster)}
    columns = [column.model_dump(mode="json") for column in design.roster.columns if column.id in used]
    return json.dumps(
        {"format": FORMAT, "columns": columns, "pieces": [piece.model_dump(mode="json") for piece in pieces]}
    )


def pieces_in(text: str) -> tuple[list[Piece], list[Column]]:
    """The pieces and columns that a text holds; raises `Refused` for any other text."""
    foreign = Refused("That is no piece of Foliant’s: copy a piece first.")
    data = data_in(text, FORMAT, "pieces", MOST_CHARACTERS, foreign)
    try:
        pieces = [_read(item) for item in data["pieces"]]
        columns = [Column.model_validate(item) for item in data.get("columns", [])]
    except (ValidationError, TypeError, AttributeError):
        raise Refused("That piece is damaged, or of another version of Foliant.") from None
    ids = [part.id for piece in pieces for part in piece.parts]
    if not pieces or len(set(ids)) < len(ids):
        raise foreign
    for piece in pieces:
        for part in piece.parts:
            part_bounds(part)
    return pieces, columns


def _read(item: Any) -> Piece:
    return Piece.model_validate({**item, "parts": [lifted_part(part, 1) for part in item.get("parts", [])]})


def _with_columns(design: Design, wanted: Sequence[Column]) -> tuple[Design, dict[str, str]]:
    """The design with the columns that pieces come with, and the id that each of them has here."""
    here = {column.name.casefold(): column.id for column in design.roster.columns}
    columns, serial, ids = list(design.roster.columns), design.serial, {}
    for column in wanted:
        if column.name.casefold() not in here:
            serial += 1
            here[column.name.casefold()] = f"c{serial}"
            columns.append(column.model_copy(update={"id": f"c{serial}"}))
        ids[column.id] = here[column.name.casefold()]
    if len(columns) == len(design.roster.columns):
        return design, ids
    unit = design.roster.unit if design.roster.columns else design.unit
    roster = build(Roster, {"unit": unit, "columns": columns, "rows": design.roster.rows})
    return with_design(design, roster=roster, serial=serial), ids


def _changed(part: Part, group: str | None, ids: Mapping[str, str]) -> Part:
    return part.model_copy(update={"group": group, "ties": _ties(part.ties, ids), "operations": ()})


def _ties(ties: Iterable[tuple[str, str]], ids: Mapping[str, str]) -> tuple[tuple[str, str], ...]:
    """Ties to the columns as they are called here."""
    return tuple((key, re.sub(r"[a-z0-9]+", lambda word: ids.get(word[0], word[0]), says)) for key, says in ties)
