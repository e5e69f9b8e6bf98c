"""A star."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import star
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Unit


class Star(Shape):
    """A star about its origin, one point at the top; `depth` is how far its notches reach to the middle."""

    kind: Literal["star"] = "star"
    points: Annotated[int, Quantity("count", "The number of points", 3, 60)] = 5
    diameter: Annotated[float, sized("The diameter")] = 40.0
    depth: Annotated[float, Quantity("percent", "The depth of the notches", 1, 95)] = 55.0

    title: ClassVar[str] = "Star"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "points"

    def paths(self) -> tuple[Path, ...]:
        return (star(self.points, self.diameter, self.diameter * (1 - self.depth / 100)),)

    def sentence(self) -> Sequence[Bit]:
        return [
            "Star of ",
            Value("points"),
            " points, ",
            Value("diameter"),
            " across, notches ",
            Value("depth"),
            " deep",
        ]

    def summary(self, unit: Unit) -> str:
        return f"Ø {short(self.diameter, unit)}"
