"""Corners: rounded, scooped or cut off where two segments of an outline meet at an angle."""

from collections.abc import Callable, Collection
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.flatten import GRID, on_grid
from foliant.core.paths.path import ARC, LINE, Path
from foliant.core.paths.rings import next_in_ring, previous_in_ring

CornerStyle = Literal["rounded", "scooped", "cut"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]

_TURN = np.cos(np.deg2rad(5))
_STEP = 1e-6
_MOST = 3000.0
_TRIES = 24
"""How many sizes are tried at once in the search for the largest."""

_SAMPLES = 48


@dataclass(frozen=True, eq=False)
class Corners:
    """The corners of a path: the index of the segment that leaves each, and where it lies (mm), shape (k, 2)."""

    index: Ints
    at: Floats


def corners_of(path: Path) -> Corners:
    """The nodes of closed contours where the direction turns by more than 5 degrees."""
    if not len(path):
        return Corners(np.zeros(0, np.int64), np.zeros((0, 2)))
    before = previous_in_ring(path.contour_of)
    arriving = _unit(curves.derivatives(path.kinds, path.points, np.full(len(path), 1 - 1e-4)))[before]
    leaving = _unit(curves.derivatives(path.kinds, path.points, np.full(len(path), 1e-4)))
    turns = ((arriving * leaving).sum(axis=1) < _TURN) & path.closed[path.contour_of]
    index = np.flatnonzero(turns)
    return Corners(index, path.points[index, 0])


def with_corners(path: Path, style: CornerStyle, size: float, only: Collection[int] = ()) -> Path:
    """The path with its corners treated; `only` names some of them by their place in `corners_of`, else all are.

    size  the radius of a rounding or a scoop, or what a cut takes from both edges, in mm. Where it is too
          large for the shortest edge, all corners take the largest size that fits.
    """
    chosen = _chosen(path, only)
    if not len(chosen) or size < GRID:
        return path
    fitting = _trims(path, chosen, style, np.array([size]))
    if not fitting.sound[0]:
        size = largest_corner(path, style, only)
        fitting = _trims(path, chosen, style, np.array([size]))
    return _trimmed(path, chosen, style, size, fitting.ends[0], fitting.begins[0]) if size > GRID else path


def largest_corner(path: Path, style: CornerStyle, only: Collection[int] = ()) -> float:
    """The largest size in mm, to a hundredth, that corners of `with_corners` can have."""
    chosen = _chosen(path, only)
    if not len(chosen):
        return 0.0
    # Between straight edges a round takes from both what this says; curves may leave some times more room.
    before = previous_in_ring(path.contour_of)[chosen]
    edges = [_Segments(path.kinds[i], path.points[i]) for i in (before, chosen)]
    longest = np.maximum(*(curves.lengths(edge.kinds, edge.points) for edge in edges))
    turn = _turn(*edges) if style == "rounded" else np.full(len(chosen), np.pi / 2)
    low, high = 0.0, float(min(_MOST, (20 * longest / np.tan(turn / 2)).min()))
    while high - low > 0.002:
        sizes = np.linspace(low, high, _TRIES + 1)[1:]
        sound = _trims(path, chosen, style, sizes).sound
        if sound.all():
            low = high
            break
        first = int(np.argmin(sound))
        low, high = float(sizes[first - 1]) if first else low, float(sizes[first])
    # Said to a hundredth, it must still be one that fits.
    told = np.ceil(high * 100) / 100 - np.arange(4) / 100
    return float(
        next((size for size in told if size > 0 and _trims(path, chosen, style, told[told == size]).sound[0]), 0.0)
    )


def _chosen(path: Path, only: Collection[int]) -> Ints:
    index = corners_of(path).index
    return index[[i for i in sorted(set(only)) if i < len(index)]] if only else index


def _unit(slopes: Floats) -> Floats:
    return np.asarray(slopes / np.maximum(np.hypot(*slopes.T), 1e-12)[:, None])


