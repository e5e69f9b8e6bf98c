"""Raised parts: letters and pictograms that are cut from another material and applied to the piece they are drawn on.

A piece that raises a part of another has that part alone: as it is drawn there, where it lies there.
"""

from typing import Any

from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.placing import part_region
from foliant.core.design.shapes import Braille, Drawn
from foliant.core.errors import Refused
from foliant.core.quantities import build

_LIES = ("shape", "x", "y", "rotation", "flipped", "repeat", "treatments")
_DERIVED = ("parts", "copies", "ties", "groups", "raises")


def raised_from(design: Design, piece: Piece) -> Piece | None:
    """The piece that has the part which another raises; None where it raises none, or that is gone."""
    if not piece.raises:
        return None
    others = (other for other in design.pieces if not other.raises)
    return next((other for other in others if any(part.id == piece.raises for part in other.parts)), None)


def raised_on(design: Design, piece: Piece) -> tuple[Piece, ...]:
    """The pieces that raise parts of a piece."""
    own = {part.id for part in piece.parts}
    return tuple(other for other in design.pieces if other.raises in own)


def kept_up(piece: Piece, source: Piece) -> Piece:
    """A piece that raises a part of another, with that as it is now."""
    if not piece.parts:
        return piece
    was, now = piece.parts[0], _raised(source.part(piece.raises), piece.parts[0])
    if ((now,), source.copies) == (piece.parts, piece.copies):
        return piece
    name = name_of(now) if piece.name == name_of(was) else piece.name
    return piece.model_copy(update={"parts": (now,), "copies": source.copies, "name": name})


def name_of(part: Part) -> str:
    """What a piece is called that raises a part, until it is called otherwise."""
    return f"{' '.join(part.shape.label().split())[:60]}, raised"


def without_the_lost(design: Design, before: Design) -> Design:
    """The design without pieces of which what they raised is gone. Raises `Refused` where what a piece raises was
    changed on it, and not where it is drawn.
    """
    if not any(piece.raises for piece in design.pieces):
        return design
    known = {piece.id: piece for piece in before.pieces}
    lost = set()
    for piece in design.pieces:
        old, source = known.get(piece.id, piece), raised_from(design, piece)
        if piece.raises and any(getattr(piece, name) != getattr(old, name) for name in _DERIVED):
            where = f"on {source.name}" if source else "where it is drawn"
            raise Refused(f"{piece.name} follows what it is applied to: change it {where}.")
        if source is None and raised_from(before, old):
            lost.add(piece.id)
    if not lost:
        return design
    return design.model_copy(update={"pieces": tuple(piece for piece in design.pieces if piece.id not in lost)})


def _raised(part: Part, before: Part) -> Part:
    """A part as it is cut out to be applied."""
    values: dict[str, Any] = {"id": before.id, "roles": ("adds",), "hidden": part.hidden}
    if part.made_of:  # what it follows is not there
        found = part_region(part).path
        if not len(found):
            return before.model_copy(update={"hidden": True})
        left, top, right, bottom = found.bounds
        x, y = (left + right) / 2, (top + bottom) / 2
        values |= {"shape": Drawn.of(found.moved(-x, -y)), "x": x, "y": y}
    else:
        values |= {name: getattr(part, name) for name in _LIES}
        if isinstance(part.shape, Braille):
            values["shape"] = part.shape.model_copy(update={"of": ""})
        about = getattr(part.repeat, "about", "")
        if part.repeat and about:
            values["repeat"] = part.repeat.model_copy(update={"about": ""})
    raised = build(Part, values)
    return before if before == raised else raised
