"""The roster as the page holds it, and what is told of the row that it shows."""

from contextlib import suppress
from typing import Any

from foliant.core.design import Design, Part, Piece, treatments
from foliant.core.design.benches import every_bench
from foliant.core.design.binding import tied_pieces, with_row
from foliant.core.design.roster import KINDS, Column, Roster, columns_in
from foliant.core.design.shapes.lettered import LETTERING
from foliant.core.errors import NoSuchValue
from foliant.core.frozen import Frozen
from foliant.core.quantities import quantity_of


def row_shown(design: Design, row: str) -> str:
    """The row that can be shown: "" where it is gone, or nothing comes from the roster."""
    there = any(one.id == row for one in design.roster.rows)
    return row if there and any(piece.tied for piece in design.pieces) else ""


def as_shown(design: Design, row: str) -> Design:
    """The design as a row has it, or as it is where none is shown."""
    return with_row(design, row) if row_shown(design, row) else design


def roster_view(design: Design, before: Design | None) -> dict[str, Any] | None:
    """The columns, the order of the rows, and the rows that differ from `before`; None where all is as it was.

    touched  the pieces whose rows all look different now
    """
    roster, old = design.roster, before.roster if before else None
    touched = _touched(design, before)
    if roster == old and not touched:
        return None
    known = {row.id: row for row in old.rows} if old else {}
    used = {one for piece in design.pieces for _, says in piece.all_ties() for one in columns_in(says, roster)}
    changed = [row for row in roster.rows if known.get(row.id) != row]
    return {
        "unit": roster.unit,
        "kinds": KINDS,
        "columns": [
            {"id": column.id, "name": column.name, "kind": column.kind, "used": column.id in used}
            for column in roster.columns
        ],
        "order": [row.id for row in roster.rows],
        "rows": {
            row.id: {"cells": dict(row.cells), "own": len(row.own), "called": roster.label(row)} for row in changed
        },
        # Names are meant to differ; that two stand at one gate is nothing to look at.
        "doubled": {column.id: sorted(roster.doubled(column.id)) for column in _names(roster)},
        "touched": touched,
        "tied": [piece.id for piece in design.pieces if piece.id in tied_pieces(design)],
    }


def _names(roster: Roster) -> tuple[Column, ...]:
    """The column that rows are called by, if there is one."""
    return tuple(column for column in roster.columns if column.kind == "words")[:1]


def _touched(design: Design, before: Design | None) -> list[str]:
    tied = tied_pieces(design)
    if before is None:
        return sorted(tied)
    if tied != tied_pieces(before):
        return sorted(tied | tied_pieces(before))
    same = _frame(design) == _frame(before)
    old = {piece.id: piece for piece in before.pieces}
    numbered = [row.id for row in design.roster.rows] != [row.id for row in before.roster.rows]
    return [
        piece.id
        for piece in design.pieces
        if piece.id in tied and (not same or old.get(piece.id) != piece or (numbered and _counts(piece)))
    ]


def _frame(design: Design) -> tuple[object, ...]:
    """What pictures of all rows depend on, beside their pieces."""
    stocks = [(there.bench, there.stock.actual, there.stock.thinnest) for there in every_bench(design)]
    return (design.roster.unit, design.roster.columns, *stocks)


def _counts(piece: Piece) -> bool:
    return any("{number" in says for _, says in piece.all_ties())


def own_words(design: Design, row: str) -> dict[str, Any] | None:
    """What the row shown is called, and what is its own, in words."""
    if not row:
        return None
    roster = design.roster
    found = roster.row(row)
    parts = {part.id: part for piece in design.pieces for part in piece.parts}
    pieces = {piece.id: piece for piece in design.pieces}

    def says(of: str) -> str:
        kind, *ids, field = of.split()
        one = ids[0] if ids else ""
        if one in pieces:
            return f"{_label(field, Piece)} of {pieces[one].name}"
        if one not in parts:
            return "something that is gone"
        part = parts[one]
        if whether := _WHETHER.get(field) or (field == "on" and _DONE.get(kind)):
            return f"{part.shape.label()[:40]}: {whether}"
        what = _label(field, type(part.shape), Part)
        return f"{what}{'' if kind == 'part' else f' ({kind})'} of {part.shape.label()[:40]}"

    return {
        "id": row,
        "called": roster.called(found, roster.rows.index(found) + 1),
        "own": [{"of": of, "says": says(of), "text": text} for of, text in found.own],
    }


_WHETHER = {"hidden": "hidden", "flipped": "mirrored", "proportional": "keeps its proportions"}
_DONE: dict[str, str] = {key: model.title for key, model in (*treatments.KINDS.items(), *LETTERING.items())}


def _label(field: str, *models: type[Frozen]) -> str:
    """What a value is called in sentences."""
    for model in models:
        with suppress(NoSuchValue):
            return quantity_of(model, field).label
    return f"The {field.replace('_', ' ')}"
