"""A triangle, by its base and its height."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import outline_of
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit


class Triangle(Shape):
    """A triangle with two equal sides, its point up, its box centred on its origin."""

    kind: Literal["triangle"] = "triangle"
    base: Annotated[float, sized("The base")] = 40.0
    height: Annotated[float, sized("The height")] = 35.0

    title: ClassVar[str] = "Triangle"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "base"

    def paths(self) -> tuple[Path, ...]:
        x, y = self.base / 2, self.height / 2
        return (outline_of([(0, -y), (x, y), (-x, y)]),)

    def sentence(self) -> Sequence[Bit]:
        return ["Triangle on a base of ", Value("base"), ", ", Value("height"), " high"]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.base, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(base=self.base * across, height=self.height * down)
