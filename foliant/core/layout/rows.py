"""Placing in rows: left to right, top to bottom, sheet after sheet, round what was put and what is gone."""

from collections import Counter
from collections.abc import Sequence

import numpy as np
import shapely

from foliant.core.design import Design, Piece, Sheet, Stock
from foliant.core.design.benches import every_bench
from foliant.core.design.lying import turn_in_rows
from foliant.core.design.model import MOST_SHEETS
from foliant.core.design.turning import turned
from foliant.core.layout.jigs import in_slots
from foliant.core.layout.laid import Laid, Layout
from foliant.core.making import Identity, Instance, made_here
from foliant.core.packing.task import filled_in
from foliant.core.remembering import remembered

_Found = tuple[int, Laid]
"""On which sheet something lies, and where."""

_SLACK = 1e-9
_STEP = 0.25
"""How far down, as a share of its height, a thing is tried next where a whole row has no place for it."""


def lay_out(design: Design, sheet: int = 1) -> Layout:
    """One of the sheets of the bench on which a design stands, from 1; the last where there are fewer."""
    sheets = lay_sheets(design)
    return sheets[min(max(sheet, 1), len(sheets)) - 1]


def at_sheet(design: Design, number: int) -> tuple[Design, int]:
    """The design on the bench of one of all its sheets, counted from 1 over all benches, and which of that bench's it
    is; the last sheet where there are fewer.
    """
    if not design.benches:
        return design, number
    benches = every_bench(design)
    for there in benches:
        count = len(lay_sheets(there))
        if number <= count:
            return there, number
        number -= count
    return benches[-1], count


def all_sheets(design: Design) -> tuple[tuple[Design, Layout], ...]:
    """Every sheet of every bench, with the design as it stands there."""
    return tuple((there, layout) for there in every_bench(design) for layout in lay_sheets(there))


def lay_sheets(design: Design) -> tuple[Layout, ...]:
    """Every instance wanted of a bench in rows, on as many sheets as that takes, except those that were packed or put
    by hand, which stay where they are. There is at least one sheet; of a begun one, those after it are whole.

    Moving one shifts no other: the place it leaves stays free, but for what it comes to lie on, which goes there, or to
    the end. A piece with nothing on it yet takes no room, and one in trouble is not made.
    """
    stock = design.stock
    bare = Stock(width=stock.width, height=stock.height, used=stock.used)
    return _lay_sheets(made_here(design), design.pieces, bare, design.sheet)


@remembered
def _lay_sheets(
    wanted: tuple[Instance, ...], pieces: tuple[Piece, ...], stock: Stock, sheet: Sheet
) -> tuple[Layout, ...]:
    places = {place.of: place for place in sheet.places}
    put = {
        instance.identity: Laid(instance, place.x, place.y, place.turn, place)
        for instance in wanted
        if (place := places.get((instance.piece.id, instance.row, instance.number)))
    }
    by_hand = {identity: (one.sheet, one) for identity, one in put.items()}
    laid = {**in_slots(sheet.jig, sheet, wanted), **by_hand} if sheet.jig else _in_rows(wanted, stock, sheet, by_hand)
    missing = Counter(identity[0] for identity, found in laid.items() if found is None)
    left_over = tuple((piece, missing[piece.id]) for piece in pieces if missing[piece.id])
    on: dict[int, list[Laid]] = {1: []}
    for found in filter(None, laid.values()):
        on.setdefault(found[0], []).append(found[1])
    count = max(on)
    return tuple(
        Layout(number, count, stock.width, stock.height, tuple(on.get(number, ())), left_over, _gone(stock, number))
        for number in range(1, count + 1)
    )


def _in_rows(
    wanted: tuple[Instance, ...], stock: Stock, sheet: Sheet, by_hand: dict[Identity, _Found]
) -> dict[Identity, _Found | None]:
    """Everything in its row but what was put, and what that is in the way of."""
    sheets = _Sheets(stock, sheet, [laid for _, laid in by_hand.values()])
    room = {instance.identity: sheets.take(instance) for instance in wanted}
    laid = {**room, **by_hand}
    free = [found for identity in by_hand if (found := room[identity])]
    for identity, found in laid.items():
        if found and not found[1].place and sheets.blocks(*found):
            laid[identity] = _elsewhere(found[1].instance, free, sheets)
    return laid


def _gone(stock: Stock, number: int) -> tuple[shapely.Polygon, ...]:
    return stock.gone if number == 1 else ()


def _elsewhere(instance: Instance, free: list[_Found], sheets: "_Sheets") -> _Found | None:
    """Another place for an instance: one that was left, or else the next that is free at the end."""
    for place in free:
        number, was = place
        here = sheets.at(instance, *was.bounds[:2])
        far = was.bounds[2] + _SLACK, was.bounds[3] + _SLACK
        if here.bounds[2] <= far[0] and here.bounds[3] <= far[1] and not sheets.blocks(number, here):
            free.remove(place)
            return number, here
    while found := sheets.take(instance):
        if not sheets.blocks(*found):
            return found
    return None


