"""Edits of the project and its pieces."""

from typing import Literal

from foliant.core.design.edits.command import Command, Values, fields, renumbered, with_design, with_places_if
from foliant.core.design.edits.putting import Holder, put
from foliant.core.design.model import Design, Group, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.raising import kept_up, raised_on
from foliant.core.quantities import build
from foliant.core.units import Unit


class Rename(Command):
    """Give the project another name."""

    do: Literal["rename"]
    name: str

    def apply(self, design: Design) -> Design:
        return put(design, Holder("project"), {"name": self.name})

    def says(self, design: Design) -> str:
        return f"rename to “{self.name[:40]}”"


class SetUnit(Command):
    """Show the project's lengths in mm, inches or fractions of an inch; no size changes."""

    do: Literal["set-unit"]
    unit: Unit

    def apply(self, design: Design) -> Design:
        return put(design, Holder("project"), {"unit": self.unit})

    def says(self, design: Design) -> str:
        return {"mm": "show mm", "in": "show inches", "fraction": "show fractions of an inch"}[self.unit]


class AddPiece(Command):
    """A new, empty piece."""

    do: Literal["add-piece"]
    name: str = ""

    def apply(self, design: Design) -> Design:
        name = self.name or unused_name("Piece", design)
        piece = build(Piece, {"id": f"p{design.serial + 1}", "name": name, "bench": design.bench})
        return with_design(design, pieces=(*design.pieces, piece), serial=design.serial + 1)

    def says(self, design: Design) -> str:
        return "add a piece"


class DuplicatePiece(Command):
    """A copy of a piece with all its parts, placed after it."""

    do: Literal["duplicate-piece"]
    piece: Identifier

    def apply(self, design: Design) -> Design:
        source = design.piece(self.piece)
        copy, serial = copied_piece(source, design.serial)
        copy = copy.model_copy(update={"name": unused_name(source.name, design)})
        new, ids = [copy], dict(zip((part.id for part in source.parts), copy.parts, strict=True))
        for raised in raised_on(design, source):
            twin, serial = copied_piece(raised, serial)
            own = {"name": unused_name(raised.name, design), "raises": ids[raised.raises].id}
            new.append(kept_up(twin.model_copy(update=own), copy))
        at = design.pieces.index(source) + 1
        return with_design(design, pieces=(*design.pieces[:at], *new, *design.pieces[at:]), serial=serial)

    def says(self, design: Design) -> str:
        return f"duplicate {design.piece(self.piece).name}"


class RemovePiece(Command):
    """Take a piece out of the project, and off the sheet."""

    do: Literal["remove-piece"]
    piece: Identifier

    def apply(self, design: Design) -> Design:
        gone = design.piece(self.piece)
        pieces = tuple(piece for piece in design.pieces if piece is not gone)
        return with_places_if(with_design(design, pieces=pieces), lambda place: place.piece != gone.id)

    def says(self, design: Design) -> str:
        return f"delete {design.piece(self.piece).name}"


def unused_name(name: str, design: Design) -> str:
    taken = {piece.name for piece in design.pieces}
    stem = name.rstrip("0123456789 ") or name
    number = next(n for n in range(1, len(taken) + 2) if f"{stem} {n}" not in taken)
    return f"{stem} {number}" if name in taken or name == "Piece" else name


def copied_piece(source: Piece, serial: int) -> tuple[Piece, int]:
    """A piece of its own with the same parts, and the number of the last id that it took."""
    own = f"p{serial + 1}"
    parts, _ = renumbered(source.parts, serial + 1)
    serial += 1 + len(parts)
    groups = {group.id: f"g{serial + i}" for i, group in enumerate(source.groups, 1)}
    values: Values = {
        **fields(source),
        "id": own,
        "parts": tuple(part.model_copy(update={"group": groups.get(part.group or "")}) for part in parts),
        "groups": tuple(Group(id=groups[group.id], group=groups.get(group.group or "")) for group in source.groups),
        "raises": "",
    }
    return build(Piece, values), serial + len(groups)