@dataclass(frozen=True, eq=False)
class _Trims:
    """Where treatments of several sizes leave the segment before each corner and join the one after.

    ends, begins  (m, k) parameters of those segments, for m sizes and k corners
    sound         (m,)   whether all corners of that size find room
    """

    ends: Floats
    begins: Floats
    sound: Bools


def _trims(path: Path, chosen: Ints, style: CornerStyle, sizes: Floats) -> _Trims:
    before = previous_in_ring(path.contour_of)[chosen]
    shape = (len(sizes), len(chosen))
    size = np.repeat(sizes, len(chosen))
    arriving, leaving = (_Segments(path.kinds[i], path.points[i]).times(len(sizes)) for i in (before, chosen))
    if style == "rounded":
        ends, begins = _tangent_circle(arriving, leaving, size)
    else:
        along = style == "cut"
        ends, begins = 1 - _at_distance(arriving.reversed, size, along), _at_distance(leaving, size, along)
    ends, begins = ends.reshape(shape), begins.reshape(shape)
    start, end = np.zeros((len(sizes), len(path))), np.ones((len(sizes), len(path)))
    start[:, chosen], end[:, before] = begins, ends
    # Two corners may use up an edge between them, but not more.
    with np.errstate(invalid="ignore"):
        sound = (np.isfinite(start) & np.isfinite(end) & (end - start > -1e-7)).all(axis=1)
    return _Trims(ends, begins, np.asarray(sound))


@dataclass(frozen=True, eq=False)
class _Segments:
    """Some segments: kinds (n,) and points (n, 4, 2)."""

    kinds: NDArray[np.uint8]
    points: Floats

    def times(self, count: int) -> "_Segments":
        return _Segments(np.tile(self.kinds, count), np.tile(self.points, (count, 1, 1)))

    def chosen(self, which: Bools) -> "_Segments":
        return _Segments(self.kinds[which], self.points[which])

    @property
    def reversed(self) -> "_Segments":
        return _Segments(self.kinds, self.points[:, ::-1])

    @property
    def straight(self) -> Bools:
        return np.asarray(self.kinds == LINE)

    @property
    def round(self) -> Bools:
        return np.asarray(self.kinds == ARC)

    @cached_property
    def curves(self) -> curves.Curves:
        return curves.Curves(self.kinds, self.points)

    def at(self, t: Floats) -> Floats:
        return self.curves.at(t)

    def way(self, t: Floats) -> Floats:
        return _unit(self.curves.slopes(t))

    def beside(self, t: Floats, distance: Floats) -> Floats:
        """The points `distance` mm off the segments, to the side that x turns to on its way to y."""
        return np.asarray(self.at(t) + distance[:, None] * _left(self.way(t)))


def _at_distance(segments: _Segments, size: Floats, along: bool) -> Floats:
    """The share of each segment that lies within `size` mm of its start, along it or as the crow flies; NaN where all
    of it does.
    """
    length = curves.lengths(segments.kinds, segments.points)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = size / length
        arc = segments.round
        if not along and arc.any():
            _, radius, _, sweep = curves.circles(segments.points[arc])
            share[arc] = 2 * np.arcsin(size[arc] / (2 * radius)) / np.abs(sweep)
    cubic = ~(segments.straight | arc)
    if cubic.any():
        share[cubic] = _at_distance_on_cubics(segments.chosen(cubic), size[cubic], along)
    return np.where(share <= 1 + 1e-7, np.minimum(share, 1.0), np.nan)


def _at_distance_on_cubics(cubics: _Segments, size: Floats, along: bool) -> Floats:
    low, high = np.zeros(len(size)), np.ones(len(size))

    def away(t: Floats) -> Floats:
        if along:
            return curves.lengths(cubics.kinds, curves.cut(cubics.kinds, cubics.points, np.zeros(len(t)), t))
        return np.asarray(np.hypot(*(cubics.at(t) - cubics.points[:, 0]).T))

    whole = away(high) < size - 1e-7
    for _ in range(34):
        middle = (low + high) / 2
        near = away(middle) < size
        low, high = np.where(near, middle, low), np.where(near, high, middle)
    return np.where(whole, np.nan, (low + high) / 2)


