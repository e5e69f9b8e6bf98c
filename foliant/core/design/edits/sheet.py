"""Edits of the sheet."""

from collections.abc import Iterable, Sequence
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from foliant.core.design.edits.benches import from_shelf
from foliant.core.design.edits.command import Command, with_design
from foliant.core.design.edits.putting import Holder, put
from foliant.core.design.lying import instance_piece, lying_shape, outline_digest, turn_in_rows, turned_bounds
from foliant.core.design.model import MOST_PLACES, MOST_SHEETS, Design, Piece, Place, RowIfAny, Stock
from foliant.core.design.names import Identifier
from foliant.core.design.resolve import resolve
from foliant.core.design.turning import turned
from foliant.core.equipment import Jig, ShelfSheet
from foliant.core.equipment.jigs import MOST_SLOTS
from foliant.core.errors import Refused
from foliant.core.packing import Offset, Way, array, proved_clear
from foliant.core.quantities import Across, Down, Quantity, Rotation

MOST_IN_LINE = 100

_PLACES = {
    "x": Quantity("length", "The place across", -5000, 5000),
    "y": Quantity("length", "The place down", -5000, 5000),
    "turn": Quantity("angle", "How far it is turned", -3600, 3600),
    "columns": Quantity("count", "The number across", 1, MOST_IN_LINE),
    "rows": Quantity("count", "The number down", 1, MOST_IN_LINE),
}


class TakeStock(Command):
    """Lay sheets from the shelf on the bench: what the design needs to know of them is copied into it."""

    do: Literal["take-stock"]
    stock: Stock

    @classmethod
    def of(cls, sheet: ShelfSheet) -> "TakeStock":
        """The edit that takes these sheets."""
        return cls(do="take-stock", stock=from_shelf(sheet))

    def apply(self, design: Design) -> Design:
        same = self.stock.material == design.stock.material
        thinnest = design.stock.thinnest if same else None
        sheet = design.sheet.model_copy(update={"jig": None, "off": ()})  # a jig is a sheet of its own
        return with_design(design, stock=self.stock.model_copy(update={"thinnest": thinnest}), sheet=sheet)

    def says(self, design: Design) -> str:
        return "take a sheet from the shelf"


class TakeJig(Command):
    """Lay pieces into the slots of a jig, which is as large as the sheet from then on; or in rows again."""

    do: Literal["take-jig"]
    jig: Jig | None = None

    def apply(self, design: Design) -> Design:
        places = () if self.jig else design.sheet.places
        sheet = design.sheet.model_copy(update={"jig": self.jig, "off": (), "places": places})
        if self.jig is None:
            return with_design(design, sheet=sheet)
        size = {"width": self.jig.width, "height": self.jig.height, "used": (), "source": ""}
        return with_design(design, sheet=sheet, stock=design.stock.model_copy(update=size))

    def says(self, design: Design) -> str:
        return f"lay pieces into {self.jig.name}" if self.jig else "lay pieces in rows"


class SwitchSlot(Command):
    """Leave a slot of the jig empty, or use it again."""

    do: Literal["switch-slot"]
    slot: int = Field(ge=1, le=MOST_SLOTS)
    on: bool

    def apply(self, design: Design) -> Design:
        jig = design.sheet.jig
        if jig is None or self.slot > len(jig.slots):
            raise Refused("That slot is no longer there.")
        off = set(design.sheet.off) - {self.slot} if self.on else {*design.sheet.off, self.slot}
        return with_design(design, sheet=design.sheet.model_copy(update={"off": tuple(sorted(off))}))

    def says(self, design: Design) -> str:
        return f"{'use' if self.on else 'leave out'} slot {self.slot}"


