"""A motif: a solid picture from the library."""

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

from foliant.core.design.shapes.shape import Shape, StandIn, short
from foliant.core.motifs import MOTIFS, find_motif, motif_for, outline
from foliant.core.paths import Path
from foliant.core.phrases import Bit, Size, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.remembering import remembered
from foliant.core.units import Unit

_CHOICES = tuple((motif.key, motif.name) for motif in MOTIFS.values())
_MOTIFS = Quantity("choice", "The motif", choices=_CHOICES, open=True)
_WIDTH = sized("The width")


class Motif(Shape):
    """A motif, its box centred on its origin; `stretch` is its width as a share of its natural width."""

    kind: Literal["motif"] = "motif"
    motif: Annotated[str, _MOTIFS] = "star"
    height: Annotated[float, sized("The height")] = 20.0
    stretch: Annotated[float, Quantity("percent", "The stretch", 10, 1000)] = 100.0

    title: ClassVar[str] = "Motif"
    role: ClassVar[str] = "engraves"
    first: ClassVar[str] = "width"
    shelf: ClassVar[str] = ""
    proportioned: ClassVar[bool] = True

    def paths(self) -> tuple[Path, ...]:
        return (outline(self.motif).transformed((self.height * self.stretch / 100, 0, 0, self.height, 0, 0)),)

    def segments(self) -> int:
        return len(outline(self.motif))

    @property
    def width(self) -> float:
        """How wide it is, mm."""
        return self.height * self.stretch / 100 * _natural_width(self.motif)

    def typed(self, values: dict[str, Any], unit: Unit) -> Shape:
        """Its width and height are typed for themselves; the stretch follows."""
        rest = dict(values)
        alone = "height" in rest and not {"stretch", "motif"} & set(rest)
        if "width" not in rest and not alone:
            return super().typed(rest, unit)
        raw = rest.pop("width", self.width)
        found = super().typed(rest, unit)
        assert isinstance(found, Motif)
        wanted = _WIDTH.number(raw, unit)
        return found.sized(stretch=100 * wanted / (found.height * _natural_width(found.motif)))

    def sentence(self) -> Sequence[Bit]:
        wide = Size("width", _WIDTH.label, self.width)
        stretched: list[Bit] = [] if self.stretch == 100 else [", ", Value("stretch"), " of its natural width"]
        return ["Motif ", Value("motif"), ", ", wide, " × ", Value("height"), *stretched]

    def label(self) -> str:
        return motif_for(self.motif).name

    def stand_in(self) -> StandIn | None:
        if find_motif(self.motif):
            return None
        near = motif_for(self.motif)
        return StandIn("motif", self.motif, near.name, {"motif": near.key}, alike=False)

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(height=self.height * down, stretch=self.stretch * across / down)


@remembered
def _natural_width(motif: str) -> float:
    """The width of a motif 1 mm tall."""
    left, _, right, _ = outline(motif).bounds
    return right - left