def _tangent_circle(a: _Segments, b: _Segments, radius: Floats) -> tuple[Floats, Floats]:
    """Where circles inside the corners from `a` to `b` touch both segments: their parameters, NaN where none does."""
    ones = np.ones(len(radius))
    arriving, leaving = a.way(ones * (1 - 1e-4)), b.way(ones * 1e-4)
    side = radius * np.sign(arriving[:, 0] * leaving[:, 1] - arriving[:, 1] * leaving[:, 0])
    s, u = np.full(len(radius), np.nan), np.full(len(radius), np.nan)
    cubic = ~((a.straight | a.round) & (b.straight | b.round))
    plain = ~cubic
    if plain.any():
        s[plain], u[plain] = _between_plain(a.chosen(plain), b.chosen(plain), side[plain])
    if cubic.any():
        s[cubic], u[cubic] = _between_curves(a.chosen(cubic), b.chosen(cubic), side[cubic])
    with np.errstate(invalid="ignore"):
        sound = (s > -1e-7) & (s <= 1) & (u >= 0) & (u < 1 + 1e-7)
    return np.where(sound, s, np.nan), np.where(sound, u, np.nan)


def _between_plain(a: _Segments, b: _Segments, side: Floats) -> tuple[Floats, Floats]:
    """Lines and arcs: centres lie where the lines and circles beside them cross; of two, the one nearer the corner."""
    crossings: list[tuple[Bools, Callable[[_Segments, _Segments, Floats], list[Floats]]]] = [
        (a.straight & b.straight, lambda p, q, d: [_lines_cross(p, q, d)]),
        (a.straight & b.round, lambda p, q, d: _line_meets_circle(p, *_circle_beside(q, d), d)),
        (a.round & b.straight, lambda p, q, d: _line_meets_circle(q, *_circle_beside(p, d), d)),
        (a.round & b.round, lambda p, q, d: _circles_meet(*_circle_beside(p, d), *_circle_beside(q, d))),
    ]
    best_s, best_u = np.full(len(side), np.nan), np.full(len(side), np.nan)
    with np.errstate(divide="ignore", invalid="ignore"):
        for kind, centres in crossings:
            if not kind.any():
                continue
            p, q, distance = a.chosen(kind), b.chosen(kind), side[kind]
            for centre in centres(p, q, distance):
                s, u = 1 - _foot(p.reversed, centre), _foot(q, centre)
                good = (s > -1e-7) & (u < 1 + 1e-7) & ~(s <= best_s[kind])
                best_s[kind], best_u[kind] = np.where(good, s, best_s[kind]), np.where(good, u, best_u[kind])
    return best_s, best_u


def _foot(segments: _Segments, points: Floats) -> Floats:
    """The parameters at which lines and arcs are nearest to points, counted from their start."""
    start, along = segments.points[:, 0], segments.points[:, 3] - segments.points[:, 0]
    found = np.asarray(((points - start) * along).sum(axis=1) / (along * along).sum(axis=1))
    arc = segments.round
    if arc.any():
        centre, _, angle, sweep = curves.circles(segments.points[arc])
        away = points[arc] - centre
        turn = (np.arctan2(away[:, 1], away[:, 0]) - angle) * np.sign(sweep) % (2 * np.pi)
        found[arc] = np.where(turn > 2 * np.pi - 1e-9, 0.0, turn) / np.abs(sweep)
    return np.where(np.abs(found) < 1e-12, 0.0, found)


def _line_beside(segments: _Segments, distance: Floats) -> tuple[Floats, Floats]:
    zeros = np.zeros(len(distance))
    return segments.beside(zeros, distance), segments.way(zeros)