class OfInstance(Command):
    """An edit of one instance: of a row if one is named, else of a piece that takes nothing from the roster; and the
    sheet on which it comes to lie, if not the one it was put on.
    """

    piece: Identifier
    row: RowIfAny = ""
    number: int = Field(ge=1)
    sheet: int | None = Field(None, ge=1, le=MOST_SHEETS)

    def wanted(self, design: Design) -> Piece:
        """The piece as it is for that instance; raises `Refused` where it is no longer wanted."""
        piece = instance_piece(design, self.piece, self.row, self.number)
        if piece is None:
            raise Refused("That instance is no longer on the sheet.")
        return piece

    def place(self, design: Design) -> Place | None:
        """Where it was put; None where it lies in its row."""
        mine = (self.piece, self.row, self.number)
        return next((place for place in design.sheet.places if place.of == mine), None)

    def turn_now(self, design: Design) -> float:
        """How far it is turned now, in degrees."""
        if before := self.place(design):
            return before.turn
        return 0.0 if design.sheet.jig else turn_in_rows(resolve(self.wanted(design)), design.stock, design.sheet)

    def corner(self, design: Design, x: float, y: float) -> tuple[float, float]:
        """The left and top of where it lies: as it was put, whatever the page still shows; else as the page says."""
        before = self.place(design)
        if before is None:
            return x, y
        left, top, _, _ = turned_bounds(self.wanted(design), before.turn)
        return before.x + left, before.y + top

    def put(self, design: Design, x: float, y: float, turn: float, locked: bool | None = None) -> Design:
        """The design with the left and top of its bounds, so turned, at (x, y) of its sheet."""
        left, top, _, _ = turned_bounds(self.wanted(design), turn)
        before = self.place(design)
        place = Place(
            piece=self.piece,
            row=self.row,
            number=self.number,
            sheet=self.sheet or (before.sheet if before else 1),
            x=round(x - left, 6),
            y=round(y - top, 6),
            turn=turn,
            locked=bool(before and before.locked) if locked is None else locked,
        )
        return with_places(design, [place])


class PlaceInstance(OfInstance):
    """Put an instance on the sheet: the left and top of its bounds. It stays turned as it was, or is turned so."""

    do: Literal["place"]
    x: float | str
    y: float | str
    turn: Rotation | None = None

    def apply(self, design: Design) -> Design:
        turn = self.turn if self.turn is not None else self.turn_now(design)
        x, y = (_PLACES[field].number(getattr(self, field), design.unit) for field in ("x", "y"))
        return self.put(design, x, y, turn % 360)

    def says(self, design: Design) -> str:
        return f"place {design.piece(self.piece).name} {self.number}"


class PushInstance(OfInstance):
    """Push an instance so far across and down. (x, y) is where it lies now, left and top."""

    do: Literal["push-instance"]
    x: Across
    y: Down
    dx: Across = 0.0
    dy: Down = 0.0

    def apply(self, design: Design) -> Design:
        left, top = self.corner(design, self.x, self.y)
        return self.put(design, left + self.dx, top + self.dy, self.turn_now(design))

    def says(self, design: Design) -> str:
        return f"place {design.piece(self.piece).name} {self.number}"


class TurnInstance(OfInstance):
    """Turn an instance about its middle by so many degrees, or `to` so many. (x, y) is where it lies now, left and
    top.
    """

    do: Literal["turn-instance"]
    x: Across
    y: Down
    by: Rotation = 90.0
    to: float | str | None = None

    def apply(self, design: Design) -> Design:
        piece, turn = self.wanted(design), self.turn_now(design)
        wanted = turn + self.by if self.to is None else _PLACES["turn"].number(self.to, design.unit)
        was, now = (turned_bounds(piece, one) for one in (turn, wanted % 360))
        left, top = self.corner(design, self.x, self.y)
        x = left + ((was[2] - was[0]) - (now[2] - now[0])) / 2
        y = top + ((was[3] - was[1]) - (now[3] - now[1])) / 2
        return self.put(design, x, y, wanted % 360)

    def says(self, design: Design) -> str:
        return f"turn {design.piece(self.piece).name} {self.number}"


