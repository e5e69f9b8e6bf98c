"""Reading SVG: walks the tree and tells what is drawn, in mm."""

import re
from collections.abc import Iterator
from copy import copy
from dataclasses import dataclass, replace
from typing import Literal, cast
from xml.etree.ElementTree import Element

import shapely
from fontTools.misc.transform import Transform

from foliant.core.drawings.areas import filled, seen_through, stroked
from foliant.core.drawings.drawing import CSS_INCH, MM, Drawing, Item, Notes, Written, scale_of
from foliant.core.drawings.svg.lengths import UNITS, length, numbers, transform_of, unit_of, view_transform
from foliant.core.drawings.svg.shapes import Port, basic, from_data
from foliant.core.drawings.svg.style import FIRST, Style, Styles, colour_of
from foliant.core.drawings.svg.tree import local, reference, tree_of
from foliant.core.drawings.svg.words import words_of
from foliant.core.errors import Refused
from foliant.core.paths import NOTHING, Affine, Caps, Joins, Path, Region, combine, intersect
from foliant.core.paths.dashing import dashed
from foliant.core.paths.path import is_similarity
from foliant.core.paths.pens import Point
from foliant.core.paths.shapes import circle
from foliant.core.taking_apart import tell

MOST_ELEMENTS = 60_000
_MOST_SEGMENTS = 3_000_000
_DEEPEST_USE = 30
_SILENT = {"defs", "symbol", "title", "desc", "metadata", "style", "view", "clipPath", "mask", "marker", "pattern"}
_SILENT |= {"linearGradient", "radialGradient", "filter", "cursor", "font", "font-face"}
_UNREAD = {
    "script": "scripts",
    "foreignObject": "pieces of other formats",
    "image": "embedded pictures",
    "animate": "animations",
    "animateTransform": "animations",
    "animateMotion": "animations",
    "set": "animations",
    "video": "films",
    "audio": "sounds",
}
_ADDRESS = re.compile(r"url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)\s*(.*)")
_ENDS: dict[str, Caps] = {"round": "round", "square": "square"}
_JOINS: dict[str, Joins] = {"round": "round", "bevel": "bevelled"}


def read_svg(data: bytes) -> Drawing:
    """What an SVG file draws; raises `Refused` where it cannot be read."""
    return _Reader(tree_of(data)).drawing()


@dataclass(frozen=True)
class _Here:
    """What holds at a place of the tree: the map to the page, the style above, the layer, what may be seen, what
    percentages are of, and the ids of what is being used.
    """

    matrix: Affine
    style: Style
    port: Port
    layer: str = ""
    clip: Region | None = None
    uses: tuple[str, ...] = ()

    def under(self, matrix: Affine) -> "_Here":
        """The same under one more map."""
        return replace(self, matrix=_under(self.matrix, matrix))


