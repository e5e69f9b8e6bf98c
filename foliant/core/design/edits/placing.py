"""Edits of place: move, put a point somewhere, align, spread."""

import math
from typing import Literal

from pydantic import Field

from foliant.core.design.edits.command import PartsCommand, Target, changed, check_target, moved
from foliant.core.design.holds import ANCHORS, PIECE, AnchorKey, Axis, Hold, Line, gap_at
from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.placing import (
    area_centre,
    held_bounds,
    measured_point,
    middle_box,
    part_bounds,
    part_paths,
)
from foliant.core.design.references import Reference, point_of, union
from foliant.core.design.settle import AXES, line_of, part_line
from foliant.core.errors import Refused
from foliant.core.quantities import Across, Down, Quantity

_DISTANCE = Quantity("length", "The distance", -3000, 3000)


class MoveParts(PartsCommand):
    """Shift parts by (dx, dy) mm."""

    do: Literal["move-parts"]
    dx: Across
    dy: Down

    def apply(self, design: Design) -> Design:
        return self.replaced(design, [moved(part, self.dx, self.dy) for part in self.bodily(design)], moved=True)

    def says(self, design: Design) -> str:
        return f"move {self.named(design)}"


class PlaceParts(PartsCommand):
    """Shift parts, as one, so that a reference point of the first of them comes to (x, y) mm.

    A coordinate that is left out, or None, stays as it is; `from_x` and `from_y` are where they count from.
    """

    do: Literal["place-parts"]
    x: float | str | None = None
    y: float | str | None = None
    reference: Reference | None = None
    from_x: Across = 0.0
    from_y: Down = 0.0

    def apply(self, design: Design) -> Design:
        parts = self.bodily(design)
        if len(parts) == 1 and self.reference:
            # What is measured on the drawing is measured from what is drawn.
            now = point_of(part_bounds(parts[0]), self.reference)
        elif len(parts) == 1:
            now = measured_point(parts[0], parts[0].reference)
        else:
            now = point_of(union([part_bounds(part) for part in parts]), self.reference or "middle")
        unit = design.unit
        x = now[0] if self.x is None else self.from_x + _PLACE_ACROSS.check(_PLACE_ACROSS.read(self.x, unit), unit)
        y = now[1] if self.y is None else self.from_y + _PLACE_DOWN.check(_PLACE_DOWN.read(self.y, unit), unit)
        return self.replaced(design, [moved(part, x - now[0], y - now[1]) for part in parts], moved=True)

    def says(self, design: Design) -> str:
        return f"place {self.named(design)}"


_PLACE_ACROSS = Quantity("length", "The place across", -5000, 5000)
_PLACE_DOWN = Quantity("length", "The place down", -5000, 5000)


class SetDistance(PartsCommand):
    """Shift parts so that their point at `to` comes to lie at a distance from the point `from`, the same way as now."""

    do: Literal["set-distance"]
    start: tuple[Across, Down] = Field(alias="from")
    to: tuple[Across, Down]
    distance: float | str

    def apply(self, design: Design) -> Design:
        wanted = _DISTANCE.check(_DISTANCE.read(self.distance, design.unit), design.unit)
        across, down = self.to[0] - self.start[0], self.to[1] - self.start[1]
        now = math.hypot(across, down)
        if now < 1e-6:
            raise Refused("Both points lie in one place, so there is no way to move along; move the part first.")
        share = wanted / now - 1
        return self.replaced(
            design, [moved(part, across * share, down * share) for part in self.bodily(design)], moved=True
        )

    def says(self, design: Design) -> str:
        return f"set the distance of {self.named(design)}"


