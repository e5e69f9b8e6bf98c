"""An eye to hang a piece by: a ring that stands over its edge, with its hole outside."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.shape import Goes, Shape, short
from foliant.core.paths import Path
from foliant.core.paths.shapes import ring
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Unit


class Eye(Shape):
    """An eye centred on its origin; `band` is the width of its material round the hole."""

    kind: Literal["eye"] = "eye"
    hole: Annotated[float, sized("The hole of the eye")] = 4.0
    band: Annotated[float, sized("The band of the eye")] = 3.0

    title: ClassVar[str] = "Eye"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = "hole"
    goes: ClassVar[Goes] = "over"
    keeps_size: ClassVar[bool] = True
    remembers: ClassVar[tuple[str, ...]] = ("hole", "band")

    @property
    def overlap(self) -> float:
        return self.band

    def paths(self) -> tuple[Path, ...]:
        return (ring(self.hole + 2 * self.band, self.band),)

    def sentence(self) -> Sequence[Bit]:
        return ["Eye with a hole ", Value("hole"), " across, its band ", Value("band"), " wide"]

    def summary(self, unit: Unit) -> str:
        return f"Ø {short(self.hole, unit)}"
