"""A slot that a piece of the same stock goes into."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.fits import Fitted
from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Ends, Path
from foliant.core.paths.shapes import rectangle
from foliant.core.paths.shapes import slot as round_slot
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Unit


class Slot(Fitted):
    """A slot centred on its origin."""

    kind: Literal["slot"] = "slot"
    length: Annotated[float, sized("The length of the slot")] = 20.0
    ends: Annotated[Ends, Quantity("choice", "Its ends", choices=(("flat", "square"), ("round", "round")))] = "flat"

    title: ClassVar[str] = "Slot for the stock"
    role: ClassVar[str] = "cuts"
    first: ClassVar[str] = "length"

    def paths(self) -> tuple[Path, ...]:
        if self.ends == "round":
            return (round_slot(self.length + self.width, self.width),)
        return (rectangle(self.length, self.width),)

    def sentence(self) -> Sequence[Bit]:
        return ["Slot ", Value("length"), " long, ", Value("ends"), " ends, ", *self.fit_words()]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.length, unit)} × {short(self.width, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(length=self.length * across)
