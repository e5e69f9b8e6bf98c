"""The words of an SVG file: each line with its place and its look."""

import math
import re
from typing import Literal, cast
from xml.etree.ElementTree import Element

from foliant.core.drawings.drawing import Notes, Written, scale_of
from foliant.core.drawings.svg.lengths import length
from foliant.core.drawings.svg.shapes import Port
from foliant.core.drawings.svg.style import Style, Styles, colour_of
from foliant.core.drawings.svg.tree import local
from foliant.core.paths import Affine

_ANCHORS = ("start", "middle", "end")
_SPACE = re.compile(r"\s+")
_MOST = 2000


def words_of(
    element: Element, style: Style, styles: Styles, matrix: Affine, layer: str, port: Port, notes: Notes
) -> list[Written]:
    """The lines of a text element; where one begins anew within it, that is a line of its own."""
    lines = _Lines(styles, port, notes)
    lines.walk(element, style)
    return [lines.written(line, matrix, layer) for line in lines.found if line.text.strip()][:_MOST]


class _Line:
    def __init__(self, x: float, y: float, style: Style, size: float) -> None:
        self.x, self.y, self.style, self.size, self.text = x, y, style, size, ""


class _Lines:
    def __init__(self, styles: Styles, port: Port, notes: Notes) -> None:
        self._styles, self._port, self._notes = styles, port, notes
        self.found: list[_Line] = []

    def walk(self, element: Element, style: Style, em: float = 16.0) -> None:
        """Take in an element and what lies in it."""
        em = length(style.get("font-size"), em, em, em)
        x, y = self._first(element, "x", 0), self._first(element, "y", 1)
        dx, dy = self._first(element, "dx", 0) or 0.0, self._first(element, "dy", 1) or 0.0
        last = self.found[-1] if self.found else None
        if last is None or x is not None or y is not None or dy:
            x = (last.x if last else 0.0) if x is None else x
            y = (last.y if last else 0.0) if y is None else y
            self.found.append(_Line(x + dx, y + dy, style, em))
        self._say(element.text, style, em)
        for child in element:
            name = local(child)
            if name in ("tspan", "a"):
                own = self._styles.of(child, style)
                if own.get("display") != "none":
                    self.walk(child, own, em)
            elif name == "textPath":
                self._notes.add("words on a curve")
            elif name == "tref":
                self._notes.add("words taken from elsewhere")
            self._say(child.tail, style, em)

    def _say(self, text: str | None, style: Style, em: float) -> None:
        line, plain = self.found[-1], _SPACE.sub(" ", text or "")
        if not line.text.strip():
            line.style, line.size, plain = style, em, plain.lstrip()
        line.text += plain

    def _first(self, element: Element, name: str, axis: int) -> float | None:
        parts = (element.get(name) or "").replace(",", " ").split()
        return length(parts[0], self._port[axis]) if parts else None

    def written(self, line: _Line, matrix: Affine, layer: str) -> Written:
        """A line where it lies on the page."""
        a, b, c, d, e, f = matrix
        style = line.style
        anchor = style.get("text-anchor", "start")
        weight = style.get("font-weight", "normal")
        return Written(
            text=line.text.strip()[:500],
            x=a * line.x + c * line.y + e,
            y=b * line.x + d * line.y + f,
            size=line.size * scale_of(matrix),
            family=style.get("font-family", "").split(",")[0].strip().strip("'\"")[:80],
            bold=weight == "bold" or (weight.isdigit() and int(weight) >= 600),
            italic=style.get("font-style", "normal") in ("italic", "oblique"),
            anchor=cast(Literal["start", "middle", "end"], anchor if anchor in _ANCHORS else "start"),
            rotation=math.degrees(math.atan2(b, a)),
            flipped=a * d - b * c < 0,
            colour=colour_of(style.get("fill", "black"), style) or "#000000",
            layer=layer,
        )
