"""The materials of the demo workshop, with the colours that the finished look is drawn in."""

from dataclasses import dataclass
from typing import Literal

from foliant.core.errors import Refused


@dataclass(frozen=True)
class Material:
    """A material: the thicknesses it is sold in (mm), the thinnest web of it that holds (mm, a starting point to be
    tested), its face, its engraved mark and its cut edge.
    """

    key: str
    name: str
    thicknesses: tuple[float, ...]
    thinnest: float
    face: str
    mark: str
    edge: str
    grain: Literal["wood", "plain", "fibre"]


MATERIALS: tuple[Material, ...] = (
    Material("birch-ply", "birch ply", (3.0, 4.0), 1.2, "#e6cb98", "#4a2c1a", "#9a7647", "wood"),
    Material("slate-acrylic", "slate acrylic", (3.0,), 1.5, "#5d7b7f", "#dfe9e8", "#38494d", "plain"),
    Material("tan-leather", "veg-tan leather", (2.0,), 1.5, "#c98f5d", "#54301a", "#8a5a33", "fibre"),
    Material("ivory-card", "ivory card", (0.4,), 0.8, "#f4ecd8", "#8d7b5f", "#b7a88a", "plain"),
    Material("cork-sheet", "cork sheet", (2.0,), 1.2, "#c8a06c", "#5b3d22", "#8f6b40", "fibre"),
    Material("grey-felt", "grey wool felt", (3.0,), 2.5, "#a9a8a4", "#55534f", "#76746f", "fibre"),
)

_BY_KEY = {found.key: found for found in MATERIALS}


def material(key: str) -> Material:
    """The material of that key; raises `Refused` where the workshop has none."""
    try:
        return _BY_KEY[key]
    except KeyError:
        raise Refused(f"There is no material “{key}” here; the materials are {', '.join(_BY_KEY)}.") from None
