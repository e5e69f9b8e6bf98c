"""Edits that make parts from others: combinations, surrounds, tabs and cross-lap slots."""

from collections.abc import Sequence
from typing import Literal

import shapely
from pydantic import Field

from foliant.core.design.distances import gap_between
from foliant.core.design.edits.command import (
    Command,
    PartsCommand,
    Values,
    changed,
    last_of,
    members,
    with_design,
    with_piece,
)
from foliant.core.design.edits.project import DuplicatePiece
from foliant.core.design.holds import Hold
from foliant.core.design.model import Design, Part, Piece, Role
from foliant.core.design.names import Identifier
from foliant.core.design.placing import frame_parts, inverse, part_bounds, part_matrix
from foliant.core.design.references import union
from foliant.core.design.shapes import Combination, Composite, Drawn, Lap, Surround, Tabs
from foliant.core.design.shapes.combination import CombinationKey
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.paths.nesting import bodies_of
from foliant.core.quantities import Across, Down, build, with_values


class CombineParts(PartsCommand):
    """Make parts one, live. `keeper` is what the others are subtracted from or divide; else it is the first named."""

    do: Literal["combine-parts"]
    how: CombinationKey
    keeper: Identifier | None = None
    role: Role | None = None

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        parts = self.free(design)
        if len(parts) < 2:
            raise Refused("Choose at least two parts to combine.")
        taken = piece.combined
        for part in parts:
            if part.shape.look:
                name = part.shape.label()[:40]
                raise Refused(f"{name} is a picture, which is not combined: show it only inside the others instead.")
            if part.id in taken:
                raise Refused(f"{part.shape.label()[:40]} is part of a combination already; take that apart first.")
        ids = [part.id for part in parts]
        if self.keeper in ids:
            ids.sort(key=lambda key: key != self.keeper)
        roles = (self.role,) if self.role else piece.part(ids[0]).roles
        shape = Combination(how=self.how, of=tuple(ids))
        return _with_new(design, piece, shape, roles, after=ids)

    def says(self, design: Design) -> str:
        return f"{self.how} {self.named(design)}"


