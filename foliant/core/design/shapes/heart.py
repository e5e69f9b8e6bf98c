"""A heart."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import heart
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit, format_length


class Heart(Shape):
    """A heart, its box centred on its origin; `dip` is the depth of the notch between its lobes."""

    kind: Literal["heart"] = "heart"
    width: Annotated[float, sized("The width")] = 44.0
    height: Annotated[float, sized("The height")] = 40.0
    dip: Annotated[float, sized("The dip")] = 9.0

    title: ClassVar[str] = "Heart"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "width"
    proportioned: ClassVar[bool] = True
    gives_way: ClassVar[tuple[str, ...]] = ("dip",)

    @model_validator(mode="after")
    def _dips(self) -> "Heart":
        if self.dip > 0.6 * self.height:
            raise Refused(
                f"A dip of {format_length(self.dip)} would split this heart; the most is "
                f"{format_length(0.6 * self.height)}."
            )
        return self

    def follows_size(self) -> dict[str, float]:
        return {"dip": self.height * 9 / 40}

    def paths(self) -> tuple[Path, ...]:
        return (heart(self.width, self.height, self.dip),)

    def sentence(self) -> Sequence[Bit]:
        return ["Heart ", Value("width"), " × ", Value("height"), ", dipping ", Value("dip")]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, height=self.height * down, dip=self.dip * down)
