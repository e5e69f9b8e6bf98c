"""Raised parts: letters and pictograms that are cut from another material and applied to the piece they are drawn on.

A piece that raises parts of another has no parts of its own: they are those of the other, where they lie on it.
"""

from collections.abc import Iterator
from typing import Any

from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.placing import part_region
from foliant.core.design.shapes import Braille, Drawn
from foliant.core.errors import Refused
from foliant.core.quantities import build

_LIES = ("shape", "x", "y", "rotation", "flipped", "repeat", "treatments")
_DERIVED = ("parts", "copies", "ties", "groups", "raises")


def raised_from(design: Design, piece: Piece) -> Piece | None:
    """The piece whose parts another raises; None where it raises none, or they are gone."""
    wanted = {one for one, _ in piece.raises}
    others = (other for other in design.pieces if not other.raises)
    return next((other for other in others if any(part.id in wanted for part in other.parts)), None) if wanted else None


def raised_on(design: Design, piece: Piece) -> Iterator[Piece]:
    """The pieces that raise parts of a piece."""
    own = {part.id for part in piece.parts}
    return (other for other in design.pieces if any(one in own for one, _ in other.raises))


def kept_up(piece: Piece, source: Piece) -> Piece:
    """A piece that raises parts of another, with these as they are now; those that are gone it no longer raises."""
    there = {part.id: part for part in source.parts}
    raises = tuple((one, own) for one, own in piece.raises if one in there)
    before = {part.id: part for part in piece.parts}
    parts = tuple(_raised(there[one], own, before.get(own)) for one, own in raises)
    found = {"raises": raises, "parts": parts, "copies": source.copies, "groups": ()}
    if all(getattr(piece, name) == value for name, value in found.items()):
        return piece
    return piece.model_copy(update=found)


def without_the_lost(design: Design, before: Design) -> Design:
    """The design without pieces of which all that they raised is gone. Raises `Refused` where what a piece raises was
    changed on it, and not where it is drawn.
    """
    if not any(piece.raises for piece in design.pieces):
        return design
    known = {piece.id: piece for piece in before.pieces}
    for piece in design.pieces:
        old = known.get(piece.id, piece)
        if piece.raises and any(getattr(piece, name) != getattr(old, name) for name in _DERIVED):
            source = raised_from(design, piece)
            where = f"on {source.name}" if source else "where they are drawn"
            raise Refused(f"What {piece.name} raises follows what it is applied to: change it {where}.")
    lost = {piece.id for piece in design.pieces if piece.raises and raised_from(design, piece) is None}
    lost = {one for one in lost if one in known and raised_from(before, known[one])}
    if not lost:
        return design
    return design.model_copy(update={"pieces": tuple(piece for piece in design.pieces if piece.id not in lost)})


def _raised(part: Part, own: str, before: Part | None) -> Part:
    """A part as it is cut out to be applied."""
    values: dict[str, Any] = {"id": own, "roles": ("adds",), "hidden": part.hidden}
    if part.made_of:  # what it follows is not there
        found = part_region(part).path
        if not len(found) and before:
            return before.model_copy(update={"hidden": True})
        left, top, right, bottom = found.bounds if len(found) else (0.0,) * 4
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