class LockInstance(OfInstance):
    """Have packing leave an instance where it lies, or not any longer. (x, y) is where that is, left and top."""

    do: Literal["lock-instance"]
    x: Across
    y: Down
    locked: bool

    def apply(self, design: Design) -> Design:
        return self.put(design, *self.corner(design, self.x, self.y), self.turn_now(design), self.locked)

    def says(self, design: Design) -> str:
        return f"{'lock' if self.locked else 'unlock'} {design.piece(self.piece).name} {self.number}"


class ArrayInstances(OfInstance):
    """Lay an instance and those after it in an array, from where it lies on: (x, y), left and top. Of a piece that does
    not come from the roster, as many more are asked for as that takes.
    """

    do: Literal["array-instances"]
    x: Across
    y: Down
    columns: int | str = 1
    rows: int | str = 1
    way: Way = "straight"

    def apply(self, design: Design) -> Design:
        piece, before, turn = self.wanted(design), self.place(design), self.turn_now(design)
        left, top = self.corner(design, self.x, self.y)
        columns, rows = (int(_PLACES[field].number(getattr(self, field), design.unit)) for field in ("columns", "rows"))
        names = self._names(design, columns * rows)
        if not self.row and self.number + len(names) - 1 > piece.copies:
            design = put(design, Holder("piece", (self.piece,)), {"copies": self.number + len(names) - 1})
        pieces = [instance_piece(design, *name) for name in names]
        found = _array(pieces, turn, (columns, rows), self.way, design.sheet.gap)
        places = []
        for name, one, (dx, dy, opposite) in zip(names, pieces, found, strict=False):
            if one is None:
                continue
            angle = (turn + 180 if opposite else turn) % 360
            at = turned_bounds(one, angle)
            lies = {"x": round(left + dx - at[0], 6), "y": round(top + dy - at[1], 6), "turn": angle}
            own = dict(zip(("piece", "row", "number"), name, strict=True))
            places.append(Place(**own, **lies, sheet=self.sheet or (before.sheet if before else 1)))
        return with_places(design, places)

    def _names(self, design: Design, count: int) -> list[tuple[str, str, int]]:
        """This instance and those after it, as many as that: of a piece from the roster, only those that there are."""
        if not self.row:
            return [(self.piece, "", self.number + step) for step in range(count)]
        names: list[tuple[str, str, int]] = []
        rows = [row.id for row in design.roster.rows]
        number = self.number
        for row in rows[rows.index(self.row) :]:
            while len(names) < count and instance_piece(design, self.piece, row, number):
                names.append((self.piece, row, number))
                number += 1
            number = 1
        return names

    def says(self, design: Design) -> str:
        return f"lay {self.columns} × {self.rows} {design.piece(self.piece).name}"


def _array(pieces: Sequence[Piece | None], turn: float, size: tuple[int, int], way: Way, gap: float) -> list[Offset]:
    """The places of an array: as close as the outline allows where all have the same, else as their boxes do."""
    known = [piece for piece in pieces if piece]
    outlines = [[turned(resolve(one), angle).outline.shape for one in known] for angle in (turn, turn + 180)]
    if len({outline_digest(one) for one in known}) > 1:
        sizes = np.array([shapely.bounds(shape) for shape in outlines[0]])
        widest, tallest = (sizes[:, 2:] - sizes[:, :2]).max(axis=0)
        outlines = [[shapely.box(0, 0, widest, tallest)]] * 2
    return array(outlines[0][0], outlines[1][0], *size, way, gap)


class AlignInstance(OfInstance):
    """Align an instance with the sheet: its middle, or an edge at the margin. (x, y) is where it lies now."""

    do: Literal["align-instance"]
    x: Across
    y: Down
    across: Literal["near", "middle", "far"] | None = None
    down: Literal["near", "middle", "far"] | None = None

    def apply(self, design: Design) -> Design:
        turn = self.turn_now(design)
        left, top, right, bottom = turned_bounds(self.wanted(design), turn)
        margin, stock = design.sheet.margin, design.stock
        x, y = self.corner(design, self.x, self.y)
        x = x if self.across is None else _aligned(self.across, right - left, stock.width, margin)
        y = y if self.down is None else _aligned(self.down, bottom - top, stock.height, margin)
        return self.put(design, x, y, turn)

    def says(self, design: Design) -> str:
        return f"align {design.piece(self.piece).name} {self.number} with the sheet"


