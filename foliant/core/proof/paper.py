"""On paper: a sheet or a piece in true size over as many pages as it takes, to be cut out and glued together."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from foliant.core.design import Design, ResolvedPiece, resolve
from foliant.core.design.benches import on_bench
from foliant.core.equipment import Material, Shop
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.layout import all_sheets, at_sheet, lay_out
from foliant.core.paths import Path, PathPen, join
from foliant.core.proof.pages import QUIET, Page, Shape, drawn, line_of_text, rectangle_of
from foliant.core.quantities import Quantity, sized
from foliant.core.seeing import frames

Size = Literal["a4", "a3", "letter", "legal", "own"]
SIZES: dict[Size, tuple[str, float, float]] = {
    "a4": ("A4", 210.0, 297.0),
    "a3": ("A3", 297.0, 420.0),
    "letter": ("Letter", 215.9, 279.4),
    "legal": ("Legal", 215.9, 355.6),
    "own": ("own size", 0.0, 0.0),
}
MOST_PAGES = 200

_EDGE = 10.0
"""What printers leave blank at the edges, mm; marks, numbers and the map stand there."""

_LINE = "#2a2521"
_MARK = 4.0


class Paper(Frozen):
    """The paper, mm, and how it is printed on.

    overlap   by how much neighbouring pages show the same, to be glued on each other
    mirrored  whether it is seen from behind
    look      as it will look, or only its lines
    """

    size: Annotated[Size, Quantity("choice", "The paper", choices=tuple((k, v[0]) for k, v in SIZES.items()))] = "a4"
    width: Annotated[float, sized("The width of the paper", 60)] = 210.0
    height: Annotated[float, sized("The height of the paper", 60)] = 297.0
    overlap: Annotated[float, sized("The overlap", 0, 100)] = 10.0
    mirrored: bool = False
    look: Literal["made", "lines"] = "made"

    @property
    def sides(self) -> tuple[float, float]:
        """Its width and height as it comes, mm."""
        _, width, height = SIZES[self.size]
        return (self.width, self.height) if self.size == "own" else (width, height)


@dataclass(frozen=True)
class _Tiles:
    """Columns and rows of pages: the size of one, of what is printed on it, and from one to the next, mm."""

    width: float
    height: float
    columns: int
    rows: int
    overlap: float

    @property
    def printed(self) -> tuple[float, float]:
        return self.width - 2 * _EDGE, self.height - 2 * _EDGE

    @property
    def step(self) -> tuple[float, float]:
        return self.printed[0] - self.overlap, self.printed[1] - self.overlap

    @property
    def count(self) -> int:
        return self.columns * self.rows


def paper_pages(design: Design, shop: Shop, paper: Paper, piece: str = "", sheet: int = 1) -> list[Page]:
    """A piece, or else a sheet, in true size on pages; raises `Refused` where there is nothing, or too much."""
    last = min(sheet, len(all_sheets(design)))
    design, number = (on_bench(design, design.piece(piece).bench), 1) if piece else at_sheet(design, sheet)
    stuff = shop.material(design.stock.material)
    if piece:
        found = resolve(design.piece(piece))
        name, box = design.piece(piece).name, found.bounds
        shapes = list(_of_piece(found, stuff, paper))
    else:
        layout = lay_out(design, number)
        name, box = f"{design.name}, sheet {last}", (0.0, 0.0, layout.width, layout.height)
        shapes = [Shape(rectangle_of(*box), "", QUIET, 0.15)]
        for laid in layout.instances:
            shapes += [replace(one, path=one.path.moved(*laid.shift)) for one in _of_piece(laid.resolved, stuff, paper)]
    if not any(len(one.path) for one in shapes) or box[2] <= box[0]:
        raise Refused("There is nothing to print yet: draw a piece first.")
    left, top, right, bottom = box
    turn = (-1.0, 0.0, 0.0, 1.0, right, -top) if paper.mirrored else (1.0, 0.0, 0.0, 1.0, -left, -top)
    shapes = [replace(one, path=one.path.transformed(turn)) for one in shapes]
    tiles = _tiles(paper, right - left, bottom - top)
    if tiles.count > MOST_PAGES:
        raise Refused(f"That takes {tiles.count:,} pages, and at most {MOST_PAGES} are printed: take larger paper.")
    said = f"{name}{', mirrored' if paper.mirrored else ''}, true size"
    return [_page(tiles, row, column, shapes, said) for row in range(tiles.rows) for column in range(tiles.columns)]


def _tiles(paper: Paper, width: float, height: float) -> _Tiles:
    """The paper upright or across, whichever takes fewer pages."""
    sides = paper.sides
    room = min(sides) - 2 * _EDGE
    if room <= paper.overlap + 5:
        raise Refused("The overlap leaves nothing of the paper: make it smaller, or take larger paper.")
    found = [_over(wide, high, paper.overlap, width, height) for wide, high in (sides, sides[::-1])]
    return min(found, key=lambda tiles: tiles.count)


def _over(wide: float, high: float, overlap: float, width: float, height: float) -> _Tiles:
    columns, rows = (
        max(1, math.ceil((size - overlap) / (side - 2 * _EDGE - overlap) - 1e-9))
        for size, side in ((width, wide), (height, high))
    )
    return _Tiles(wide, high, columns, rows, overlap)


def _page(tiles: _Tiles, row: int, column: int, shapes: Sequence[Shape], said: str) -> Page:
    across, down = _EDGE - column * tiles.step[0], _EDGE - row * tiles.step[1]
    window = (_EDGE, _EDGE, tiles.width - _EDGE, tiles.height - _EDGE)
    inside = [replace(one, path=one.path.moved(across, down)) for one in shapes]
    marks = [Shape(_marks(tiles, row, column), "", QUIET, 0.15)]
    number = row * tiles.columns + column + 1
    where = f"page {number} of {tiles.count}: row {row + 1}, column {column + 1}" if tiles.count > 1 else ""
    marks += line_of_text(said, 2.6, (_EDGE + 7, tiles.height - 3.5), QUIET, most=0.5 * tiles.width)
    marks += line_of_text(where, 2.6, (0.62 * tiles.width, tiles.height - 3.5), QUIET)
    if tiles.count > 1:
        marks += _map(tiles, row, column)
    return Page(tiles.width, tiles.height, marks, inside, window)


def _marks(tiles: _Tiles, row: int, column: int) -> Path:
    """Corner marks to cut along, and, where the next page is glued on, dashes along the overlap."""
    left, top, right, bottom = _EDGE, _EDGE, tiles.width - _EDGE, tiles.height - _EDGE
    pen = PathPen()
    for x, out in ((left, -1), (right, 1)):
        for y, away in ((top, -1), (bottom, 1)):
            _stroke(pen, (x, y + away * 1.0), (x, y + away * (1.0 + _MARK)))
            _stroke(pen, (x + out * 1.0, y), (x + out * (1.0 + _MARK), y))
    if tiles.overlap > 0:
        if column + 1 < tiles.columns:
            _dashes(pen, (right - tiles.overlap, top), (right - tiles.overlap, bottom))
        if row + 1 < tiles.rows:
            _dashes(pen, (left, bottom - tiles.overlap), (right, bottom - tiles.overlap))
    return pen.path()


def _map(tiles: _Tiles, row: int, column: int) -> Iterator[Shape]:
    """All pages as small rectangles, this one filled."""
    scale = min(7.0 / (tiles.rows * tiles.height), 24.0 / (tiles.columns * tiles.width))
    wide, high = tiles.width * scale, tiles.height * scale
    left, top = tiles.width - _EDGE - 7 - tiles.columns * wide, 1.2
    for r in range(tiles.rows):
        for c in range(tiles.columns):
            x, y = left + c * wide, top + r * high
            fill = QUIET if (r, c) == (row, column) else ""
            yield Shape(rectangle_of(x, y, x + wide, y + high), fill, QUIET, 0.15)


def _of_piece(resolved: ResolvedPiece, stuff: Material, paper: Paper) -> Iterator[Shape]:
    if paper.look == "made":
        yield from drawn(resolved, stuff)
        return
    pictured = frames(tuple(one for _, one in resolved.pictures))
    areas = [resolved.outline.path, resolved.engraved.path, pictured]
    lines = join([*areas, resolved.scored, resolved.strokes, resolved.slits])
    yield Shape(lines, "", _LINE, 0.2)


def _stroke(pen: PathPen, begin: tuple[float, float], end: tuple[float, float]) -> None:
    pen.moveTo(begin)
    pen.lineTo(end)
    pen.endPath()


def _dashes(pen: PathPen, begin: tuple[float, float], end: tuple[float, float], dash: float = 3.0) -> None:
    length = math.dist(begin, end)
    way = ((end[0] - begin[0]) / length, (end[1] - begin[1]) / length)
    for i in range(int(length / (2 * dash))):
        at = 2 * dash * i
        _stroke(
            pen,
            (begin[0] + way[0] * at, begin[1] + way[1] * at),
            (begin[0] + way[0] * (at + dash), begin[1] + way[1] * (at + dash)),
        )
