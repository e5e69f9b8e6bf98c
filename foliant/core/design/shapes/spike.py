"""A spike: a bar that comes to a point, to stick a marker into the ground or a topper into something soft."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Goes, Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import outline_of
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit, format_length


class Spike(Shape):
    """A spike that points down, its box centred on its origin; the last `point` mm of its length narrow to the tip."""

    kind: Literal["spike"] = "spike"
    length: Annotated[float, sized("The length")] = 60.0
    width: Annotated[float, sized("The width")] = 6.0
    point: Annotated[float, sized("The length of the point")] = 12.0

    title: ClassVar[str] = "Spike"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "length"
    gives_way: ClassVar[tuple[str, ...]] = ("point",)
    goes: ClassVar[Goes] = "under"

    @property
    def overlap(self) -> float:
        return min(self.length / 5, 12.0)

    @model_validator(mode="after")
    def _has_room_for_its_point(self) -> "Spike":
        if self.point > self.length + 1e-6:
            raise Refused(
                f"A point of {format_length(self.point)} does not fit on a spike {format_length(self.length)} long; "
                "make it shorter."
            )
        return self

    @property
    def tips(self) -> tuple[tuple[float, float, float], ...]:
        return ((0.0, self.length / 2, self.point),)

    def follows_size(self) -> dict[str, float]:
        return {"point": min(2 * self.width, 0.8 * self.length)}

    def paths(self) -> tuple[Path, ...]:
        x, y, shoulder = self.width / 2, self.length / 2, self.length / 2 - self.point
        sides = [(x, -y), (x, shoulder), (0.0, y), (-x, shoulder), (-x, -y)]
        return (outline_of(sides if shoulder > -y + 1e-6 else [(x, -y), (0.0, y), (-x, -y)]),)

    def sentence(self) -> Sequence[Bit]:
        return ["Spike ", Value("length"), " long and ", Value("width"), " wide, its point ", Value("point"), " long"]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.length, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, length=self.length * down, point=self.point * down)
