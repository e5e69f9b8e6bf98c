"""Tracing pictures."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from foliant.core.design.edits.command import PartsCommand, with_piece
from foliant.core.design.model import Design, Part, Piece, Role
from foliant.core.design.placing import part_matrix, placed
from foliant.core.design.shapes import Outline, Picture
from foliant.core.errors import Refused
from foliant.core.paths import intersect
from foliant.core.paths.shapes import rectangle
from foliant.core.quantities import build
from foliant.core.seeing import Pictured
from foliant.core.seeing.tracing import MOST_TONES, Tracing, darkness_of, dots_traced, traced, usual_darkness

_DOTS_A_SEGMENT = 10
"""How many dots are traced in the time in which a segment is welded."""

_ROLES: dict[str, Role] = {"areas": "engraves", "outer": "adds", "middle": "scores"}


class TracePictures(PartsCommand):
    """Trace pictures: a part of true curves for each tone, where the picture lies; see `core.seeing.Tracing`.

    dark     percent; where it is not said, what parts the light from the dark best
    speck, smooth  mm
    corner   degrees
    role     of what is traced; else areas engrave, outer outlines add and the middle of lines is scored
    picture  what becomes of the picture: it goes, stays beneath as a guide, or stays as it is
    """

    do: Literal["trace-pictures"]
    what: Literal["areas", "outer", "middle"] = "areas"
    dark: Annotated[float | None, Field(ge=0, le=100)] = None
    tones: Annotated[int, Field(ge=1, le=MOST_TONES)] = 1
    speck: Annotated[float, Field(ge=0, le=100)] = 0.6
    smooth: Annotated[float, Field(ge=0.02, le=5)] = 0.05
    corner: Annotated[float, Field(ge=5, le=175)] = 40.0
    inverted: bool = False
    role: Role | None = None
    picture: Literal["goes", "guides", "stays"] = "goes"

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        pictures = [part for part in self.free(design) if isinstance(part.shape, Picture)]
        if not pictures:
            raise Refused("Choose a picture, as nothing else can be traced.")
        parts, serial = [], design.serial
        for part in pictures:
            for name, (shape, (x, y)) in self._shapes(part):
                serial += 1
                role = self.role or _ROLES[self.what]
                place = {"x": round(x, 6), "y": round(y, 6), "proportional": True}
                own = {"id": f"a{serial}", "roles": (role,), **place}
                parts.append(build(Part, {**own, "shape": shape.model_copy(update={"name": name})}))
        if not parts:
            raise Refused("Nothing of it is dark enough to be traced: take what is lighter too.")
        grown = piece.model_copy(update={"parts": (*self._left(piece, {part.id for part in pictures}), *parts)})
        return with_piece(design, grown, serial=serial)

    def effort(self, design: Design) -> int:
        pictures = [part for part in self.free(design) if isinstance(part.shape, Picture)]
        return self.tones * sum(map(effort_of_tracing, pictures))

    def _shapes(self, part: Part) -> list[tuple[str, tuple[Outline, tuple[float, float]]]]:
        pictured = pictured_of(part)
        how = Tracing(self.what, 0.0, self.tones, self.speck, self.smooth, self.corner, self.inverted)
        dark = usual_darkness(darkness_of(pictured, how)) if self.dark is None else self.dark
        found = traced(pictured, replace(how, dark=dark))
        name = part.shape.label()[:60]
        several = len(found) > 1
        return [
            (f"{name}, tone {number}" if several else name, Outline.of([path]))
            for number, path in enumerate(found, 1)
            if len(path)
        ]

    def _left(self, piece: Piece, pictures: set[str]) -> tuple[Part, ...]:
        """The parts of the piece with what becomes of its pictures."""
        if self.picture == "stays":
            return piece.parts
        if self.picture == "goes":
            return tuple(part for part in piece.parts if part.id not in pictures)
        guide = {"roles": ("guides",), "operations": ()}
        return tuple(part.model_copy(update=guide) if part.id in pictures else part for part in piece.parts)

    def says(self, design: Design) -> str:
        return f"trace {self.named(design)}"


def effort_of_tracing(part: Part) -> int:
    """How much there is to work out of a tone of a picture, in segments as pieces weigh."""
    return dots_traced(pictured_of(part)) // _DOTS_A_SEGMENT


def pictured_of(part: Part) -> Pictured:
    """What is seen of a picture, where it lies on its piece."""
    look, matrix = part.shape.look, part_matrix(part)
    assert look is not None
    whole = rectangle(look.width, look.height).transformed(matrix)
    return Pictured(look, matrix, intersect([placed(part.form, matrix), [whole]]))
