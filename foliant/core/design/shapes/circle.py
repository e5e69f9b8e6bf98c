"""A circle."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.ellipse import Ellipse
from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import circle
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit


class Circle(Shape):
    """A circle centred on its origin."""

    kind: Literal["circle"] = "circle"
    diameter: Annotated[float, sized("The diameter")] = 40.0

    title: ClassVar[str] = "Circle"
    role: ClassVar[str] = "adds"
    shelf: ClassVar[str] = "first"
    first: ClassVar[str] = "diameter"

    def paths(self) -> tuple[Path, ...]:
        return (circle(self.diameter),)

    def sentence(self) -> Sequence[Bit]:
        return ["Circle ", Value("diameter"), " across"]

    def summary(self, unit: Unit) -> str:
        return f"Ø {short(self.diameter, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        """A circle, or the ellipse that it becomes when it is pulled one way."""
        if abs(across - down) < 1e-9:
            return self.scaled(across)
        return Ellipse().sized(width=self.diameter * across, height=self.diameter * down)
