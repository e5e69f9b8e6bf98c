"""Outlines that stand for words come alive: taken apart, and replaced by words in their place."""

from typing import Any, Literal

import numpy as np
import shapely
from pydantic import Field

from foliant.core.design.edits.command import PartsCommand, moved, with_piece
from foliant.core.design.model import MOST_PARTS, Design, Part
from foliant.core.design.placing import part_bounds, part_matrix
from foliant.core.design.references import union
from foliant.core.design.shapes import Drawn, Outline, Words
from foliant.core.errors import Refused
from foliant.core.paths import Path, join
from foliant.core.paths.flatten import flatten
from foliant.core.paths.nesting import contour
from foliant.core.quantities import build


class SeparateParts(PartsCommand):
    """Make every outline of parts that were brought in, traced or drawn a part of its own, where it lies: a contour
    with all that lies in it.
    """

    do: Literal["separate-parts"]

    def apply(self, design: Design) -> Design:
        piece, serial = design.piece(self.piece), design.serial
        chosen = {part.id for part in self.free(design)}
        parts: list[Part] = []
        for part in piece.parts:
            found = pieces_of(part) if part.id in chosen else []
            if len(found) < 2:
                parts.append(part)
                continue
            for path in found:
                serial += 1
                parts.append(_alone(part, path, f"a{serial}"))
        if serial == design.serial:
            raise Refused("What is chosen is of one outline each, so there is nothing to take apart.")
        if len(parts) > MOST_PARTS:
            raise Refused(f"That would be {len(parts):,} parts, and a project holds at most {MOST_PARTS:,}.")
        return with_piece(design, piece.model_copy(update={"parts": tuple(parts)}), serial=serial)

    def says(self, design: Design) -> str:
        return f"take {self.named(design)} apart"


class ReplaceWithWords(PartsCommand):
    """Put words in the place of outlines that stand for some: in the middle of their box, as high, and no wider,
    in the role of the first.
    """

    do: Literal["replace-with-words"]
    text: str = Field("Words", min_length=1, max_length=200)
    values: dict[str, Any] = Field(default_factory=dict)

    def apply(self, design: Design) -> Design:
        piece, parts = design.piece(self.piece), self.free(design)
        left, top, right, bottom = union([part_bounds(part) for part in parts])
        if bottom - top < 0.5 or right - left < 0.5:
            raise Refused("What is chosen is too small for words to take its place.")
        size = {"sized_by": "height", "height": round(bottom - top, 4), "at_most": round(right - left, 4)}
        words = build(Words, {"text": self.text, **size}).typed(self.values, design.unit)
        first = parts[0]
        place = {"x": (left + right) / 2, "y": (top + bottom) / 2, "group": first.group}
        new = build(Part, {"id": f"a{design.serial + 1}", "roles": first.roles, "shape": words, **place})
        # Words are placed by their capitals: their ink is what goes to the middle.
        box = part_bounds(new)
        new = moved(new, (left + right - box[0] - box[2]) / 2, (top + bottom - box[1] - box[3]) / 2)
        gone = {part.id for part in parts}
        at = min(index for index, part in enumerate(piece.parts) if part.id in gone)
        left_over = [part for part in piece.parts if part.id not in gone]
        before = sum(part.id not in gone for part in piece.parts[:at])
        kept = (*left_over[:before], new, *left_over[before:])
        return with_piece(design, piece.model_copy(update={"parts": kept}), serial=design.serial + 1)

    def says(self, design: Design) -> str:
        return f"replace {self.named(design)} with words"


def pieces_of(part: Part) -> list[Path]:
    """The separate outlines of a part about its origin, each with what lies in it; none of a part that has values."""
    if not isinstance(part.shape, (Outline, Drawn)) or part.repeat or part.treatments.each:
        return []
    whole = join(part.shape.paths())
    flat = flatten(whole, 0.02)
    number = whole.contour_of[flat.segment]
    boxes = []
    for index in range(len(whole.starts)):
        own = number == index
        points = np.concatenate([flat.points[own], flat.ends[own][-1:]])
        solid = whole.closed[index] and own.sum() >= 3
        boxes.append(shapely.Polygon(points) if solid else shapely.LineString(points))
    # What meets or lies in another belongs to it.
    one, other = shapely.STRtree(boxes).query(boxes, predicate="intersects")
    owner = list(range(len(boxes)))

    def root(index: int) -> int:
        while owner[index] != index:
            index = owner[index]
        return index

    for first, second in zip(one.tolist(), other.tolist(), strict=True):
        a, b = sorted((root(first), root(second)))
        owner[b] = a
    groups: dict[int, list[int]] = {}
    for index in range(len(boxes)):
        groups.setdefault(root(index), []).append(index)
    return [join(contour(whole, index) for index in some) for some in groups.values()]


def _alone(part: Part, path: Path, own: str) -> Part:
    name = part.shape.name if isinstance(part.shape, Outline) else ""
    shape, (x, y) = Outline.of([path], name)
    a, b, c, d, _, _ = part_matrix(part)
    free = {"id": own, "shape": shape, "across": None, "down": None, "ties": ()}
    return moved(part.model_copy(update=free), a * x + c * y, b * x + d * y)