class TakeApart(PartsCommand):
    """Undo combinations and surrounds: their parts are as they were."""

    do: Literal["take-apart"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        gone = {part.id for part in self.free(design) if isinstance(part.shape, Composite)}
        if not gone:
            raise Refused("What is chosen is not made from other parts.")
        left = tuple(part for part in piece.parts if part.id not in gone)
        return with_piece(design, piece.model_copy(update={"parts": left}))

    def says(self, design: Design) -> str:
        return f"take {self.named(design)} apart"


class TurnFace(PartsCommand):
    """Drop the face of a division that holds the point (x, y) of the piece, or keep it again."""

    do: Literal["turn-face"]
    x: Across
    y: Down

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        return self.replaced(design, [self._turned(piece, part) for part in self.free(design)])

    def _turned(self, piece: Piece, part: Part) -> Part:
        shape = part.shape
        if not isinstance(shape, Combination) or shape.how != "divide":
            raise Refused(f"{part.shape.label()[:40]} is not divided.")
        at = shapely.Point(self.x, self.y)
        face = next((face for face, _ in shape.faces() if face.shape.contains(at)), None)
        if face is None:
            raise Refused("There is no part of the division there.")
        keeper = part_matrix(piece.part(shape.of[0]))
        kept = tuple(
            own
            for own, there in zip(shape.dropped, shape.sources[0].on_piece(shape.dropped), strict=True)
            if not face.shape.contains(shapely.Point(there))
        )
        if len(kept) == len(shape.dropped):
            a, b, c, d, e, f = inverse(keeper)
            inside = face.shape.point_on_surface()
            kept = (*kept, (round(a * inside.x + c * inside.y + e, 4), round(b * inside.x + d * inside.y + f, 4)))
            if len(kept) >= len(shape.faces()):
                raise Refused("That is the last part that is kept; delete the whole instead.")
        return changed(part, shape=shape.model_copy(update={"dropped": kept}))

    def says(self, design: Design) -> str:
        return f"drop or keep a part of {self.named(design)}"


class SplitBodies(PartsCommand):
    """Make each separate body of a part, or each kept face of a division, a drawn shape of its own."""

    do: Literal["split-bodies"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        serial = design.serial
        parts: list[Part] = []
        chosen = {part.id for part in self.free(design)}
        gone = {one.id for key in chosen for one in members(piece, key)}
        for part in piece.parts:
            if part.id in gone:
                continue
            bodies = _bodies(part) if part.id in chosen else []
            if len(bodies) < 2:
                parts.append(part)
                continue
            for body in bodies:
                serial += 1
                parts.append(body.model_copy(update={"id": f"a{serial}"}))
        if serial == design.serial:
            raise Refused("What is chosen is one body, so there is nothing to split.")
        return with_piece(design, piece.model_copy(update={"parts": tuple(parts)}), serial=serial)

    def says(self, design: Design) -> str:
        return f"split {self.named(design)} into its bodies"


def _bodies(part: Part) -> list[Part]:
    paths = part.form.paths()
    faces = paths if isinstance(part.shape, Combination) and part.shape.how == "divide" else bodies_of(join(paths))
    found = []
    for path in faces:
        left, top, right, bottom = path.bounds
        x, y = (left + right) / 2, (top + bottom) / 2
        a, b, c, d, e, f = part_matrix(part)
        shape = Drawn.of(path.moved(-x, -y))
        plain = {"shape": shape, "across": None, "down": None, "treatments": type(part.treatments)()}
        found.append(part.model_copy(update={**plain, "x": a * x + c * y + e, "y": b * x + d * y + f}))
    return found


class SurroundParts(PartsCommand):
    """Put a surround round parts; `values` are as typed. One that cuts or engraves is only a band, and a line that is
    scored round what adds material begins inside it, where there is material.
    """

    do: Literal["surround-parts"]
    role: Role = "adds"
    values: Values = Field(default_factory=dict)

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        parts = self.chosen(design)
        ids = tuple(part.id for part in parts)
        inside = self.role == "scores" and all(part.plays("adds") for part in parts)
        known = last_of(design, Surround, self.role)
        plain = Surround(**known, of=ids, body=Surround.body_in(self.role), side="inside" if inside else "outside")
        shape = with_values(plain, self.values, design.unit)
        return _with_new(design, piece, shape, (self.role,), before=list(ids))

    def says(self, design: Design) -> str:
        return f"surround {self.named(design)}"


class TabParts(PartsCommand):
    """Bridge inner parts with tabs to the frame round each: another of those chosen, or else the nearest round it."""

    do: Literal["tab-parts"]
    values: Values = Field(default_factory=dict)

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        parts = self.chosen(design)
        pairs = [(part, frame) for part in parts if (frame := _frame_round(piece, part, parts))]
        if not pairs:
            raise Refused(
                "Nothing that is chosen lies inside a frame, apart from it: choose the inner shape, and put the frame "
                "that tabs shall hold it in round it."
            )
        for inner, frame in pairs:
            shape = with_values(Tabs(of=(inner.id, frame.id)), self.values, design.unit)
            design = _with_new(design, design.piece(piece.id), shape, ("adds",), after=[inner.id, frame.id])
        return design

    def says(self, design: Design) -> str:
        return f"hold {self.named(design)} with tabs"


def _frame_round(piece: Piece, part: Part, chosen: Sequence[Part]) -> Part | None:
    """The part that adds material round this one and does not touch it: one of those chosen, else the smallest."""
    if not part.plays("adds"):
        return None
    box = part_bounds(part)
    round_it = [
        other
        for other in piece.made
        if other is not part
        and other.plays("adds")
        and not isinstance(other.shape, Tabs)
        and other.id not in piece.combined
        and union([box, part_bounds(other)]) == part_bounds(other)
        and (gap_between(part, other) or 0.0) > 0
    ]
    return min(round_it, key=lambda other: (other not in chosen, _size(other)), default=None)


def _size(part: Part) -> float:
    left, top, right, bottom = part_bounds(part)
    return (right - left) * (bottom - top)


class CrossLap(Command):
    """A pair of slots by which two pieces cross: one from above in `piece`, one from below in `other`.

    Without another piece, the piece is duplicated. Each slot is held at the middle of its edge.
    """

    do: Literal["cross-lap"]
    piece: Identifier
    other: Identifier | None = None

    def apply(self, design: Design) -> Design:
        self._height(design.piece(self.piece))
        other = self.other
        if other is None:
            other = f"p{design.serial + 1}"
            design = DuplicatePiece(do="duplicate-piece", piece=self.piece).apply(design)
        if other == self.piece:
            raise Refused("Two pieces cross: name another piece, or let this one be duplicated.")
        self._height(design.piece(other))
        upper, lower = f"a{design.serial + 1}", f"a{design.serial + 2}"
        stock = design.stock.actual
        depth = round(self._height(design.piece(self.piece)) / 2, 4)
        for piece_id, part_id, mate, opens, edge in (
            (self.piece, upper, lower, "above", "near"),
            (other, lower, upper, "below", "far"),
        ):
            piece = design.piece(piece_id)
            shape = build(Lap, {"opens": opens, "depth": depth, "mate": mate, "thickness": stock})
            holds = {"across": Hold(anchor="middle"), "down": build(Hold, {"anchor": edge})}
            part = build(Part, {"id": part_id, "roles": ("cuts",), "shape": shape, **holds})
            design = with_piece(design, piece.model_copy(update={"parts": (*piece.parts, part)}))
        return with_design(design, serial=design.serial + 2)

    def _height(self, piece: Piece) -> float:
        frame = frame_parts(piece)
        if not frame:
            raise Refused(f"{piece.name} has no material to cut a slot in; put on what adds material first.")
        box = union([part_bounds(part) for part in frame])
        return box[3] - box[1]

    def says(self, design: Design) -> str:
        return f"cross-lap {design.piece(self.piece).name}"


def _with_new(
    design: Design,
    piece: Piece,
    shape: Composite,
    roles: tuple[Role, ...],
    before: list[str] | None = None,
    after: list[str] | None = None,
) -> Design:
    """The design with a composite put in before or after some parts, in the order of the piece."""
    part = build(Part, {"id": f"a{design.serial + 1}", "roles": roles, "shape": shape})
    order = [found.id for found in piece.parts]
    at = min(map(order.index, before)) if before else max(map(order.index, after or order)) + 1
    parts = (*piece.parts[:at], part, *piece.parts[at:])
    return with_piece(design, piece.model_copy(update={"parts": parts}), serial=design.serial + 1)
