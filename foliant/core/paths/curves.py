"""The mathematics of single segments, vectorised: every function takes (n,) kinds and (n, 4, 2) points."""

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths.pairs import cross, dot, size

LINE, CUBIC, ARC = 0, 1, 2

Floats = NDArray[np.float64]
Kinds = NDArray[np.uint8]

_FLAT, _WIDEST = 0.0002, 5000.0

_GAUSS_X, _GAUSS_W = np.polynomial.legendre.leggauss(12)
_GAUSS_X, _GAUSS_W = (_GAUSS_X + 1) / 2, _GAUSS_W / 2


def circles(points: Floats) -> tuple[Floats, Floats, Floats, Floats]:
    """Centre (n, 2), radius, start angle and signed sweep (radians) of arcs given by three points.

    The sweep is positive when angles grow from x towards y. Three points in line give a NaN centre.
    """
    start, middle, end = points[:, 0], points[:, 1], points[:, 3]
    to_middle, to_end = middle - start, end - start
    double = 2 * cross(to_middle, to_end)
    square_middle, square_end = dot(to_middle, to_middle), dot(to_end, to_end)
    offset = np.empty_like(start)
    with np.errstate(divide="ignore", invalid="ignore"):
        offset[:, 0] = (to_end[:, 1] * square_middle - to_middle[:, 1] * square_end) / double
        offset[:, 1] = (to_middle[:, 0] * square_end - to_end[:, 0] * square_middle) / double
    centre = start + offset
    radius = size(offset)
    angle = np.arctan2(start[:, 1] - centre[:, 1], start[:, 0] - centre[:, 0])
    half = np.arctan2(middle[:, 1] - centre[:, 1], middle[:, 0] - centre[:, 0]) - angle
    half = (half + np.pi) % (2 * np.pi) - np.pi
    return centre, radius, angle, 2 * half


class Curves:
    """Segments made ready to be asked for many points: parameters t have shape (..., n), answers (..., n, 2).

    Lines and cubics are polynomials of t and answered together; arcs run round their circles. What is kept has shape
    (2, n), as numpy is many times slower where it goes through pairs.
    """

    def __init__(self, kinds: Kinds, points: Floats) -> None:
        first, one, two, last = np.ascontiguousarray(points.transpose(1, 2, 0))
        self._first, self._along = first, last - first
        bent = kinds == CUBIC
        self._bent = bool(bent.any())
        if self._bent:
            self._along = np.where(bent, 3 * (one - first), self._along)
            self._square = np.where(bent, 3 * (first - 2 * one + two), 0.0)
            self._cube = np.where(bent, last - first + 3 * (one - two), 0.0)
        self._arcs = np.flatnonzero(kinds == ARC)
        if len(self._arcs):
            centre, self._radius, self._angle, self._sweep = circles(points[self._arcs])
            self._centre = centre.T

    def at(self, t: Floats) -> Floats:
        """The point of each segment at its parameter t in [0, 1]."""
        s = t[..., None, :]
        more = s * (self._square + s * self._cube) if self._bent else 0.0
        result = self._first + s * (self._along + more)
        if len(self._arcs):
            at = self._angle + self._sweep * t[..., self._arcs]
            result[..., self._arcs] = self._centre + np.stack([np.cos(at), np.sin(at)], axis=-2) * self._radius
        return _in_pairs(result)

    def slopes(self, t: Floats) -> Floats:
        """The first derivative of each segment with respect to t."""
        s = t[..., None, :]
        more = s * (2 * self._square + 3 * s * self._cube) if self._bent else 0 * s
        result = self._along + more
        if len(self._arcs):
            at = self._angle + self._sweep * t[..., self._arcs] + np.pi / 2
            reach = self._radius * self._sweep
            result[..., self._arcs] = np.stack([np.cos(at), np.sin(at)], axis=-2) * reach
        return _in_pairs(result)

    def among(self, which: NDArray[np.int64], t: Floats) -> Floats:
        """The points (m, 2) of the segments `which` (m,), as many of each as there are, at their parameters t."""
        more = t * (self._square.take(which, 1) + t * self._cube.take(which, 1)) if self._bent else 0.0
        result = self._first.take(which, 1) + t * (self._along.take(which, 1) + more)
        if len(self._arcs):
            number = np.full(self._first.shape[1], -1)
            number[self._arcs] = np.arange(len(self._arcs))
            arc = number[which]
            round_ = np.flatnonzero(arc >= 0)
            arc = arc[round_]
            at = self._angle[arc] + self._sweep[arc] * t[round_]
            result[:, round_] = self._centre.take(arc, 1) + np.stack([np.cos(at), np.sin(at)]) * self._radius[arc]
        return _in_pairs(result)


