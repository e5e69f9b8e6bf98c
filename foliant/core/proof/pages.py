"""Laying out a proof: pictures with names and numbers on pages, as filled and stroked paths that any backend can write.

Names are set as outlines by our own lettering, so that every backend shows the same letters.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from types import MappingProxyType

from foliant.core.design import Design, Piece, ResolvedPiece, resolve
from foliant.core.design.benches import every_bench
from foliant.core.design.binding import bound_rows, tied_pieces
from foliant.core.equipment import Material, Shop
from foliant.core.errors import Refused
from foliant.core.lettering import Style, set_lines
from foliant.core.paths import Affine, Path, PathPen, join
from foliant.core.pricing import Price
from foliant.core.seeing import Burnt, as_burnt
from foliant.core.units import format_length

WIDE, HIGH = 210.0, 297.0
"""A page of A4, mm."""

MOST_ROWS_OF_A_PICTURE = 300
"""Rows on a proof that is one picture."""

_EDGE = 14.0
_GAP = 6.0
_COLUMNS = 3
_PICTURE = 38.0
_CAPTION = 11.0
_DOT = 0.1
"""How large the dots of a picture are on paper, mm."""
_FREE: Mapping[tuple[str, str], Price] = MappingProxyType({})
INK, QUIET, _RULE = "#2a2521", "#6d6357", "#d8cdb8"


@dataclass(frozen=True, eq=False)
class Shape:
    """A path on a page, mm from its upper left: filled, or stroked with a width, or both; "" is none. Or a picture in
    place of a rectangle: PNG, its upper left corner where the path begins.
    """

    path: Path
    fill: str = ""
    stroke: str = ""
    width: float = 0.2
    picture: Burnt | None = None

    @property
    def matrix(self) -> Affine:
        """The map to the path of a rectangle from a square of 1 × 1."""
        (x0, y0), (x1, y1), (x2, y2) = self.path.points[[0, 0, -1], [0, 3, 0]].tolist()
        return x1 - x0, y1 - y0, x2 - x0, y2 - y0, x0, y0


@dataclass(frozen=True, eq=False)
class Page:
    """A page, mm: shapes, and under them those that are shown only inside a window (left, top, right, bottom)."""

    width: float
    height: float
    shapes: list[Shape] = field(default_factory=list)
    inside: list[Shape] = field(default_factory=list)
    window: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)


@dataclass(frozen=True, eq=False)
class _Entry:
    """One thing to be shown: its number in the list, its name, what is said under it, and of which piece and row."""

    number: int
    name: str
    note: str
    resolved: ResolvedPiece | None
    bench: str
    of: tuple[str, str]


def proof_pages(
    design: Design,
    shop: Shop,
    true_size: bool = False,
    one_page: bool = False,
    prices: Mapping[tuple[str, str], Price] = _FREE,
) -> list[Page]:
    """The pages of a proof; raises `Refused` where there is nothing to show, or too much for one page.

    true_size  as large as it is made, as far as a page is that wide
    one_page   all on one page, as long as it has to be
    prices     what each costs, by the ids of its piece and row
    """
    entries = [_priced(entry, prices, shop.rates.currency) for entry in _entries(design)]
    if not entries:
        raise Refused("There is nothing to show yet: draw a piece, or take some rows.")
    if one_page and len(entries) > MOST_ROWS_OF_A_PICTURE:
        raise Refused(f"A picture shows at most {MOST_ROWS_OF_A_PICTURE} rows; this has {len(entries):,}: save a PDF.")
    stuffs = {there.bench: shop.material(there.stock.material) for there in every_bench(design)}
    from_what = " and ".join(
        f"{format_length(there.stock.thickness, design.unit)} {stuffs[there.bench].name}"
        for there in every_bench(design)
    )
    count = "1 piece" if len(entries) == 1 else f"{len(entries):,} pieces"
    about = f"{count}, {from_what}. Please look at every letter: what is here is what will be made."
    cells = [_cell(entry, stuffs[entry.bench], true_size) for entry in entries]
    return _laid(cells, design.name, about, one_page)


def _entries(design: Design) -> Iterator[_Entry]:
    tied = tied_pieces(design)
    number = 0
    for piece in design.pieces:
        if piece.id not in tied:
            if piece.parts and piece.copies:
                number += 1
                yield _Entry(number, piece.name, _note(piece, design), _made(piece), piece.bench, (piece.id, ""))
            continue
        for bound in bound_rows(design, piece):
            number, of = number + 1, (piece.id, bound.row.id)
            if bound.troubles:
                yield _Entry(number, bound.called, "cannot be made yet", None, piece.bench, of)
            else:
                yield _Entry(number, bound.called, _note(bound.piece, design), _made(bound.piece), piece.bench, of)


def _priced(entry: _Entry, prices: Mapping[tuple[str, str], Price], currency: str) -> _Entry:
    found = prices.get(entry.of)
    return replace(entry, note=f"{entry.note}, {found.each:.2f} {currency} each") if found else entry


def _made(piece: Piece) -> ResolvedPiece | None:
    resolved = resolve(piece)
    return None if resolved.trouble or not len(resolved.outline.path) else resolved


def _note(piece: Piece, design: Design) -> str:
    left, top, right, bottom = resolve(piece).bounds
    size = f"{format_length(right - left, design.unit, with_unit=False)} × {format_length(bottom - top, design.unit)}"
    return size if piece.copies == 1 else f"{size}, {piece.copies} of it"


def _cell(entry: _Entry, stuff: Material, true_size: bool) -> Page:
    """One entry as a little page of its own: its picture, and its number and name under it."""
    room = (WIDE - 2 * _EDGE - (_COLUMNS - 1) * _GAP) / _COLUMNS
    wide, high, scale = room, _PICTURE, 1.0
    shapes: list[Shape] = []
    note = entry.note
    if entry.resolved:
        left, top, right, bottom = entry.resolved.bounds
        size = max(right - left, 0.1), max(bottom - top, 0.1)
        scale = min(room / size[0], _PICTURE / size[1])
        if true_size:
            scale = min(1.0, (WIDE - 2 * _EDGE) / size[0], (HIGH - 2 * _EDGE - _CAPTION - 30) / size[1])
            wide = max(size[0] * scale, 24.0)
            note = note if scale == 1 else f"{note}, shown smaller"
        high, x = size[1] * scale, (wide - size[0] * scale) / 2
        shapes = [
            replace(one, path=one.path.transformed((scale, 0, 0, scale, x - left * scale, -top * scale)))
            for one in drawn(entry.resolved, stuff)
        ]
    number = f"{entry.number}  "
    shapes += line_of_text(number, 3.0, (0.0, high + 5.5), QUIET)
    shapes += line_of_text(entry.name, 3.6, (length_of_text(number, 3.0) + 1, high + 5.5), INK, most=wide - 8)
    shapes += line_of_text(note, 2.6, (0.0, high + 9.8), QUIET, most=wide)
    return Page(wide, high + _CAPTION, shapes)


def rectangle_of(left: float, top: float, right: float, bottom: float) -> Path:
    """A rectangle by its edges."""
    pen = PathPen()
    pen.moveTo((left, top))
    for corner in ((right, top), (right, bottom), (left, bottom)):
        pen.lineTo(corner)
    pen.closePath()
    return pen.path()


def drawn(resolved: ResolvedPiece, stuff: Material) -> Iterator[Shape]:
    """A piece as it will look, in its own coordinates."""
    yield Shape(resolved.outline.path, stuff.face, stuff.edge)
    if len(resolved.engraved.path):
        yield Shape(resolved.engraved.path, stuff.mark)
    for _, pictured in resolved.pictures:
        burnt = as_burnt(pictured, _DOT, "grey", stuff.mark)
        left, top, width, height = burnt.box
        yield Shape(rectangle_of(left, top, left + width, top + height), picture=burnt)
    lines = join([resolved.scored, resolved.strokes, resolved.slits])
    if len(lines):
        yield Shape(lines, "", stuff.mark)


def _laid(cells: Sequence[Page], title: str, about: str, one_page: bool) -> list[Page]:
    """Cells in rows, each as high as its highest, on as many pages as it takes."""
    pages: list[Page] = []
    x = y = high = 0.0
    for cell in cells:
        if x > _EDGE and x + cell.width > WIDE - _EDGE + 0.01:
            x, y, high = _EDGE, y + high + _GAP, 0.0
        if not pages or (y + cell.height > HIGH - _EDGE and not one_page):
            pages.append(Page(WIDE, HIGH, _heading(title, about)))
            x, y, high = _EDGE, _EDGE + 22, 0.0
        pages[-1].shapes.extend(replace(one, path=one.path.moved(x, y)) for one in cell.shapes)
        x, high = x + cell.width + _GAP, max(high, cell.height)
    if one_page:
        pages = [replace(pages[0], height=y + high + _EDGE)]
    elif len(pages) > 1:
        for at, page in enumerate(pages, 1):
            said = f"page {at} of {len(pages)}"
            page.shapes.extend(line_of_text(said, 2.8, (WIDE - _EDGE - length_of_text(said, 2.8), HIGH - 8), QUIET))
    return pages


def _heading(title: str, about: str) -> list[Shape]:
    most = WIDE - 2 * _EDGE
    return [
        *line_of_text(title, 8.0, (_EDGE, _EDGE + 7), INK, font="alegreya", most=most),
        *line_of_text(about, 3.2, (_EDGE, _EDGE + 14), QUIET, most=most),
    ]


def length_of_text(text: str, size: float) -> float:
    """How long a line of text is, mm."""
    left, _, right, _ = set_lines(text, Style(_FACE, "points", size / 0.3528)).bounds
    return right - left


_FACE = "alegreya-sans"


def line_of_text(
    text: str, size: float, at: tuple[float, float], ink: str, font: str = _FACE, most: float = 1e9
) -> list[Shape]:
    """A line of text that begins at a point of its baseline; smaller where it would be wider than `most` mm."""
    if not text.strip():
        return []
    style = Style(font, "points", size / 0.3528)
    words = set_lines(text, style)
    left, _, right, _ = words.bounds
    if right - left > most:
        words = set_lines(text, replace(style, size=style.size * most / (right - left)))
        left, _, right, _ = words.bounds
    path = join(letter.path for letter in words.letters)
    return [Shape(path.moved(at[0] - left, at[1] - words.baselines[0]), ink)] if len(path) else []
