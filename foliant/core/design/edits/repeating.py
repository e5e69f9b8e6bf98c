"""Edits of repeats: begin one, one in each corner, let a copy go, or take the repeat apart."""

from typing import Literal

from pydantic import Field

from foliant.core.design.edits.command import PartsCommand, changed, with_piece
from foliant.core.design.holds import PIECE, Hold, gap_at
from foliant.core.design.model import Design, Part
from foliant.core.design.names import Identifier
from foliant.core.design.placing import copy_maps, frame_parts, own_bounds, part_bounds
from foliant.core.design.references import Bounds, point_of, union
from foliant.core.design.repeats import Around, Mirrored, Rows, placement
from foliant.core.errors import Refused
from foliant.core.quantities import build


class RepeatParts(PartsCommand):
    """Repeat parts in rows, around a centre, or mirrored. One part repeats by the gap, several by the pitch; on a piece
    that stands upright they follow each other down.

    Around and mirrored take the middle of the piece's frame, or of `about`, a part.
    """

    do: Literal["repeat-parts"]
    kind: Literal["rows", "around", "mirrored"]
    about: Identifier = PIECE
    axis: Literal["across", "down", "both"] = "across"

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        parts = self.free(design)
        box = union([own_bounds(part) for part in parts])
        if self.kind == "rows":
            frame = frame_parts(piece, frozenset(self.parts))
            repeat: Rows | Around | Mirrored = self._rows(parts, box, bool(frame) and _stands(frame))
        else:
            about, (x, y) = self.about, point_of(box, "middle")
            frame = frame_parts(piece, frozenset(self.parts)) if about == PIECE else (piece.part(about),)
            if frame:
                x, y = point_of(union([part_bounds(part) for part in frame]), "middle")
            else:
                about = ""
            x, y = round(x, 6), round(y, 6)
            if self.kind == "around":
                repeat = Around(about=about, cx=x, cy=y)
            else:
                repeat = Mirrored(about=about, cx=x, cy=y, axis=self.axis)
        return self.replaced(design, [changed(part, repeat=repeat) for part in parts])

    def _rows(self, parts: list[Part], box: Bounds, down: bool) -> Rows:
        count = {"columns": 1, "rows": 3} if down else {}
        if len(parts) == 1:
            return Rows(**count)
        pitch = {"across": round(box[2] - box[0] + 4, 6), "down": round(box[3] - box[1] + 4, 6)}
        return Rows(by="pitch", **pitch, **count)

    def says(self, design: Design) -> str:
        return f"repeat {self.named(design)}"


class CornerParts(PartsCommand):
    """One in each corner of the piece: parts go to the corner they are nearest to, as far from both its edges as they
    lie from the nearest edge now, are held there, and are mirrored both ways.
    """

    do: Literal["corner-parts"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        frame = frame_parts(piece, frozenset(self.parts))
        if not frame:
            raise Refused("There is nothing else on the piece that has corners; put on what adds material first.")
        left, top, right, bottom = union([part_bounds(part) for part in frame])
        new = []
        for part in self.free(design):
            box = own_bounds(part)
            gap = min(box[0] - left, box[1] - top, right - box[2], bottom - box[3])
            if gap < 0:
                raise Refused(f"{part.shape.label()[:40]} does not lie within the piece; put it there first.")
            x, y = point_of(box, "middle")
            across, down = "near" if 2 * x <= left + right else "far", "near" if 2 * y <= top + bottom else "far"
            holds = {"across": build(Hold, {"anchor": across, "gap": gap_at(gap)})}
            holds["down"] = build(Hold, {"anchor": down, "gap": gap_at(gap)})
            repeat = Mirrored(
                axis="both", about=PIECE, cx=round((left + right) / 2, 6), cy=round((top + bottom) / 2, 6)
            )
            new.append(changed(part, repeat=repeat, **holds))
        return self.replaced(design, new)

    def says(self, design: Design) -> str:
        return f"{self.named(design)} in each corner"


def _stands(frame: tuple[Part, ...]) -> bool:
    """Whether the box round parts is clearly taller than wide."""
    left, top, right, bottom = union([part_bounds(part) for part in frame])
    return bottom - top > 1.3 * (right - left)


class LetGo(PartsCommand):
    """Make one copy of a repeat a part of its own, where it is; without a number, make all of them so."""

    do: Literal["let-go"]
    copy_number: int | None = Field(default=None, ge=1)

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        serial = design.serial
        new: list[Part] = []
        changes: list[Part] = []
        for part in self.free(design):
            if part.repeat is None:
                raise Refused(f"{part.shape.label()[:40]} is not repeated.")
            maps = {number: found for number, found in copy_maps(part).items() if number}
            if self.copy_number is not None:
                if self.copy_number not in maps:
                    raise Refused("That copy is no longer there.")
                maps = {self.copy_number: maps[self.copy_number]}
            for matrix in maps.values():
                serial += 1
                x, y, rotation, flipped = placement(matrix)
                free = {"id": f"a{serial}", "repeat": None, "across": None, "down": None}
                new.append(changed(part, x=x, y=y, rotation=rotation, flipped=flipped, **free))
            skip = (*part.repeat.skip, *maps)
            repeat = part.repeat.model_copy(update={"skip": skip}) if self.copy_number is not None else None
            changes.append(changed(part, repeat=repeat))
        known = {part.id: part for part in changes}
        parts = tuple(known.get(part.id, part) for part in piece.parts)
        return with_piece(design, piece.model_copy(update={"parts": (*parts, *new)}), serial=serial)

    def says(self, design: Design) -> str:
        return f"let go of {'a copy' if self.copy_number else 'the copies'} of {self.named(design)}"


class EndRepeat(PartsCommand):
    """Keep only the first of the copies."""

    do: Literal["end-repeat"]

    def apply(self, design: Design) -> Design:
        return self.replaced(design, [changed(part, repeat=None) for part in self.free(design)])

    def says(self, design: Design) -> str:
        return f"stop repeating {self.named(design)}"
