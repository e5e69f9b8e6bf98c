"""Fitting: words stretched into a box, between two rails, or to the rim of a closed shape."""

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.lettering.letters import Letter, Words
from foliant.core.paths import CUBIC, LINE, Path
from foliant.core.paths.curves import cut, derivatives, evaluate
from foliant.core.paths.flatten import flatten
from foliant.core.paths.overlay import fine_shape
from foliant.core.remembering import remembered

Fills = Literal["both", "width", "height"]
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_COLUMNS = 4000
_CLOSE = 0.004
"""How far, in mm, what is bent may lie from where the map puts it."""

_HALVINGS = 7
_STEP = 1 / 24
"""What is bent by a rim is cut so that no piece is wider than this share of it."""


@dataclass(frozen=True)
class Box:
    """A box that words fill, about the origin.

    fills    whether they fill its width, its height or both
    overlap  how far they reach beyond its upper and its lower edge, mm
    stretch  how much wider or taller than they are drawn letters may get, percent; 100 keeps them as they are
    """

    width: float
    height: float
    fills: Fills
    overlap: float
    stretch: float


@dataclass(frozen=True, eq=False)
class Rails:
    """An upper and a lower edge that words fill the space between: where they lie in columns `x`, mm."""

    x: Floats
    top: Floats
    bottom: Floats


def fitted(words: Words, box: Box) -> tuple[Words, float, float]:
    """The words stretched into a box, and how wide and high they fill it without the overlap, mm.

    Where they cannot fill it both ways, a long text keeps its width and a short one its height.
    """
    left, top, right, bottom = words.bounds
    wide, high = max(right - left, 1e-6), max(bottom - top, 1e-6)
    across, down = (box.width / wide, (box.height + 2 * box.overlap) / high)
    most = max(box.stretch, 100.0) / 100
    match box.fills:
        case "width":
            down = across
        case "height":
            across = down
        case "both" if across * most < down:
            down = across * most
        case "both" if down * most < across:
            across = down * most
    width, height = wide * across, max(high * down - 2 * box.overlap, 0.1)
    middle = ((left + right) / 2, (top + bottom) / 2)
    return _stretched(words, across, down, middle), width, height


def _stretched(words: Words, across: float, down: float, middle: tuple[float, float]) -> Words:
    x, y = middle

    def stretch(letter: Letter) -> Letter:
        outline = letter.outline.transformed((across, 0, 0, down, 0, 0))
        return replace(
            letter, outline=outline, x=(letter.x - x) * across, y=(letter.y - y) * down, advance=letter.advance * across
        )

    letters = tuple(stretch(letter) for letter in words.letters)
    return replace(
        words, letters=letters, cap=words.cap * down, baselines=tuple((base - y) * down for base in words.baselines)
    )


def levelled(words: Words) -> Words:
    """The words with every letter stretched to be as high as the tallest: all tops in line, and all feet.

    Several lines come to lie one under the other, each as high.
    """
    _, top, _, bottom = words.bounds
    lines = words.lines()
    high = max(bottom - top, 1e-6) / len(lines)
    letters = tuple(
        replace(letter, outline=_as_high(letter.outline, round(high, 6)), y=top + high * number)
        for number, line in enumerate(lines)
        for letter in line
    )
    return replace(words, letters=letters, baselines=tuple(top + high * (at + 1) for at in range(len(words.baselines))))


@remembered
def _as_high(outline: Path, high: float) -> Path:
    """An outline stretched to reach from 0 down to `high` mm."""
    _, top, _, bottom = outline.bounds
    share = high / max(bottom - top, 1e-6)
    return outline.transformed((1.0, 0.0, 0.0, share, 0.0, -top * share))


