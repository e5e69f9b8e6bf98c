"""A swallow-tail: a pennant with a notch in its lower edge."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import outline_of
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit, format_length


class Swallowtail(Shape):
    """A plate that hangs, its box centred on its origin; its lower edge is notched to two tails, `notch` mm deep."""

    kind: Literal["swallowtail"] = "swallowtail"
    width: Annotated[float, sized("The width")] = 50.0
    height: Annotated[float, sized("The height")] = 70.0
    notch: Annotated[float, sized("The depth of the notch")] = 18.0

    title: ClassVar[str] = "Swallow-tail"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "width"
    gives_way: ClassVar[tuple[str, ...]] = ("notch",)

    @model_validator(mode="after")
    def _holds_together(self) -> "Swallowtail":
        if self.notch >= self.height:
            raise Refused(
                f"A notch of {format_length(self.notch)} leaves nothing of a pennant {format_length(self.height)} "
                "high; make it less deep."
            )
        return self

    def follows_size(self) -> dict[str, float]:
        return {"notch": self.height * 18 / 70}

    def paths(self) -> tuple[Path, ...]:
        x, y = self.width / 2, self.height / 2
        return (outline_of([(-x, -y), (x, -y), (x, y), (0, y - self.notch), (-x, y)]),)

    def sentence(self) -> Sequence[Bit]:
        return ["Swallow-tail ", Value("width"), " × ", Value("height"), ", notched ", Value("notch")]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, height=self.height * down, notch=self.notch * down)
