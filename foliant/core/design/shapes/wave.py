"""A plate with a wavy edge, such as the end of a bookmark."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import waved
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Unit, format_length

_EDGES = (("lower", "its lower edge"), ("upper", "its upper edge"), ("both", "both ends"))


class Wave(Shape):
    """A plate, its box centred on its origin; `edges` go in `waves` waves, `depth` mm from crest to trough."""

    kind: Literal["wave"] = "wave"
    width: Annotated[float, sized("The width")] = 40.0
    height: Annotated[float, sized("The height")] = 140.0
    waves: Annotated[int, Quantity("count", "The number of waves", 1, 60)] = 3
    depth: Annotated[float, sized("The depth of the waves")] = 5.0
    edges: Annotated[Literal["lower", "upper", "both"], Quantity("choice", "The wavy edge", choices=_EDGES)] = "lower"

    title: ClassVar[str] = "Wavy edge"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "width"
    gives_way: ClassVar[tuple[str, ...]] = ("depth",)

    @model_validator(mode="after")
    def _holds_together(self) -> "Wave":
        if self.depth * (2 if self.edges == "both" else 1) >= self.height:
            raise Refused(
                f"Waves {format_length(self.depth)} deep leave nothing of a plate {format_length(self.height)} high; "
                "make them less deep."
            )
        return self

    def follows_size(self) -> dict[str, float]:
        return {"depth": min(self.width / 8, self.height / 4)}

    def paths(self) -> tuple[Path, ...]:
        upper, lower = (self.depth if self.edges in (edge, "both") else 0.0 for edge in ("upper", "lower"))
        return (waved(self.width, self.height, self.waves, upper, lower),)

    def sentence(self) -> Sequence[Bit]:
        waves = " wave " if self.waves == 1 else " waves "
        size: list[Bit] = ["Plate ", Value("width"), " × ", Value("height"), ", "]
        return [*size, Value("edges"), " in ", Value("waves"), waves, Value("depth"), " deep"]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, height=self.height * down, depth=self.depth * down)
