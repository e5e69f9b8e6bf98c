"""A sector: a slice of a circle or of a ring."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import sector
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Unit, format_length


class Sector(Shape):
    """A slice about the circle's centre, opening to the top; `inner` is the diameter left open, 0 for none."""

    kind: Literal["sector"] = "sector"
    diameter: Annotated[float, sized("The diameter")] = 60.0
    angle: Annotated[float, Quantity("angle", "The angle", 1, 359)] = 90.0
    inner: Annotated[float, sized("The inner diameter", 0)] = 0.0

    title: ClassVar[str] = "Sector"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "angle"

    @model_validator(mode="after")
    def _has_material(self) -> "Sector":
        if self.inner >= self.diameter:
            raise Refused(
                f"An opening of {format_length(self.inner)} leaves nothing of a sector "
                f"{format_length(self.diameter)} across; make it smaller."
            )
        return self

    def paths(self) -> tuple[Path, ...]:
        return (sector(self.diameter, self.angle, self.inner),)

    def sentence(self) -> Sequence[Bit]:
        return ["Sector of ", Value("angle"), " of a circle ", Value("diameter"), " across, open for ", Value("inner")]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.diameter, unit)}, {self.angle:g}°"
