"""Room: whether a hole that keeps its margin finds a place."""

from foliant.core.design.following import kept_place
from foliant.core.design.model import Part, Piece
from foliant.core.design.shapes import Hole
from foliant.core.errors import Refused
from foliant.core.units import Unit, format_length


def check_room(piece: Piece, part: Part, unit: Unit) -> None:
    """Raise `Refused` where a kept hole finds no place with its margin."""
    hole = part.shape
    if isinstance(hole, Hole) and hole.keeps_margin and kept_place(hole, piece, part.id) is None:
        size = hole.summary(unit)
        raise Refused(
            f"A hole of {size} with {format_length(hole.margin, unit)} to every edge finds no room on {piece.name}: "
            "take a smaller hole, a smaller margin, or more material."
        )
