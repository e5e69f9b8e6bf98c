"""Edits of size and direction: resize, rotate, flip."""

import math
from typing import Annotated, Literal

from foliant.core.design.edits.command import Command, PartsCommand, changed, members, moved, with_piece
from foliant.core.design.model import Design, Part
from foliant.core.design.names import Identifier
from foliant.core.design.placing import own_bounds, part_bounds, reference_point, shape_bounds
from foliant.core.design.references import Bounds, Point, Reference, point_of, union
from foliant.core.design.resolve import resolve
from foliant.core.design.settle import reheld
from foliant.core.design.shapes import Combination
from foliant.core.errors import Refused
from foliant.core.paths import similarity
from foliant.core.quantities import Quantity

_SIZE = {
    "width": Quantity("length", "The width", 0.1, 3000),
    "height": Quantity("length", "The height", 0.1, 3000),
}
_ANGLE = Quantity("angle", "The angle", -3600, 3600)


class ResizeParts(PartsCommand):
    """Give parts another width or height, in mm or as typed.

    One part, or `each` of several, is sized along its own sides about its own point `about`; several are
    else sized as one about that point of the box round them. `proportional` keeps the other size in step.
    """

    do: Literal["resize-parts"]
    width: float | str | None = None
    height: float | str | None = None
    about: Reference | None = None
    proportional: bool = False
    each: bool = False

    def apply(self, design: Design) -> Design:
        parts, split = self._sizable(design)
        size = {
            field: quantity.check(quantity.read(getattr(self, field), design.unit), design.unit)
            for field, quantity in _SIZE.items()
            if getattr(self, field) is not None
        }
        if not size:
            raise Refused("Give a width or a height to size to.")
        if not split and (len(parts) == 1 or self.each):
            return self.replaced(design, [self._sized_alone(part, size) for part in parts], moved=True)
        box = union([own_bounds(part) for part in parts])
        across, down = self._factors(box, size, self.proportional)
        fixed = point_of(box, self.about or "middle")
        sized = self.replaced(design, [_scaled_about(part, across, down, fixed) for part in parts])
        return with_piece(sized, reheld(sized.piece(self.piece), {part.id for part in parts}))

    def _sizable(self, design: Design) -> tuple[list[Part], bool]:
        """The parts to size, combinations as what they are made of; and whether any was one."""
        piece, parts = design.piece(self.piece), self.bodily(design)
        found: list[Part] = []
        for part in parts:
            inner = [one for one in members(piece, part.id) if not isinstance(one.shape, Combination)]
            found += inner or [part]
        return found, any(isinstance(part.shape, Combination) for part in parts)

    def _sized_alone(self, part: Part, size: dict[str, float]) -> Part:
        proportional = self.proportional or part.proportional
        x, y = reference_point(part, part.reference)
        # What is grown, say, does not grow by the same factor as its shape: measure, and size again.
        for _ in range(4 if part.form is not part.shape else 1):
            across, down = self._factors(shape_bounds(part.form), size, proportional)
            part = resized(part, across, down, self.about or part.reference)
        if self.about:
            return part
        # The point that it is placed by stays, which for words is one of the box of their capitals.
        now = reference_point(part, part.reference)
        return moved(part, x - now[0], y - now[1])

    def _factors(self, box: Bounds, size: dict[str, float], proportional: bool) -> tuple[float, float]:
        wide, tall = box[2] - box[0], box[3] - box[1]
        across = size["width"] / wide if "width" in size and wide else None
        down = size["height"] / tall if "height" in size and tall else None
        if proportional:
            both = [factor for factor in (across, down) if factor is not None]
            factor = max(both, key=lambda f: abs(math.log(f))) if both else 1.0
            return factor, factor
        return across or 1.0, down or 1.0

    def says(self, design: Design) -> str:
        return f"resize {self.named(design)}"


class SizePiece(Command):
    """Give a piece another width or height, by sizing the parts that reach from one of its edges to the other."""

    do: Literal["size-piece"]
    piece: Identifier
    width: float | str | None = None
    height: float | str | None = None

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        bounds = resolve(piece).bounds
        at = 0 if self.width is not None else 1
        spanning = tuple(
            part.id
            for part in piece.made
            if part.plays("adds") and all(abs(part_bounds(part)[i] - bounds[i]) < 0.01 for i in (at, at + 2))
        )
        if not spanning:
            raise Refused("No single part reaches from edge to edge of this piece; choose the part to size.")
        size = {"width": self.width} if self.width is not None else {"height": self.height}
        return ResizeParts(do="resize-parts", piece=self.piece, parts=spanning, each=True, **size).apply(design)

    def says(self, design: Design) -> str:
        return f"resize {design.piece(self.piece).name}"


