"""A drop: round below, with a point at the top."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import drop
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit, format_length


class Drop(Shape):
    """A drop centred on its origin: a circle as wide as the drop, and straight sides up to its point."""

    kind: Literal["drop"] = "drop"
    width: Annotated[float, sized("The width")] = 30.0
    height: Annotated[float, sized("The height")] = 46.0

    title: ClassVar[str] = "Drop"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "width"
    proportioned: ClassVar[bool] = True

    @model_validator(mode="after")
    def _has_a_point(self) -> "Drop":
        if self.height <= self.width * 1.01:
            raise Refused(
                f"A drop is taller than it is wide: with {format_length(self.width)} across it needs more than "
                f"{format_length(self.width * 1.01)} of height."
            )
        return self

    def follows_size(self) -> dict[str, float]:
        return {"height": self.width * 46 / 30}

    def paths(self) -> tuple[Path, ...]:
        return (drop(self.width, self.height),)

    def sentence(self) -> Sequence[Bit]:
        return ["Drop ", Value("width"), " across and ", Value("height"), " to its point"]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, height=self.height * down)