def _in_pairs(rows: Floats) -> Floats:
    """Rows of x and y, shape (..., 2, n), as pairs of them."""
    return np.ascontiguousarray(np.swapaxes(rows, -1, -2))


def evaluate(kinds: Kinds, points: Floats, t: Floats) -> Floats:
    """The point of each segment at its parameter t in [0, 1], shape (n, 2)."""
    return Curves(kinds, points).at(t)


def derivatives(kinds: Kinds, points: Floats, t: Floats) -> Floats:
    """The first derivative of each segment with respect to t, shape (n, 2)."""
    return Curves(kinds, points).slopes(t)


def cut(kinds: Kinds, points: Floats, start: Floats, end: Floats) -> Floats:
    """The piece of each segment between two parameters, shape (n, 4, 2); start > end reverses it."""
    every = Curves(kinds, points)
    half = (end - start) / 2
    result = np.empty((len(kinds), 4, 2))
    result[:, 0], result[:, 3] = every.at(np.stack([start, end]))
    result[:, 1], result[:, 2] = result[:, 0], result[:, 3]
    cubic, arc = (kinds == CUBIC)[:, None], kinds == ARC
    if cubic.any():
        handles = 2 / 3 * half[:, None] * every.slopes(np.stack([start, end]))
        result[:, 1] += np.where(cubic, handles[0], 0.0)
        result[:, 2] -= np.where(cubic, handles[1], 0.0)
    if arc.any():
        result[arc, 1] = result[arc, 2] = every.at(start + half)[arc]
    return result


def arcs_as_cubics(points: Floats) -> Floats:
    """Each arc as one cubic of the same ends and tangents, shape (n, 4, 2); keep sweeps under 60°."""
    _, radius, angle, sweep = circles(points)
    reach = (4 / 3 * np.tan(sweep / 4) * radius)[:, None]
    leaving = np.stack([-np.sin(angle), np.cos(angle)], axis=1)
    arriving = np.stack([-np.sin(angle + sweep), np.cos(angle + sweep)], axis=1)
    result = points.copy()
    result[:, 1] = points[:, 0] + reach * leaving
    result[:, 2] = points[:, 3] - reach * arriving
    return result


