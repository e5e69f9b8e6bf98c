"""Taking in what was brought: parts onto a piece, or new pieces of them."""

from collections.abc import Sequence
from typing import Any, Literal

from fontTools.misc.transform import Transform
from pydantic import Field

from foliant.core.design.edits.command import (
    Command,
    Values,
    changed,
    fields,
    renumbered,
    unlocked,
    with_design,
    with_parts,
    with_piece,
)
from foliant.core.design.edits.parts import RemoveParts
from foliant.core.design.edits.project import unused_name
from foliant.core.design.model import MOST_PIECES, Design, Group, Part, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.placing import part_matrix, whole_box
from foliant.core.design.references import Bounds, union
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes import Outline
from foliant.core.design.shapes.outline import Came
from foliant.core.errors import Refused
from foliant.core.quantities import build


class TakeIn(Command):
    """Take in parts as they lie to each other: onto a piece, their box in the middle of it, grouped so that they stay
    together; or as new pieces, one for each list of parts.
    """

    do: Literal["take-in"]
    piece: Identifier
    into: Literal["parts", "piece", "bodies"] = "parts"
    name: str = Field("", max_length=200)
    pieces: tuple[tuple[Part, ...], ...] = Field(min_length=1, max_length=MOST_PIECES)

    def apply(self, design: Design) -> Design:
        if not all(self.pieces):
            raise Refused("There is nothing to take in.")
        if self.into == "parts":
            return self._onto(design, design.piece(self.piece))
        for parts in self.pieces:
            design = self._as_piece(design, parts)
        return design

    def _onto(self, design: Design, piece: Piece) -> Design:
        parts, _ = renumbered([part for some in self.pieces for part in some], design.serial, keep_holds=False)
        serial = design.serial + len(parts)
        left, top, right, bottom = _material(parts)
        onto = resolve(piece).bounds if piece.parts else None
        dx, dy = (
            ((onto[0] + onto[2] - left - right) / 2, (onto[1] + onto[3] - top - bottom) / 2) if onto else (-left, -top)
        )
        parts = [_moved(part, dx, dy) for part in parts]
        groups = piece.groups
        if len(parts) > 1:
            serial += 1
            group = Group(id=f"g{serial}")
            groups = (*groups, group)
            parts = [part.model_copy(update={"group": group.id}) for part in parts]
        grown = build(Piece, {**fields(piece), "parts": (*piece.parts, *parts), "groups": groups})
        return with_piece(design, grown, serial=serial)

    def _as_piece(self, design: Design, parts: tuple[Part, ...]) -> Design:
        new, _ = renumbered(parts, design.serial, keep_holds=False)
        left, top, _, _ = _material(new)
        serial = design.serial + len(new) + 1
        name = unused_name(" ".join(self.name.split())[:60] or "Brought in", design)
        own: dict[str, Any] = {"id": f"p{serial}", "name": name, "bench": design.bench}
        piece = build(Piece, {**own, "parts": tuple(_moved(part, -left, -top) for part in new)})
        return with_design(design, pieces=(*design.pieces, piece), serial=serial)

    def says(self, design: Design) -> str:
        return f"bring in {self.name[:40] or 'a drawing'}"


class TakeAnew(Command):
    """Exchange what came from a file of that name for what is in it now: each outline for that of its group, as large,
    turned and placed as its maker has it, with its roles and holds. What of the file is new is put beside them; what it
    no longer has is taken off.

    piece     the piece that is the first to get what is new
    outlines  what is in the file now, where it lies there
    """

    do: Literal["take-anew"]
    piece: Identifier
    file: str = Field(max_length=200)
    outlines: tuple[Part, ...] = Field(min_length=1, max_length=2000)

    def apply(self, design: Design) -> Design:
        before = came_from(design, self.file)
        if not before:
            raise Refused(f"Nothing of {self.file[:40]} is in this design any more; bring it in as parts.")
        now = {came.group: part for part in self.outlines if (came := _came(part))}
        for piece, part, came in before:
            if came.group in now:
                new = _laid_as(now[came.group], part, came).model_copy(update=_kept(part))
                design = with_piece(design, with_parts(design.piece(piece), [unlocked(new)]))
            elif part in design.piece(piece).parts:  # or it went with another
                design = RemoveParts(do="remove-parts", piece=piece, parts=(part.id,)).apply(design)
        piece, beside, came = next((one for one in before if one[0] == self.piece), before[0])
        known = {came.group for _, _, came in before}
        fresh = [_laid_as(part, beside, came) for group, part in now.items() if group not in known]
        fresh, _ = renumbered(fresh, design.serial, keep_holds=False)
        onto = design.piece(piece)
        grown = build(Piece, {**fields(onto), "parts": (*onto.parts, *fresh)})
        return with_piece(design, grown, serial=design.serial + len(fresh))

    def says(self, design: Design) -> str:
        return f"bring {self.file[:40]} in anew"


def came_from(design: Design, file: str) -> list[tuple[str, Part, Came]]:
    """The parts that are outlines as they came from a file of that name, each with the id of its piece."""
    every = ((piece.id, part, _came(part)) for piece in design.pieces for part in piece.parts)
    return [(piece, part, came) for piece, part, came in every if came and came.file == file]


def _came(part: Part) -> Came | None:
    return part.shape.came if isinstance(part.shape, Outline) else None


def _laid_as(part: Part, other: Part, came: Came) -> Part:
    """A part from where it lies in its file to where it goes if that lies on the piece as another part of it does."""
    new = _came(part)
    assert new
    assert isinstance(other.shape, Outline)
    wide = other.shape.width / came.width if came.width else 0.0
    high = other.shape.height / came.height if came.height else 0.0
    across, down = wide or high, high or wide  # a level line says nothing of how tall it was made
    x, y = Transform(*part_matrix(other)).transformPoint(((new.x - came.x) * across, (new.y - came.y) * down))
    shape = part.shape.resized(across, down)
    turned = {"rotation": other.rotation, "flipped": other.flipped}
    return changed(part, shape=shape, x=round(x, 6), y=round(y, 6), **turned)


def _kept(part: Part) -> Values:
    """What a part keeps that gets another outline."""
    return {name: value for name, value in fields(part).items() if name not in ("shape", "x", "y")}


def _material(parts: Sequence[Part]) -> Bounds:
    """The box of what adds material, or of all where nothing does."""
    return union([whole_box(part) for part in ([one for one in parts if one.plays("adds")] or parts)])


def _moved(part: Part, dx: float, dy: float) -> Part:
    return part.model_copy(update={"x": round(part.x + dx, 6), "y": round(part.y + dy, 6)})
