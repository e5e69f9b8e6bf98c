"""A hole to hang a piece by: round, or long with round ends."""

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

from foliant.core.design.shapes.shape import Goes, Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import slot
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Unit

Side = Literal["free", "top", "left", "right", "bottom"]
_SIDES = (
    ("free", "placed freely"),
    ("top", "kept near the top"),
    ("left", "kept near the left"),
    ("right", "kept near the right"),
    ("bottom", "kept near the bottom"),
)


class Hole(Shape):
    """A hole centred on its origin: round where both sizes are equal.

    Where it is kept near a side, settling puts it as near to that side as `margin` mm to every edge allow.
    """

    kind: Literal["hole"] = "hole"
    width: Annotated[float, sized("The width of the hole")] = 4.0
    height: Annotated[float, sized("The height of the hole")] = 4.0
    near: Annotated[Side, Quantity("choice", "How it is placed", choices=_SIDES)] = "free"
    margin: Annotated[float, sized("The margin round the hole", 0, 500)] = 3.0

    title: ClassVar[str] = "Hole"
    role: ClassVar[str] = "cuts"
    shelf: ClassVar[str] = "first"
    first: ClassVar[str] = "width"
    goes: ClassVar[Goes] = "inside"
    keeps_size: ClassVar[bool] = True
    remembers: ClassVar[tuple[str, ...]] = ("width", "height")

    def paths(self) -> tuple[Path, ...]:
        return (slot(self.width, self.height),)

    @property
    def keeps_margin(self) -> bool:
        return self.near != "free"

    def typed(self, values: dict[str, Any], unit: Unit) -> Shape:
        """A round hole has one diameter: it stays round, unless it is made longer."""
        found = super().typed(values, unit)
        stays_round = self.width == self.height and "height" not in values
        return found.model_copy(update={"height": found.width}) if stays_round and isinstance(found, Hole) else found

    def sentence(self) -> Sequence[Bit]:
        size: list[Bit] = ["Long hole ", Value("width"), " × ", Value("height")]
        if self.width == self.height:
            size = ["Round hole ", Value("width"), " across and ", Value("height", said="as high")]
        return size if self.near == "free" else [*size, ", ", Value("near"), ", ", Value("margin"), " from every edge"]

    def label(self) -> str:
        return "Round hole" if self.width == self.height else "Long hole"

    def summary(self, unit: Unit) -> str:
        if self.width == self.height:
            return f"Ø {short(self.width, unit)}"
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, height=self.height * down)
