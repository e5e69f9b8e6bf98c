"""An arch-top: a plate with a round upper edge."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import model_validator

from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import arch
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit, format_length


class Arch(Shape):
    """An arch-top centred on its origin; its upper edge rises by `rise`, at most to a half circle."""

    kind: Literal["arch"] = "arch"
    width: Annotated[float, sized("The width")] = 40.0
    height: Annotated[float, sized("The height")] = 60.0
    rise: Annotated[float, sized("The rise of the arch")] = 20.0

    title: ClassVar[str] = "Arch-top"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "width"
    gives_way: ClassVar[tuple[str, ...]] = ("rise",)

    @model_validator(mode="after")
    def _stands(self) -> "Arch":
        most = min(self.width / 2, self.height - 0.01)
        if self.rise > most + 1e-5:
            raise Refused(
                f"An arch that rises {format_length(self.rise)} does not fit; on this plate the most is "
                f"{format_length(most)}."
            )
        return self

    def follows_size(self) -> dict[str, float]:
        return {"rise": min(self.width / 2, 0.9 * self.height)}

    def paths(self) -> tuple[Path, ...]:
        return (arch(self.width, self.height, min(self.rise, self.width / 2)),)

    def sentence(self) -> Sequence[Bit]:
        return ["Arch-top ", Value("width"), " × ", Value("height"), ", its arch rises ", Value("rise")]

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        width, height = self.width * across, self.height * down
        return self.sized(width=width, height=height, rise=min(self.rise * down, width / 2, height - 0.01))
