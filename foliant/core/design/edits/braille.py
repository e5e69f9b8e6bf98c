"""Putting Braille beneath words, which it then follows."""

from typing import Literal

from foliant.core.braille.sizes import CLEAR
from foliant.core.design.edits.command import PartsCommand, last_of, with_piece
from foliant.core.design.edits.placing import AlignParts
from foliant.core.design.model import Design, Part
from foliant.core.design.placing import part_bounds, placing_box
from foliant.core.design.shapes import Braille
from foliant.core.errors import Refused
from foliant.core.quantities import build

_SPARE = 0.5


class BrailleBeneath(PartsCommand):
    """Put Braille beneath words, centred and held there, which says what they say from then on."""

    do: Literal["braille-beneath"]

    def apply(self, design: Design) -> Design:
        piece, serial, new = design.piece(self.piece), design.serial, list[Part]()
        for part in self.chosen(design):
            if not part.shape.says or isinstance(part.shape, Braille):
                raise Refused(f"{part.shape.label()[:40]} says no words that Braille could follow; choose words.")
            serial += 1
            shape = build(Braille, {**last_of(design, Braille), "of": part.id}).kept_up(part.shape.says)
            new.append(build(Part, {"id": f"a{serial}", "roles": (Braille.role,), "shape": shape}))
        design = with_piece(design, piece.model_copy(update={"parts": (*piece.parts, *new)}), serial=serial)
        for words, one in zip(self.chosen(design), new, strict=True):
            reach = part_bounds(words)[3] - placing_box(words)[3]  # of tails, and of round letters, below their line
            gap = CLEAR + max(_SPARE, round(reach + _SPARE / 2, 1))
            beneath = AlignParts(
                do="align-parts", piece=piece.id, parts=(one.id,), to=words.id, across="middle", down="after", gap=gap,
                hold=True,
            )  # fmt: skip
            design = beneath.apply(design)
        return design

    def says(self, design: Design) -> str:
        return f"Braille beneath {self.named(design)}"
