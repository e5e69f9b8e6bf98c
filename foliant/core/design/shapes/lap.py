"""One of a pair of slots by which two pieces cross: half from above, half from below."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.fits import Fitted
from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import rectangle
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit

BEYOND = 2.0
"""How far, in mm, the slot runs out over the edge, so that no skin is left there."""


class Lap(Fitted):
    """A slot that opens at the upper or the lower edge; its origin is the middle of its mouth.

    The depth of the lower one is what the upper one leaves of its piece: settling keeps it so.
    """

    kind: Literal["lap"] = "lap"
    opens: Literal["above", "below"] = "above"
    depth: Annotated[float, sized("The depth of the slot")] = 20.0
    mate: str = ""

    title: ClassVar[str] = "Cross-lap slot"
    role: ClassVar[str] = "cuts"
    shelf: ClassVar[str] = ""
    first: ClassVar[str] = "depth"

    @property
    def way(self) -> int:
        """1 where it runs down from its mouth, -1 where it runs up."""
        return 1 if self.opens == "above" else -1

    def paths(self) -> tuple[Path, ...]:
        return (rectangle(self.width, self.depth + BEYOND).moved(0, self.way * (self.depth - BEYOND) / 2),)

    def box(self) -> tuple[float, float, float, float]:
        low, high = sorted((0.0, self.way * self.depth))
        return -self.width / 2, low, self.width / 2, high

    def sentence(self) -> Sequence[Bit]:
        return [f"Cross-lap slot from {self.opens}, ", Value("depth"), " deep, ", *self.fit_words()]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.depth, unit)} × {short(self.width, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(depth=self.depth * down)
