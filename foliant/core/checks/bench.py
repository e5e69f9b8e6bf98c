"""What a check of one piece knows."""

from dataclasses import dataclass

from foliant.core.design import Piece
from foliant.core.units import Unit


@dataclass(frozen=True)
class Bench:
    """A piece, the thinnest web of its material that holds (mm), the width of the cut (mm), and the maker's unit.

    carried  whether it stays on what carries it once it is cut, so that nothing of it falls
    """

    piece: Piece
    limit: float
    kerf: float
    unit: Unit
    carried: bool = False
