"""Reading PDF: the curves and the words of its pages, side by side."""

import ctypes
import math
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

import pypdfium2 as pdfium
import pypdfium2.raw as raw
from fontTools.misc.transform import Transform

from foliant.core.drawings.areas import filled, seen_through
from foliant.core.drawings.drawing import MM, Drawing, Item, Notes, Written
from foliant.core.errors import Refused
from foliant.core.paths import Caps, Joins, Path, PathPen, Region, intersect
from foliant.core.paths.dashing import dashed
from foliant.core.taking_apart import tell

POINT = MM / 72
"""mm to the point."""

MOST_PAGES = 12
_MOST_OBJECTS = 200_000
_DEEPEST = 20
_BETWEEN = 10.0
"""How far pages lie apart, mm."""

_ENDS: dict[int, Caps] = {1: "round", 2: "square"}
_JOINS: dict[int, Joins] = {1: "round", 2: "bevelled"}


def read_pdf(data: bytes) -> Drawing:
    """What the pages of a PDF file show; raises `Refused` where it cannot be read."""
    try:
        document = pdfium.PdfDocument(data)
    except pdfium.PdfiumError as error:
        if "password" in str(error).lower():
            raise Refused("This PDF is locked with a password; save it without one.") from None
        raise Refused("This PDF is damaged, so nothing was read; save it anew where it came from.") from None
    reader = _Reader()
    right = 0.0
    pages = min(len(document), MOST_PAGES)
    for number in range(pages):
        page = document[number]
        width, _ = page.get_size()
        for share in reader.page(page, right, f"page {number + 1}" if len(document) > 1 else ""):
            tell((number + share) / pages)
        right += width * POINT + _BETWEEN
    if len(document) > MOST_PAGES:
        reader.notes.add("further pages", len(document) - MOST_PAGES)
    return Drawing(tuple(reader.items), tuple(reader.texts), "pt", (), reader.notes.told())


