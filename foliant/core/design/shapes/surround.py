"""A surround: what runs round other parts at a distance, and follows them."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.shapes.composite import Composite
from foliant.core.design.shapes.following import Source, region_of
from foliant.core.design.shapes.shape import Shape, short
from foliant.core.paths import Joins, Path, offset, subtract
from foliant.core.paths.nesting import chosen_contours, depths
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.remembering import remembered
from foliant.core.units import Unit

_JOINS = (("round", "round"), ("sharp", "sharp"), ("bevelled", "bevelled"))


class Surround(Composite):
    """The outline `distance` mm outside or inside other parts, solid or only the band between it and them.

    Gaps narrower than `closes` are filled, so that separate letters share one plate; openings are kept or filled.
    """

    kind: Literal["surround"] = "surround"
    distance: Annotated[float, sized("The distance of the surround", 0.05, 300)] = 3.0
    side: Annotated[
        Literal["outside", "inside"],
        Quantity("choice", "The side", choices=(("outside", "outside"), ("inside", "inside"))),
    ] = "outside"
    joins: Annotated[Joins, Quantity("choice", "Its corners", choices=_JOINS)] = "round"
    closes: Annotated[float, sized("The gaps that are closed", 0, 100)] = 2.0
    body: Annotated[
        Literal["solid", "band"],
        Quantity("choice", "What it covers", choices=(("solid", "solid"), ("band", "only the band round them"))),
    ] = "solid"
    openings: Annotated[
        Literal["kept", "filled"],
        Quantity("choice", "Its openings", choices=(("kept", "kept"), ("filled", "filled"))),
    ] = "filled"

    title: ClassVar[str] = "Surround"
    role: ClassVar[str] = "adds"
    shelf: ClassVar[str] = ""
    first: ClassVar[str] = "distance"
    remembers: ClassVar[tuple[str, ...]] = ("distance", "joins")

    @property
    def rounds(self) -> float:
        return 2.0

    def along(self, factor: float) -> Shape:
        """Gaps between the parts grow with them, and those that were closed stay so."""
        return self.sized(closes=min(self.closes * factor, 100.0))

    @staticmethod
    def body_in(role: str) -> Literal["solid", "band"]:
        """What it covers by itself: what cuts or engraves leaves what it goes round alone."""
        return "band" if role in ("cuts", "engraves") else "solid"

    def in_roles(self, before: tuple[str, ...], after: tuple[str, ...]) -> "Surround":
        if len(after) > 1 or set(after) < set(before):
            return self
        return self.model_copy(update={"body": self.body_in(after[0])})

    def paths(self) -> tuple[Path, ...]:
        return (_surround(self.sources, self.distance, self.side, self.joins, self.closes, self.body, self.openings),)

    def sentence(self) -> Sequence[Bit]:
        begin: list[Bit] = [
            "Surround ",
            Value("distance"),
            " ",
            Value("side"),
            f" {self.names()}, corners ",
            Value("joins"),
        ]
        if self.side == "outside":
            begin += [", gaps under ", Value("closes"), " closed, openings ", Value("openings")]
        return [*begin, ", ", Value("body")]

    def label(self) -> str:
        return f"Surround of {self.names()}"

    def summary(self, unit: Unit) -> str:
        return f"{short(self.distance, unit)} {self.side}"


@remembered
def _surround(
    sources: tuple[Source, ...], distance: float, side: str, joins: Joins, closes: float, body: str, openings: str
) -> Path:
    inner = region_of(sources)
    if not len(inner.path):
        return inner.path
    if side == "inside":
        shrunk = offset(inner, -distance, joins)
        return shrunk.path if body == "solid" else subtract([inner.path], [[shrunk.path]]).path
    grown = offset(inner, distance, joins, closes)
    path = _without_openings(grown.path) if openings == "filled" else grown.path
    return path if body == "solid" else subtract([path], [[inner.path]]).path


def _without_openings(path: Path) -> Path:
    return chosen_contours(path, depths(path) % 2 == 0)
