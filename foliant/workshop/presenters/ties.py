"""Values that come from the roster, as sentences say them."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from foliant.core.design import Design, Piece
from foliant.core.design.binding import tied_pieces
from foliant.core.design.roster import Row, columns_in, shown, slot_of
from foliant.workshop.presenters.spec import Bit, text

Ties = Mapping[str, "Tie"]
"""What is to be said of values, by their address."""


@dataclass(frozen=True)
class Tie:
    """What is to be said of a value that comes from the roster, or is one row's own.

    says    the template, with names of columns
    names   of the columns that it comes from
    cell    the column whose cell it is, and nothing else; "" where it says more
    own     whether the row shown has a value of its own there
    """

    says: str = ""
    names: tuple[str, ...] = ()
    cell: str = ""
    own: bool = False


def ties_of(design: Design, piece: Piece, row: str) -> dict[str, Tie]:
    """What is to be said of the values of a piece."""
    roster = design.roster
    names = {column.id: column.name for column in roster.columns}
    found = {}
    for of, says in piece.all_ties():
        columns = columns_in(says, roster)
        slot = slot_of(says[1:-1], {one: one for one in names}) if says.count("{") == 1 and says[-1:] == "}" else None
        cell = slot.column if slot and says[0] == "{" else ""
        found[of] = Tie(shown(says, roster), tuple(names[one] for one in columns), cell)
    if row and (piece.id in tied_pieces(design)):
        ids = {part.id for part in piece.parts} | {piece.id}
        for of, _ in roster.row(row).own:
            if ids & set(of.split()):
                found[of] = replace(found.get(of, Tie()), own=True)
    return found


def tied_bits(bits: list[Bit], ties: Ties, row: Row | None) -> list[Bit]:
    """A sentence in which values say that they come from the roster. With a row, what is one cell is typed as that."""
    return [_tied(bit, ties, row) for bit in bits] if ties else bits


def shown_where(part: str, ties: Ties) -> list[Bit]:
    """In which rows a part is there, where a column says that; nothing where it is there in all."""
    tie = ties.get(f"part {part} shown")
    if tie is None or tie.own:
        return []
    bit = {
        "of": f"part {part}",
        "field": "shown",
        "kind": "choice",
        "label": "In which rows it is shown",
        "raw": "tied",
    }
    stub = {"says": tie.says, "name": "roster"}
    choices = [("yes", "in every row"), ("no", "in none")]
    return [
        text(" It is shown where "),
        {**bit, "text": ", ".join(tie.names), "tie": stub, "choices": choices},
        text("."),
    ]


def _tied(bit: Bit, ties: Ties, row: Row | None) -> Bit:
    field = {"role": "roles"}.get(bit.get("field", ""), bit.get("field", ""))
    tie = ties.get(f"{bit.get('of')} {field}")
    if tie is None:
        return bit
    if tie.own or not tie.says:
        return {**bit, "mine": True}
    stub = {"says": tie.says, "name": ", ".join(tie.names) or "number"}
    if row is None or not tie.cell:
        return {**bit, "raw": tie.says, "tie": stub}
    return {**bit, "raw": row.cell(tie.cell), "tie": {**stub, "row": row.id, "column": tie.cell}}