class _Reader:
    def __init__(self, root: Element) -> None:
        self.root = root
        self.styles = Styles(root)
        self.ids = {key: element for element in root.iter() if (key := element.get("id"))}
        self.notes = Notes()
        self.items: list[Item] = []
        self.texts: list[Written] = []
        self._elements = sum(1 for _ in root.iter())
        self._count = self._segments = 0
        self._clips: dict[tuple[str, Affine], Region] = {}

    def drawing(self) -> Drawing:
        """All that the file draws."""
        box = _box(self.root)
        width, height, unit = self._size(box)
        port = (box[2], box[3]) if box else (width, height)
        inner = view_transform(box, width, height, self.root.get("preserveAspectRatio")) if box else _SAME
        style = self.styles.of(self.root, FIRST)
        if style.get("display") != "none":
            self._children(self.root, _Here(_under(_TO_MM, inner), style, port))
        meanings = () if unit else tuple((says, CSS_INCH / inch) for says, inch in _MEANINGS)
        return Drawing(tuple(self.items), tuple(self.texts), unit, meanings, self.notes.told())

    def _size(self, box: list[float]) -> tuple[float, float, str]:
        """The width and the height of the page in user units, and the unit that the file says; raises `Refused`."""
        said = [self.root.get(name) for name in ("width", "height")]
        units = [unit_of(text) for text in said]
        natural = (box[2], box[3]) if box else (300.0, 150.0)
        width, height = (length(text, side, side) for text, side in zip(said, natural, strict=True))
        known = [text is not None and unit != "%" for text, unit in zip(said, units, strict=True)]
        if not known[0]:
            width = natural[0] * (height / natural[1] if known[1] else 1.0)
        if not known[1]:
            height = natural[1] * width / natural[0]
        if width <= 0 or height <= 0:
            raise Refused("This drawing says that it has no size, so nothing of it can be seen.")
        return width, height, next((one for one in units if one in UNITS and one not in ("", "px")), "")

    def _walk(self, element: Element, here: _Here) -> None:
        name = local(element)
        if not name or name in _SILENT:
            return
        self._count += 1
        tell(self._count / self._elements)
        if self._count > MOST_ELEMENTS:
            raise Refused(f"This drawing comes to more than {MOST_ELEMENTS:,} things, which is more than is read.")
        if name in _UNREAD:
            self.notes.add(_UNREAD[name])
            return
        style = self.styles.of(element, here.style)
        if style.get("display") == "none" or _is_nought(style.get("opacity")):
            self.notes.add("hidden things")
            return
        here = replace(here, style=style).under(transform_of(style.get("transform")))
        if scale_of(here.matrix) < _SQUASHED:
            return
        for what in ("mask", "filter"):
            if style.get(what, "none") != "none":
                self.notes.add(f"{what}s")
        if name in _HOLDERS:
            here = replace(here, layer=_layer(element) or here.layer)
        if style.get("clip-path", "none") != "none":
            here = replace(here, clip=self._clipped(element, here))
            if here.clip is not _EVERYWHERE and not (here.clip and len(here.clip.path)):
                return
        self._draw(name, element, here)

    def _draw(self, name: str, element: Element, here: _Here) -> None:
        match name:
            case "g" | "a":
                self._children(element, here)
            case "switch":
                first = next((child for child in element if local(child)), None)
                if first is not None:
                    self._walk(first, here)
            case "svg":
                self._nested(element, here, None)
            case "use":
                self._used(element, here)
            case "text":
                if here.style.get("visibility", "visible") == "visible":
                    lines = words_of(element, here.style, self.styles, here.matrix, here.layer, here.port, self.notes)
                    self.texts += lines
            case _:
                self._shape(name, element, here)

    def _children(self, element: Element, here: _Here) -> None:
        for child in element:
            self._walk(child, here)

    def _nested(self, element: Element, here: _Here, asked: Element | None) -> None:
        """What is drawn in a port of its own: a nested drawing, or a symbol as it is asked for."""

        def said(key: str) -> str | None:
            return (asked.get(key) if asked is not None else None) or element.get(key)

        width, height = (
            length(said(key), side, side) for key, side in zip(("width", "height"), here.port, strict=True)
        )
        if asked is None:
            here = here.under(_moved(element, here.port))
        box = _box(element)
        if box:
            if width <= 0 or height <= 0:
                return
            here = here.under(view_transform(box, width, height, element.get("preserveAspectRatio")))
            width, height = box[2], box[3]
        self._children(element, replace(here, port=(width, height)))

    def _used(self, element: Element, here: _Here) -> None:
        key = reference(element)
        target = self.ids.get(key)
        if target is None:
            self.notes.add("uses of what is not in the file")
            return
        if key in here.uses or len(here.uses) >= _DEEPEST_USE:
            self.notes.add("things that are made of themselves")
            return
        here = replace(here.under(_moved(element, here.port)), uses=(*here.uses, key))
        if local(target) not in ("symbol", "svg"):
            self._walk(target, here)
            return
        own = self.styles.of(target, here.style)
        self._nested(target, replace(here, style=own).under(transform_of(own.get("transform"))), element)

    def _shape(self, name: str, element: Element, here: _Here) -> None:
        read = self._path(name, element, here.port)
        if read is None:
            self.notes.add(f"“{name[:30]}” elements")
            return
        path, dots = read
        style = here.style
        if style.get("visibility", "visible") != "visible":
            self.notes.add("hidden things")
            return
        fill, stroke = self._paint("fill", style), self._paint("stroke", style)
        if any(style.get(marker, "none") != "none" for marker in _MARKERS):
            self.notes.add("arrow heads and other markers")
        wide = length(style.get("stroke-width"), here.port[0], 1.0)
        if wide <= 0:
            stroke = ""
        ends = _ENDS.get(style.get("stroke-linecap", ""), "flat")
        joins = _JOINS.get(style.get("stroke-linejoin", ""), "sharp")
        if fill and _is_straight(path):
            fill = ""  # which bounds nothing
        if not fill and not stroke:
            if len(path):
                self.notes.add("things without colour")
            return
        odd = style.get("fill-rule") == "evenodd"
        found = [Item(path, fill, odd, stroke, wide, ends, joins, here.layer)] if len(path) else []
        if stroke and ends == "round":
            found += [Item(circle(wide).moved(*dot), stroke, layer=here.layer) for dot in dots]
        for item in found:
            for drawn in _mapped(item, here.matrix, style, here.port):
                self._keep(drawn, here.clip)

    def _path(self, name: str, element: Element, port: Port) -> tuple[Path, list[Point]] | None:
        """A shape, and the places of its contours of no length; None for what is no shape."""
        if name != "path":
            return basic(name, element, port)
        path, dots, whole = from_data(element.get("d") or "")
        if not whole:
            self.notes.add("damaged paths, read up to the damage")
        return path, dots

    def _paint(self, what: Literal["fill", "stroke"], style: Style) -> str:
        """The colour of a fill or a line; "" for none."""
        value = style.get(what, "none")
        if _is_nought(style.get(f"{what}-opacity")):
            return ""
        found = _ADDRESS.match(value)
        if not found:
            return colour_of(value, style)
        paint, spare = self.ids.get(found.group(1)), found.group(2)
        kind = local(paint) if paint is not None else ""
        if paint is None or kind not in ("linearGradient", "radialGradient", "pattern"):
            return colour_of(spare or "none", style)
        if kind == "pattern":
            self.notes.add("patterns, read as plain areas")
            return "#808080"
        return self._gradient(paint)

    def _gradient(self, paint: Element) -> str:
        """The first colour of a gradient."""
        seen: set[int] = set()
        while id(paint) not in seen:
            seen.add(id(paint))
            for stop in paint:
                if local(stop) == "stop":
                    style = self.styles.of(stop, FIRST)
                    return colour_of(style.get("stop-color", "black"), style)
            paint = self.ids.get(reference(paint), paint)
        return ""

    def _clipped(self, element: Element, here: _Here) -> Region | None:
        """What may be seen of an element and all in it."""
        found = _ADDRESS.match(here.style.get("clip-path", ""))
        target = self.ids.get(found.group(1)) if found else None
        if target is None or local(target) != "clipPath" or not found:
            self.notes.add("ways of clipping")
            return here.clip or _EVERYWHERE
        if target.get("clipPathUnits") == "objectBoundingBox":
            read = self._path(local(element), element, here.port)
            left, top, right, bottom = read[0].bounds if read else (0.0, 0.0, 0.0, 0.0)
            here = here.under((right - left, 0.0, 0.0, bottom - top, left, top))
        key = (found.group(1), here.matrix)
        if key not in self._clips:
            self._clips[key] = NOTHING  # what is clipped by itself shows nothing
            self._clips[key] = self._clip_region(target, here)
        own = self._clips[key]
        return intersect([[here.clip.path], [own.path]]) if here.clip and here.clip is not _EVERYWHERE else own

    def _clip_region(self, target: Element, here: _Here) -> Region:
        """What a way of clipping lets be seen: all that is drawn in it, filled."""
        style = self.styles.of(target, {**FIRST, "visibility": "visible"})
        here = _Here(here.matrix, style, here.port).under(transform_of(style.get("transform")))
        if style.get("clip-path", "none") != "none":
            here = replace(here, clip=self._clipped(target, here))
        inner = copy(self)
        inner.items, inner.texts = [], []
        inner._children(target, replace(here, style={**style, "fill": "black", "stroke": "none"}))
        if inner.texts:
            self.notes.add("words that others are clipped by")
        return combine([filled(item.path, item.odd) for item in inner.items if item.fill])

    def _keep(self, item: Item, clip: Region | None) -> None:
        whole = clip is None or clip is _EVERYWHERE
        for seen in (item,) if whole or clip is None else seen_through(item, clip):
            if len(seen.path):
                self._segments += len(seen.path)
                self.items.append(seen)
        if self._segments > _MOST_SEGMENTS:
            raise Refused(f"This drawing comes to more than {_MOST_SEGMENTS:,} lines and curves.")


