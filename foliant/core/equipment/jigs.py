"""Jigs: fixtures on the bed with slots, each for one thing to be worked on."""

import math
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from foliant.core.equipment.names import Key, Name
from foliant.core.frozen import Frozen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized

MOST_SLOTS = 400
MOST_CORNERS = 400
_ROUND = 64

SlotShape = Literal["round", "square"]
SHAPES: dict[SlotShape, str] = {"round": "round", "square": "square-cornered"}


Point = Literal[
    "middle", "left", "right", "top", "foot", "top-left", "top-right", "foot-left", "foot-right"
]  # fmt: skip
POINTS: dict[Point, tuple[str, float, float]] = {
    "middle": ("their middle", 0.5, 0.5),
    "left": ("the middle of their left", 0.0, 0.5),
    "right": ("the middle of their right", 1.0, 0.5),
    "top": ("the middle of their top", 0.5, 0.0),
    "foot": ("the middle of their foot", 0.5, 1.0),
    "top-left": ("their left and top", 0.0, 0.0),
    "top-right": ("their right and top", 1.0, 0.0),
    "foot-left": ("their left and foot", 0.0, 1.0),
    "foot-right": ("their right and foot", 1.0, 1.0),
}
"""The point of a box by which a thing is laid into a slot: how that is said, and where it is, across and down."""

Corners = Annotated[tuple[tuple[float, float], ...], Field(min_length=3, max_length=MOST_CORNERS)]


@dataclass(frozen=True)
class Slot:
    """One slot: its number, from 1; where its middle lies, mm from the left and top of the jig; how far it is turned
    there, degrees; and its outline about its middle before it is turned, mm.
    """

    number: int
    x: float
    y: float
    turn: float
    outline: Corners

    @property
    def box(self) -> tuple[float, float, float, float]:
        """The box of its outline before it is turned: left, top, right, bottom."""
        across, down = zip(*self.outline, strict=True)
        return min(across), min(down), max(across), max(down)

    @property
    def corners(self) -> list[tuple[float, float]]:
        """Its outline on the jig."""
        cos, sin = math.cos(math.radians(self.turn)), math.sin(math.radians(self.turn))
        return [(self.x + x * cos - y * sin, self.y + x * sin + y * cos) for x, y in self.outline]


class DrawnSlot(Frozen):
    """A slot of any outline: its middle on the jig, how far it is turned, and its corners about its middle, mm."""

    x: float
    y: float
    turn: float = 0.0
    outline: Corners


class Jig(Frozen):
    """A fixture of a size with slots in columns and rows, as they were measured, or as they were drawn, mm.

    across, down      from the middle of one slot to the next
    first_x, first_y  the middle of the first slot, from the left and top of the jig
    turn              how far what lies in a slot is turned there, degrees
    point             by which of their points things lie in the slots
    drawn             the slots one by one; where there are any, nothing of columns and rows counts
    mark_x, mark_y, other_x, other_y  two marked points, by which it is found on the bed
    """

    key: Key
    name: Name
    width: Annotated[float, sized("The width of the jig", 10)] = 300.0
    height: Annotated[float, sized("The height of the jig", 10)] = 200.0
    columns: Annotated[int, Quantity("count", "The number of columns", 1, 40)] = 4
    rows: Annotated[int, Quantity("count", "The number of rows", 1, 40)] = 2
    across: Annotated[float, sized("The distance across", 1)] = 60.0
    down: Annotated[float, sized("The distance down", 1)] = 60.0
    first_x: Annotated[float, sized("The middle of the first slot, across", 0)] = 40.0
    first_y: Annotated[float, sized("The middle of the first slot, down", 0)] = 40.0
    slot_width: Annotated[float, sized("The width of a slot", 1)] = 50.0
    slot_height: Annotated[float, sized("The height of a slot", 1)] = 50.0
    shape: Annotated[SlotShape, Quantity("choice", "The shape of the slots", choices=tuple(SHAPES.items()))] = "round"
    turn: Annotated[float, Quantity("angle", "The rotation in a slot", -360, 360)] = 0.0

    point: Annotated[
        Point, Quantity("choice", "What things lie by", choices=tuple((key, says[0]) for key, says in POINTS.items()))
    ] = "middle"
    drawn: Annotated[tuple[DrawnSlot, ...], Field(max_length=MOST_SLOTS)] = ()
    mark_x: Annotated[float, sized("The first mark, across", 0)] = 10.0
    mark_y: Annotated[float, sized("The first mark, down", 0)] = 10.0
    other_x: Annotated[float, sized("The second mark, across", 0)] = 290.0
    other_y: Annotated[float, sized("The second mark, down", 0)] = 10.0

    @property
    def slots(self) -> tuple[Slot, ...]:
        """Its slots, row by row."""
        if self.drawn:
            return tuple(Slot(number, one.x, one.y, one.turn, one.outline) for number, one in enumerate(self.drawn, 1))
        places = ((row, column) for row in range(self.rows) for column in range(self.columns))
        return tuple(
            Slot(number, self.first_x + column * self.across, self.first_y + row * self.down, 0.0, self._outline)
            for number, (row, column) in enumerate(places, 1)
        )[:MOST_SLOTS]

    @property
    def _outline(self) -> Corners:
        wide, high = self.slot_width / 2, self.slot_height / 2
        if self.shape == "square":
            return ((-wide, -high), (wide, -high), (wide, high), (-wide, high))
        angles = (math.tau * step / _ROUND for step in range(_ROUND))
        return tuple((wide * math.cos(angle), high * math.sin(angle)) for angle in angles)

    def sentence(self) -> tuple[Bit, ...]:
        """The jig as a phrase, its values in place."""
        lie: tuple[Bit, ...] = ("; things lie in them by ", Value("point"), ", turned ", Value("turn"),
                                "; it is marked at ", Value("mark_x"), ", ", Value("mark_y"), " and at ",
                                Value("other_x"), ", ", Value("other_y"))  # fmt: skip
        if self.drawn:
            slots = f"{len(self.drawn)} drawn slot{'' if len(self.drawn) == 1 else 's'}"
            return (Value("name"), ", ", Value("width"), " × ", Value("height"), f", with {slots}", *lie)
        return (Value("name"), ", ", Value("width"), " × ", Value("height"), ", with ", Value("columns"), " × ",
                Value("rows"), " ", Value("shape"), " slots of ", Value("slot_width"), " × ", Value("slot_height"),
                ", the first at ", Value("first_x"), " and ", Value("first_y"), ", then every ", Value("across"),
                " across and ", Value("down"), " down", *lie)  # fmt: skip
