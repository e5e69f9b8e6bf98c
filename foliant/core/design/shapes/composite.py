"""Composites: shapes made from other parts of the piece, which they follow."""

from collections.abc import Mapping
from typing import Annotated, Self

from pydantic import Field

from foliant.core.design.shapes.following import Following
from foliant.core.design.shapes.shape import Shape
from foliant.core.errors import Refused

MOST_MEMBERS = 500


class Composite(Following):
    """A shape made from the parts `of`, in the piece's own coordinates."""

    of: Annotated[tuple[str, ...], Field(max_length=MOST_MEMBERS)] = ()

    @property
    def follows(self) -> tuple[str, ...]:
        return self.of

    def following(self, ids: Mapping[str, str]) -> Self:
        return self.model_copy(update={"of": tuple(ids[key] for key in self.of if key in ids)})

    def resized(self, across: float, down: float) -> Shape:
        raise Refused(f"{self.title} takes its size from {self.names()}: size those instead.")
