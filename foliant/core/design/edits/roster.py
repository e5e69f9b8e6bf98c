"""Edits of the roster: its columns, rows and cells, and which values of a piece come from it."""

from collections import Counter
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field

from foliant.core.design.edits.adding import room_for_words
from foliant.core.design.edits.command import (
    Command,
    changed,
    holder,
    unlocked,
    with_design,
    with_parts,
    with_piece,
    with_places_if,
)
from foliant.core.design.edits.putting import Address, Holder, put
from foliant.core.design.model import Design, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.placing import shape_bounds
from foliant.core.design.roster import (
    MOST_COLUMNS,
    MOST_ROWS,
    Column,
    ColumnKind,
    Roster,
    Row,
    cell_text,
    columns_in,
    number_in,
    template,
    value_of,
)
from foliant.core.design.shapes import Words
from foliant.core.errors import NoSuchValue, Refused
from foliant.core.quantities import build

Line = Annotated[list[str | int | float | bool | None], Field(max_length=MOST_COLUMNS)]
Lines = Annotated[list[Line], Field(max_length=MOST_ROWS)]


class AddColumn(Command):
    """A new column at the right."""

    do: Literal["add-column"]
    name: str
    kind: ColumnKind = "words"

    def apply(self, design: Design) -> Design:
        column = build(Column, {"id": f"c{design.serial + 1}", "name": self.name, "kind": self.kind})
        return _with_roster(design, 1, columns=(*design.roster.columns, column))

    def says(self, design: Design) -> str:
        return f"add the column {self.name[:40]}"


class RemoveColumn(Command):
    """Take a column out. Values that came from it no longer do, and keep what they show for `row`, or the first row."""

    do: Literal["remove-column"]
    column: Identifier
    row: Identifier | None = None

    def apply(self, design: Design) -> Design:
        gone = design.roster.column(self.column)
        for of, says in [tie for piece in design.pieces for tie in piece.all_ties()]:
            if gone.id in columns_in(says, design.roster):
                design = UntieValue(do="untie", of=of, row=self.row).apply(design)
        rows = tuple(
            row.model_copy(update={"cells": tuple(cell for cell in row.cells if cell[0] != gone.id)})
            for row in design.roster.rows
        )
        columns = tuple(column for column in design.roster.columns if column.id != gone.id)
        return _with_roster(design, columns=columns, rows=rows)

    def says(self, design: Design) -> str:
        column = design.roster.column(self.column)
        tied = [
            part.shape.label()[:30]
            for piece in design.pieces
            for part in piece.parts
            if any(column.id in columns_in(says, design.roster) for _, says in part.ties)
        ]
        kept = f"; {' and '.join(tied[:3])}{' and others' if len(tied) > 3 else ''} keep what they show" if tied else ""
        return f"delete the column {column.name}{kept}"


class PutCells(Command):
    """Put a block of cells, its upper left one at a row and a column; else below all rows, and at the first column.

    Rows and columns that are not there yet are added, so that nothing that is pasted is lost.
    """

    do: Literal["put-cells"]
    cells: Lines
    row: Identifier | None = None
    column: Identifier | None = None

    def apply(self, design: Design) -> Design:
        roster, serial = design.roster, design.serial
        columns, rows = list(roster.columns), list(roster.rows)
        across = columns.index(roster.column(self.column)) if self.column else 0
        down = rows.index(roster.row(self.row)) if self.row else len(rows)
        wide = max(map(len, self.cells), default=0)
        _check_size(across + wide, down + len(self.cells))
        while len(columns) < across + wide:
            serial += 1
            columns.append(build(Column, {"id": f"c{serial}", "name": _unused(columns)}))
        while len(rows) < down + len(self.cells):
            serial += 1
            rows.append(Row(id=f"r{serial}"))
        for at, line in enumerate(self.cells, down):
            texts = {columns[i].id: cell_text(raw) for i, raw in enumerate(line, across)}
            rows[at] = with_cells(rows[at], texts)
        return _with_roster(design, serial - design.serial, columns=tuple(columns), rows=tuple(rows))

    def says(self, design: Design) -> str:
        return "type a cell" if len(self.cells) == 1 and len(self.cells[0]) == 1 else "put cells"


