"""The shapes of SVG as paths: path data, and the basic shapes."""

import math
import re
from collections.abc import Callable
from xml.etree.ElementTree import Element

from fontTools.svgLib.path.parser import parse_path

from foliant.core.drawings.svg.lengths import length, numbers
from foliant.core.paths import Path, PathPen
from foliant.core.paths.pens import Point
from foliant.core.paths.shapes import circle, rectangle

Port = tuple[float, float]
"""What percentages are of, across and down, in user units."""

_LEADING_ZEROS = re.compile(r"(?<![\d.])0+(?=\d)")
_BARE_POINT = re.compile(r"(?<=\d)\.(?!\d)")


class SvgPen(PathPen):
    """Takes path data of SVG: elliptical arcs too, and contours of no length, which round ends make dots."""

    def __init__(self) -> None:
        super().__init__()
        self.dots: list[Point] = []

    def arcTo(  # type: ignore[override]
        self, rx: float, ry: float, rotation: float, large: bool, sweep: bool, end: Point
    ) -> None:
        """An arc of an ellipse; round ones stay arcs, others become cubics of at most an eighth of a turn.

        After https://www.w3.org/TR/SVG11/implnote.html#ArcImplementationNotes: in units of its radii, and turned back,
        it is an arc of a circle of 1 about (x, y), if its chord's middle is the origin.
        """
        here = self._here
        if here == end:
            return
        if rx < 1e-12 or ry < 1e-12:
            self.lineTo(end)
            return
        cosine, sine = math.cos(math.radians(rotation)), math.sin(math.radians(rotation))
        dx, dy = (here[0] - end[0]) / 2, (here[1] - end[1]) / 2
        u, v = (cosine * dx + sine * dy) / rx, (cosine * dy - sine * dx) / ry
        chord = math.hypot(u, v)
        if chord > 1:  # radii too small for their chord grow
            rx, ry, u, v, chord = rx * chord, ry * chord, u / chord, v / chord, 1.0
        away = math.sqrt(max(0.0, 1 / chord**2 - 1)) * (1 if large != sweep else -1)
        x, y = away * v, -away * u
        begin = math.atan2(v - y, u - x)
        swept = (math.atan2(-v - y, -u - x) - begin) % (2 * math.pi)
        if not sweep:
            swept -= 2 * math.pi
        middle_x, middle_y = (here[0] + end[0]) / 2, (here[1] + end[1]) / 2

        def on(angle: float, beyond: float = 0.0) -> Point:
            """The point at an angle, or so far along the tangent there."""
            across = rx * (math.cos(angle) - beyond * math.sin(angle) + x)
            down = ry * (math.sin(angle) + beyond * math.cos(angle) + y)
            return (middle_x + cosine * across - sine * down, middle_y + sine * across + cosine * down)

        is_round = abs(rx - ry) <= 1e-6 * rx
        pieces = max(1, math.ceil(abs(swept) / (math.pi if is_round else math.pi / 4) - 1e-9))
        step = swept / pieces
        reach = 4 / 3 * math.tan(step / 4)
        for number in range(pieces):
            a, b = begin + number * step, begin + (number + 1) * step
            stop = end if number == pieces - 1 else on(b)
            if is_round:
                super().arcTo(on((a + b) / 2), stop)
            else:
                self.curveTo(on(a, reach), on(b, -reach), stop)

    def _finish(self, closed: bool) -> None:
        if len(self._kinds) == self._begin:
            self.dots.append(self._first)
        super()._finish(closed)


def from_data(data: str) -> tuple[Path, list[Point], bool]:
    """Path data as a path, the places of its contours of no length, and whether all of it could be read."""
    pen, whole = SvgPen(), True
    try:
        parse_path(_LEADING_ZEROS.sub("", _BARE_POINT.sub(" ", data)) if _is_odd(data) else data, pen)
    except (ValueError, IndexError, OverflowError):
        whole = False  # what comes before the fault is drawn, as SVG has it
        if pen._getCurrentPoint() is not None:
            pen.endPath()
    return pen.path(), pen.dots, whole


def _is_odd(data: str) -> bool:
    """Whether numbers are written in a way that few writers do, and that the parser does not know."""
    return bool(_BARE_POINT.search(data) or re.search(r"(?<![\d.])0\d", data)) and "a" not in data.lower()


def basic(name: str, element: Element, port: Port) -> tuple[Path, list[Point]] | None:
    """A basic shape, which is empty where it has no size, and the places of its lines of no length; None for other
    elements.
    """
    make = _BASIC.get(name)
    if make is None:
        return None
    made = make(element, port)
    return (made.path(), made.dots) if isinstance(made, SvgPen) else (made, [])


def _rect(element: Element, port: Port) -> Path:
    wide, high = length(element.get("width"), port[0]), length(element.get("height"), port[1])
    if wide <= 0 or high <= 0:
        return Path()
    x, y = length(element.get("x"), port[0]), length(element.get("y"), port[1])
    rx, ry = length(element.get("rx"), port[0], -1.0), length(element.get("ry"), port[1], -1.0)
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    rx, ry = min(max(rx, 0.0), wide / 2), min(max(ry, 0.0), high / 2)
    if rx <= 0 or ry <= 0:
        return rectangle(wide, high).moved(x + wide / 2, y + high / 2)
    if abs(rx - ry) < 1e-9 * rx:
        return rectangle(wide, high, "rounded", rx).moved(x + wide / 2, y + high / 2)
    # As high as it is wide, its corners are round ones.
    tall = high * rx / ry
    plain = rectangle(wide, tall, "rounded", rx)
    return plain.transformed((1, 0, 0, high / tall, x + wide / 2, y + high / 2))


def _circle(element: Element, port: Port) -> Path:
    mean = math.sqrt((port[0] ** 2 + port[1] ** 2) / 2)
    r = length(element.get("r"), mean)
    if r <= 0:
        return Path()
    return circle(2 * r).moved(length(element.get("cx"), port[0]), length(element.get("cy"), port[1]))


def _ellipse(element: Element, port: Port) -> Path:
    rx, ry = length(element.get("rx"), port[0], -1.0), length(element.get("ry"), port[1], -1.0)
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    if rx <= 0 or ry <= 0:
        return Path()
    x, y = length(element.get("cx"), port[0]), length(element.get("cy"), port[1])
    return circle(2 * rx).transformed((1, 0, 0, ry / rx, x, y))


def _line(element: Element, port: Port) -> SvgPen:
    x1, x2 = (length(element.get(name), port[0]) for name in ("x1", "x2"))
    y1, y2 = (length(element.get(name), port[1]) for name in ("y1", "y2"))
    return _through([(x1, y1), (x2, y2)], closed=False)


def _polyline(element: Element, port: Port) -> SvgPen:
    return _through(_points(element), closed=False)


def _polygon(element: Element, port: Port) -> SvgPen:
    return _through(_points(element), closed=True)


def _points(element: Element) -> list[Point]:
    found = numbers(element.get("points"))
    return list(zip(found[::2], found[1::2], strict=False))


def _through(points: list[Point], closed: bool) -> SvgPen:
    pen = SvgPen()
    if len(points) < 2:
        return pen
    pen.moveTo(points[0])
    for point in points[1:]:
        pen.lineTo(point)
    if closed:
        pen.closePath()
    else:
        pen.endPath()
    return pen


_BASIC: dict[str, Callable[[Element, Port], Path | SvgPen]] = {
    "rect": _rect,
    "circle": _circle,
    "ellipse": _ellipse,
    "line": _line,
    "polyline": _polyline,
    "polygon": _polygon,
}