class AlignParts(PartsCommand):
    """Align parts with a line of `to`: "piece", a part that stays, or "chosen", the box round them all.

    `across` and `down` say which lines meet, in the words of holds; None leaves that way as it is.
    They lie `gap` (mm or as typed) from an edge, counted as a hold counts it; middles meet. `as_one` moves the parts
    together; `hold` keeps the alignment whatever changes.
    """

    do: Literal["align-parts"]
    to: Target = PIECE
    across: AnchorKey | None = None
    down: AnchorKey | None = None
    gap: float | str = 0.0
    as_one: bool = False
    hold: bool = False

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        apart = _DISTANCE.number(self.gap, design.unit)
        parts = [part for part in self.bodily(design) if part.id != self.to]
        if self.to != "chosen":
            check_target(piece, self.to)
        elif self.hold:
            raise Refused("Parts cannot be held to each other's box; name one of them as the anchor.")
        if not parts:
            raise Refused("Choose a part besides the anchor to align with it.")
        names = frozenset(part.id for part in parts)
        result = {part.id: part for part in parts}
        for axis, key in zip(AXES, (self.across, self.down), strict=True):
            if key is None:
                continue
            gap = 0.0 if key in ("middle", "visual", "capitals") else apart
            theirs = self._target(piece, parts, axis, ANCHORS[key].theirs, names)
            for part in parts:
                mine = self._mine(parts, part, axis, ANCHORS[key].mine)
                away = theirs + ANCHORS[key].sign * gap - mine
                new = moved(result[part.id], away, 0) if axis == "across" else moved(result[part.id], 0, away)
                if self.hold:
                    at = ANCHORS[key].sign * (part_line(new, axis, ANCHORS[key].mine) - theirs)
                    new = changed(new, **{axis: Hold(to=self.to, anchor=key, gap=gap_at(at))})
                result[part.id] = new
        return self.replaced(design, result.values(), moved=not self.hold)

    def _mine(self, parts: list[Part], part: Part, axis: Axis, line: Line) -> float:
        if not self.as_one or len(parts) == 1:
            return part_line(part, axis, line)
        return _box_line(parts, axis, line)

    def _target(self, piece: Piece, parts: list[Part], axis: Axis, line: Line, names: frozenset[str]) -> float:
        if self.to == "chosen":
            return _box_line(parts, axis, line)
        found = line_of(piece, self.to, axis, line, *names)
        if found is None:
            raise Refused("There is nothing else on the piece to align with; put on what adds material first.")
        return found

    def says(self, design: Design) -> str:
        return f"{'hold' if self.hold else 'align'} {self.named(design)}"


class SpreadParts(PartsCommand):
    """Spread parts evenly along an axis, by equal gaps or by equal pitch (from middle to middle).

    With `distance` (mm or as typed) they follow the first at that gap or pitch; without, the outermost stay,
    or reach the edges of `within`: "piece" or a part. `margin` keeps them off those edges.
    """

    do: Literal["spread-parts"]
    axis: Axis
    by: Literal["gap", "pitch"] = "gap"
    distance: float | str | None = None
    within: Target | None = None
    margin: float | str = 0.0

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        at = 0 if self.axis == "across" else 1
        parts = sorted(self.bodily(design), key=lambda part: sum(held_bounds(part)[at::2]))
        parts = [part for part in parts if part.id != self.within]
        boxes = [held_bounds(part)[at::2] for part in parts]
        given = (
            None if self.distance is None else _DISTANCE.check(_DISTANCE.read(self.distance, design.unit), design.unit)
        )
        if len(parts) < (2 if given is not None or self.within else 3):
            raise Refused("Choose at least three parts to spread between the outermost, or two with a distance.")
        begin, end = boxes[0][0], boxes[-1][1]
        if self.within:
            margin = _DISTANCE.check(_DISTANCE.read(self.margin, design.unit), design.unit)
            near = line_of(piece, self.within, self.axis, "near", *self.parts)
            far = line_of(piece, self.within, self.axis, "far", *self.parts)
            if near is None or far is None:
                raise Refused("There is nothing else on the piece to spread within; put on what adds material first.")
            begin, end = near + margin, far - margin
        sizes = [high - low for low, high in boxes]
        starts = (
            self._by_gap(sizes, begin, end, given) if self.by == "gap" else self._by_pitch(sizes, begin, end, given)
        )
        shifts = [start - low for start, (low, _) in zip(starts, boxes, strict=True)]
        return self.replaced(
            design,
            [
                moved(part, *((shift, 0.0) if at == 0 else (0.0, shift)))
                for part, shift in zip(parts, shifts, strict=True)
            ],
            moved=True,
        )

    def _by_gap(self, sizes: list[float], begin: float, end: float, given: float | None) -> list[float]:
        gap = given if given is not None else (end - begin - sum(sizes)) / (len(sizes) - 1)
        if given is not None and self.within:
            begin = (begin + end - sum(sizes) - gap * (len(sizes) - 1)) / 2  # in the middle of what holds them
        return [begin + sum(sizes[:i]) + gap * i for i in range(len(sizes))]

    def _by_pitch(self, sizes: list[float], begin: float, end: float, given: float | None) -> list[float]:
        first, last = begin + sizes[0] / 2, end - sizes[-1] / 2
        pitch = given if given is not None else (last - first) / (len(sizes) - 1)
        if given is not None and self.within:
            first = (begin + end - pitch * (len(sizes) - 1)) / 2
        return [first + pitch * i - size / 2 for i, size in enumerate(sizes)]

    def says(self, design: Design) -> str:
        return f"spread {self.named(design)}"


def _box_line(parts: list[Part], axis: Axis, line: Line) -> float:
    at = 0 if axis == "across" else 1
    if line == "visual":
        return area_centre(tuple(path for part in parts for path in part_paths(part)))[at]
    box = union([(middle_box if line == "middle" else held_bounds)(part) for part in parts])
    half = (box[at] + box[at + 2]) / 2
    return {"near": box[at], "far": box[at + 2], "middle": half, "capitals": half}[line]