class TakeTable(Command):
    """A whole table in place of the rows there are. Columns of the same name stay what they are, with their ties, and
    so do rows that are called the same, with what is their own. With `tie`, words that name a column in braces take
    their text from it; and those parts that `words` names, column by column, come from it too.
    """

    do: Literal["take-table"]
    heading: Annotated[list[str], Field(max_length=MOST_COLUMNS)]
    rows: Lines
    tie: bool = False
    words: Annotated[list[Identifier | None], Field(max_length=MOST_COLUMNS)] = []

    def apply(self, design: Design) -> Design:
        _check_size(len(self.heading), len(self.rows))
        known = {column.name.casefold(): column for column in design.roster.columns}
        serial, columns = design.serial, []
        for name in self.heading:
            serial += 1
            found = known.pop(name.strip().casefold(), None)
            columns.append(found or build(Column, {"id": f"c{serial}", "name": name}))
        every = (*columns, *known.values())
        fresh: list[Row] = []
        for line in self.rows:
            serial += 1
            cells = {column.id: cell_text(raw) for column, raw in zip(columns, line, strict=False)}
            fresh.append(with_cells(Row(id=f"r{serial}"), cells))
        named = build(Roster, {"columns": every, "rows": fresh})
        same = _by_label(design.roster)
        rows: list[Row] = []
        for new in fresh:
            old = same.pop(named.label(new), None)
            rows.append(new if old is None else old.model_copy(update={"cells": new.cells}))
        design = _without_places(design, {row.id for row in design.roster.rows} - {row.id for row in rows})
        design = _with_roster(design, serial - design.serial, columns=every, rows=tuple(rows))
        design = _with_words_tied(design) if self.tie else design
        for part, column in zip(self.words, columns, strict=False):
            if part and "part text" not in dict(holder(design, part).part(part).ties):
                design = TieValue(do="tie", of=f"part {part} text", text=f"{{{column.name}}}").apply(design)
        return design

    def says(self, design: Design) -> str:
        return f"take {len(self.rows):,} rows"


class RemoveRows(Command):
    """Take rows out."""

    do: Literal["remove-rows"]
    rows: Annotated[tuple[Identifier, ...], Field(min_length=1, max_length=MOST_ROWS)]

    def apply(self, design: Design) -> Design:
        gone = {design.roster.row(one).id for one in self.rows}
        design = _without_places(design, gone)
        return _with_roster(design, rows=tuple(row for row in design.roster.rows if row.id not in gone))

    def says(self, design: Design) -> str:
        return f"delete {'a row' if len(self.rows) == 1 else f'{len(self.rows):,} rows'}"


class SortRows(Command):
    """Sort the rows by a column: lengths and numbers by size, all else by the alphabet, empty cells last."""

    do: Literal["sort-rows"]
    column: Identifier
    descending: bool = False

    def apply(self, design: Design) -> Design:
        roster = design.roster
        column = roster.column(self.column)
        filled_in = [row for row in roster.rows if row.cell(column.id)]
        empty = [row for row in roster.rows if not row.cell(column.id)]
        filled_in.sort(key=lambda row: _order(column, row.cell(column.id)), reverse=self.descending)
        return _with_roster(design, rows=(*filled_in, *empty))

    def says(self, design: Design) -> str:
        return f"sort by {design.roster.column(self.column).name}"


class TieValue(Command):
    """Have a value of a part or a piece come from the roster: `text` has names of columns in braces."""

    do: Literal["tie"]
    of: Annotated[str, Field(max_length=80)]
    text: Annotated[str, Field(min_length=1, max_length=1000)]

    def apply(self, design: Design) -> Design:
        stored = template(self.text, design.roster)
        if stored is None:
            names = ", ".join(f"{{{column.name}}}" for column in design.roster.columns[:6])
            raise Refused(f"Name a column in braces: {names or 'the roster has none yet'}.")
        address = Address.read(self.of)
        piece = _tied_piece(design, address)
        if address.holder.kind != "piece":
            unlocked(piece.part(address.holder.id))
        try:  # is there such a value? What the row says of it is the row's own trouble
            put(design, address.holder, {address.field: "1"})
        except NoSuchValue:
            raise
        except Refused:
            pass
        design = _within_its_plate(design, piece, address)
        return _with_tie(design, design.piece(piece.id), address, stored)

    def says(self, design: Design) -> str:
        return f"take {self.of.split()[-1].replace('_', ' ')} from the roster"


class UntieValue(Command):
    """A value no longer comes from the roster; it keeps what it shows for `row`, or for the first row."""

    do: Literal["untie"]
    of: Annotated[str, Field(max_length=80)]
    row: Identifier | None = None

    def apply(self, design: Design) -> Design:
        address = Address.read(self.of)
        piece = _tied_piece(design, address)
        roster = design.roster
        says = dict(piece.all_ties()).get(str(address))
        if says is None:
            raise Refused("That value does not come from the roster.")
        design = _with_tie(design, piece, address, None)
        row = roster.row(self.row) if self.row else next(iter(roster.rows), None)
        if row is None:
            return design
        try:
            said = value_of(self.of, says, roster, row, roster.rows.index(row) + 1)
            return put(design, address.holder, {address.field: said})
        except Refused:
            return design  # what cannot be shown there is not kept

    def says(self, design: Design) -> str:
        return f"keep {self.of.split()[-1].replace('_', ' ')} as it is"


class RevertRow(Command):
    """Take back what is different for one row only: one value, or all of them."""

    do: Literal["revert-row"]
    row: Identifier
    of: Annotated[str, Field(max_length=80)] = ""

    def apply(self, design: Design) -> Design:
        row = design.roster.row(self.row)
        # With what was begun for the row go the values of it.
        gone = self.of.removesuffix("on") if self.of.endswith(" on") else ""
        left = {of: text for of, text in row.own if self.of and of != self.of and not (gone and of.startswith(gone))}
        if left == dict(row.own):
            raise Refused("Nothing of that is different for this row.")
        return with_own(design, row, left)

    def says(self, design: Design) -> str:
        return "take back what was for one row"


