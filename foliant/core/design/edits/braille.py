"""Putting Braille beneath words, which it then follows."""

from typing import Literal

from foliant.core.design.edits.command import PartsCommand, last_of, with_piece
from foliant.core.design.model import Design, Part
from foliant.core.design.placing import part_bounds
from foliant.core.design.shapes import Braille
from foliant.core.errors import Refused
from foliant.core.quantities import build

CLEAR = 9.5
"""How far, mm, Braille stays from letters and borders (ADA Standards, 703.3.2)."""


class BrailleBeneath(PartsCommand):
    """Put Braille beneath words, centred, which says what they say from then on."""

    do: Literal["braille-beneath"]

    def apply(self, design: Design) -> Design:
        piece, serial, new = design.piece(self.piece), design.serial, list[Part]()
        for part in self.chosen(design):
            if not part.shape.says or isinstance(part.shape, Braille):
                raise Refused(f"{part.shape.label()[:40]} says no words that Braille could follow; choose words.")
            serial += 1
            shape = build(Braille, {**last_of(design, Braille), "of": part.id}).kept_up(part.shape.says)
            left, _, right, bottom = part_bounds(part)
            place = {"x": (left + right) / 2, "y": bottom + CLEAR - shape.box()[1]}
            new.append(build(Part, {"id": f"a{serial}", "roles": (Braille.role,), "shape": shape, **place}))
        return with_piece(design, piece.model_copy(update={"parts": (*piece.parts, *new)}), serial=serial)

    def says(self, design: Design) -> str:
        return f"Braille beneath {self.named(design)}"
