"""Materials: what a workshop cuts, with the colours that the finished look is drawn in."""

from typing import Annotated

from foliant.core.equipment.names import Colour, Key, Name
from foliant.core.frozen import Frozen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized

GRAINS = (("wood", "with a wood grain"), ("plain", "plain"), ("fibre", "of fibres"))


class Material(Frozen):
    """A material: the thicknesses it is sold in (mm), the thinnest web of it that holds (mm, a starting point to be
    tested), its face, its engraved mark and its cut edge.
    """

    key: Key
    name: Name
    thicknesses: Annotated[tuple[float, ...], Quantity("lengths", "The thicknesses it is sold in", 0.05, 50)]
    thinnest: Annotated[float, sized("The thinnest material that holds", 0.05, 50)] = 1.2
    face: Annotated[Colour, Quantity("colour", "Its face")] = "#e6cb98"
    mark: Annotated[Colour, Quantity("colour", "Its engraving")] = "#4a2c1a"
    edge: Annotated[Colour, Quantity("colour", "Its edge")] = "#9a7647"
    grain: Annotated[str, Quantity("choice", "Its grain", choices=GRAINS)] = "plain"

    def sentence(self) -> tuple[Bit, ...]:
        """The material as a phrase, its values in place; its colours are better shown than said."""
        return (Value("name"), ", ", Value("thicknesses"), " thick, ", Value("grain"), "; thinner than ",
                Value("thinnest"), " it breaks")  # fmt: skip

    def sold_like(self, thickness: float) -> float:
        """A thickness, if it is sold in that, or else the first that it is sold in; mm."""
        return thickness if thickness in self.thicknesses else self.thicknesses[0]


def contrast(one: str, other: str) -> float:
    """How far two colours differ in lightness, as a share of the lighter one, 0 to 1 (luminance as in sRGB)."""
    low, high = sorted((_luminance(one), _luminance(other)))
    return (high - low) / high if high else 0.0


def _luminance(colour: str) -> float:
    shares = (int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5))
    red, green, blue = (share / 12.92 if share <= 0.04045 else ((share + 0.055) / 1.055) ** 2.4 for share in shares)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue
