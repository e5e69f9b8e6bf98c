"""A slit round three sides of a flap, which lifts to hold a page or a ribbon."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import Tip, flap
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Unit, format_length

_TIPS = (("round", "round"), ("square", "square"), ("pointed", "pointed"))


class Flap(Shape):
    """One line cut through, its box centred on its origin; the flap hangs at its open upper side."""

    kind: Literal["flap"] = "flap"
    width: Annotated[float, sized("The width")] = 16.0
    height: Annotated[float, sized("The height")] = 24.0
    tip: Annotated[Tip, Quantity("choice", "Its tip", choices=_TIPS)] = "round"

    title: ClassVar[str] = "Flap slit"
    role: ClassVar[str] = "cuts"
    first: ClassVar[str] = "width"

    @model_validator(mode="after")
    def _has_room_for_its_tip(self) -> "Flap":
        if self.tip != "square" and self.height < self.width / 2:
            raise Refused(
                f"A {self.tip} tip {format_length(self.width)} wide takes {format_length(self.width / 2)} of the "
                "height; make the flap higher, or its tip square."
            )
        return self

    def follows_size(self) -> dict[str, float]:
        return {"height": self.width * 1.5}

    def paths(self) -> tuple[Path, ...]:
        return (flap(self.width, self.height, self.tip),)

    def sentence(self) -> Sequence[Bit]:
        return ["Slit round a flap ", Value("width"), " × ", Value("height"), ", its tip ", Value("tip")]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, height=self.height * down)
