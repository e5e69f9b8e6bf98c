"""A bridge: material that joins what would else fall apart, and that nothing cuts away."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import rectangle
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit


class Bridge(Shape):
    """A straight bridge centred on its origin, along x; the part's rotation is its direction."""

    kind: Literal["bridge"] = "bridge"
    length: Annotated[float, sized("The length of the bridge")] = 8.0
    width: Annotated[float, sized("The width of the bridge")] = 3.0

    title: ClassVar[str] = "Bridge"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "length"
    keeps: ClassVar[bool] = True

    def paths(self) -> tuple[Path, ...]:
        return (rectangle(self.length, self.width),)

    def sentence(self) -> Sequence[Bit]:
        return ["Bridge ", Value("length"), " × ", Value("width"), ", which nothing cuts away"]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.length, unit)} × {short(self.width, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(length=self.length * across, width=self.width * down)
