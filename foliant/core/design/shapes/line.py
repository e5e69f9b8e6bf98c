"""A straight line."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Path, PathPen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit


class Line(Shape):
    """A straight line across, its middle on its origin; the part's rotation is its direction."""

    kind: Literal["line"] = "line"
    length: Annotated[float, sized("The length")] = 40.0

    title: ClassVar[str] = "Line"
    role: ClassVar[str] = "scores"
    first: ClassVar[str] = "length"

    def paths(self) -> tuple[Path, ...]:
        pen = PathPen()
        pen.moveTo((-self.length / 2, 0))
        pen.lineTo((self.length / 2, 0))
        pen.endPath()
        return (pen.path(),)

    def sentence(self) -> Sequence[Bit]:
        return ["Line ", Value("length"), " long"]

    def summary(self, unit: Unit) -> str:
        return short(self.length, unit)

    def resized(self, across: float, down: float) -> Shape:
        return self.scaled(across)