def filled(words: Words, rails: Rails, width: float, overlap: float) -> Words:
    """The words stretched between rails, `width` mm wide in the middle of them, and by the overlap beyond both.

    Every point keeps its share of the height, so that straight tops run along the rail.
    """
    left, top, right, bottom = words.bounds
    across = width / max(right - left, 1e-6)
    middle, centre = (left + right) / 2, float(rails.x[0] + rails.x[-1]) / 2
    span = _Span(rails, middle, centre, across, (top, max(bottom, top + 1e-6)), overlap)
    letters = tuple(
        replace(
            letter,
            outline=span.warped(letter.path.without_arcs(), width * _STEP),
            x=0.0,
            y=0.0,
            advance=letter.advance * across,
        )
        for letter in words.letters
    )
    return replace(words, letters=letters, baselines=tuple(0.0 for _ in words.baselines))


@dataclass(frozen=True, eq=False)
class _Span:
    """A map that carries (x, y) between rails: x in proportion, y by its share of the ink's height."""

    rails: Rails
    middle: float
    centre: float
    across: float
    ink: tuple[float, float]
    overlap: float

    def at(self, points: Floats) -> Floats:
        """Where points (..., 2) come to lie."""
        x = self.centre + (points[..., 0] - self.middle) * self.across
        top, bottom = self._rails(x)
        part = (points[..., 1] - self.ink[0]) / (self.ink[1] - self.ink[0])
        return np.stack([x, top + part * (bottom - top)], axis=-1)

    def _rails(self, x: Floats) -> tuple[Floats, Floats]:
        top = np.interp(x, self.rails.x, self.rails.top)
        bottom = np.interp(x, self.rails.x, self.rails.bottom)
        return top - self.overlap, bottom + self.overlap

    def slopes(self, points: Floats, slopes: Floats) -> Floats:
        """Where directions (..., 2) at points come to point, by the map's own derivative."""
        h = 0.02
        x = self.centre + (points[..., 0] - self.middle) * self.across
        top, bottom = self._rails(x)
        (top0, bottom0), (top1, bottom1) = self._rails(x - h), self._rails(x + h)
        part = (points[..., 1] - self.ink[0]) / (self.ink[1] - self.ink[0])
        lean = ((top1 - top0) * (1 - part) + (bottom1 - bottom0) * part) / (2 * h)
        dx = slopes[..., 0] * self.across
        dy = lean * dx + (bottom - top) / (self.ink[1] - self.ink[0]) * slopes[..., 1]
        return np.stack([dx, dy], axis=-1)

    def warped(self, path: Path, step: float) -> Path:
        """A path without arcs under the map, cut in pieces no wider than `step` mm, and finer where a rail bends."""
        if not len(path):
            return path
        box = path.points[..., 0]
        wide = (box.max(axis=1) - box.min(axis=1)) * self.across
        counts = np.where(wide < 1e-9, 1, np.ceil(wide / step).astype(int) + (path.kinds == CUBIC))
        for _ in range(_HALVINGS):
            kinds, points, away = self._pieces(path, counts)
            which = np.repeat(np.arange(len(path)), counts)
            far = np.zeros(len(path))
            np.maximum.at(far, which, away)
            if not (far > _CLOSE).any():
                break
            counts = np.where(far > _CLOSE, counts * 2, counts)
        else:
            kinds, points, _ = self._pieces(path, counts)
        return Path(kinds, points, (np.cumsum(counts) - counts)[path.starts], path.closed)

    def _pieces(self, path: Path, counts: Ints) -> tuple[NDArray[np.uint8], Floats, Floats]:
        """The segments cut in so many pieces each, under the map; and how far each is off it in its middle, mm."""
        which = np.repeat(np.arange(len(path)), counts)
        part = np.arange(len(which)) - np.repeat(np.cumsum(counts) - counts, counts)
        kinds = path.kinds[which].copy()
        pieces = cut(kinds, path.points[which], part / counts[which], (part + 1) / counts[which])
        begin, end = self.at(pieces[:, 0]), self.at(pieces[:, 3])
        starts, halves, ends = (np.full(len(pieces), share) for share in (0.0, 0.5, 1.0))
        leaving = self.slopes(pieces[:, 0], derivatives(kinds, pieces, starts)) / 3
        arriving = self.slopes(pieces[:, 3], derivatives(kinds, pieces, ends)) / 3
        curved = np.stack([begin, begin + leaving, end - arriving, end], axis=1)
        upright = (kinds == LINE) & (np.abs(pieces[:, 0, 0] - pieces[:, 3, 0]) < 1e-9)
        points = np.where(upright[:, None, None], np.stack([begin, begin, end, end], axis=1), curved)
        middle = self.at(evaluate(kinds, pieces, halves))
        kinds[~upright] = CUBIC
        away = np.hypot(*(evaluate(kinds, points, halves) - middle).T)
        return kinds, points, away


