"""An outline as it came: what is brought in from a file or traced, until it is made plain."""

import re
from collections.abc import Iterable, Sequence
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, model_validator

from foliant.core.design.names import NameIfAny
from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.paths import Path, join
from foliant.core.paths.data import path_data, path_from
from foliant.core.paths.flatten import GRID
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Across, Down, build, sized
from foliant.core.remembering import remembered
from foliant.core.units import Unit

MOST_OUTLINES = 20_000
MOST_CHARACTERS = 6_000_000
_COMMAND = re.compile(r"[LCA]")
_FLAT = 1e-6

Data = tuple[str, ...]


class Came(Frozen):
    """Where an outline came from, so that it can be brought anew: its group in the file of that name, the middle of its
    box there, and how large that was, mm.
    """

    file: NameIfAny
    group: Annotated[str, Field(max_length=40)]
    x: Across
    y: Down
    width: Annotated[float, sized("The width", 0)]
    height: Annotated[float, sized("The height", 0)]


class Outline(Shape):
    """Outlines told as path data, each filled alone; open ones are lines.

    data           path data of SVG in mm about the middle of the box of all of it: M, L, C, A and Z, capitals only
    width, height  how large that box is, mm; of 0 for a line that is upright or level
    name           what it is called
    came           where it came from, of what was brought in from a file
    """

    kind: Literal["outline"] = "outline"
    name: NameIfAny = ""
    data: Annotated[Data, Field(min_length=1, max_length=MOST_OUTLINES)]
    width: Annotated[float, sized("The width", 0)] = 0.0
    height: Annotated[float, sized("The height", 0)] = 0.0
    came: Came | None = None

    title: ClassVar[str] = "Outline"
    role: ClassVar[str] = "engraves"
    first: ClassVar[str] = "width"
    shelf: ClassVar[str] = ""
    proportioned: ClassVar[bool] = True

    @model_validator(mode="after")
    def _can_be_drawn(self) -> "Outline":
        if sum(map(len, self.data)) > MOST_CHARACTERS:
            raise Refused(f"An outline is told in at most {MOST_CHARACTERS / 1e6:g} million characters.")
        left, top, right, bottom = _box(self.data)
        if right - left < _FLAT and bottom - top < _FLAT:
            raise Refused("This outline has no size, so nothing of it could be seen.")
        return self

    @classmethod
    def of(cls, paths: Iterable[Path], name: str = "") -> "tuple[Outline, tuple[float, float]]":
        """Paths as an outline, and the middle of their box; raises `Refused` where it is too large or nothing."""
        drawn = [path for path in paths if len(path)]
        left, top, right, bottom = join(drawn).bounds
        x, y = (left + right) / 2, (top + bottom) / 2
        data = tuple(path_data(path.moved(-x, -y)) for path in drawn)
        left, top, right, bottom = _box(data)
        size = {"width": round(right - left, 6), "height": round(bottom - top, 6)}
        return build(cls, {"name": name[:80], "data": data, **size}), (x, y)

    def paths(self) -> tuple[Path, ...]:
        left, top, right, bottom = _box(self.data)
        wide, high = right - left, bottom - top
        across = self.width / wide if wide > _FLAT and self.width else 1.0
        down = self.height / high if high > _FLAT and self.height else 1.0
        # Arcs stay arcs where nobody could measure that one side is larger than it should be.
        if abs(across - down) * max(wide, high) < GRID:
            down = across
        plain = _paths(self.data)
        if across == down and abs(across - 1) * max(wide, high) < GRID:
            return plain
        return tuple(path.transformed((across, 0, 0, down, 0, 0)) for path in plain)

    @property
    def is_open(self) -> bool:
        """Whether it bounds nothing."""
        return not any("Z" in one for one in self.data)

    def sentence(self) -> Sequence[Bit]:
        flat = (self.width < _FLAT, self.height < _FLAT)
        size: list[Bit] = [Value("width"), " × ", Value("height")]
        if any(flat):
            size = [Value("height")] if flat[0] else [Value("width")]
        return [f"{self.label()}, ", *size]

    def label(self) -> str:
        return self.name or ("Lines" if self.is_open else "Outline")

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def segments(self) -> int:
        return sum(len(_COMMAND.findall(one)) + 1 for one in self.data)

    @property
    def lessens(self) -> str:
        return f"its {self.segments():,} lines and curves"

    def typed(self, values: dict[str, Any], unit: Unit) -> Shape:
        found = super().typed(values, unit)
        assert isinstance(found, Outline)
        if not (found.width or found.height) or any(
            not getattr(found, side) and getattr(self, side) for side in ("width", "height")
        ):
            raise Refused("An outline has a width and a height of more than nothing.")
        return found

    def resized(self, across: float, down: float) -> Shape:
        return self.sized(width=self.width * across, height=self.height * down)


@remembered
def _paths(data: Data) -> tuple[Path, ...]:
    return tuple(map(path_from, data))


@remembered
def _box(data: Data) -> tuple[float, float, float, float]:
    return join(_paths(data)).bounds