def with_cells(row: Row, texts: dict[str, str]) -> Row:
    """The row with other texts in some of its cells; empty ones are not kept."""
    cells = {**dict(row.cells), **texts}
    return build(Row, {"id": row.id, "cells": {key: text for key, text in cells.items() if text}, "own": row.own})


def _with_roster(design: Design, taken: int = 0, **changes: object) -> Design:
    before = design.roster
    unit = before.unit if before.columns else design.unit  # it stays what it was when the first column came
    roster = build(Roster, {"unit": unit, "columns": before.columns, "rows": before.rows, **changes})
    return with_design(design, roster=roster, serial=design.serial + taken)


def _with_words_tied(design: Design) -> Design:
    for piece in design.pieces:
        tied = dict(piece.all_ties())
        for part in piece.parts:
            of, text = f"part {part.id} text", getattr(part.shape, "text", "")
            if of not in tied and template(text, design.roster):
                design = TieValue(do="tie", of=of, text=text).apply(design)
    return design


def _without_places(design: Design, rows: set[str]) -> Design:
    """The design without the places on the sheet of rows that are gone."""
    return with_places_if(design, lambda place: place.row not in rows)


def _by_label(roster: Roster) -> dict[str, Row]:
    """The rows by what they are called, where only one is called so."""
    labels = Counter(map(roster.label, roster.rows))
    return {label: row for row in roster.rows if labels[label := roster.label(row)] == 1 and label}


def with_own(design: Design, row: Row, own: dict[str, str]) -> Design:
    """The design with these values, by their addresses, as all that a row has for itself."""
    new = build(Row, {"id": row.id, "cells": row.cells, "own": own})
    return _with_roster(design, rows=tuple(new if old.id == row.id else old for old in design.roster.rows))


def says_columns(design: Design, of: Holder, text: object) -> bool:
    """Whether what is typed for a value of a piece or a part names a column in braces."""
    if not isinstance(text, str) or len(of.ids) != 1 or of.kind in ("operation", "column"):
        return False
    if not design.roster.columns:
        return False  # braces are braces, as long as there is no roster
    return template(text, design.roster) is not None


def without_ties(design: Design, of: Holder, fields: Iterable[str]) -> Design:
    """The design with these values of a piece or a part coming from the roster no longer."""
    for piece in design.pieces:
        tied = dict(piece.all_ties())
        for field in fields:
            if f"{of} {field}" in tied:
                design = _with_tie(design, design.piece(piece.id), Address(of, field), None)
    return design


def _tied_piece(design: Design, address: Address) -> Piece:
    """The piece that a value which may come from the roster is of; raises `Refused` for any other."""
    if len(address.holder.ids) != 1:
        raise Refused("Only values of a piece and its parts come from the roster.")
    if address.holder.kind == "piece":
        return design.piece(address.holder.id)
    return holder(design, address.holder.id)


def _within_its_plate(design: Design, piece: Piece, address: Address) -> Design:
    """The design whose words, once they come from rows, stay within what they are engraved on, however long."""
    if (address.holder.kind, address.field) != ("part", "text"):
        return design
    part = piece.part(address.holder.id)
    if not isinstance(part.shape, Words) or part.shape.at_most is not None:
        return design
    room = room_for_words(piece, part)
    left, _, right, _ = shape_bounds(part.shape)
    if room is None or right - left > room:
        return design
    shape = part.shape.model_copy(update={"at_most": room})
    return with_piece(design, with_parts(piece, [changed(part, shape=shape)]))


def _with_tie(design: Design, piece: Piece, address: Address, says: str | None) -> Design:
    """The design with a tie, or without it where it says None."""
    of, key = address.holder, f"{address.holder.kind} {address.field}"

    def tied(before: Iterable[tuple[str, str]]) -> tuple[tuple[str, str], ...]:
        kept = {**dict(before), key: says or ""}
        return tuple(sorted((name, text) for name, text in kept.items() if text))

    if of.kind == "piece":
        return with_piece(design, piece.model_copy(update={"ties": tied(piece.ties)}))
    part = piece.part(of.id)
    return with_piece(design, with_parts(piece, [changed(part, ties=tied(part.ties))]))


def _check_size(columns: int, rows: int) -> None:
    if columns > MOST_COLUMNS:
        raise Refused(f"A roster has at most {MOST_COLUMNS} columns, and this would make {columns}.")
    if rows > MOST_ROWS:
        raise Refused(f"A roster has at most {MOST_ROWS:,} rows, and this would make {rows:,}: take them in parts.")


def _unused(columns: list[Column]) -> str:
    names = {column.name.casefold() for column in columns}
    if "name" not in names:
        return "name"
    return next(f"column {n}" for n in range(2, len(names) + 3) if f"column {n}" not in names)


def _order(column: Column, text: str) -> tuple[bool, float, str]:
    number = number_in(text) if column.kind in ("length", "count") else None
    return number is None, number or 0.0, text.casefold()
