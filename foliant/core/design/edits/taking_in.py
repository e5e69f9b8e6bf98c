"""Taking in what was brought: parts onto a piece, or new pieces of them."""

from collections.abc import Sequence
from typing import Any, Literal

from pydantic import Field

from foliant.core.design.edits.command import Command, fields, renumbered, with_design, with_piece
from foliant.core.design.edits.project import unused_name
from foliant.core.design.model import MOST_PIECES, Design, Group, Part, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.placing import whole_box
from foliant.core.design.references import Bounds, union
from foliant.core.design.resolve import resolve
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


def _material(parts: Sequence[Part]) -> Bounds:
    """The box of what adds material, or of all where nothing does."""
    return union([whole_box(part) for part in ([one for one in parts if one.plays("adds")] or parts)])


def _moved(part: Part, dx: float, dy: float) -> Part:
    return part.model_copy(update={"x": round(part.x + dx, 6), "y": round(part.y + dy, 6)})
