"""A combination: several parts made one shape, live: welded, subtracted, met, excluded or divided."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import shapely
from pydantic import Field

from foliant.core.design.shapes.composite import Composite
from foliant.core.design.shapes.following import Source
from foliant.core.design.shapes.shape import Shape
from foliant.core.paths import Path, Region, combine, divide, exclude, intersect, subtract
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity
from foliant.core.remembering import remembered
from foliant.core.units import Unit

CombinationKey = Literal["weld", "subtract", "intersect", "exclude", "divide"]
TITLES: dict[CombinationKey, str] = {
    "weld": "welded",
    "subtract": "subtracted",
    "intersect": "where all meet",
    "exclude": "where they do not meet",
    "divide": "divided",
}


class Combination(Composite):
    """Parts made one. The first of them is the keeper: what is subtracted from, or divided, by the others.

    dropped  points of the faces of a division that are left out, in the keeper's own coordinates
    """

    kind: Literal["combination"] = "combination"
    how: Annotated[CombinationKey, Quantity("choice", "How they are combined", choices=tuple(TITLES.items()))] = "weld"
    dropped: Annotated[tuple[tuple[float, float], ...], Field(max_length=500)] = ()

    title: ClassVar[str] = "Combination"
    role: ClassVar[str] = "adds"
    shelf: ClassVar[str] = ""
    first: ClassVar[str] = ""

    @property
    def has_keeper(self) -> bool:
        """Whether it matters which part comes first."""
        return self.how in ("subtract", "divide")

    @property
    def members(self) -> tuple[str, ...]:
        return self.of

    def paths(self) -> tuple[Path, ...]:
        if self.how == "divide":
            return tuple(face.path for face, kept in self.faces() if kept)
        return (_combined(self.how, self.sources).path,)

    def faces(self) -> list[tuple[Region, bool]]:
        """The faces of a division, and whether each is kept."""
        if self.how != "divide" or not self.sources:
            return []
        faces = _faces(self.sources)
        at = shapely.points(self.sources[0].on_piece(self.dropped)) if self.dropped else []
        return [(face, not any(face.shape.contains(point) for point in at)) for face in faces]

    def keeping(self, keeper: str) -> "Combination":
        """The combination with another of its parts as the keeper."""
        rest = tuple(part for part in self.of if part != keeper)
        return self.model_copy(update={"of": (keeper, *rest), "dropped": ()})

    def sentence(self) -> Sequence[Bit]:
        return [f"{self.names()}, ", Value("how")]

    def label(self) -> str:
        labels = [source.label[:24] for source in self.sources] or ["nothing"]
        if len(labels) == 1:
            return labels[0]
        rest = labels[1] if len(labels) == 2 else f"{len(labels) - 1} others"
        words = {"weld": "with", "subtract": "less", "intersect": "within", "exclude": "or", "divide": "divided by"}
        return f"{labels[0]} {words[self.how]} {rest}"

    def summary(self, unit: Unit) -> str:
        if self.how == "divide":
            faces = self.faces()
            return f"{sum(kept for _, kept in faces)} of {len(faces)} parts kept"
        return TITLES[self.how]

    def resized(self, across: float, down: float) -> Shape:
        return self


@remembered
def _combined(how: CombinationKey, sources: tuple[Source, ...]) -> Region:
    groups = [source.paths for source in sources]
    if not groups:
        return combine([])
    match how:
        case "subtract":
            return subtract(groups[0], groups[1:])
        case "intersect":
            return intersect(groups)
        case "exclude":
            return exclude(groups)
    return combine([path for group in groups for path in group])


@remembered
def _faces(sources: tuple[Source, ...]) -> list[Region]:
    return divide(sources[0].paths, [path for source in sources[1:] for path in source.paths])