def _aligned(where: str, size: float, room: float, margin: float) -> float:
    return {"near": margin, "middle": (room - size) / 2, "far": room - margin - size}[where]


class ArrangeInRows(Command):
    """Put every instance back in its row, but those that are locked."""

    do: Literal["arrange-in-rows"]

    def apply(self, design: Design) -> Design:
        kept = tuple(place for place in design.sheet.places if place.locked)
        return with_design(design, sheet=design.sheet.model_copy(update={"places": kept}))

    def says(self, design: Design) -> str:
        return "arrange in rows"


class PutPacked(Command):
    """Lay instances where packing has found places for them, of some pieces so many as it `asks` for. It was found out
    while the design may have changed: what is no longer wanted, has another outline now, or would lie too near to what
    is locked, is left out.
    """

    do: Literal["pack"]
    places: Annotated[tuple[Place, ...], Field(max_length=MOST_PLACES)]
    asks: Annotated[tuple[tuple[Identifier, int], ...], Field(max_length=200)] = ()

    def apply(self, design: Design) -> Design:
        if not self.places:
            raise Refused("Nothing found a place on the sheet.")
        for piece_id, copies in self.asks:
            design = put(design, Holder("piece", (piece_id,)), {"copies": copies})
        stay = [place for place in design.sheet.places if place.locked]
        clear = still_clear(design, stay, self.places)
        if not clear:
            raise Refused("The pieces have changed since they were packed: pack again.")
        return with_design(design, sheet=design.sheet.model_copy(update={"places": (*stay, *clear)}))

    def says(self, design: Design) -> str:
        if self.asks:
            return f"fill the sheet with {design.piece(self.asks[0][0]).name}"
        return f"pack {len(self.places)} pieces"


def still_clear(design: Design, stay: Sequence[Place], places: Sequence[Place]) -> list[Place]:
    """Of places that packing has found for what does not `stay`, those of instances that are as they were packed, at
    which nothing lies nearer than the gap.
    """
    fixed = {place.of for place in stay}
    pieces = [instance_piece(design, *place.of) for place in places]
    wanted = [
        place
        for place, piece in zip(places, pieces, strict=True)
        if piece and place.of not in fixed and place.proved == outline_digest(piece)
    ]
    return _proved(design, stay, wanted)


def _proved(design: Design, stay: Sequence[Place], wanted: Sequence[Place]) -> list[Place]:
    """Those places at which nothing lies nearer than the gap, neither to what stays nor to each other."""
    sheet, stock = design.sheet, design.stock
    inner = (sheet.margin, sheet.margin, stock.width - sheet.margin, stock.height - sheet.margin)
    clear: list[Place] = []
    for number in sorted({place.sheet for place in wanted}):
        fixed = [lying_shape(design, place) for place in stay if place.sheet == number]
        there = [*(shape for shape in fixed if shape is not None), *(stock.gone if number == 1 else ())]
        here = [(place, lying_shape(design, place)) for place in wanted if place.sheet == number]
        known = [(place, shape) for place, shape in here if shape is not None]
        proved = proved_clear([shape for _, shape in known], sheet.gap, inner, there)
        clear += [place for (place, _), one in zip(known, proved, strict=True) if one]
    return clear


def with_places(design: Design, places: Iterable[Place]) -> Design:
    """The design with these places in place of those of the same instances."""
    new = {place.of: place for place in places}
    others = tuple(place for place in design.sheet.places if place.of not in new)
    return with_design(design, sheet=design.sheet.model_copy(update={"places": (*others, *new.values())}))
