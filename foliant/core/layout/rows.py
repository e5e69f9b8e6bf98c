"""Placing in rows: left to right, top to bottom, with a gap and a margin, round what was put and what is gone."""

from collections import Counter
from collections.abc import Sequence

import numpy as np
import shapely

from foliant.core.design import Design, Piece, Sheet, Stock
from foliant.core.layout.laid import Laid, Layout
from foliant.core.making import Instance, make
from foliant.core.packing.task import filled_in
from foliant.core.remembering import remembered

_SLACK = 1e-9
_STEP = 0.25
"""How far down, as a share of its height, a thing is tried next where a whole row has no place for it."""


def lay_out(design: Design) -> Layout:
    """Every wanted instance in rows, except those that were packed or put by hand, which stay where they are.

    Moving one shifts no other: the place it leaves stays free, but for what it comes to lie on, which goes there, or to
    the end. A piece with nothing on it yet takes no room, and one in trouble is not made.
    """
    stock = design.stock
    bare = Stock(width=stock.width, height=stock.height, used=stock.used)
    return _lay_out(make(design), design.pieces, bare, design.sheet)


@remembered
def _lay_out(wanted: tuple[Instance, ...], pieces: tuple[Piece, ...], stock: Stock, sheet: Sheet) -> Layout:
    places = {place.of: place for place in sheet.places}
    put = {
        instance.identity: Laid(instance, place.x, place.y, place)
        for instance in wanted
        if (place := places.get((instance.piece.id, instance.row, instance.number)))
    }
    rows = _Rows(stock, sheet)
    room = {instance.identity: rows.take(instance) for instance in wanted}
    laid = {**room, **put}
    obstacles = _Obstacles([one.shape_on_sheet() for one in put.values()], sheet.gap)
    free = [found for identity in put if (found := room[identity])]
    for identity, found in laid.items():
        if found and not found.place and obstacles.blocks(found):
            laid[identity] = _elsewhere(found.instance, free, rows, obstacles)
    missing = Counter(identity[0] for identity, found in laid.items() if found is None)
    left_over = tuple((piece, missing[piece.id]) for piece in pieces if missing[piece.id])
    return Layout(stock.width, stock.height, tuple(found for found in laid.values() if found), left_over, stock.gone)


def _elsewhere(instance: Instance, free: list[Laid], rows: "_Rows", obstacles: "_Obstacles") -> Laid | None:
    """Another place for an instance: one that was left, or else the next that is free at the end."""
    left, top, right, bottom = instance.resolved.bounds
    for place in free:
        here = _at(instance, *place.bounds[:2])
        across, down = place.bounds[2] - place.bounds[0], place.bounds[3] - place.bounds[1]
        if right - left <= across + _SLACK and bottom - top <= down + _SLACK and not obstacles.blocks(here):
            free.remove(place)
            return here
    while found := rows.take(instance):
        if not obstacles.blocks(found):
            return found
    return None


def _at(instance: Instance, x: float, y: float) -> Laid:
    """An instance with the left and top of its bounds at (x, y)."""
    left, top, _, _ = instance.resolved.bounds
    return Laid(instance, round(x - left, 6), round(y - top, 6))


class _Rows:
    """Row after row, from the margin on, round what is gone of the sheet."""

    def __init__(self, stock: Stock, sheet: Sheet) -> None:
        self._right, self._bottom = stock.width - sheet.margin + _SLACK, stock.height - sheet.margin + _SLACK
        self._margin, self._gap = sheet.margin, sheet.gap
        self._gone = _Obstacles(stock.gone, sheet.gap)
        self._x = self._y = sheet.margin
        self._row = 0.0

    def take(self, instance: Instance) -> Laid | None:
        """The instance in the next place; None where there is no room."""
        left, top, right, bottom = instance.resolved.bounds
        width, height = right - left, bottom - top
        while True:
            if self._x + width > self._right and self._x > self._margin:
                down = self._row + self._gap if self._row else max(_STEP * height, 1.0)
                self._x, self._y, self._row = self._margin, self._y + down, 0.0
            if self._x + width > self._right or self._y + height > self._bottom:
                return None
            found = _at(instance, self._x, self._y)
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
