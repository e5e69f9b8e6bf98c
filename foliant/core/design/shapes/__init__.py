"""The kinds of part, one file each. `SHAPES` lists them in the order of the shelf.

To add a kind: write its file with a class like `Circle`, and name it here.
"""

from typing import Annotated

from pydantic import Field

from foliant.core.design.shapes.arch import Arch
from foliant.core.design.shapes.braille import Braille
from foliant.core.design.shapes.bridge import Bridge
from foliant.core.design.shapes.circle import Circle
from foliant.core.design.shapes.combination import Combination
from foliant.core.design.shapes.composite import Composite
from foliant.core.design.shapes.drawn import Drawn
from foliant.core.design.shapes.drop import Drop
from foliant.core.design.shapes.ellipse import Ellipse
from foliant.core.design.shapes.eye import Eye
from foliant.core.design.shapes.flap import Flap
from foliant.core.design.shapes.following import Following, Source
from foliant.core.design.shapes.heart import Heart
from foliant.core.design.shapes.hole import Hole
from foliant.core.design.shapes.lap import Lap
from foliant.core.design.shapes.line import Line
from foliant.core.design.shapes.motif import Motif
from foliant.core.design.shapes.outline import Outline
from foliant.core.design.shapes.picture import Picture
from foliant.core.design.shapes.polygon import Polygon
from foliant.core.design.shapes.rectangle import Rectangle
from foliant.core.design.shapes.ring import Ring
from foliant.core.design.shapes.sector import Sector
from foliant.core.design.shapes.shape import Shape
from foliant.core.design.shapes.slot import Slot
from foliant.core.design.shapes.spike import Spike
from foliant.core.design.shapes.star import Star
from foliant.core.design.shapes.surround import Surround
from foliant.core.design.shapes.swallowtail import Swallowtail
from foliant.core.design.shapes.tabs import Tabs
from foliant.core.design.shapes.triangle import Triangle
from foliant.core.design.shapes.wave import Wave
from foliant.core.design.shapes.words import Words

AnyShape = Annotated[
    Rectangle
    | Circle
    | Ring
    | Words
    | Hole
    | Eye
    | Ellipse
    | Triangle
    | Polygon
    | Star
    | Sector
    | Arch
    | Spike
    | Swallowtail
    | Wave
    | Drop
    | Heart
    | Line
    | Motif
    | Picture
    | Slot
    | Flap
    | Lap
    | Bridge
    | Tabs
    | Surround
    | Combination
    | Drawn
    | Outline
    | Braille,
    Field(discriminator="kind"),
]

SHAPES: tuple[type[Shape], ...] = (
    Rectangle,
    Circle,
    Ring,
    Words,
    Hole,
    Eye,
    Ellipse,
    Triangle,
    Polygon,
    Star,
    Sector,
    Arch,
    Spike,
    Swallowtail,
    Wave,
    Drop,
    Heart,
    Line,
    Motif,
    Braille,
    Picture,
    Slot,
    Flap,
    Lap,
    Bridge,
    Tabs,
    Surround,
    Combination,
    Drawn,
    Outline,
)

__all__ = [
    "SHAPES",
    "AnyShape",
    "Braille",
    "Bridge",
    "Combination",
    "Composite",
    "Drawn",
    "Eye",
    "Following",
    "Hole",
    "Lap",
    "Line",
    "Motif",
    "Outline",
    "Picture",
    "Shape",
    "Slot",
    "Source",
    "Surround",
    "Tabs",
    "Words",
]