class _Reader:
    def __init__(self) -> None:
        self.items: list[Item] = []
        self.texts: list[Written] = []
        self.notes = Notes()
        self._count = 0
        self._clips: dict[tuple[bytes, ...], Region] = {}

    def page(self, page: Any, left: float, layer: str) -> Iterator[float]:
        """Take in a page, its left edge so far to the right, mm; how far that is, thing by thing."""
        box = page.get_cropbox() if _is_box(page.get_cropbox()) else page.get_mediabox()
        x0, y0, x1, y1 = box
        turned = page.get_rotation()
        place = {
            0: Transform(1, 0, 0, -1, -x0, y1),
            90: Transform(0, 1, 1, 0, -y0, -x0),
            180: Transform(-1, 0, 0, 1, x1, -y0),
            270: Transform(0, -1, -1, 0, y1, x1),
        }.get(turned, Transform(1, 0, 0, -1, -x0, y1))
        to_page = Transform(1, 0, 0, 1, left, 0).scale(POINT, POINT).transform(place)
        words = page.get_textpage()
        count = raw.FPDFPage_CountObjects(page.raw)
        for number, thing in enumerate(_objects(page.raw, raw.FPDFPage_CountObjects, raw.FPDFPage_GetObject)):
            self._take(thing, to_page, words, layer, 0)
            yield number / count

    def _take(self, thing: Any, above: Transform, words: Any, layer: str, depth: int) -> None:
        self._count += 1
        if self._count > _MOST_OBJECTS:
            raise Refused(f"This PDF holds more than {_MOST_OBJECTS:,} things, which is more than is read.")
        matrix = above.transform(_matrix(thing))
        match raw.FPDFPageObj_GetType(thing):
            case raw.FPDF_PAGEOBJ_PATH:
                self._path(thing, matrix, layer, self._clip(thing, above))
            case raw.FPDF_PAGEOBJ_TEXT:
                self._text(thing, matrix, words, layer)
            case raw.FPDF_PAGEOBJ_FORM if depth < _DEEPEST:
                for inner in _objects(thing, raw.FPDFFormObj_CountObjects, raw.FPDFFormObj_GetObject):
                    self._take(inner, matrix, words, layer, depth + 1)
            case raw.FPDF_PAGEOBJ_IMAGE:
                self.notes.add("embedded pictures")
            case raw.FPDF_PAGEOBJ_SHADING:
                self.notes.add("shadings")
            case _:
                self.notes.add("things of kinds that are not known")

    def _clip(self, thing: Any, above: Transform) -> Region | None:
        """What may be seen of a thing, which is told where what holds it is; None for all of it."""
        clip = raw.FPDFPageObj_GetClipPath(thing)
        count = raw.FPDFClipPath_CountPaths(clip) if clip else 0
        paths = [
            _path_of(
                raw.FPDFClipPath_CountPathSegments(clip, number),
                partial(raw.FPDFClipPath_GetPathSegment, clip, number),
            )
            .transformed(_affine(above))
            .with_arcs()
            for number in range(max(count, 0))
        ]
        if not paths:
            return None
        key = tuple(path.points.tobytes() for path in paths)
        if key not in self._clips:
            try:
                self._clips[key] = intersect([[filled(path, False)] for path in paths])
            except Refused:
                self.notes.add("ways of clipping")
                return None
        return self._clips[key]

    def _keep(self, item: Item, clip: Region | None) -> None:
        try:
            self.items += [item] if clip is None else [one for one in seen_through(item, clip) if len(one.path)]
        except Refused:
            self.notes.add("ways of clipping")
            self.items.append(item)

    def _path(self, thing: Any, matrix: Transform, layer: str, clip: Region | None) -> None:
        rule, line = ctypes.c_int(), ctypes.c_int()
        raw.FPDFPath_GetDrawMode(thing, rule, line)
        count = raw.FPDFPath_CountSegments(thing)
        path = _path_of(count, partial(raw.FPDFPath_GetPathSegment, thing))
        path = path.transformed(_affine(matrix)).with_arcs()
        fill = _colour(thing, raw.FPDFPageObj_GetFillColor) if rule.value else ""
        stroke = _colour(thing, raw.FPDFPageObj_GetStrokeColor) if line.value else ""
        if not len(path):
            return
        if not fill and not stroke:
            return  # what only clips others
        scale = abs(matrix[0] * matrix[3] - matrix[1] * matrix[2]) ** 0.5
        wide = ctypes.c_float()
        raw.FPDFPageObj_GetStrokeWidth(thing, wide)
        ends = _ENDS.get(raw.FPDFPageObj_GetLineCap(thing), "flat")
        joins = _JOINS.get(raw.FPDFPageObj_GetLineJoin(thing), "sharp")
        width = wide.value * scale if stroke else 0.0
        pattern, begins = _dashes(thing)
        if stroke and pattern:
            lined = dashed(path, [one * scale for one in pattern], begins * scale)
            self._keep(Item(lined, "", False, stroke, width, ends, joins, layer), clip)
            stroke = ""
            if not fill:
                return
        odd = rule.value == raw.FPDF_FILLMODE_ALTERNATE
        self._keep(Item(path, fill, odd, stroke, width if stroke else 0.0, ends, joins, layer), clip)

    def _text(self, thing: Any, matrix: Transform, words: Any, layer: str) -> None:
        text = _said(thing, words)
        if not text.strip():
            return
        size = ctypes.c_float()
        raw.FPDFTextObj_GetFontSize(thing, size)
        scale = abs(matrix[0] * matrix[3] - matrix[1] * matrix[2]) ** 0.5
        font = raw.FPDFTextObj_GetFont(thing)
        name = _name(font, raw.FPDFFont_GetBaseFontName).partition("+")
        base = name[2] or name[0]
        look = base.lower()
        left, bottom, right, top = (ctypes.c_float() for _ in range(4))
        raw.FPDFPageObj_GetBounds(thing, left, bottom, right, top)
        turn = math.degrees(math.atan2(matrix[1], matrix[0]))
        level = abs(turn) < 0.01
        self.texts.append(
            Written(
                text=" ".join(text.split())[:500],
                x=matrix[4],
                y=matrix[5],
                size=size.value * scale,
                family=base[:80],
                bold="bold" in look,
                italic="italic" in look or "oblique" in look,
                rotation=turn,
                width=(right.value - left.value) * POINT if level else 0.0,
                colour=_colour(thing, raw.FPDFPageObj_GetFillColor) or "#000000",
                layer=layer,
            )
        )


