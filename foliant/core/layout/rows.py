"""Placing in rows: left to right, top to bottom, with a gap and a margin, round what the maker put by hand."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from foliant.core.design import Design, Piece, Place, ResolvedPiece, Sheet
from foliant.core.making import Identity, Instance, make
from foliant.core.paths import Path
from foliant.core.remembering import remembered

_SLACK = 1e-9


@dataclass(frozen=True, eq=False)
class Laid:
    """An instance on the sheet: the left and top of its bounds there (mm), and whether the maker put it there."""

    instance: Instance
    x: float
    y: float
    by_hand: bool

    @property
    def piece(self) -> Piece:
        """The piece it is one of."""
        return self.instance.piece

    @property
    def number(self) -> int:
        """Which one of its piece."""
        return self.instance.number

    @property
    def resolved(self) -> ResolvedPiece:
        """What it comes to, in the piece's own coordinates."""
        return self.instance.resolved

    @property
    def label(self) -> str:
        """How it is named in sentences."""
        return self.instance.label

    @cached_property
    def shift(self) -> tuple[float, float]:
        """From the piece's own coordinates to the sheet's."""
        left, top, _, _ = self.resolved.bounds
        return (self.x - left, self.y - top)

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) on the sheet."""
        left, top, right, bottom = self.resolved.bounds
        return (self.x, self.y, self.x + right - left, self.y + bottom - top)

    def on_sheet(self, path: Path) -> Path:
        """A path of the piece where it lies on the sheet."""
        return path.moved(*self.shift)

    def shape_on_sheet(self) -> shapely.Geometry:
        """The outline's polygons where they lie on the sheet."""
        return shapely.transform(self.resolved.outline.shape, lambda points: points + self.shift)


@dataclass(frozen=True, eq=False)
class Layout:
    """What lies on a sheet of a width and height (mm), and (piece, how many) for what found no room."""

    width: float
    height: float
    instances: tuple[Laid, ...]
    left_over: tuple[tuple[Piece, int], ...]

    @property
    def used(self) -> float:
        """The share of the stock's area that becomes pieces, 0 to 1."""
        area = sum(laid.resolved.outline.path.area for laid in self.instances)
        return area / (self.width * self.height)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of all that lies on the sheet; zeros where nothing does."""
        if not self.instances:
            return (0.0, 0.0, 0.0, 0.0)
        left, top, right, bottom = zip(*(laid.bounds for laid in self.instances), strict=True)
        return (min(left), min(top), max(right), max(bottom))


def lay_out(design: Design) -> Layout:
    """Every wanted instance in rows, except those the maker has moved by hand, which stay where they were put.

    Moving one shifts no other: the place it leaves stays free, but for what it comes to lie on, which goes there, or to
    the end. A piece with nothing on it yet takes no room, and one in trouble is not made.
    """
    return _lay_out(make(design), design.pieces, design.stock.width, design.stock.height, design.sheet)


@remembered
def _lay_out(
    wanted: tuple[Instance, ...], pieces: tuple[Piece, ...], width: float, height: float, sheet: Sheet
) -> Layout:
    places: dict[Identity, Place] = {(place.piece, "", place.row, place.number): place for place in sheet.places}
    by_hand = {
        instance.identity: Laid(instance, place.x, place.y, True)
        for instance in wanted
        if (place := places.get(instance.identity))
    }
    rows = _Rows(width, height, sheet)
    room = {instance.identity: rows.take(instance) for instance in wanted}
    laid = {**room, **by_hand}
    obstacles = _Obstacles(list(by_hand.values()), sheet.gap)
    free = [found for identity in by_hand if (found := room[identity])]
    for identity, found in laid.items():
        if found and not found.by_hand and obstacles.blocks(found):
            laid[identity] = _elsewhere(found.instance, free, rows, obstacles)
    missing = Counter(identity[0] for identity, found in laid.items() if found is None)
    left_over = tuple((piece, missing[piece.id]) for piece in pieces if missing[piece.id])
    return Layout(width, height, tuple(found for found in laid.values() if found), left_over)


def _elsewhere(instance: Instance, free: list[Laid], rows: "_Rows", obstacles: "_Obstacles") -> Laid | None:
    """Another place for an instance: one that was left, or else the next that is free at the end."""
    left, top, right, bottom = instance.resolved.bounds
    for place in free:
        here = Laid(instance, place.x, place.y, False)
        across, down = place.bounds[2] - place.x, place.bounds[3] - place.y
        if right - left <= across + _SLACK and bottom - top <= down + _SLACK and not obstacles.blocks(here):
            free.remove(place)
            return here
    while found := rows.take(instance):
        if not obstacles.blocks(found):
            return found
    return None


class _Rows:
    """Row after row, from the margin on."""

    def __init__(self, width: float, height: float, sheet: Sheet) -> None:
        self._right, self._bottom = width - sheet.margin + _SLACK, height - sheet.margin + _SLACK
        self._margin, self._gap = sheet.margin, sheet.gap
        self._x = self._y = sheet.margin
        self._row = 0.0

    def take(self, instance: Instance) -> Laid | None:
        """The instance in the next place; None where there is no room."""
        left, top, right, bottom = instance.resolved.bounds
        width, height = right - left, bottom - top
        if self._x + width > self._right and self._x > self._margin:
            self._x, self._y, self._row = self._margin, self._y + self._row + self._gap, 0.0
        if self._x + width > self._right or self._y + height > self._bottom:
            return None
        found = Laid(instance, round(self._x, 6), round(self._y, 6), False)
        self._x, self._row = self._x + width + self._gap, max(self._row, height)
        return found


class _Obstacles:
    """What was put by hand, and what would come too near to it."""

    def __init__(self, by_hand: Sequence[Laid], gap: float) -> None:
        self._by_hand, self._gap = by_hand, max(gap - 1e-6, 0.0)
        self._boxes = np.array([laid.bounds for laid in by_hand]).reshape(-1, 4)

    def blocks(self, laid: Laid) -> bool:
        """Whether something lies nearer than the gap; what lies in an opening is not in the way."""
        left, top, right, bottom = laid.bounds
        low, high = self._boxes[:, :2], self._boxes[:, 2:]
        near = ((low < (right + self._gap, bottom + self._gap)) & (high > (left - self._gap, top - self._gap))).all(1)
        if not near.any():
            return False
        shape = laid.shape_on_sheet()
        whole = shapely.union_all([shapely.Polygon(part.exterior) for part in shapely.get_parts(shape)])
        others = [self._by_hand[int(index)].shape_on_sheet() for index in np.flatnonzero(near)]
        in_openings = shapely.contains(whole, others) & ~shapely.intersects(shape, others)
        return bool((~in_openings & shapely.dwithin(shape, others, self._gap)).any())
