"""Repeats: one part shown many times, each copy a map of the first. Change the first and all follow."""

import math
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from foliant.core.design.references import Bounds
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.paths import Affine, similarity
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Across, Down, Quantity

MOST_COPIES = 1000

_Skipped = Annotated[tuple[int, ...], Field(max_length=MOST_COPIES)]
_Count = Annotated[int, Quantity("count", "The number", 1, MOST_COPIES)]
_By = Annotated[
    Literal["gap", "pitch"],
    Quantity("choice", "How the distance is measured", choices=(("gap", "apart"), ("pitch", "from one to the next"))),
]
_Distance = Quantity("length", "The distance", -3000, 3000)


class Rows(Frozen):
    """Columns and rows, measured by the gap between copies or by the pitch from one to the next."""

    kind: Literal["rows"] = "rows"
    columns: _Count = 3
    rows: _Count = 1
    by: _By = "gap"
    across: Annotated[float, _Distance] = 4.0
    down: Annotated[float, _Distance] = 4.0
    skip: _Skipped = ()

    def sentence(self) -> list[Bit]:
        """The repeat as a phrase."""
        said: list[Bit] = ["repeated in ", Value("columns"), " columns, ", Value("across"), " ", Value("by"), ", and "]
        if self.rows == 1:
            return [*said, Value("rows"), " row"]
        return [*said, Value("rows"), " rows, ", Value("down"), " likewise"]

    @property
    def copies(self) -> int:
        return self.columns * self.rows

    @model_validator(mode="after")
    def _not_too_many(self) -> "Rows":
        if self.columns * self.rows > MOST_COPIES:
            raise Refused(f"{self.columns} × {self.rows} copies are more than the {MOST_COPIES:,} one repeat may make.")
        return self

    def maps(self, bounds: Bounds) -> list[Affine]:
        wide = bounds[2] - bounds[0] if self.by == "gap" else 0.0
        tall = bounds[3] - bounds[1] if self.by == "gap" else 0.0
        step = (self.across + wide, self.down + tall)
        return [
            (1.0, 0.0, 0.0, 1.0, step[0] * column, step[1] * row)
            for row in range(self.rows)
            for column in range(self.columns)
        ]


class Around(Frozen):
    """Copies around a centre: the middle of `about` (a part's id or "piece"), or the point (cx, cy).

    free  what it goes by where that is nothing else
    """

    kind: Literal["around"] = "around"
    count: Annotated[int, Quantity("count", "The number", 2, MOST_COPIES)] = 6
    about: str = ""
    cx: Across = 0.0
    cy: Down = 0.0
    sweep: Annotated[float, Quantity("angle", "The angle they spread over", -360, 360)] = 360.0
    turned: Annotated[
        Literal["turned", "upright"],
        Quantity("choice", "How they stand", choices=(("turned", "turned to it"), ("upright", "kept upright"))),
    ] = "turned"
    skip: _Skipped = ()

    free: ClassVar[str] = "a point of its own"

    def sentence(self) -> list[Bit]:
        """The repeat as a phrase."""
        about = [Value("count"), " of it around ", Value("about"), *_own_point(self)]
        return [*about, " over ", Value("sweep"), ", ", Value("turned")]

    @property
    def copies(self) -> int:
        return self.count

    def maps(self, bounds: Bounds) -> list[Affine]:
        whole = abs(abs(self.sweep) - 360) < 1e-9
        step = self.sweep / (self.count if whole else self.count - 1)
        middle = ((bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2)
        found = []
        for number in range(self.count):
            a, b, c, d, _, _ = similarity(step * number)
            if self.turned == "turned":
                found.append((a, b, c, d, self.cx - a * self.cx - c * self.cy, self.cy - b * self.cx - d * self.cy))
            else:
                x, y = middle[0] - self.cx, middle[1] - self.cy
                found.append((1.0, 0.0, 0.0, 1.0, a * x + c * y - x, b * x + d * y - y))
        return found


class Mirrored(Frozen):
    """One copy, mirrored left to right or top to bottom at the line through (cx, cy), the middle of `about`; or both
    ways, which makes three.
    """

    kind: Literal["mirrored"] = "mirrored"
    axis: Annotated[
        Literal["across", "down", "both"],
        Quantity(
            "choice",
            "The way it is mirrored",
            choices=(("across", "left to right"), ("down", "top to bottom"), ("both", "both ways")),
        ),
    ] = "across"
    about: str = ""
    cx: Across = 0.0
    cy: Down = 0.0
    skip: _Skipped = ()

    free: ClassVar[str] = "a line of its own"

    def sentence(self) -> list[Bit]:
        """The repeat as a phrase."""
        return ["mirrored ", Value("axis"), " at ", Value("about"), *_own_point(self)]

    @property
    def copies(self) -> int:
        return 4 if self.axis == "both" else 2

    def maps(self, bounds: Bounds) -> list[Affine]:
        here: Affine = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
        across: Affine = (-1.0, 0.0, 0.0, 1.0, 2 * self.cx, 0.0)
        down: Affine = (1.0, 0.0, 0.0, -1.0, 0.0, 2 * self.cy)
        opposite: Affine = (-1.0, 0.0, 0.0, -1.0, 2 * self.cx, 2 * self.cy)
        return {"across": [here, across], "down": [here, down], "both": [here, across, down, opposite]}[self.axis]


def _own_point(repeat: Around | Mirrored) -> list[Bit]:
    return [] if repeat.about else [" (", Value("cx"), ", ", Value("cy"), ")"]


AnyRepeat = Annotated[Rows | Around | Mirrored, Field(discriminator="kind")]


def copies(repeat: Rows | Around | Mirrored, bounds: Bounds) -> dict[int, Affine]:
    """The maps of the copies that are there, by their numbers; 0 is the first itself. `bounds` are the first's."""
    return {
        number: found for number, found in enumerate(repeat.maps(bounds)) if number == 0 or number not in repeat.skip
    }


def placement(matrix: Affine) -> tuple[float, float, float, bool]:
    """A rigid map as (x, y, rotation in degrees, flipped), as a part is placed."""
    a, b, c, d, x, y = matrix
    flipped = a * d - b * c < 0
    turn = math.degrees(math.atan2(-b, -a) if flipped else math.atan2(b, a))
    return round(x, 6) + 0.0, round(y, 6) + 0.0, round(turn, 6) + 0.0, flipped
