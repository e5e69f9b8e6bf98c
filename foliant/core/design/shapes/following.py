"""Following shapes: those that take something from other parts of the piece, and change when those do."""

from abc import abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Self

from pydantic import Field, SkipValidation, model_validator

from foliant.core.design.shapes.shape import Shape
from foliant.core.paths import Affine, Path, Region, combine
from foliant.core.remembering import remembered


@dataclass(frozen=True)
class Source:
    """A part that a shape follows, as it stands: its id, its name, its outline and where that lies."""

    id: str
    label: str
    form: Any
    matrices: tuple[Affine, ...]

    @property
    def paths(self) -> tuple[Path, ...]:
        """Its outlines on the piece."""
        return _paths(self.form, self.matrices)

    @property
    def segments(self) -> int:
        """About how many segments its outlines have."""
        return int(self.form.segments()) * len(self.matrices)

    def on_piece(self, points: tuple[tuple[float, float], ...]) -> list[tuple[float, float]]:
        """Points of the part's own coordinates on the piece."""
        a, b, c, d, e, f = self.matrices[0]
        return [(a * x + c * y + e, b * x + d * y + f) for x, y in points]


@remembered
def _paths(form: Any, matrices: tuple[Affine, ...]) -> tuple[Path, ...]:
    own = form.paths()
    return tuple(path.transformed(matrix) for matrix in matrices for path in own)


@remembered
def region_of(sources: tuple[Source, ...]) -> Region:
    """The area of all sources together."""
    return combine([path for source in sources for path in source.paths])


class Following(Shape):
    """A shape that follows the parts `follows`, where it has any: it is then in the piece's own coordinates.

    `sources` are those parts as they stand: settling fills them in after every edit, and no file keeps them.
    """

    sources: SkipValidation[tuple[Source, ...]] = Field((), exclude=True, repr=False)

    @model_validator(mode="before")
    @classmethod
    def _sources_are_found_not_given(cls, data: Any) -> Any:
        if isinstance(data, dict) and not all(isinstance(item, Source) for item in data.get("sources") or ()):
            return {key: value for key, value in data.items() if key != "sources"}
        return data

    def segments(self) -> int:
        return super().segments() + sum(source.segments for source in self.sources)

    @abstractmethod
    def following(self, ids: Mapping[str, str]) -> Self:
        """The shape following other parts: those that `ids` names, and no others."""

    def names(self) -> str:
        """What it follows, in words."""
        labels = [source.label[:24] for source in self.sources]
        if len(labels) > 4:
            labels = [*labels[:3], f"{len(labels) - 3} more"]
        return " and ".join([", ".join(labels[:-1]), labels[-1]] if len(labels) > 1 else labels) or "nothing"