@remembered
def rails_inside(path: Path) -> Rails | None:
    """The rim of a closed outline's opening, or of the outline itself where it has none, column by column."""
    parts = sorted(shapely.get_parts(fine_shape(path)), key=lambda part: -part.area)
    if not parts:
        return None
    openings = sorted((shapely.Polygon(ring) for ring in parts[0].interiors), key=lambda hole: -hole.area)
    room = openings[0] if openings else shapely.Polygon(parts[0].exterior)
    left, _, right, _ = room.bounds
    x = np.linspace(left + 1e-4, right - 1e-4, _COLUMNS)
    crossings = _crossings(shapely.get_coordinates(room), x)
    height = float(room.centroid.y)
    top = np.where(crossings <= height, crossings, -np.inf).max(axis=1)
    bottom = np.where(crossings >= height, crossings, np.inf).min(axis=1)
    kept = np.isfinite(top) & np.isfinite(bottom)
    if kept.sum() < 2:
        return None
    middle = int(np.searchsorted(x, float(room.centroid.x)))
    gaps = np.flatnonzero(~kept)
    first = int(gaps[gaps < middle].max(initial=-1)) + 1
    last = int(gaps[gaps >= middle].min(initial=len(x)))
    return Rails(x[first:last], top[first:last], bottom[first:last]) if last - first > 1 else None


@remembered
def rails_between(upper: Path, lower: Path) -> Rails | None:
    """The lower edge of one outline and the upper edge of another below it, over the width that both cover."""
    left = max(upper.bounds[0], lower.bounds[0])
    right = min(upper.bounds[2], lower.bounds[2])
    if right - left < 0.1:
        return None
    x = np.linspace(left + 1e-4, right - 1e-4, _COLUMNS // 4)
    edges = [_open_edges(path) for path in (upper, lower)]
    top = np.nanmax(_columns(edges[0], x), axis=1)
    bottom = np.nanmin(_columns(edges[1], x), axis=1)
    kept = np.isfinite(top) & np.isfinite(bottom)
    return Rails(x[kept], top[kept], bottom[kept]) if kept.sum() > 1 else None


def _open_edges(path: Path) -> Floats:
    flat = flatten(path)
    return np.stack([flat.points, flat.ends], axis=1)


def _crossings(ring: Floats, x: Floats) -> Floats:
    return np.nan_to_num(_columns(np.stack([ring[:-1], ring[1:]], axis=1), x), nan=np.inf)


def _columns(edges: Floats, x: Floats) -> Floats:
    """Where upright lines at x (m,) cross edges (n, 2, 2): (m, n), NaN where they do not."""
    swap = edges[:, 0, 0] > edges[:, 1, 0]
    ordered = np.where(swap[:, None, None], edges[:, ::-1], edges)
    (x0, y0), (x1, y1) = ordered[:, 0].T, ordered[:, 1].T
    at = x[:, None]
    with np.errstate(invalid="ignore", divide="ignore"):
        y = y0 + (at - x0) / (x1 - x0) * (y1 - y0)
    return np.where((x0 <= at) & (at <= x1) & (x1 > x0), y, math.nan)
