"""Holds: an alignment of one part to another, or to its piece, that is kept whatever changes.

A part has at most one hold across and one down. Across and down speak the same words: *near* is the left
or upper edge, *far* the right or lower one. The *middle* is that of the ink; *capitals* is half way between the
capitals' top and the line that words stand on, so that words of any letters keep one line.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

from foliant.core.frozen import Frozen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity

Axis = Literal["across", "down"]
AnchorKey = Literal["middle", "near", "far", "after", "before", "on-near", "on-far", "visual", "capitals"]
Line = Literal["near", "middle", "far", "visual", "capitals"]

PIECE = "piece"


@dataclass(frozen=True)
class Anchor:
    """Which line of the part is held to which line of its target, and which way the gap counts."""

    mine: Line
    theirs: Line
    sign: int
    across: str
    down: str


ANCHORS: dict[AnchorKey, Anchor] = {
    "middle": Anchor("middle", "middle", 1, "right of the middle", "below the middle"),
    "near": Anchor("near", "near", 1, "inside the left edge", "inside the upper edge"),
    "far": Anchor("far", "far", -1, "inside the right edge", "inside the lower edge"),
    "after": Anchor("near", "far", 1, "beyond the right edge", "beyond the lower edge"),
    "before": Anchor("far", "near", -1, "beyond the left edge", "beyond the upper edge"),
    "on-near": Anchor(
        "middle", "near", 1, "with its middle right of the left edge", "with its middle below the upper edge"
    ),
    "on-far": Anchor(
        "middle", "far", 1, "with its middle right of the right edge", "with its middle below the lower edge"
    ),
    "visual": Anchor("visual", "visual", 1, "right of the visual centre", "below the visual centre"),
    "capitals": Anchor("capitals", "capitals", 1, "right of the middle", "below the middle by capitals"),
}
_CHOICES: dict[Axis, tuple[tuple[str, str], ...]] = {
    "across": tuple((key, anchor.across) for key, anchor in ANCHORS.items() if key != "capitals"),
    "down": tuple((key, anchor.down) for key, anchor in ANCHORS.items()),
}


class Hold(Frozen):
    """Held to `to`, which is the id of a part or "piece", at `gap` mm from one of its lines."""

    to: str = PIECE
    anchor: Annotated[AnchorKey, Quantity("choice", "The line it is held at", choices=_CHOICES["down"])] = "middle"
    gap: Annotated[float, Quantity("length", "The distance of the hold", -5000, 5000)] = 0.0

    @property
    def lines(self) -> Anchor:
        return ANCHORS[self.anchor]

    def sentence(self, axis: Axis) -> list[Bit]:
        """The hold along an axis as a phrase, without what it is held to: "5 mm inside the left edge"."""
        return [Value("anchor")] if self.meets else [Value("gap"), " ", Value("anchor")]

    def says(self, axis: Axis) -> str:
        """Its anchor in that phrase."""
        said = self.lines.across if axis == "across" else self.lines.down
        if not self.meets:
            return said
        at = {"middle": "the middle", "visual": "the visual centre", "capitals": "the middle by capitals"}.get(
            self.anchor
        )
        at = at or said.split(" ", 1)[1]
        return f"{'in line with' if axis == 'across' else 'level with'} {at}"

    @property
    def meets(self) -> bool:
        """Whether its two lines lie on each other."""
        return abs(self.gap) < 5e-4

    def target(self, theirs: float) -> float:
        """Where the part's own line has to be, when the target's line is at `theirs` mm."""
        return theirs + self.lines.sign * self.gap

    def at_gap(self, mine: float, theirs: float) -> "Hold":
        """The same hold at the gap that there is now."""
        return self.model_copy(update={"gap": gap_at((mine - theirs) * self.lines.sign)})


def gap_at(millimetres: float) -> float:
    """A distance as a hold keeps it: nothing, where lines that were brought together differ by rounding."""
    return 0.0 if abs(millimetres) < 1e-3 else round(millimetres, 6)


def anchor_choices(axis: Axis) -> tuple[tuple[str, str], ...]:
    """The anchors as they are said along an axis."""
    return _CHOICES[axis]
