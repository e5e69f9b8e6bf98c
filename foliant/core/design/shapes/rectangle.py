"""A rectangle whose corners are square, rounded, cut off or scooped."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import Corners, rectangle
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Unit, format_length

_CORNERS = Quantity(
    "choice",
    "Corners",
    choices=(("square", "square"), ("rounded", "rounded"), ("cut", "cut off"), ("scooped", "scooped")),
)


class Rectangle(Shape):
    """A rectangle centred on its origin."""

    kind: Literal["rectangle"] = "rectangle"
    width: Annotated[float, sized("The width")] = 72.0
    height: Annotated[float, sized("The height")] = 30.0
    corners: Annotated[Corners, _CORNERS] = "square"
    corner: Annotated[float, sized("The corner size")] = 6.0

    title: ClassVar[str] = "Rectangle"
    role: ClassVar[str] = "adds"
    shelf: ClassVar[str] = "first"
    first: ClassVar[str] = "width"
    gives_way: ClassVar[tuple[str, ...]] = ("corner",)

    @model_validator(mode="after")
    def _corners_fit(self) -> "Rectangle":
        most = min(self.width, self.height) / 2
        if self.corners != "square" and self.corner > most + 1e-5:
            raise Refused(
                f"Corners of {format_length(self.corner)} do not fit on {format_length(self.width, with_unit=False)} × "
                f"{format_length(self.height)}; the largest that fits is {format_length(most)}."
            )
        return self

    def paths(self) -> tuple[Path, ...]:
        return (rectangle(self.width, self.height, self.corners, min(self.corner, self.width / 2, self.height / 2)),)

    def sentence(self) -> Sequence[Bit]:
        size: list[Bit] = ["Rectangle ", Value("width"), " × ", Value("height"), ", corners ", Value("corners")]
        return size if self.corners == "square" else [*size, " ", Value("corner")]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        width, height = self.width * across, self.height * down
        return self.sized(width=width, height=height, corner=min(self.corner, width / 2, height / 2))
