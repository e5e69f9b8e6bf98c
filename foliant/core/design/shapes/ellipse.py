"""An ellipse."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import ellipse
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit


class Ellipse(Shape):
    """An ellipse centred on its origin."""

    kind: Literal["ellipse"] = "ellipse"
    width: Annotated[float, sized("The width")] = 60.0
    height: Annotated[float, sized("The height")] = 36.0

    title: ClassVar[str] = "Ellipse"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "width"

    def paths(self) -> tuple[Path, ...]:
        return (ellipse(self.width, self.height),)

    def sentence(self) -> Sequence[Bit]:
        return ["Ellipse ", Value("width"), " × ", Value("height")]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, height=self.height * down)