def cubics_as_arcs(points: Floats) -> Floats:
    """Each cubic as the circular arc that it is, within 1e-5 of its radius, shape (n, 4, 2); NaN where it is none."""
    kinds = np.full(len(points), CUBIC, np.uint8)
    at = Curves(kinds, points).at(np.repeat([[0.25], [0.5], [0.75]], len(points), axis=1))
    arcs = np.stack([points[:, 0], at[1], at[1], points[:, 3]], axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        centre, radius, _, sweep = circles(arcs)
        round_ = (np.abs(sweep) < np.pi) & (np.abs(bulges(arcs)) > 0.001)
        for point in (at[0], at[2]):
            round_ &= np.abs(size(point - centre) - radius) < 1e-5 * radius
        for end, control in ((0, 1), (3, 2)):
            arm, spoke = points[:, control] - points[:, end], points[:, end] - centre
            round_ &= np.abs(dot(arm, spoke)) < 1e-3 * size(arm) * radius
    arcs[~round_] = np.nan
    return arcs


def short_arcs(starts: Floats, between: Floats, ends: Floats) -> tuple[Kinds, Floats]:
    """The arcs through three points each, (n, 2), that sweep less than half a turn, as kinds and points: a line where
    one bulges less than `_FLAT` mm, or is wider than `_WIDEST` mm.
    """
    points = np.stack([starts, between, between, ends], axis=1)
    radius, bulge = circles(points)[1], bulges(points)
    straight = ~(radius < _WIDEST) | (np.abs(bulge) < _FLAT)
    chord = ends - starts
    half = size(chord) / 2
    with np.errstate(invalid="ignore"):
        height = np.copysign(radius - np.sqrt(np.maximum(radius**2 - half**2, 0.0)), bulge)
    across = np.stack([-chord[:, 1], chord[:, 0]], axis=1) / np.maximum(2 * half, 1e-12)[:, None]
    points[:, 1] = points[:, 2] = (starts + ends) / 2 + height[:, None] * across
    points[straight, 1], points[straight, 2] = starts[straight], ends[straight]
    return np.where(straight, LINE, ARC).astype(np.uint8), points


def extremes(kinds: Kinds, points: Floats) -> tuple[Floats, Floats]:
    """The lowest and highest x and y over all segments, each shape (2,), exact also for curves."""
    found = [points[:, 0], points[:, 3]]
    if not kinds.any():  # lines alone
        every = np.concatenate(found)
        return every.min(axis=0), every.max(axis=0)
    # A cubic whose controls lie between its ends turns nowhere: most outlines have nodes at their extremes.
    ends_low, ends_high = np.minimum(points[:, 0], points[:, 3]), np.maximum(points[:, 0], points[:, 3])
    controls = points[:, 1:3]
    beyond = ((controls < ends_low[:, None]) | (controls > ends_high[:, None])).any(axis=(1, 2))
    cubic = (kinds == CUBIC) & beyond
    if cubic.any():
        p = points[cubic]
        # The derivative's coefficients: a t² + b t + c, for x and y at once.
        a = -p[:, 0] + 3 * p[:, 1] - 3 * p[:, 2] + p[:, 3]
        b = 2 * (p[:, 0] - 2 * p[:, 1] + p[:, 2])
        c = p[:, 1] - p[:, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            root = np.sqrt(b * b - 4 * a * c)
            turns = np.concatenate([(-b + root) / (2 * a), (-b - root) / (2 * a), -c / b], axis=1).T
        turns = np.where((turns > 0) & (turns < 1), turns, 0.0)
        found.append(Curves(kinds[cubic], p).at(turns).reshape(-1, 2))
    arc = kinds == ARC
    if arc.any():
        p = points[arc]
        centre, radius, angle, sweep = circles(p)
        for quarter in range(4):
            at = quarter * np.pi / 2
            # How far along the sweep the quarter point lies, going the arc's own way round.
            way = ((at - angle) * np.sign(sweep)) % (2 * np.pi)
            hit = way <= np.abs(sweep)
            found.append(centre[hit] + radius[hit, None] * (np.cos(at), np.sin(at)))
    every = np.concatenate(found)
    return every.min(axis=0), every.max(axis=0)


def swept_areas(kinds: Kinds, points: Floats) -> Floats:
    """What each segment adds to the signed area of its contour (Green's theorem), shape (n,), mm²."""
    p0, p1, p2, p3 = (points[:, i] for i in range(4))
    result = cross(p0, p3) / 2
    cubic = kinds == CUBIC
    if cubic.any():
        a, b, c, d = p0[cubic], p1[cubic], p2[cubic], p3[cubic]
        result[cubic] = (
            6 * cross(a, b) + 3 * cross(a, c) + cross(a, d) + 3 * cross(b, c) + 3 * cross(b, d) + 6 * cross(c, d)
        ) / 20
    arc = kinds == ARC
    if arc.any():
        _, radius, _, sweep = circles(points[arc])
        result[arc] += radius**2 * (sweep - np.sin(sweep)) / 2
    return result


def lengths(kinds: Kinds, points: Floats) -> Floats:
    """The length of each segment in mm, shape (n,); cubics by Gauss-Legendre quadrature."""
    result = size(points[:, 3] - points[:, 0])
    cubic = kinds == CUBIC
    if cubic.any():
        slopes = Curves(kinds[cubic], points[cubic]).slopes(np.broadcast_to(_GAUSS_X[:, None], (12, int(cubic.sum()))))
        result[cubic] = _GAUSS_W @ size(slopes)
    arc = kinds == ARC
    if arc.any():
        _, radius, _, sweep = circles(points[arc])
        result[arc] = radius * np.abs(sweep)
    return np.asarray(result)


def rough_lengths(points: Floats) -> Floats:
    """About how long segments are: half-way between their chords and their control polygons, shape (n,), mm."""
    legs = sum(size(points[:, side + 1] - points[:, side]) for side in range(3))
    return np.asarray((legs + size(points[:, 3] - points[:, 0])) / 2)


def bulges(points: Floats) -> Floats:
    """How far the point half-way along each arc lies from its chord, in mm, signed, shape (n,)."""
    chord, half = points[:, 3] - points[:, 0], points[:, 1] - points[:, 0]
    return np.asarray(cross(chord, half) / np.maximum(size(chord), 1e-12))
