"""A drawn shape: what the pen makes, and what any part becomes when it is made plain."""

from collections.abc import Iterable, Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from foliant.core.design.names import NameIfAny
from foliant.core.design.nodes import Contour, contours_of, path_of
from foliant.core.design.shapes.shape import Shape
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.phrases import Bit
from foliant.core.units import Unit

MOST_NODES = 5000
MOST_CONTOURS = 500


class Drawn(Shape):
    """Contours of nodes about the middle of their box; open ones are lines, closed ones bound an area. Its
    `name` is what was made plain, where that had words.
    """

    kind: Literal["drawn"] = "drawn"
    contours: Annotated[tuple[Contour, ...], Field(max_length=MOST_CONTOURS)]
    name: NameIfAny = ""

    title: ClassVar[str] = "Drawn shape"
    role: ClassVar[str] = "adds"
    first: ClassVar[str] = ""
    shelf: ClassVar[str] = ""

    @model_validator(mode="after")
    def _can_be_drawn(self) -> "Drawn":
        if self.node_count > MOST_NODES:
            raise Refused(f"A drawn shape holds at most {MOST_NODES:,} nodes and this has {self.node_count:,}.")
        if not any(len(path) for path in self.paths()):
            raise Refused("All its nodes lie in one place: draw at least two that differ.")
        return self

    @classmethod
    def of(cls, path: Path) -> "Drawn":
        """A path as a drawn shape."""
        return cls(contours=contours_of(path))

    def with_contours(self, contours: Iterable[Contour]) -> "Drawn":
        """The same shape, drawn by other contours; raises `Refused`."""
        return Drawn(contours=tuple(contours), name=self.name)

    @property
    def node_count(self) -> int:
        return sum(len(contour.nodes) for contour in self.contours)

    @property
    def is_open(self) -> bool:
        """Whether it bounds nothing."""
        return not any(contour.closed for contour in self.contours)

    def paths(self) -> tuple[Path, ...]:
        return (path_of(self.contours).with_arcs(),)

    def sentence(self) -> Sequence[Bit]:
        count = f"{self.node_count} nodes"
        return [f"{self.label()} of {count}" if len(self.contours) == 1 else f"{self.label()}, {count}"]

    def segments(self) -> int:
        return self.node_count

    @property
    def lessens(self) -> str:
        return f"its {self.node_count:,} nodes"

    def label(self) -> str:
        return self.name or ("Drawn line" if self.is_open else "Drawn shape")

    def summary(self, unit: Unit) -> str:
        return f"{self.node_count} nodes"

    def resized(self, across: float, down: float) -> Shape:
        return self.with_contours(contour.stretched(across, down) for contour in self.contours)
