"""The pens at both ends of a path: `PathPen` makes one, `ArcPen` is what a writer that knows arcs offers."""

from typing import Any, Protocol

import numpy as np
from fontTools.pens.basePen import BasePen

from foliant.core.paths.path import ARC, CUBIC, LINE, Path

Point = tuple[float, float]


class ArcPen(Protocol):
    """fontTools' segment pen with circular arcs: the current point, a point half-way, and the end."""

    def moveTo(self, pt: Point) -> None: ...
    def lineTo(self, pt: Point) -> None: ...
    def curveTo(self, *points: Point) -> None: ...
    def arcTo(self, middle: Point, end: Point) -> None: ...
    def closePath(self) -> None: ...
    def endPath(self) -> None: ...


class PathPen(BasePen):  # type: ignore[misc]  # fontTools' pens carry no types
    """Collects what any producer draws (a glyph, another path) into a `Path`.

    Quadratic curves are raised to cubics, which changes no point of them. Segments of no length are
    left out, and so are contours of fewer than one segment.
    """

    def __init__(self, glyph_set: Any = None) -> None:
        super().__init__(glyph_set)
        self._kinds: list[int] = []
        self._points: list[tuple[Point, Point, Point, Point]] = []
        self._starts: list[int] = []
        self._closed: list[bool] = []
        self._first: Point = (0.0, 0.0)
        self._here: Point = (0.0, 0.0)

    def _moveTo(self, pt: Point) -> None:
        self._first = self._here = pt
        self._begin = len(self._kinds)

    def _lineTo(self, pt: Point) -> None:
        if pt != self._here:
            self._add(LINE, self._here, pt, pt)

    def _curveToOne(self, pt1: Point, pt2: Point, pt3: Point) -> None:
        if not pt1 == pt2 == pt3 == self._here:
            self._add(CUBIC, pt1, pt2, pt3)

    def arcTo(self, middle: Point, end: Point) -> None:
        """A circular arc of at most half a turn through `middle`; straight when the three are in line."""
        here = self._here
        cross = (middle[0] - here[0]) * (end[1] - here[1]) - (middle[1] - here[1]) * (end[0] - here[0])
        if abs(cross) < 1e-9:
            self._lineTo(end)
        else:
            self._add(ARC, middle, middle, end)
        self._BasePen__currentPoint = end

    def _closePath(self) -> None:
        if self._here != self._first:
            self._lineTo(self._first)
        self._finish(True)

    def _endPath(self) -> None:
        self._finish(False)

    def _add(self, kind: int, first: Point, second: Point, end: Point) -> None:
        self._kinds.append(kind)
        self._points.append((self._here, first, second, end))
        self._here = end

    def _finish(self, closed: bool) -> None:
        if len(self._kinds) > self._begin:
            self._starts.append(self._begin)
            self._closed.append(closed)

    def path(self) -> Path:
        """What has been drawn so far."""
        return Path(
            np.array(self._kinds, np.uint8),
            np.array(self._points, np.float64).reshape(-1, 4, 2),
            np.array(self._starts, np.int64),
            np.array(self._closed, np.bool_),
        )