class _Sheets:
    """Sheet after sheet, each in rows, opened as they are needed."""

    def __init__(self, stock: Stock, sheet: Sheet, put: Sequence[Laid]) -> None:
        self._stock, self._sheet = stock, sheet
        self._rows: list[_Rows] = []
        self._put: dict[int, list[shapely.Geometry]] = {}
        for laid in put:
            self._put.setdefault(laid.sheet, []).append(laid.shape_on_sheet())
        self._obstacles = {number: _Obstacles(shapes, sheet.gap) for number, shapes in self._put.items()}

    def take(self, instance: Instance) -> _Found | None:
        """The instance in the next place of the first sheet that has one; None where no sheet would have."""
        for number, rows in enumerate(self._rows, 1):
            if found := rows.take(instance):
                return number, found
        while len(self._rows) < MOST_SHEETS:
            number = len(self._rows) + 1
            rows = _Rows(self._stock, self._sheet, _gone(self._stock, number))
            found = rows.take(instance)
            if found is None and not _gone(self._stock, number):
                return None  # it is larger than a whole sheet
            self._rows.append(rows)
            if found:
                return number, found
        return None

    def at(self, instance: Instance, x: float, y: float) -> Laid:
        """An instance, turned as it lies in its row, with the left and top of its bounds at (x, y)."""
        return _at(instance, turn_in_rows(instance.resolved, self._stock, self._sheet), x, y)

    def blocks(self, number: int, laid: Laid) -> bool:
        """Whether something that was put on a sheet lies too near to where an instance would lie."""
        obstacles = self._obstacles.get(number)
        return obstacles is not None and obstacles.blocks(laid)


def _at(instance: Instance, turn: float, x: float, y: float) -> Laid:
    left, top, _, _ = turned(instance.resolved, turn).bounds
    return Laid(instance, round(x - left, 6), round(y - top, 6), turn)


class _Rows:
    """Row after row, from the margin on, round what is gone of the sheet."""

    def __init__(self, stock: Stock, sheet: Sheet, gone: Sequence[shapely.Geometry]) -> None:
        self._right, self._bottom = stock.width - sheet.margin + _SLACK, stock.height - sheet.margin + _SLACK
        self._margin, self._gap = sheet.margin, sheet.gap
        self._stock, self._sheet = stock, sheet
        self._gone = _Obstacles(gone, sheet.gap)
        self._x = self._y = sheet.margin
        self._row = 0.0

    def take(self, instance: Instance) -> Laid | None:
        """The instance in the next place; None where there is no room."""
        turn = turn_in_rows(instance.resolved, self._stock, self._sheet)
        left, top, right, bottom = turned(instance.resolved, turn).bounds
        width, height = right - left, bottom - top
        while True:
            if self._x + width > self._right and self._x > self._margin:
                down = self._row + self._gap if self._row else max(_STEP * height, 1.0)
                self._x, self._y, self._row = self._margin, self._y + down, 0.0
            if self._x + width > self._right or self._y + height > self._bottom:
                return None
            found = _at(instance, turn, self._x, self._y)
            beyond = self._gone.beyond(found)
            if beyond is None:
                self._x, self._row = self._x + width + self._gap, max(self._row, height)
                return found
            self._x = max(beyond + self._gap, self._x + 1.0)


class _Obstacles:
    """What lies there or is gone, and what would come too near to it."""

    def __init__(self, shapes: Sequence[shapely.Geometry], gap: float) -> None:
        self._shapes, self._gap = shapes, max(gap - 1e-6, 0.0)
        self._boxes = shapely.bounds(shapes).reshape(-1, 4)

    def blocks(self, laid: Laid) -> bool:
        """Whether something lies nearer than the gap; what lies in an opening is not in the way."""
        return self.beyond(laid) is not None

    def beyond(self, laid: Laid) -> float | None:
        """How far right that reaches which lies too near; None where nothing does."""
        left, top, right, bottom = laid.bounds
        low, high = self._boxes[:, :2], self._boxes[:, 2:]
        near = ((low < (right + self._gap, bottom + self._gap)) & (high > (left - self._gap, top - self._gap))).all(1)
        if not near.any():
            return None
        shape = laid.shape_on_sheet()
        numbers = np.flatnonzero(near)
        others = [self._shapes[int(index)] for index in numbers]
        in_openings = shapely.contains(filled_in(shape), others) & ~shapely.intersects(shape, others)
        blocking = numbers[~in_openings & shapely.dwithin(shape, others, self._gap)]
        return float(self._boxes[blocking, 2].max()) if len(blocking) else None