def _circle_beside(segments: _Segments, distance: Floats) -> tuple[Floats, Floats]:
    """Centre and radius of the circles that run beside arcs; NaN where the arc bends tighter than that."""
    centre, radius, _, sweep = curves.circles(segments.points)
    beside = radius - np.sign(sweep) * distance
    return centre, np.where(beside > 0, beside, np.nan)


def _lines_cross(a: _Segments, b: _Segments, distance: Floats) -> Floats:
    (at, way), (other, course) = _line_beside(a, distance), _line_beside(b, distance)
    cross = way[:, 0] * course[:, 1] - way[:, 1] * course[:, 0]
    gap = other - at
    return np.asarray(at + ((gap[:, 0] * course[:, 1] - gap[:, 1] * course[:, 0]) / cross)[:, None] * way)


def _line_meets_circle(line: _Segments, centre: Floats, radius: Floats, distance: Floats) -> list[Floats]:
    at, way = _line_beside(line, distance)
    nearest = ((centre - at) * way).sum(axis=1)
    off = at + nearest[:, None] * way - centre
    half = np.sqrt(radius**2 - (off * off).sum(axis=1))
    return [at + (nearest + sign * half)[:, None] * way for sign in (1, -1)]


def _circles_meet(one: Floats, radius: Floats, other: Floats, others: Floats) -> list[Floats]:
    apart = other - one
    square = (apart * apart).sum(axis=1)
    share = (radius**2 - others**2 + square) / (2 * square)
    half = np.sqrt(radius**2 / square - share**2)
    aside = np.stack([-apart[:, 1], apart[:, 0]], axis=1)
    return [one + share[:, None] * apart + (sign * half)[:, None] * aside for sign in (1, -1)]


def _between_curves(a: _Segments, b: _Segments, side: Floats) -> tuple[Floats, Floats]:
    """By Newton's method, begun as if both ran straight; what does not settle is begun where circles first touch."""
    trim = np.abs(side) * np.tan(_turn(a, b) / 2)
    lengths = curves.lengths(a.kinds, a.points), curves.lengths(b.kinds, b.points)
    s, u, sound = _settled(a, b, side, np.clip(1 - trim / lengths[0], -0.5, 1), np.clip(trim / lengths[1], 0, 1.5))
    rest = np.flatnonzero(~sound)
    if len(rest):
        c, d, far = a.chosen(~sound), b.chosen(~sound), side[rest]
        s[rest], u[rest], sound[rest] = _settled(c, d, far, *_first_touch(c, d, far))
    return np.where(sound, s, np.nan), np.where(sound, u, np.nan)


def _turn(a: _Segments, b: _Segments) -> Floats:
    """By how much the direction turns from one segment to the next, in radians, a little less than half a turn."""
    ones = np.ones(len(a.kinds))
    along = (a.way(ones * (1 - 1e-4)) * b.way(ones * 1e-4)).sum(axis=1)
    return np.asarray(np.minimum(np.arccos(np.clip(along, -1, 1)), 3.1))


def _first_touch(a: _Segments, b: _Segments, side: Floats) -> tuple[Floats, Floats]:
    """Parameters, to a sample, where a circle that rolls back along `a` from the corner first leaves `b`."""
    shares = np.linspace(0, 1, _SAMPLES + 1)
    count = len(side)
    on_b = b.at(np.repeat(shares[:, None], count, axis=1)).swapaxes(0, 1)
    s, u, open_ = np.zeros(count), np.ones(count), np.ones(count, np.bool_)
    for share in shares[1:]:
        centre = a.beside(np.full(count, 1 - share), side)
        away = np.hypot(*np.moveaxis(on_b - centre[:, None], 2, 0))
        nearest = np.argmin(away, axis=1)
        left = open_ & (away.min(axis=1) >= np.abs(side))
        s[left], u[left] = 1 - share, shares[nearest[left]]
        open_ &= ~left
    return s, u