_SAME: Affine = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
_TO_MM: Affine = (MM / CSS_INCH, 0.0, 0.0, MM / CSS_INCH, 0.0, 0.0)
_HOLDERS = ("g", "a", "svg", "switch")
_SQUASHED = 1e-9
_EVERYWHERE = Region(Path(), shapely.box(-1e9, -1e9, 1e9, 1e9))
_MARKERS = ("marker", "marker-start", "marker-mid", "marker-end")
_MEANINGS = (
    ("96 to the inch", CSS_INCH),
    ("72 to the inch", 72.0),
    ("90 to the inch", 90.0),
    ("a millimetre each", MM),
)


def _box(element: Element) -> list[float]:
    """The view box of an element; empty where it has none that shows anything."""
    box = numbers(element.get("viewBox"))
    return box if len(box) == 4 and box[2] > 0 and box[3] > 0 else []


def _moved(element: Element, port: Port) -> Affine:
    """The map to where an element says that it begins."""
    x, y = length(element.get("x"), port[0]), length(element.get("y"), port[1])
    return (1.0, 0.0, 0.0, 1.0, x, y)


def _under(*matrices: Affine) -> Affine:
    """Maps after each other, the outermost first."""
    whole = Transform()
    for matrix in matrices:
        whole = whole.transform(matrix)
    return cast(Affine, tuple(whole))


