"""Composites: shapes made from other parts of the piece, which they follow."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any

from pydantic import Field, SkipValidation, model_validator

from foliant.core.design.shapes.shape import Shape
from foliant.core.errors import Refused
from foliant.core.paths import Affine, Path, Region, combine

MOST_MEMBERS = 500


@dataclass(frozen=True)
class Source:
    """A part that a composite is made from, as it stands: its id, its name, its outline and where that lies."""

    id: str
    label: str
    form: Any
    matrices: tuple[Affine, ...]

    @property
    def paths(self) -> tuple[Path, ...]:
        """Its outlines on the piece."""
        return _paths(self.form, self.matrices)

    def on_piece(self, points: tuple[tuple[float, float], ...]) -> list[tuple[float, float]]:
        """Points of the part's own coordinates on the piece."""
        a, b, c, d, e, f = self.matrices[0]
        return [(a * x + c * y + e, b * x + d * y + f) for x, y in points]


@lru_cache(maxsize=1024)
def _paths(form: Any, matrices: tuple[Affine, ...]) -> tuple[Path, ...]:
    own = form.paths()
    return tuple(path.transformed(matrix) for matrix in matrices for path in own)


@lru_cache(maxsize=512)
def region_of(sources: tuple[Source, ...]) -> Region:
    """The area of all sources together."""
    return combine([path for source in sources for path in source.paths])


class Composite(Shape):
    """A shape made from the parts `of`, in the piece's own coordinates.

    `sources` are those parts as they stand: settling fills them in after every edit, and no file keeps them.
    """

    of: Annotated[tuple[str, ...], Field(max_length=MOST_MEMBERS)] = ()
    sources: SkipValidation[tuple[Source, ...]] = Field((), exclude=True, repr=False)

    @model_validator(mode="before")
    @classmethod
    def _sources_are_found_not_given(cls, data: Any) -> Any:
        if isinstance(data, dict) and not all(isinstance(item, Source) for item in data.get("sources") or ()):
            return {key: value for key, value in data.items() if key != "sources"}
        return data

    def names(self) -> str:
        """What it is made from, in words."""
        labels = [source.label[:24] for source in self.sources]
        if len(labels) > 4:
            labels = [*labels[:3], f"{len(labels) - 3} more"]
        return " and ".join([", ".join(labels[:-1]), labels[-1]] if len(labels) > 1 else labels) or "nothing"

    def resized(self, across: float, down: float) -> Shape:
        raise Refused(f"{self.title} takes its size from {self.names()}: size those instead.")
