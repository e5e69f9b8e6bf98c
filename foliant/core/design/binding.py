"""Binding: a piece with what a row of the roster says put into it, as if it had been typed there by hand."""

import logging
from collections.abc import Iterator
from dataclasses import dataclass

from foliant.core.design.benches import thicknesses
from foliant.core.design.edits.putting import Holder, put
from foliant.core.design.model import Bench, Design, Piece, Stock
from foliant.core.design.roster import Roster, Row, value_of
from foliant.core.design.settle import settled_design
from foliant.core.design.shapes import Lap, Words
from foliant.core.errors import Refused
from foliant.core.remembering import remembered
from foliant.core.units import Unit

Said = tuple[tuple[str, str], ...]
"""Values to be put, as (address, text); or why they could not be, as (address, sentence)."""

_TEXT, _HIDDEN = "text", "hidden"

logger = logging.getLogger("foliant.binding")


@dataclass(frozen=True, eq=False)
class Bound:
    """A piece as it is for one row.

    row       the row, and `called` what it is called
    troubles  why values of the row could not be put, as (address, sentence): those are as on the piece itself
    left_out  the words that the row has nothing for, by their part: they are left out
    """

    piece: Piece
    row: Row
    called: str
    troubles: Said
    left_out: tuple[str, ...]


def tied_pieces(design: Design) -> frozenset[str]:
    """The pieces of which there is one for each row, by their ids: those that take values from the roster, and those
    that are lapped with them or raise parts of them.
    """
    return frozenset(one.id for piece in design.pieces if piece.tied for one in _company(design, piece))


def bound_rows(design: Design, piece: Piece) -> Iterator[Bound]:
    """A tied piece for every row, one after the other as they are asked for. What is refused is trouble of its row."""
    company = _company(design, piece)
    for number, row in enumerate(design.roster.rows, 1):
        yield _bound(design, company, piece, row, number)


def bound_row(design: Design, piece: Piece, row_id: str) -> Bound:
    """A tied piece for one row; raises `Refused` where the row is gone."""
    row = design.roster.row(row_id)
    return _bound(design, _company(design, piece), piece, row, design.roster.rows.index(row) + 1)


def with_row(design: Design, row_id: str) -> Design:
    """The design with every tied piece as one row has it, nothing of it coming from the roster any more.

    Raises `Refused` where the row is gone.
    """
    tied = tied_pieces(design)
    pieces = tuple(bound_row(design, piece, row_id).piece if piece.id in tied else piece for piece in design.pieces)
    return design.model_copy(update={"pieces": pieces})


def untied(piece: Piece) -> Piece:
    """The piece as it stands by itself, nothing of it coming from the roster."""
    if not piece.tied:
        return piece
    parts = tuple(part.model_copy(update={"ties": ()}) if part.ties else part for part in piece.parts)
    return piece.model_copy(update={"ties": (), "parts": parts})


Thick = tuple[tuple[str, float], ...]
"""How thick the stock of each bench is, mm."""


def around(pieces: tuple[Piece, ...], unit: Unit, thick: Thick) -> Design:
    """A design that holds only what values of a piece are read by."""
    first, *others = (Bench(id=bench, stock=Stock(measured=stock)) for bench, stock in sorted(thick))
    stands = {"stock": first.stock, "bench": first.id, "benches": tuple(others)}
    return Design().model_copy(update={"name": "-", "unit": unit, "pieces": pieces, **stands})


def _bound(design: Design, company: tuple[Piece, ...], piece: Piece, row: Row, number: int) -> Bound:
    roster = design.roster
    own = {part.id for part in piece.parts} | {piece.id}
    said = tuple(said for one in company for said in _said(one, roster, row, number))
    pieces, troubles, left_out = _bind(company, roster.unit, tuple(thicknesses(design).items()), said)
    mine = tuple(trouble for trouble in troubles if own & set(trouble[0].split()))
    gone = tuple(part for part in left_out if part in own)
    return Bound(pieces[company.index(piece)], row, roster.called(row, number), mine, gone)


def _company(design: Design, piece: Piece) -> tuple[Piece, ...]:
    """A piece with those that it is lapped with, and those that raise parts of it, in the order of the design."""
    beside = _beside(design.pieces)
    found, waiting = {piece.id}, [piece.id]
    while waiting:
        new = beside.get(waiting.pop(), frozenset()) - found
        found |= new
        waiting += new
    return tuple(one for one in design.pieces if one.id in found)


