"""`Path`: contours of lines, cubics and circular arcs, held in whole arrays.

A path is a *producer* in the sense of fontTools' pen protocol: `path.draw(pen)` tells any pen its
contours, so fontTools' bounds, area, transform and SVG pens work on it as they are. A pen that knows
arcs offers `arcTo` (see `pens.ArcPen`); every other pen receives arcs as cubics.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import curves

LINE, CUBIC, ARC = curves.LINE, curves.CUBIC, curves.ARC

Affine = tuple[float, float, float, float, float, float]
"""(a, b, c, d, e, f): x' = a·x + c·y + e, y' = b·x + d·y + f, as in SVG and fontTools."""

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Path:
    """Contours of segments, in mm, y down. Arrays are read-only and never change after making.

    kinds   (n,)      LINE, CUBIC or ARC
    points  (n, 4, 2) start, two controls, end. A line's controls are its ends; both controls of an
                      arc are the point half-way along it, so an arc sweeps at most half a turn
    starts  (m,)      the index of the first segment of each contour
    closed  (m,)      whether the contour closes; a closed contour ends where it starts
    """

    kinds: NDArray[np.uint8] = field(default_factory=lambda: np.zeros(0, np.uint8))
    points: Floats = field(default_factory=lambda: np.zeros((0, 4, 2)))
    starts: NDArray[np.int64] = field(default_factory=lambda: np.zeros(0, np.int64))
    closed: NDArray[np.bool_] = field(default_factory=lambda: np.zeros(0, np.bool_))

    def __post_init__(self) -> None:
        for array in (self.kinds, self.points, self.starts, self.closed):
            array.setflags(write=False)

    def __len__(self) -> int:
        """The number of segments, which for closed contours is the number of nodes."""
        return len(self.kinds)

    @property
    def ends(self) -> NDArray[np.int64]:
        """The index after the last segment of each contour, shape (m,)."""
        return np.append(self.starts, len(self.kinds)).astype(np.int64)[1:]

    def contours(self) -> Iterator[tuple[slice, bool]]:
        """Each contour as the slice of its segments and whether it closes."""
        for start, end, closed in zip(self.starts, self.ends, self.closed, strict=True):
            yield slice(int(start), int(end)), bool(closed)

    @cached_property
    def contour_of(self) -> NDArray[np.int64]:
        """For each segment the number of its contour, shape (n,)."""
        return np.repeat(np.arange(len(self.starts)), self.ends - self.starts)

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """Exact (left, top, right, bottom) in mm; zeros for an empty path."""
        if not len(self):
            return (0.0, 0.0, 0.0, 0.0)
        low, high = curves.extremes(self.kinds, self.points)
        return (float(low[0]), float(low[1]), float(high[0]), float(high[1]))

    @cached_property
    def area(self) -> float:
        """Signed area of the closed contours in mm²; clockwise on the page is positive (y down)."""
        return (
            float(curves.swept_areas(self.kinds, self.points)[self.closed[self.contour_of]].sum()) if len(self) else 0.0
        )

    @cached_property
    def length(self) -> float:
        """Length of all segments in mm."""
        return float(curves.lengths(self.kinds, self.points).sum())

    def transformed(self, matrix: Affine) -> "Path":
        """The path under an affine map; arcs become cubics where the map is not a similarity."""
        if not len(self):
            return self
        a, b, c, d, e, f = matrix
        path = self if is_similarity(matrix) else self.without_arcs()
        moved = path.points @ np.array([[a, b], [c, d]]) + np.array([e, f])
        return Path(path.kinds, moved, path.starts, path.closed)

    def moved(self, dx: float, dy: float) -> "Path":
        """The path shifted by (dx, dy) mm."""
        if not len(self):
            return self
        return Path(self.kinds, self.points + np.array([dx, dy]), self.starts, self.closed)

    def without_arcs(self) -> "Path":
        """The path with every arc written as two cubics (error under 1e-5 of its radius)."""
        if not (self.kinds == ARC).any():
            return self
        counts = np.where(self.kinds == ARC, 4, 1)
        which = np.repeat(np.arange(len(self)), counts)
        part = np.arange(len(which)) - np.repeat(np.cumsum(counts) - counts, counts)
        share = 1.0 / counts[which]
        points = curves.cut(self.kinds[which], self.points[which], part * share, (part + 1) * share)
        kinds = self.kinds[which].copy()
        arcs = kinds == ARC
        points[arcs] = curves.arcs_as_cubics(points[arcs])
        kinds[arcs] = CUBIC
        starts = (np.cumsum(counts) - counts)[self.starts]
        return Path(kinds, points, starts, self.closed)

    def with_arcs(self) -> "Path":
        """The path with every cubic that is a circular arc, within 1e-5 of its radius, written as that arc."""
        cubic = np.flatnonzero(self.kinds == CUBIC)
        arcs = curves.cubics_as_arcs(self.points[cubic])
        found = np.isfinite(arcs).all(axis=(1, 2))
        if not found.any():
            return self
        kinds, points = self.kinds.copy(), self.points.copy()
        kinds[cubic[found]], points[cubic[found]] = ARC, arcs[found]
        return Path(kinds, points, self.starts, self.closed)

    def draw(self, pen: Any) -> None:
        """Tell a pen the contours: any fontTools segment pen, or one that also has `arcTo`."""
        arc_to = getattr(pen, "arcTo", None)
        path = self if arc_to else self.without_arcs()
        points = path.points.tolist()
        kinds = path.kinds.tolist()
        for segments, closed in path.contours():
            pen.moveTo(tuple(points[segments.start][0]))
            for kind, (_, first, second, end) in zip(kinds[segments], points[segments], strict=True):
                if kind == LINE:
                    pen.lineTo(tuple(end))
                elif kind == CUBIC:
                    pen.curveTo(tuple(first), tuple(second), tuple(end))
                elif arc_to:
                    arc_to(tuple(first), tuple(end))
            if closed:
                pen.closePath()
            else:
                pen.endPath()


EMPTY = Path()


def join(paths: Iterable[Path]) -> Path:
    """All contours of several paths as one path, in order; nothing is welded."""
    found: Sequence[Path] = [path for path in paths if len(path)]
    if not found:
        return EMPTY
    if len(found) == 1:
        return found[0]
    offsets = np.cumsum([0] + [len(path) for path in found[:-1]])
    return Path(
        np.concatenate([path.kinds for path in found]),
        np.concatenate([path.points for path in found]),
        np.concatenate([path.starts + offset for path, offset in zip(found, offsets, strict=True)]),
        np.concatenate([path.closed for path in found]),
    )


def similarity(rotation: float = 0.0, scale: float = 1.0, dx: float = 0.0, dy: float = 0.0) -> Affine:
    """The map that scales, turns clockwise on the page by `rotation` degrees, then shifts by (dx, dy) mm."""
    turn = np.deg2rad(rotation)
    cosine, sine = float(np.cos(turn)) * scale, float(np.sin(turn)) * scale
    return (cosine, sine, -sine, cosine, dx, dy)


def is_similarity(matrix: Affine) -> bool:
    """Whether circles stay circles under the map (mirroring allowed)."""
    a, b, c, d, _, _ = matrix
    return bool(abs(a * c + b * d) < 1e-9 and abs((a * a + b * b) - (c * c + d * d)) < 1e-9)
