"""Edits of size and direction: resize, rotate, flip."""

import math
from typing import Annotated, Literal

from foliant.core.design.edits.as_one import AsOne
from foliant.core.design.edits.command import Command, PartsCommand, changed, members, moved, with_piece
from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.placing import box_round, own_bounds, part_bounds, reference_point, shape_bounds
from foliant.core.design.references import Bounds, Point, Reference, point_of, union
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes import Combination
from foliant.core.errors import Refused
from foliant.core.paths import similarity
from foliant.core.quantities import Quantity
from foliant.core.units import Unit

_SIZE = {
    "width": Quantity("length", "The width", 0.1, 3000),
    "height": Quantity("length", "The height", 0.1, 3000),
}
_MOST_TRIES = 5
_SAME = 1e-7
_ANGLE = Quantity("angle", "The angle", -3600, 3600)


class ResizeParts(PartsCommand):
    """Give parts another width or height, in mm or as typed.

    One part, or `each` of several, is sized along its own sides about its own point `about`; several are
    else sized as one about that point of the box round them, see `AsOne`. `proportional` keeps the other size in
    step.
    """

    do: Literal["resize-parts"]
    width: float | str | None = None
    height: float | str | None = None
    about: Reference | None = None
    proportional: bool = False
    each: bool = False

    def apply(self, design: Design) -> Design:
        parts, split = self.sizable(design)
        size = lengths_of({"width": self.width, "height": self.height}, design.unit)
        if not split and (len(parts) == 1 or self.each):
            return self.replaced(design, [self._sized_alone(part, size) for part in parts], moved=True)
        chosen = {part.id for part in parts} | set(self.parts)

        def measure(piece: Piece) -> Bounds:
            return box_round(part for part in piece.parts if part.id in chosen)

        as_one = AsOne(design.piece(self.piece), parts, _scaled_about, measure, self.about or "middle")
        return with_piece(design, as_one.sized(size, self.proportional))

    def sizable(self, design: Design) -> tuple[list[Part], bool]:
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
        for _ in range(_MOST_TRIES):
            across, down = self._factors(shape_bounds(part.form), size, proportional)
            if abs(across - 1) < _SAME and abs(down - 1) < _SAME:
                break
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


def lengths_of(size: dict[str, float | str | None], unit: Unit) -> dict[str, float]:
    """A width and a height, mm, as they are typed; raises `Refused`."""
    found = {
        field: quantity.check(quantity.read(raw, unit), unit)
        for field, quantity in _SIZE.items()
        if (raw := size.get(field)) is not None
    }
    if not found:
        raise Refused("Give a width or a height to size to.")
    return found


class SizePiece(Command):
    """Give a piece another width or height: of its `plate`, that is of the parts that reach from edge to edge, or of
    the `whole`, all of it in proportion. Where it is not said which, its plate is sized if it has one of its own.
    """

    do: Literal["size-piece"]
    piece: Identifier
    width: float | str | None = None
    height: float | str | None = None
    how: Literal["plate", "whole"] | None = None

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        size: dict[str, float | str | None] = {"width": self.width, "height": self.height}
        if self.way(piece) == "plate":
            plate = tuple(part.id for part in plate_of(piece, self._side))
            if not plate:
                raise Refused("No single part reaches from edge to edge of this piece: size the whole of it.")
            return ResizeParts(do="resize-parts", piece=self.piece, parts=plate, each=True, **size).apply(design)
        whole = ResizeParts(do="resize-parts", piece=self.piece, parts=tuple(part.id for part in piece.parts))
        parts, _ = whole.sizable(design)
        as_one = AsOne(piece, parts, _scaled_about, lambda one: resolve(one).bounds)
        return with_piece(design, as_one.sized(lengths_of(size, design.unit), proportional=True))

    def way(self, piece: Piece) -> Literal["plate", "whole"]:
        """How it is reached."""
        return self.how or ("plate" if plate_of(piece, self._side) else "whole")

    @property
    def _side(self) -> Literal[0, 1]:
        return 0 if self.width is not None else 1

    def says(self, design: Design) -> str:
        whole = " as a whole" if self.way(design.piece(self.piece)) == "whole" else ""
        return f"resize {design.piece(self.piece).name}{whole}"


def plate_of(piece: Piece, side: Literal[0, 1]) -> tuple[Part, ...]:
    """The parts that add to a piece and reach from edge to edge of it, across (0) or down (1)."""
    bounds = resolve(piece).bounds
    adding = (part for part in piece.made if part.plays("adds") and not part.made_of)
    ends = (side, side + 2)
    return tuple(part for part in adding if all(abs(part_bounds(part)[i] - bounds[i]) < 0.01 for i in ends))


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
