"""Jigs: fixtures on the bed with slots, each for one thing to be worked on."""

from dataclasses import dataclass
from typing import Annotated, Literal

from foliant.core.equipment.names import Key, Name
from foliant.core.frozen import Frozen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized

MOST_SLOTS = 400

SlotShape = Literal["round", "square"]
SHAPES: dict[SlotShape, str] = {"round": "round", "square": "square-cornered"}


@dataclass(frozen=True)
class Slot:
    """One slot: its number, from 1, row by row, and where its middle lies, mm from the left and top of the jig."""

    number: int
    x: float
    y: float


class Jig(Frozen):
    """A fixture of a size with slots in columns and rows, as they were measured, mm.

    across, down  from the middle of one slot to the next
    first_x, first_y  the middle of the first slot, from the left and top of the jig
    turn          how far what lies in a slot is turned there, degrees
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

    @property
    def slots(self) -> tuple[Slot, ...]:
        """Its slots, row by row."""
        places = ((row, column) for row in range(self.rows) for column in range(self.columns))
        return tuple(
            Slot(number, self.first_x + column * self.across, self.first_y + row * self.down)
            for number, (row, column) in enumerate(places, 1)
        )[:MOST_SLOTS]

    def sentence(self) -> tuple[Bit, ...]:
        """The jig as a phrase, its values in place."""
        return (Value("name"), ", ", Value("width"), " × ", Value("height"), ", with ", Value("columns"), " × ",
                Value("rows"), " ", Value("shape"), " slots of ", Value("slot_width"), " × ", Value("slot_height"),
                ", the first at ", Value("first_x"), " and ", Value("first_y"), ", then every ", Value("across"),
                " across and ", Value("down"), " down; what lies in them is turned ", Value("turn"))  # fmt: skip
