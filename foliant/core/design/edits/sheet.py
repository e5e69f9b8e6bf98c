"""Edits of the sheet."""

from typing import Literal

from pydantic import Field

from foliant.core.design.edits.command import Command, with_design
from foliant.core.design.model import Design, Place, RowIfAny, Stock
from foliant.core.design.names import Identifier
from foliant.core.design.resolve import resolve
from foliant.core.equipment import ShelfSheet
from foliant.core.errors import Refused
from foliant.core.quantities import Across, Down


class TakeStock(Command):
    """Lay sheets from the shelf on the bench: what the design needs to know of them is copied into it."""

    do: Literal["take-stock"]
    stock: Stock

    @classmethod
    def of(cls, sheet: ShelfSheet) -> "TakeStock":
        """The edit that takes these sheets."""
        names = ("material", "width", "height", "thickness", "measured", "price")
        return cls(do="take-stock", stock=Stock(source=sheet.key, **{name: getattr(sheet, name) for name in names}))

    def apply(self, design: Design) -> Design:
        same = self.stock.material == design.stock.material
        thinnest = design.stock.thinnest if same else None
        return with_design(design, stock=self.stock.model_copy(update={"thinnest": thinnest}))

    def says(self, design: Design) -> str:
        return "take a sheet from the shelf"


class PlaceInstance(Command):
    """Put one instance, of a row if one is named, at a place on the sheet: the left and top of its bounds."""

    do: Literal["place"]
    piece: Identifier
    row: RowIfAny = ""
    number: int = Field(ge=1)
    x: Across
    y: Down

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        if self.row:
            design.roster.row(self.row)
        elif self.number > piece.copies:
            raise Refused("That instance is no longer on the sheet.")
        mine = (self.piece, self.row, self.number)
        others = tuple(p for p in design.sheet.places if (p.piece, p.row, p.number) != mine)
        place = Place(piece=self.piece, row=self.row, number=self.number, x=self.x, y=self.y)
        return with_design(design, sheet=design.sheet.model_copy(update={"places": (*others, place)}))

    def says(self, design: Design) -> str:
        return f"place {design.piece(self.piece).name} {self.number}"


class AlignInstance(Command):
    """Align one instance with the sheet: its middle, or an edge at the margin. (x, y) is where it lies now, and `size`
    how wide and high it is as its row has it.
    """

    do: Literal["align-instance"]
    piece: Identifier
    row: RowIfAny = ""
    number: int = Field(ge=1)
    x: Across
    y: Down
    across: Literal["near", "middle", "far"] | None = None
    down: Literal["near", "middle", "far"] | None = None
    size: tuple[Across, Down] | None = None

    def apply(self, design: Design) -> Design:
        left, top, right, bottom = resolve(design.piece(self.piece)).bounds
        width, height = self.size or (right - left, bottom - top)
        margin, stock = design.sheet.margin, design.stock
        x = self.x if self.across is None else _aligned(self.across, width, stock.width, margin)
        y = self.y if self.down is None else _aligned(self.down, height, stock.height, margin)
        place = {"piece": self.piece, "row": self.row, "number": self.number, "x": x, "y": y}
        return PlaceInstance(do="place", **place).apply(design)

    def says(self, design: Design) -> str:
        return f"align {design.piece(self.piece).name} {self.number} with the sheet"


def _aligned(where: str, size: float, room: float, margin: float) -> float:
    return round({"near": margin, "middle": (room - size) / 2, "far": room - margin - size}[where], 6)


class ArrangeInRows(Command):
    """Put every instance back in its row."""

    do: Literal["arrange-in-rows"]

    def apply(self, design: Design) -> Design:
        return with_design(design, sheet=design.sheet.model_copy(update={"places": ()}))

    def says(self, design: Design) -> str:
        return "arrange in rows"