def _settled(a: _Segments, b: _Segments, side: Floats, s: Floats, u: Floats) -> tuple[Floats, Floats, Bools]:
    for _ in range(12):
        on_a, on_b = a.beside(s, side), b.beside(u, side)
        gap = on_a - on_b
        if np.hypot(*gap.T).max() < 1e-9:
            break
        along_a = (a.beside(s + _STEP, side) - on_a) / _STEP
        along_b = (b.beside(u + _STEP, side) - on_b) / _STEP
        det = along_a[:, 0] * -along_b[:, 1] + along_a[:, 1] * along_b[:, 0]
        det = np.where(np.abs(det) < 1e-12, 1e-12, det)
        step_s = (gap[:, 0] * -along_b[:, 1] + gap[:, 1] * along_b[:, 0]) / det
        step_u = (along_a[:, 0] * gap[:, 1] - along_a[:, 1] * gap[:, 0]) / det
        s, u = np.clip(s - np.clip(step_s, -0.5, 0.5), -1, 2), np.clip(u - np.clip(step_u, -0.5, 0.5), -1, 2)
    gap = a.beside(s, side) - b.beside(u, side)
    sound = (np.hypot(*gap.T) < 1e-5) & (s > -1e-7) & (s < 1 - 1e-9) & (u > 1e-9) & (u < 1 + 1e-7)
    return s, u, sound


def _trimmed(path: Path, chosen: Ints, style: CornerStyle, size: float, ends: Floats, begins: Floats) -> Path:
    """The path with its corners taken off and the treatments put in."""
    before = previous_in_ring(path.contour_of)[chosen]
    start, end = np.zeros(len(path)), np.ones(len(path))
    start[chosen], end[before] = begins, ends
    points = curves.cut(path.kinds, path.points, np.clip(start, 0, 1), np.clip(end, 0, 1))
    here, there = points[before, 3], points[chosen, 0]
    corner = path.points[chosen, 0]
    if style == "rounded":
        # Half-way from tangent to tangent, as seen from the circle's centre.
        arriving, leaving = (
            _unit(curves.derivatives(path.kinds[i], path.points[i], at)) for i, at in ((before, ends), (chosen, begins))
        )
        side = np.sign(arriving[:, 0] * leaving[:, 1] - arriving[:, 1] * leaving[:, 0])[:, None]
        centre = (here + there + size * side * (_left(arriving) + _left(leaving))) / 2
        middle = centre + size * _unit(arriving - leaving)
    else:
        middle = corner + size * _unit((here + there) / 2 - corner)
    kind = LINE if style == "cut" else ARC
    new = np.stack([here, here if kind == LINE else middle, there if kind == LINE else middle, there], axis=1)
    kinds = np.insert(path.kinds, chosen, kind)
    merged = on_grid(np.insert(points, chosen, new, axis=0).reshape(-1, 2)).reshape(-1, 4, 2)
    contour = np.insert(path.contour_of, chosen, path.contour_of[chosen])
    kept = np.hypot(*(merged[:, 3] - merged[:, 0]).T) > GRID
    return _renumbered(kinds[kept], merged[kept], contour[kept], path.closed)


def _left(way: Floats) -> Floats:
    return np.stack([-way[:, 1], way[:, 0]], axis=1)


def _renumbered(kinds: NDArray[np.uint8], points: Floats, contour: Ints, closed: NDArray[np.bool_]) -> Path:
    starts = np.flatnonzero(np.append(True, contour[1:] != contour[:-1])) if len(contour) else np.zeros(0, np.int64)
    after = next_in_ring(contour) if len(contour) else starts
    points[:, 3] = np.where(closed[contour][:, None], points[after, 0], points[:, 3])
    # An arc that the grid has made flat is a line.
    kinds = np.where((kinds == ARC) & (np.abs(curves.bulges(points)) < 2 * GRID), LINE, kinds).astype(np.uint8)
    line = kinds == LINE
    points[line, 1], points[line, 2] = points[line, 0], points[line, 3]
    return Path(kinds, points, starts, closed[contour[starts]])
