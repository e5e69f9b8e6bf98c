"""A regular polygon, measured in the way the maker knows it."""

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import regular_polygon
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Unit

_MEASURES = Quantity(
    "choice",
    "How it is measured",
    choices=(("corners", "across its corners"), ("flats", "across its flats"), ("side", "on each side")),
)


class Polygon(Shape):
    """A regular polygon about its origin, one corner at the top."""

    kind: Literal["polygon"] = "polygon"
    sides: Annotated[int, Quantity("count", "The number of sides", 3, 60)] = 6
    size: Annotated[float, sized("The size")] = 40.0
    measured: Annotated[Literal["corners", "flats", "side"], _MEASURES] = "corners"

    title: ClassVar[str] = "Polygon"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "sides"

    @property
    def diameter(self) -> float:
        """The diameter of the circle through its corners, mm. Flats lie opposite each other or a corner."""
        half = math.pi / self.sides
        if self.measured == "corners":
            return self.size
        if self.measured == "side":
            return self.size / math.sin(half)
        return self.size / math.cos(half) if self.sides % 2 == 0 else 2 * self.size / (1 + math.cos(half))

    def paths(self) -> tuple[Path, ...]:
        return (regular_polygon(self.sides, self.diameter),)

    def sentence(self) -> Sequence[Bit]:
        return ["Polygon of ", Value("sides"), " sides, ", Value("size"), " ", Value("measured")]

    def label(self) -> str:
        return {3: "Triangle", 4: "Square", 5: "Pentagon", 6: "Hexagon", 8: "Octagon"}.get(self.sides, "Polygon")

    def summary(self, unit: Unit) -> str:
        return short(self.size, unit)
