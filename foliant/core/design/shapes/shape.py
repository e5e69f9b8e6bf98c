"""What every kind of part offers."""

import math
from abc import abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.paths import Path, join
from foliant.core.phrases import Bit
from foliant.core.quantities import Quantity, sized, values_read, with_values
from foliant.core.seeing import Look
from foliant.core.units import Unit, format_length

Goes = Literal["middle", "inside", "over", "under"]

_SIZES = {"width": sized("The width"), "height": sized("The height")}
_NEAR_USUAL = 0.06
"""How far, mm, what follows from a size may be from that once it is rounded."""
_LEAST = 0.1  # mm, of a value that gives way


@dataclass(frozen=True)
class StandIn:
    """What a shape is made of that is not here, and what stands in for it.

    what    what it is, in a word
    gone    what is not here
    here    what stands in for it
    values  the values that make it the shape's own
    alike   whether it looks much the same
    """

    what: str
    gone: str
    here: str
    values: dict[str, str]
    alike: bool


class Shape(Frozen):
    """A parametric shape about its own origin, in mm. Sizes only: place and role belong to the part.

    title  what the shelf and the parts list call it
    first  the field that is typed first, once it is put on
    role   the role it takes when it is put on, unless the maker chose another
    shelf  where it is offered: first on the shelf, among the other shapes, or "" by a tool of its own
    keeps  whether nothing cuts it away where it adds material
    proportioned  whether it keeps its proportions by itself
    keeps_size    whether it stays as large as it is where it is sized with others: what fits something of its own
    gives_way     the values that are lessened where a size is typed that has no room for them
    remembers     the values that the next one of its kind takes over
    crops         the values that take away some of it, so that what is left stays where it is
    goes          where on a piece it usually goes: to the middle, near an edge inside, or over the upper or lower edge
    """

    title: ClassVar[str]
    role: ClassVar[str]
    first: ClassVar[str]
    shelf: ClassVar[str] = "more"
    keeps: ClassVar[bool] = False
    proportioned: ClassVar[bool] = False
    keeps_size: ClassVar[bool] = False
    gives_way: ClassVar[tuple[str, ...]] = ()
    remembers: ClassVar[tuple[str, ...]] = ()
    crops: ClassVar[tuple[str, ...]] = ()
    goes: ClassVar[Goes] = "middle"

    @abstractmethod
    def paths(self) -> tuple[Path, ...]:
        """Closed outlines, each filled by the nonzero rule; the shape is their union."""

    @abstractmethod
    def sentence(self) -> Sequence[Bit]:
        """The shape said as a phrase for the spec line, its values in place."""

    @abstractmethod
    def summary(self, unit: Unit) -> str:
        """Its size in a word or two, for the parts list."""

    def box(self) -> tuple[float, float, float, float] | None:
        """The box it is placed and held by about its origin, where that is not simply the box of its outline."""
        return None

    def in_roles(self, before: tuple[str, ...], after: tuple[str, ...]) -> "Shape":
        """The shape once its part plays other roles."""
        return self

    def made_in(self, roles: tuple[str, ...]) -> "Shape":
        """The shape as it is made where its part plays these roles."""
        return self

    def roles_after(self, before: "Shape", roles: tuple[str, ...]) -> tuple[str, ...]:
        """The roles that its part plays, once it has other values than before."""
        return roles

    def stand_in(self) -> StandIn | None:
        """What stands in for something that it is made of and that is not here, if so."""
        return None

    # What kinds can do beside that; each says so for itself, and nobody asks which kind a shape is.

    @property
    def look(self) -> Look | None:
        """What it shows, where it is a picture; its outline is what is seen of that."""
        return None

    @property
    def follows(self) -> tuple[str, ...]:
        """The ids of the parts that it follows."""
        return ()

    @property
    def says(self) -> str:
        """The words that are written in it, where it is made of words."""
        return ""

    def names(self) -> str:
        """What it follows, in words."""
        return "nothing"

    @property
    def members(self) -> tuple[str, ...]:
        """The ids of the parts that it is combined from, so that they are not made themselves."""
        return ()

    @property
    def goes_along(self) -> bool:
        """Whether it lies where the parts it follows put it, and only carries on from there."""
        return False

    def along(self, factor: float) -> "Shape":
        """The shape once what it follows has become so many times as large, where that changes a value of its own."""
        return self

    @property
    def keeps_margin(self) -> bool:
        """Whether it finds its own place on the piece, a margin from every edge."""
        return False

    @classmethod
    def lacks(cls) -> str:
        """What the machine lacks to put it on, and how to get it, as a sentence; nothing where all is there."""
        return ""

    @property
    def missing(self) -> str:
        """The characters that nothing can be drawn for."""
        return ""

    @property
    def tips(self) -> tuple[tuple[float, float, float], ...]:
        """Where it is meant to run out to nothing, and from how far away: x, y about its origin, and a distance, mm."""
        return ()

    @property
    def mesh(self) -> tuple[tuple[float, float, float], ...]:
        """Where little is meant to be left between what it cuts away, told in the same way."""
        return ()

    @property
    def baseline(self) -> float | None:
        """The height of the line that it stands on, mm about its origin, where it stands on one."""
        return None

    def with_stock(self, thickness: float) -> "Shape":
        """The shape for stock so thick, mm."""
        return self

    def segments(self) -> int:
        """About how many segments its outline has, reckoned without working it out."""
        return 12

    @property
    def rounds(self) -> float:
        """How many times over its outline is gone through until it is worked out."""
        return 1.0

    @property
    def lessens(self) -> str:
        """What of it could be lessened, in words."""
        return ""

    def label(self) -> str:
        """What the parts list calls it when it has no name of its own."""
        return self.title

    @property
    def overlap(self) -> float:
        """How far (mm) it reaches into the material where it goes over or under an edge."""
        return 0.0

    def typed(self, values: dict[str, Any], unit: Unit) -> "Shape":
        """The shape with values as they are typed, and what follows from them; raises `Refused`."""
        after = self.model_copy(update=values_read(type(self), values, unit)).follows_size()
        usual = {name: max(_LEAST, round(after[name], 1)) for name in self._usual() if name not in values}
        try:
            return with_values(self, {**usual, **values}, unit).changed_from(self)
        except Refused:
            yielding = [name for name in self.gives_way if name not in values]
            if not yielding:
                raise
            room = self.model_copy(update=dict.fromkeys(yielding, _LEAST))
            sized = with_values(room, {**usual, **values}, unit)
            shares = [getattr(sized, name) / getattr(self, name) for name in values if _is_length(type(self), name)]
            share = min(shares, default=1.0)
            return sized.sized(**{name: max(_LEAST, round(getattr(self, name) * share, 1)) for name in yielding})

    def follows_size(self) -> dict[str, float]:
        """Measures (mm) as they follow from its sizes, each by its field, for as long as nobody types another."""
        return {}

    def _usual(self) -> list[str]:
        """Those that nobody has typed."""
        return [name for name, usual in self.follows_size().items() if abs(usual - getattr(self, name)) < _NEAR_USUAL]

    def in_proportion(self, values: dict[str, Any], unit: Unit) -> "Shape | None":
        """The shape at a width or height as it is typed, the other in proportion; None where it is not one of these."""
        field, raw = next(iter(values.items()), ("", None))
        size = _SIZES.get(field)
        if size is None or len(values) > 1:
            return None
        box, side = join(self.paths()).bounds, 0 if field == "width" else 1
        extent = box[side + 2] - box[side]
        if extent < 1e-9:
            return None  # a line is no taller for being asked to
        factor = size.number(raw, unit) / extent
        return self.resized(factor, factor)

    def changed_from(self, before: "Shape") -> "Shape":
        """The shape after values were typed, with what follows from them."""
        return self

    def resized(self, across: float, down: float) -> "Shape":
        """The shape made `across` times as wide and `down` times as tall; raises `Refused` where it cannot be.

        A kind with one size of its own, such as a star, keeps its proportions: see `even`.
        """
        return self.scaled(even(across, down))

    def scaled(self, factor: float) -> "Shape":
        """The shape with every length multiplied."""
        lengths = [name for name in type(self).model_fields if _is_length(type(self), name)]
        return self.sized(**{name: getattr(self, name) * factor for name in lengths})

    def sized(self, **values: float) -> "Shape":
        """The shape with other values, on the grid of a millionth of a millimetre, and checked."""
        return with_values(self, {name: round(value, 6) for name, value in values.items()}, "mm")


def even(across: float, down: float) -> float:
    """One factor for a shape that keeps its proportions: the one that changes, or the middle of both."""
    if abs(across - 1) < 1e-9:
        return down
    return across if abs(down - 1) < 1e-9 else math.sqrt(abs(across * down))


def _is_length(kind: type[Shape], field: str) -> bool:
    return any(isinstance(item, Quantity) and item.kind == "length" for item in kind.model_fields[field].metadata)


def short(millimetres: float, unit: Unit) -> str:
    """A length for a summary, without its unit."""
    return format_length(millimetres, unit, with_unit=False)
