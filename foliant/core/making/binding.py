"""Binding: a piece with what a row of the roster says put into it, as if it had been typed there by hand."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from foliant.core.design import Design, Piece
from foliant.core.design.edits.putting import Address, Holder, put
from foliant.core.design.roster import Roster, Row, columns_in, filled, switched
from foliant.core.design.settle import settled_design
from foliant.core.design.shapes import Lap
from foliant.core.errors import Refused
from foliant.core.motifs import MOTIFS
from foliant.core.remembering import remembered
from foliant.core.units import Unit

Said = tuple[tuple[str, str], ...]
"""Values to be put, as (address, text)."""

_TEXT, _HIDDEN, _MOTIF = "text", "hidden", "motif"


@dataclass(frozen=True, eq=False)
class Bound:
    """A piece as it is for one row.

    troubles  why values of the row could not be put, as (address, sentence): those are as on the piece itself
    left_out  the words that the row has nothing for, by their part: they are left out
    """

    piece: Piece
    troubles: tuple[tuple[str, str], ...]
    left_out: tuple[str, ...]


def tied(design: Design, piece: Piece) -> bool:
    """Whether there is one of a piece for each row: it, or a piece that it is lapped with, takes values from there."""
    return any(one.tied for one in _company(design, piece))


def bind(design: Design, piece: Piece, row: Row) -> Bound:
    """A piece for a row of the roster. What is refused is trouble of that row alone."""
    return _bound(design, piece, _company(design, piece), row, design.roster.rows.index(row) + 1)


def bound_rows(design: Design, piece: Piece) -> Iterator[tuple[Row, Bound]]:
    """A tied piece for every row, one after the other as they are asked for."""
    company = _company(design, piece)
    for number, row in enumerate(design.roster.rows, 1):
        yield row, _bound(design, piece, company, row, number)


def _bound(design: Design, piece: Piece, company: tuple[Piece, ...], row: Row, number: int) -> Bound:
    said = tuple(said for one in company for said in _said(one, design.roster, row, number))
    pieces, troubles, left_out = _bind(company, design.unit, design.stock.actual, said)
    own = {part.id for part in piece.parts} | {piece.id}
    return Bound(
        pieces[company.index(piece)],
        tuple((of, says) for of, says in troubles if of.split()[1] in own),
        tuple(part for part in left_out if part in own),
    )


def _company(design: Design, piece: Piece) -> tuple[Piece, ...]:
    """A piece with those that it is lapped with, in the order of the design."""
    owners = {part.id: one for one in design.pieces for part in one.parts}
    found, waiting = {piece.id}, [piece]
    while waiting:
        mates = (part.shape.mate for part in waiting.pop().parts if isinstance(part.shape, Lap))
        for mate in (owners[one] for one in mates if one in owners):
            if mate.id not in found:
                found.add(mate.id)
                waiting.append(mate)
    if len(found) == 1:
        return (piece,)
    return tuple(one for one in design.pieces if one.id in found)


def _said(piece: Piece, roster: Roster, row: Row, number: int) -> Iterator[tuple[str, str]]:
    """The values of a row for a piece: those that are tied, and over them those that are its own."""
    values = {of: _value(of, says, roster, row, number) for of, says in piece.all_ties()}
    ids = {part.id for part in piece.parts} | {piece.id}
    values |= {of: text for of, text in row.own if set(of.split()) & ids}
    yield from values.items()


def _value(of: str, says: str, roster: Roster, row: Row, number: int) -> str:
    text = filled(says, roster, row, number)
    kinds = {roster.column(column).kind for column in columns_in(says, roster)}
    if "switch" in kinds or of.endswith(f" {_HIDDEN}"):
        return switched(text)
    return _motif_key(text) if of.endswith(f" {_MOTIF}") else text


def _motif_key(text: str) -> str:
    """The key of the motif that is called so, or found by that word alone; else the text."""
    plain = text.strip().casefold()
    named = plain.replace(" ", "-")
    if named in MOTIFS:
        return named
    return next((motif.key for motif in MOTIFS.values() if plain in motif.words), text)


@remembered
def _bind(
    pieces: tuple[Piece, ...], unit: Unit, stock: float, said: Said
) -> tuple[tuple[Piece, ...], Said, tuple[str, ...]]:
    """Pieces with values put into them, in the one order in which they are always put."""
    plain = tuple(map(untied, pieces))
    design = around(plain, unit, stock)
    troubles: list[tuple[str, str]] = []
    left_out: list[str] = []
    for holder, values in _in_order(plain, said):
        if values.get(_TEXT) == "" and holder.kind == "part":
            left_out.append(holder.id)
            values = {**{field: raw for field, raw in values.items() if field != _TEXT}, _HIDDEN: "yes"}
        wanted = {field: raw for field, raw in values.items() if raw != ""}
        if not wanted:
            continue  # an empty cell leaves the value as it is
        try:
            design = settled_design(put(design, holder, wanted), design)
        except Refused as refusal:
            troubles.append((str(Address(holder, next(iter(wanted)))), str(refusal)))
    return design.pieces, tuple(troubles), tuple(left_out)


def untied(piece: Piece) -> Piece:
    """The piece as it stands by itself, nothing of it coming from the roster."""
    if not piece.tied:
        return piece
    parts = tuple(part.model_copy(update={"ties": ()}) if part.ties else part for part in piece.parts)
    return piece.model_copy(update={"ties": (), "parts": parts})


def _in_order(pieces: Iterable[Piece], said: Said) -> list[tuple[Holder, dict[str, str]]]:
    """Values by what they belong to: in the order of the parts, those of a part before those of what is done to it."""
    place = {key: at for at, key in enumerate(key for one in pieces for key in (one.id, *(p.id for p in one.parts)))}
    found: dict[str, dict[str, str]] = {}
    for of, text in said:
        address = Address.read(of)
        found.setdefault(str(address.holder), {})[address.field] = text
    held = [(Holder.read(of), dict(sorted(values.items()))) for of, values in found.items()]
    there = [one for one in held if one[0].id in place]

    def order(one: tuple[Holder, dict[str, str]]) -> tuple[int, bool, str]:
        holder = one[0]
        return place[holder.id], holder.kind not in ("piece", "part"), str(holder)

    return sorted(there, key=order)


def around(pieces: tuple[Piece, ...], unit: Unit, stock: float) -> Design:
    """A design that holds only what values of a piece are read by."""
    plain = Design()
    kept = plain.stock.model_copy(update={"measured": stock})
    return plain.model_copy(update={"name": "-", "unit": unit, "stock": kept, "pieces": pieces})
