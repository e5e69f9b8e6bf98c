"""How high a sign with Braille is hung, so that hands find its letters."""

from foliant.core.braille.sizes import HUNG
from foliant.core.design.model import Piece
from foliant.core.design.placing import part_bounds, placing_box
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes import Braille, Words


def hung(piece: Piece) -> tuple[float, float] | None:
    """How high above the floor the lower edge of a piece hangs at least and at most, mm, so that its lowest line lies
    high enough and its highest low enough; None for one without Braille.
    """
    signs = [part for part in piece.made if isinstance(part.shape, Braille)]
    if not signs:
        return None
    told = {part.shape.of for part in signs if isinstance(part.shape, Braille)}
    lines = [part_bounds(part) for part in signs]
    letters = [(part, part.shape) for part in piece.made if part.id in told and isinstance(part.shape, Words)]
    lowest = max([box[3] for box in lines] + [placing_box(part)[3] for part, _ in letters])
    highest = min([box[3] for box in lines] + [placing_box(part)[1] + words.cap for part, words in letters])
    edge = resolve(piece).bounds[3]
    return HUNG[0] - (edge - lowest), HUNG[1] - (edge - highest)
