"""Holds: an alignment of one part to another, or to its piece, that is kept whatever changes.

A part has at most one hold across and one down. Across and down speak the same words: *near* is the left
or upper edge, *far* the right or lower one. The *middle* is that of the ink; *capitals* is half way between the
capitals' top and the line that words stand on, so that words of any letters keep one line.
"""

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import model_validator

from foliant.core.frozen import Frozen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity

Axis = Literal["across", "down"]
AnchorKey = Literal[
    "middle", "near", "far", "after", "before", "on-near", "on-far", "visual", "capitals",
    "middle-before", "on-near-before", "on-far-before", "visual-before", "capitals-before",
]  # fmt: skip
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
_BEFORE: dict[AnchorKey, AnchorKey] = {
    "middle": "middle-before",
    "on-near": "on-near-before",
    "on-far": "on-far-before",
    "visual": "visual-before",
    "capitals": "capitals-before",
}
"""What the same lines are called where the part lies left of or above its target's."""
_AFTER: dict[AnchorKey, AnchorKey] = {before: after for after, before in _BEFORE.items()}
_OPPOSITE: dict[AnchorKey, AnchorKey] = {**_BEFORE, **_AFTER}


def _before(anchor: Anchor) -> Anchor:
    across, down = anchor.across.replace("right of", "left of"), anchor.down.replace("below", "above")
    return Anchor(anchor.mine, anchor.theirs, -anchor.sign, across, down)


ANCHORS |= {before: _before(ANCHORS[after]) for before, after in _AFTER.items()}
_CHOICES: dict[Axis, tuple[tuple[str, str], ...]] = {
    "across": tuple((key, anchor.across) for key, anchor in ANCHORS.items() if not key.startswith("capitals")),
    "down": tuple((key, anchor.down) for key, anchor in ANCHORS.items()),
}


_MIDDLES = ("middle", "visual", "capitals")


class Hold(Frozen):
    """Held to `to`, which is the id of a part or "piece", at `gap` mm from one of its lines."""

    to: str = PIECE
    anchor: Annotated[AnchorKey, Quantity("choice", "The line it is held at", choices=_CHOICES["down"])] = "middle"
    gap: Annotated[float, Quantity("length", "The distance of the hold", -5000, 5000)] = 0.0

    @model_validator(mode="before")
    @classmethod
    def _reads_forward(cls, data: Any) -> Any:
        """Five to the left of a middle are said so, never as minus five to its right."""
        if not isinstance(data, dict):
            return data
        gap, anchor = data.get("gap", 0.0), data.get("anchor", "middle")
        if not isinstance(gap, int | float) or anchor not in list(_OPPOSITE):
            return data
        if gap < 0:
            return {**data, "gap": -gap, "anchor": _OPPOSITE[anchor]}
        return {**data, "anchor": _AFTER.get(anchor, anchor)} if gap == 0 else data

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
            _AFTER.get(self.anchor, self.anchor)
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
        return Hold(to=self.to, anchor=self.anchor, gap=gap_at((mine - theirs) * self.lines.sign))

    def by(self, line: Literal["visual", "capitals"]) -> "Hold":
        """One by a middle, by another of its middles; any other as it is."""
        if self.lines.mine not in _MIDDLES or self.lines.theirs not in _MIDDLES:
            return self
        return Hold(to=self.to, anchor=line, gap=self.lines.sign * self.gap)


def gap_at(millimetres: float) -> float:
    """A distance as a hold keeps it: nothing, where lines that were brought together differ by rounding."""
    return 0.0 if abs(millimetres) < 1e-3 else round(millimetres, 6)


def anchor_choices(axis: Axis) -> tuple[tuple[str, str], ...]:
    """The anchors as they are said along an axis."""
    return _CHOICES[axis]