class RotateParts(PartsCommand):
    """Turn parts clockwise by an angle about the middle of their box, or each about its own middle."""

    do: Literal["rotate-parts"]
    by: Annotated[float, _ANGLE]
    each: bool = False

    def apply(self, design: Design) -> Design:
        parts = self.bodily(design)
        centre = point_of(union([own_bounds(part) for part in parts]), "middle")
        return self.replaced(
            design,
            [_turned(part, self.by, point_of(own_bounds(part), "middle") if self.each else centre) for part in parts],
            moved=True,
        )

    def says(self, design: Design) -> str:
        return f"rotate {self.named(design)}"


class FlipParts(PartsCommand):
    """Mirror parts, as one, left to right (across) or top to bottom (down)."""

    do: Literal["flip-parts"]
    axis: Literal["across", "down"]

    def apply(self, design: Design) -> Design:
        parts = self.bodily(design)
        centre = point_of(union([own_bounds(part) for part in parts]), "middle")
        return self.replaced(design, [self._flipped(part, centre) for part in parts], moved=True)

    def _flipped(self, part: Part, centre: Point) -> Part:
        # Mirrored left to right the turn goes the other way; top to bottom is that and half a turn more.
        if self.axis == "across":
            return changed(
                part, flipped=not part.flipped, x=round(2 * centre[0] - part.x, 6), rotation=_turn(-part.rotation)
            )
        return changed(
            part, flipped=not part.flipped, y=round(2 * centre[1] - part.y, 6), rotation=_turn(180 - part.rotation)
        )

    def says(self, design: Design) -> str:
        return f"flip {self.named(design)}"


def resized(part: Part, across: float, down: float, about: Reference) -> Part:
    """The part `across` times as wide and `down` times as tall, along its own sides; a point of it stays."""
    if abs(across - 1) < 1e-12 and abs(down - 1) < 1e-12:
        return part
    new = changed(part, shape=part.shape.resized(across, down))
    if about == "visual":
        old_at, new_at = reference_point(part, about), reference_point(new, about)
        return moved(new, old_at[0] - new_at[0], old_at[1] - new_at[1])
    old_at, new_at = (own_point(found, about) for found in (part, new))
    return moved(new, old_at[0] - new_at[0], old_at[1] - new_at[1])


def own_point(part: Part, reference: Reference) -> Point:
    """A reference point of a part's own box, turned and flipped with the part, on its piece."""
    x, y = point_of(shape_bounds(part.form), reference)
    x = -x if part.flipped else x
    a, b, c, d, e, f = similarity(part.rotation, 1.0, part.x, part.y)
    return a * x + c * y + e, b * x + d * y + f


def _scaled_about(part: Part, across: float, down: float, fixed: Point) -> Part:
    """The part sized as one of several: its middle goes with the box, its shape as far as it can."""
    turn = part.rotation % 180
    if min(turn, 180 - turn) < 1e-6:
        new = resized(part, across, down, "middle")
    elif abs(turn - 90) < 1e-6:
        new = resized(part, down, across, "middle")
    else:
        factor = math.sqrt(across * down)
        new = resized(part, factor, factor, "middle")
    here, now = point_of(own_bounds(part), "middle"), point_of(own_bounds(new), "middle")
    there = (fixed[0] + (here[0] - fixed[0]) * across, fixed[1] + (here[1] - fixed[1]) * down)
    return moved(new, there[0] - now[0], there[1] - now[1])


def _turned(part: Part, by: float, centre: Point) -> Part:
    a, b, c, d, _, _ = similarity(by)
    x, y = part.x - centre[0], part.y - centre[1]
    return changed(
        part,
        x=round(centre[0] + a * x + c * y, 6),
        y=round(centre[1] + b * x + d * y, 6),
        rotation=_turn(part.rotation + by),
    )


def _turn(degrees: float) -> float:
    """An angle from 0 to under 360, so that four quarter turns come back to where they began."""
    turned = round(degrees % 360, 6)
    return 0.0 if turned == 360 else turned