def _objects(holder: Any, count: Any, get: Any) -> Iterator[Any]:
    for number in range(count(holder)):
        yield get(holder, number)


def _is_box(box: tuple[float, float, float, float]) -> bool:
    return box[2] > box[0] and box[3] > box[1]


def _matrix(thing: Any) -> Transform:
    found = raw.FS_MATRIX()
    if not raw.FPDFPageObj_GetMatrix(thing, found):
        return Transform()
    return Transform(found.a, found.b, found.c, found.d, found.e, found.f)


def _affine(matrix: Transform) -> tuple[float, float, float, float, float, float]:
    return (matrix[0], matrix[1], matrix[2], matrix[3], matrix[4], matrix[5])


def _path_of(count: int, segment_at: Callable[[int], Any]) -> Path:
    """The path of so many segments."""
    pen, handles, open_now = PathPen(), [], False
    x, y = ctypes.c_float(), ctypes.c_float()
    for number in range(count):
        segment = segment_at(number)
        raw.FPDFPathSegment_GetPoint(segment, x, y)
        at = (x.value, y.value)
        match raw.FPDFPathSegment_GetType(segment):
            case raw.FPDF_SEGMENT_MOVETO:
                if open_now:
                    pen.endPath()
                pen.moveTo(at)
                open_now = True
            case raw.FPDF_SEGMENT_LINETO if open_now:
                pen.lineTo(at)
            case raw.FPDF_SEGMENT_BEZIERTO if open_now:
                handles.append(at)
                if len(handles) == 3:
                    pen.curveTo(*handles)
                    handles = []
        if open_now and not handles and raw.FPDFPathSegment_GetClose(segment):
            pen.closePath()
            open_now = False
    if open_now:
        pen.endPath()
    return pen.path()


def _colour(thing: Any, get: Any) -> str:
    parts = [ctypes.c_uint() for _ in range(4)]
    if not get(thing, *parts):
        return "#000000"
    red, green, blue, cover = (part.value for part in parts)
    return f"#{red:02x}{green:02x}{blue:02x}" if cover else ""


def _dashes(thing: Any) -> tuple[list[float], float]:
    count = raw.FPDFPageObj_GetDashCount(thing)
    if count <= 0:
        return [], 0.0
    found, begins = (ctypes.c_float * count)(), ctypes.c_float()
    raw.FPDFPageObj_GetDashArray(thing, found, count)
    raw.FPDFPageObj_GetDashPhase(thing, begins)
    return ([*found] if sum(found) > 0 else []), begins.value


def _said(thing: Any, words: Any) -> str:
    size = raw.FPDFTextObj_GetText(thing, words.raw, None, 0)
    if size <= 2:
        return ""
    letters = (ctypes.c_ushort * (size // 2))()
    raw.FPDFTextObj_GetText(thing, words.raw, letters, size)
    return bytes(letters).decode("utf-16-le", "replace").rstrip("\0")


def _name(font: Any, get: Any) -> str:
    size = get(font, None, 0)
    if size <= 1:
        return ""
    letters = ctypes.create_string_buffer(size)
    get(font, letters, size)
    return letters.value.decode("utf-8", "replace")
