"""A ring: a circle with a smaller circle open in its middle."""

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import ring
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import quantity_of, sized
from foliant.core.units import Unit, format_length


class Ring(Shape):
    """A ring centred on its origin; `band` is the width of its material."""

    kind: Literal["ring"] = "ring"
    diameter: Annotated[float, sized("The diameter")] = 60.0
    band: Annotated[float, sized("The band")] = 5.0

    title: ClassVar[str] = "Ring"
    role: ClassVar[str] = "adds"
    shelf: ClassVar[str] = "first"
    first: ClassVar[str] = "diameter"
    gives_way: ClassVar[tuple[str, ...]] = ("band",)

    @model_validator(mode="after")
    def _stays_open(self) -> "Ring":
        if self.band * 2 >= self.diameter:
            raise Refused(
                f"A band of {format_length(self.band)} closes a ring {format_length(self.diameter)} across; "
                f"keep it under {format_length(self.diameter / 2)}, or put on a circle."
            )
        return self

    def paths(self) -> tuple[Path, ...]:
        return (ring(self.diameter, self.band),)

    def typed(self, values: dict[str, Any], unit: Unit) -> Shape:
        """Its values come in any order: the ring grows round a band that it has no room for."""
        if set(values) == {"band"}:
            wanted = quantity_of(Ring, "band").number(values["band"], unit)
            if wanted * 2 >= self.diameter:
                return self.sized(band=wanted, diameter=wanted * 3)
        return super().typed(values, unit)

    def sentence(self) -> Sequence[Bit]:
        return ["Ring ", Value("diameter"), " across, band ", Value("band"), " wide"]

    def summary(self, unit: Unit) -> str:
        return f"Ø {short(self.diameter, unit)}, {short(self.band, unit)} wide"