@remembered
def _beside(pieces: tuple[Piece, ...]) -> dict[str, frozenset[str]]:
    """The pieces that each is lapped with, raises parts of, or is raised by."""
    owners = {part.id: one.id for one in pieces for part in one.parts}
    found: dict[str, set[str]] = {}
    for one in pieces:
        laps = (part.shape.mate for part in one.parts if isinstance(part.shape, Lap))
        for other in (owners[key] for key in (*laps, one.raises) if key in owners):
            found.setdefault(one.id, set()).add(other)
            found.setdefault(other, set()).add(one.id)
    return {key: frozenset(others) for key, others in found.items()}


def _said(piece: Piece, roster: Roster, row: Row, number: int) -> Iterator[tuple[str, str]]:
    """The values of a row for a piece: those that are tied, and over them those that are its own."""
    values = {of: value_of(of, says, roster, row, number) for of, says in piece.all_ties()}
    for part in piece.parts:
        if isinstance(part.shape, Words) and part.shape.over_rows == "one" and f"part {part.id} text" in values:
            address = f"part {part.id} text"
            texts = _texts(address, dict(piece.all_ties())[address], roster)
            values[f"part {part.id} cap_height"] = f"{_smallest(part.shape, texts)} mm"
            values[f"part {part.id} sized_by"] = "capitals"
    ids = {part.id for part in piece.parts} | {piece.id}
    values |= {of: text for of, text in row.own if ids & set(of.split())}
    yield from values.items()


@remembered
def _texts(address: str, says: str, roster: Roster) -> tuple[str, ...]:
    """What the words at an address say in all rows, each once."""
    every = (
        dict(row.own).get(address, value_of(address, says, roster, row, number))
        for number, row in enumerate(roster.rows, 1)
    )
    return tuple(dict.fromkeys(text for text in every if text))


@remembered
def _smallest(words: Words, texts: tuple[str, ...]) -> float:
    """The height of the capitals at which all texts keep the limits of the words, mm."""
    sizes = [words.model_copy(update={"text": text}).cap for text in texts]
    return round(min(sizes, default=words.cap), 6)


@remembered
def _bind(
    pieces: tuple[Piece, ...], unit: Unit, thick: Thick, said: Said
) -> tuple[tuple[Piece, ...], Said, tuple[str, ...]]:
    """Pieces with values put into them, in the one order in which they are always put."""
    # A lock keeps hands off a part, and rows are not hands.
    locked = frozenset(part.id for piece in pieces for part in piece.parts if part.locked)
    plain = tuple(_marked(untied(piece), locked, False) for piece in pieces)
    design = around(plain, unit, thick)
    troubles: list[tuple[str, str]] = []
    left_out: list[str] = []
    for of, values in _in_order(plain, said):
        if values.get(_TEXT) == "":
            left_out.append(of.split()[1])
            values = {**{field: raw for field, raw in values.items() if field != _TEXT}, _HIDDEN: "yes"}
        wanted = {field: raw for field, raw in values.items() if raw != ""}
        if not wanted:
            continue  # an empty cell leaves the value as it is
        try:
            design = settled_design(put(design, _holder(of), wanted), design)
        except Refused as refusal:
            troubles.append((of, str(refusal)))
        except Exception:  # whatever is stored can be shown
            logger.exception("A value of a row cannot be put")
            troubles.append((of, f"A value of “{of[:40]}” cannot be used there."))
    return tuple(_marked(piece, locked, True) for piece in design.pieces), tuple(troubles), tuple(left_out)


def _marked(piece: Piece, ids: frozenset[str], locked: bool) -> Piece:
    """The piece with some of its parts locked or not."""
    if not any(part.id in ids for part in piece.parts):
        return piece
    parts = (part.model_copy(update={"locked": locked}) if part.id in ids else part for part in piece.parts)
    return piece.model_copy(update={"parts": tuple(parts)})


def _holder(of: str) -> Holder:
    """What values of the roster belong to: a piece, or something of a part; raises `Refused` for anything else."""
    holder = Holder.read(of)
    if len(holder.ids) != 1:
        raise Refused(f"“{of[:40]}” takes no values from the roster.")
    return holder


def _in_order(pieces: tuple[Piece, ...], said: Said) -> list[tuple[str, dict[str, str]]]:
    """Values by what they belong to: in the order of the parts, those of a part before those of what is done to it."""
    place = {key: at for at, key in enumerate(key for one in pieces for key in (one.id, *(p.id for p in one.parts)))}
    found: dict[str, dict[str, str]] = {}
    for of, text in said:
        holder, _, field = of.rpartition(" ")
        found.setdefault(holder, {})[field] = text

    def order(of: str) -> tuple[int, bool, str]:
        kind, *ids = of.split() or [""]
        return place.get(ids[0] if ids else "", len(place)), kind not in ("piece", "part"), of

    return [(of, dict(sorted(found[of].items()))) for of in sorted(found, key=order)]
