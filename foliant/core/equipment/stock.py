"""Sheets on the shelf: what a workshop has to cut from."""

from functools import lru_cache
from typing import Annotated, Literal

import shapely
from pydantic import Field

from foliant.core.equipment.names import Key, Note
from foliant.core.frozen import Frozen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import SPEEDS, Speeds

MOST_USED = 2_000
MOST_CORNERS = 400

Corner = tuple[Annotated[float, Field(ge=-5000, le=5000)], Annotated[float, Field(ge=-5000, le=5000)]]
Outline = Annotated[tuple[Corner, ...], Field(min_length=3, max_length=MOST_CORNERS)]
Used = Annotated[tuple[Outline, ...], Field(max_length=MOST_USED)]
"""What is gone of a begun sheet: the corners of each outline, mm from its left and top."""


@lru_cache(maxsize=64)
def gone(used: Used) -> tuple[shapely.Polygon, ...]:
    """What is gone of a sheet, as areas that lie apart."""
    whole = shapely.union_all([shapely.make_valid(shapely.Polygon(outline)) for outline in used])
    return tuple(part for part in shapely.get_parts(whole) if part.area > 0)


class ShelfSheet(Frozen):
    """Sheets of one kind: material, size and thickness (mm), measured thickness (mm), the price of one, how many; and
    of one that was begun, what is gone of it.
    """

    key: Key
    material: Annotated[str, Quantity("choice", "The material", open=True)]
    width: Annotated[float, sized("The width", 10)] = 300.0
    height: Annotated[float, sized("The height", 10)] = 200.0
    thickness: Annotated[float, sized("The thickness", 0.05, 50)] = 3.0
    measured: Annotated[float | None, sized("The measured thickness", 0.05, 50)] = None
    price: Annotated[float, Quantity("money", "The price of a sheet", 0, 100_000)] = 0.0
    count: Annotated[int, Quantity("count", "How many sheets there are", 0, 10_000)] = 1
    note: Note = ""
    used: Used = ()

    @property
    def left(self) -> float:
        """The share of it that is there, 0 to 1."""
        sheet = shapely.box(0, 0, self.width, self.height)
        missing = sum(shapely.area(shapely.intersection(sheet, gone(self.used)))) if self.used else 0.0
        return float(1 - missing / sheet.area)

    def sentence(self) -> tuple[Bit, ...]:
        """The sheets as a phrase, their values in place."""
        return (Value("count"), " of ", Value("thickness"), " ", Value("material"), ", ", Value("width"), " × ",
                Value("height"), ", measured ", Value("measured"), ", for ", Value("price"), " each; note: ",
                Value("note"))  # fmt: skip


First = Literal["begun", "whole"]
FIRST: dict[First, str] = {"begun": "a begun sheet, if a third of it is left", "whole": "a whole sheet"}


_TOLD = tuple((one, one) for one in SPEEDS)


class Rates(Frozen):
    """What time costs: an hour of the machine and of the maker, and the minutes of the maker's that a sheet takes; and
    which sheets a new project takes `first`; and how `speeds` are told.
    """

    currency: Annotated[str, Quantity("words", "The currency", check_text=lambda text: " ".join(text.split())[:6])] = (
        "€"
    )
    machine_hour: Annotated[float, Quantity("money", "An hour of the machine", 0, 100_000)] = 12.0
    maker_hour: Annotated[float, Quantity("money", "An hour of the maker", 0, 100_000)] = 24.0
    setup: Annotated[float, Quantity("minutes", "The maker's time for each sheet", 0, 1440)] = 5.0
    first: Annotated[First, Quantity("choice", "What a new project takes first", choices=tuple(FIRST.items()))] = (
        "begun"
    )

    speeds: Annotated[Speeds, Quantity("choice", "How speeds are told", choices=_TOLD)] = "mm/s"

    def sentence(self) -> tuple[Bit, ...]:
        """The rates as a phrase, their values in place."""
        return ("Prices are in ", Value("currency"), ": an hour of the machine costs ", Value("machine_hour"),
                ", an hour of yours ", Value("maker_hour"), "; a sheet takes ", Value("setup"),
                " of yours to lay in and take out; a new project takes ", Value("first"),
                "; speeds are told in ", Value("speeds"))  # fmt: skip
