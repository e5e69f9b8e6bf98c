"""Placing in rows: left to right, top to bottom, with a gap and a margin."""

from dataclasses import dataclass
from functools import cached_property

import shapely

from foliant.core.design import Design, Piece, ResolvedPiece, Sheet, Stock, resolve
from foliant.core.paths import Path
from foliant.core.remembering import remembered


@dataclass(frozen=True, eq=False)
class Instance:
    """One piece on the sheet: the left and top of its bounds there (mm), and whether the maker put it there."""

    piece: Piece
    number: int
    x: float
    y: float
    by_hand: bool
    resolved: ResolvedPiece

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

    @property
    def label(self) -> str:
        """How the instance is named in sentences."""
        return f"{self.piece.name} {self.number}" if self.piece.copies > 1 else self.piece.name


@dataclass(frozen=True, eq=False)
class Layout:
    """What lies on the sheet, and (piece, how many) for what found no room."""

    stock: Stock
    instances: tuple[Instance, ...]
    left_over: tuple[tuple[Piece, int], ...]

    @property
    def used(self) -> float:
        """The share of the stock's area that becomes pieces, 0 to 1."""
        area = sum(instance.resolved.outline.path.area for instance in self.instances)
        return area / (self.stock.width * self.stock.height)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of all that lies on the sheet; zeros where nothing does."""
        if not self.instances:
            return (0.0, 0.0, 0.0, 0.0)
        left, top, right, bottom = zip(*(instance.bounds for instance in self.instances), strict=True)
        return (min(left), min(top), max(right), max(bottom))


def lay_out(design: Design) -> Layout:
    """Every wanted instance in rows, except those the maker has moved by hand, which stay where they were put.

    A row's place of a moved instance stays free, so that moving one shifts no other. A piece with nothing
    on it yet takes no room, and one in trouble is not made.
    """
    return _lay_out(design.pieces, design.stock, design.sheet)


@remembered
def _lay_out(pieces: tuple[Piece, ...], stock: Stock, sheet: Sheet) -> Layout:
    by_hand = {(place.piece, place.number): place for place in sheet.places}
    instances: list[Instance] = []
    left_over: list[tuple[Piece, int]] = []
    x = y = sheet.margin
    row = 0.0
    for piece in pieces:
        resolved = resolve(piece)
        if resolved.trouble:
            continue
        left, top, right, bottom = resolved.bounds
        width, height = right - left, bottom - top
        if not piece.parts or width * height == 0:
            continue
        without_room = 0
        for number in range(1, piece.copies + 1):
            if x + width > stock.width - sheet.margin + 1e-9 and x > sheet.margin:
                x, y, row = sheet.margin, y + row + sheet.gap, 0.0
            fits = x + width <= stock.width - sheet.margin + 1e-9 and y + height <= stock.height - sheet.margin + 1e-9
            place = by_hand.get((piece.id, number))
            if place:
                instances.append(Instance(piece, number, place.x, place.y, True, resolved))
            elif fits:
                instances.append(Instance(piece, number, round(x, 6), round(y, 6), False, resolved))
            else:
                without_room += 1
            if fits:
                x, row = x + width + sheet.gap, max(row, height)
        if without_room:
            left_over.append((piece, without_room))
    return Layout(stock, tuple(instances), tuple(left_over))
