"""Edits of holds: keep a part where it is aligned, or let it go."""

from collections.abc import Callable
from typing import Literal

from foliant.core.design.edits.command import PartsCommand, Target, Values, changed, check_target
from foliant.core.design.holds import ANCHORS, PIECE, AnchorKey, Axis, Hold, gap_at
from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.placing import frame_parts
from foliant.core.design.settle import AXES, line_of, part_line
from foliant.core.errors import Refused

_MEET = 0.02  # mm: lines that are this near were meant to meet
_Wanted = AnchorKey | Literal["auto"] | None


class HoldParts(PartsCommand):
    """Hold parts where they are now, to "piece" or to a part.

    `across` and `down` name the lines that are held, or "auto": the middles or visual centres where they
    meet, else the nearest edges, at the distance there is. None holds nothing that way.
    """

    do: Literal["hold-parts"]
    to: Target = PIECE
    across: _Wanted = "auto"
    down: _Wanted = "auto"

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        check_target(piece, self.to)
        parts = [part for part in self.free(design) if part.id != self.to]
        for part in parts:
            if part.shape.goes_along:
                raise Refused(f"{part.shape.label()[:40]} goes along {part.shape.names()} already; hold that instead.")
        if not parts:
            raise Refused("A part cannot be held to itself; choose another part besides it.")
        if self.to == PIECE and not frame_parts(piece, frozenset(part.id for part in parts)):
            raise Refused("There is nothing else on the piece to hold to; put on what adds material first.")
        return self.replaced(design, [self._held(piece, part) for part in parts])

    def _held(self, piece: Piece, part: Part) -> Part:
        wanted: dict[Axis, _Wanted] = {"across": self.across, "down": self.down}
        holds = {axis: self._hold(piece, part, axis, wanted[axis]) for axis in AXES if wanted[axis]}
        return changed(part, **holds)

    def _hold(self, piece: Piece, part: Part, axis: Axis, wanted: _Wanted) -> Hold:
        def gap(key: AnchorKey) -> float:
            anchor = ANCHORS[key]
            # A part may be the only thing on its piece; its own box then stands for the frame.
            theirs = line_of(piece, self.to, axis, anchor.theirs, *self.parts)
            return anchor.sign * (part_line(part, axis, anchor.mine) - (theirs or 0.0))

        key = _likely(gap) if wanted == "auto" else wanted
        assert key is not None
        return Hold(to=self.to, anchor=key, gap=gap_at(gap(key)))

    def says(self, design: Design) -> str:
        return f"hold {self.named(design)}"


class ReleaseParts(PartsCommand):
    """Let parts go, one way or both; they stay where they are."""

    do: Literal["release-parts"]
    axis: Literal["across", "down", "both"] = "both"

    def apply(self, design: Design) -> Design:
        gone: Values = {axis: None for axis in AXES if self.axis in (axis, "both")}
        return self.replaced(design, [part.model_copy(update=gone) for part in self.chosen(design)])

    def says(self, design: Design) -> str:
        return f"let go of {self.named(design)}"


def _likely(gap: Callable[[AnchorKey], float]) -> AnchorKey:
    """The lines that a maker most likely means: those that meet, else the nearest pair of edges."""
    meeting: tuple[AnchorKey, ...] = (
        "middle",
        "visual",
        "capitals",
        "on-near",
        "on-far",
        "near",
        "far",
        "after",
        "before",
    )
    for key in meeting:
        if abs(gap(key)) < _MEET:
            return key
    edges: tuple[AnchorKey, ...] = ("near", "far", "after", "before")
    return min((key for key in edges if gap(key) > 0), key=gap, default="middle")