def _is_nought(value: str | None) -> bool:
    return value is not None and length(value, 1.0, 1.0) <= 0


def _layer(element: Element) -> str:
    """What a group is called: by a label in any namespace, else by its id."""
    labels = (value for key, value in element.attrib.items() if key.rpartition("}")[2] in ("label", "aria-label"))
    return (next(labels, "") or element.get("data-name") or element.get("id") or "").strip()[:80]


def _mapped(item: Item, matrix: Affine, style: Style, port: Port) -> Iterator[Item]:
    """An item as it lies on the page, its line in dashes where it has them."""
    pattern = [length(one, port[0]) for one in re.split(r"[\s,]+", style.get("stroke-dasharray", "").strip()) if one]
    lined = bool(item.stroke)
    if lined and sum(pattern) > 0:
        begins = length(style.get("stroke-dashoffset"), port[0])
        line = replace(item, path=dashed(item.path, pattern, begins), fill="")
        yield from _laid(line, matrix, style)
        item = replace(item, stroke="")
        if not item.fill:
            return
    yield from _laid(item, matrix, style)


def _laid(item: Item, matrix: Affine, style: Style) -> Iterator[Item]:
    if not item.stroke:
        yield replace(item, path=item.path.transformed(matrix), width=0.0)
        return
    fixed = style.get("vector-effect") == "non-scaling-stroke"
    if fixed or _is_similar(matrix):
        wide = item.width * (MM / CSS_INCH if fixed else scale_of(matrix))
        yield replace(item, path=item.path.transformed(matrix), width=wide)
        return
    # A line that is stretched is wider one way than the other: it becomes the area that it is.
    if item.fill:
        yield replace(item, path=item.path.transformed(matrix), stroke="", width=0.0)
    scaled = scale_of(matrix)
    line = replace(item, path=item.path.transformed((scaled, 0, 0, scaled, 0, 0)), width=item.width * scaled)
    rest = _under(matrix, (1 / scaled, 0.0, 0.0, 1 / scaled, 0.0, 0.0))
    yield Item(stroked(line).transformed(rest), item.stroke, layer=item.layer)


def _is_straight(path: Path) -> bool:
    """Whether it is a level or an upright line."""
    left, top, right, bottom = path.bounds
    return min(right - left, bottom - top) <= 0


def _is_similar(matrix: Affine) -> bool:
    """Whether circles stay circles, as nearly as anybody could tell."""
    scale = scale_of(matrix)
    a, b, c, d = (part / scale for part in matrix[:4])
    return is_similarity((a, b, c, d, 0, 0)) or (
        abs(a * c + b * d) < 1e-4 and abs((a * a + b * b) - (c * c + d * d)) < 1e-4
    )
