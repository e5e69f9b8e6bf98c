"""Fitting: a curve of many short segments told anew in as few lines, arcs and cubics as follow it closely.

It is taken apart at its corners. Between those, from where the last segment ended, the longest stretch is taken that a
line, an arc or a cubic follows; cubics have the directions of the curve at their ends and are fitted by least squares
(P. J. Schneider, "An Algorithm for Automatically Fitting Digitized Curves", Graphics Gems, 1990).
"""

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.flatten import flatten
from foliant.core.paths.nesting import contour
from foliant.core.paths.path import ARC, CUBIC, LINE, Path, join

Floats = NDArray[np.float64]
Segment = tuple[int, Floats]

_CORNER = float(np.cos(np.deg2rad(28)))
_LEAST_ARC = 4
_ROUNDS = 3
_MOST_LOOKED_AT = 100
"""So many points of a stretch say whether a segment follows it."""


def fitted(path: Path, within: float, corner: float = _CORNER) -> Path:
    """The path in fewer segments, none farther off than about `within` mm; corners sharper than 28° stay."""
    return join(_fitted(contour(path, number), within, corner) for number in range(len(path.starts)))


def _fitted(one: Path, within: float, corner: float) -> Path:
    flat = flatten(one, within / 4)
    points = np.concatenate([flat.points, flat.ends[-1:]])
    return through(_dense(points, 2 * within), bool(one.closed[0]), within, corner)


def _dense(points: Floats, apart: float) -> Floats:
    """Points with others between, so that none lie farther apart than that: a curve must not swing out there."""
    count = np.maximum(1, np.ceil(np.hypot(*np.diff(points, axis=0).T) / apart)).astype(np.int64)
    which = np.repeat(np.arange(len(count)), count)
    share = (np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count)) / count[which]
    between = points[which] + share[:, None] * (points[which + 1] - points[which])
    return np.concatenate([between, points[-1:]])


def through(points: Floats, closed: bool, within: float, corner: float = _CORNER, blunted: float = 0.0) -> Path:
    """A path along points (n, 2) that lie close to each other; a closed one ends where it begins.

    blunted  how far, mm, about a corner the points were rounded off: it goes to where both its sides lead
    """
    points = points[np.append(True, np.hypot(*np.diff(points, axis=0).T) > 1e-9)]
    if len(points) < 2:
        return Path()
    stops = _corners(points, closed, max(within, blunted / 2), corner)
    if blunted > 0 and len(stops):
        points, stops = _sharpened(points, stops, closed, blunted)
    if closed and len(stops):
        points = np.concatenate([points[stops[0] :], points[1 : stops[0] + 1]])
        stops = stops - stops[0]
    stops = np.unique(np.concatenate([[0], stops, [len(points) - 1]]))
    round_trip = closed and len(stops) == 2 and not _turns_at_start(points, corner, within)
    found: list[Segment] = []
    for begin, end in zip(stops[:-1].tolist(), stops[1:].tolist(), strict=True):
        found += _run(points[begin : end + 1], within, _tangent_over_start(points) if round_trip else None)
    kinds, segments = zip(*found, strict=True)
    return Path(np.array(kinds, np.uint8), np.stack(segments), np.zeros(1, np.int64), np.array([closed]))


def _corners(points: Floats, closed: bool, within: float, corner: float) -> NDArray[np.int64]:
    """Where the curve turns sharply, looked at over a little way on both sides."""
    before, after = _looking(points, closed, within)
    size = np.hypot(*before.T) * np.hypot(*after.T)
    cosine = (before * after).sum(axis=1) / np.maximum(size, 1e-12)
    sharp = (cosine < corner) & (size > 0)
    if not closed:
        sharp[[0, -1]] = False
    else:
        sharp[-1] = False  # it is the first one
    # Of neighbours only the sharpest is the corner.
    found: list[int] = []
    order = np.argsort(cosine)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    for at in order[sharp[order]].tolist():
        away = np.abs(along[at] - along[found])
        if (np.minimum(away, along[-1] - away if closed else away) > 4 * within).all():
            found.append(at)
    return np.sort(np.array(found, np.int64))


def _sharpened(
    points: Floats, stops: NDArray[np.int64], closed: bool, blunted: float
) -> tuple[Floats, NDArray[np.int64]]:
    """Corners that were rounded off moved to where the lines on both their sides meet."""
    ring = points[:-1] if closed else points
    count = len(ring)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    total = float(along[-1])
    moved, gone = ring.copy(), np.zeros(count, np.bool_)
    for stop in stops.tolist():
        away = along[:count] - along[stop]
        if closed:
            away = (away + total / 2) % total - total / 2
        sides = [np.flatnonzero((way * away >= blunted) & (way * away <= 2.5 * blunted)) for way in (-1, 1)]
        if min(map(len, sides)) < 2:
            continue
        before, after = (ring[side[np.argsort(away[side])]] for side in sides)
        meeting = _meeting(before, after)
        if meeting is None or np.hypot(*(meeting - ring[stop])) > blunted * _set_back(before, after):
            continue
        near = np.abs(away) < blunted
        near[stop] = False
        moved[stop] = meeting
        gone |= near
    gone[stops] = False
    if not closed:
        gone[[0, -1]] = False
    number = np.cumsum(~gone) - 1
    kept = moved[~gone]
    return (np.concatenate([kept, kept[:1]]) if closed else kept), number[stops]


def _set_back(before: Floats, after: Floats) -> float:
    """How far at most a corner with these sides was rounded back, in steps of how far about it: the farther, the more
    acute it is.
    """
    a, b = _unit(before[-1] - before[0]), _unit(after[-1] - after[0])
    turn = float(np.clip((a * b).sum(), -1, 0.999))
    return max(1.0, 0.4 + 0.4 * float(np.sqrt((1 - turn) / max(1 + turn, 1e-6))))


def _meeting(before: Floats, after: Floats) -> Floats | None:
    """Where the straight lines through both rows of points meet; None where they hardly do."""
    a, b = before[-1] - before[0], after[-1] - after[0]
    cross = a[0] * b[1] - a[1] * b[0]
    if abs(cross) < 0.2 * np.hypot(*a) * np.hypot(*b):
        return None
    off = after[0] - before[0]
    return np.asarray(before[0] + a * (off[0] * b[1] - off[1] * b[0]) / cross)


def _looking(points: Floats, closed: bool, within: float) -> tuple[Floats, Floats]:
    """For each point the way from a point some steps before it, and to one after it."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    reach = min(3 * within, along[-1] / 8)
    if closed:
        total = along[-1]
        wide = np.concatenate([along[:-1] - total, along, along[1:] + total])
        every = np.concatenate([points[:-1], points, points[1:]])
    else:
        wide, every = along, points

    def at(where: Floats) -> Floats:
        return np.stack([np.interp(where, wide, every[:, axis]) for axis in (0, 1)], axis=1)

    return points - at(along - reach), at(along + reach) - points


def _turns_at_start(points: Floats, corner: float, within: float) -> bool:
    before, after = _looking(points, True, within)
    cosine = float((before[0] * after[0]).sum() / max(np.hypot(*before[0]) * np.hypot(*after[0]), 1e-12))
    return cosine < corner


def _tangent_over_start(points: Floats) -> Floats:
    """The direction with which a closed smooth curve goes through its first point."""
    return _unit(points[1] - points[-2])


def _run(points: Floats, within: float, over: Floats | None) -> list[Segment]:
    """A smooth stretch in as few segments as follow it; `over` is the direction at both ends of a whole turn."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    found: list[Segment] = []
    begin, last = 0, len(points) - 1
    ways = _directions(points, along, within)
    stops = [last]
    if over is not None:
        ways[0] = ways[-1] = over
        stops = [*np.searchsorted(along, along[-1] * np.array([1, 2]) / 3).tolist(), last]  # a circle is three arcs
    while begin < last:
        stop = next(one for one in stops if one > begin)
        good, segment = begin + 1, _line(points[begin : begin + 2])
        step = 2
        low, high = begin + 1, stop + 1
        # Doubled until it no longer fits, then halved in between.
        while low < stop:
            tried = min(begin + step, stop)
            one = _best(points[begin : tried + 1], ways[begin], ways[tried], within, over is not None)
            if one is None:
                high = tried
                break
            low, good, segment = tried, tried, one
            step *= 2
        while high - low > 1:
            middle = (low + high) // 2
            one = _best(points[begin : middle + 1], ways[begin], ways[middle], within, over is not None)
            if one is None:
                high = middle
            else:
                low, good, segment = middle, middle, one
        found.append(segment)
        begin = good
    return found


def _directions(points: Floats, along: Floats, within: float) -> Floats:
    """The direction of the curve at each of its points; at its ends, as it leaves and arrives."""
    reach = min(2 * within, along[-1] / 4)

    def at(where: Floats) -> Floats:
        return np.stack([np.interp(where, along, points[:, axis]) for axis in (0, 1)], axis=1)

    ways = at(along + reach) - at(along - reach)
    return np.asarray(ways / np.maximum(np.hypot(*ways.T), 1e-12)[:, None])


def _unit(way: Floats) -> Floats:
    return np.asarray(way / max(float(np.hypot(*way)), 1e-12))


def _line(points: Floats) -> Segment:
    return LINE, np.stack([points[0], points[0], points[-1], points[-1]])


def _best(points: Floats, leaving: Floats, arriving: Floats, within: float, whole: bool) -> Segment | None:
    """The plainest segment that follows some points; None where none does."""
    if len(points) > 2 * _MOST_LOOKED_AT:
        step = len(points) // _MOST_LOOKED_AT
        points = np.concatenate([points[:-1:step], points[-1:]])
    chord = points[-1] - points[0]
    size = float(np.hypot(*chord))
    if size > 1e-9:
        off = points - points[0]
        aside = np.abs(off[:, 0] * chord[1] - off[:, 1] * chord[0]) / size
        along = (off @ chord) / size
        if aside.max() <= within / 2 and along.min() > -within and along.max() < size + within:
            return _line(points)
    if len(points) >= _LEAST_ARC and not (whole and size < 1e-9):
        arc = _arc(points, within)
        if arc is not None:
            return arc
    if len(points) < 3 or (whole and size < 1e-9):
        return None
    return _cubic(points, leaving, arriving, within)


def _arc(points: Floats, within: float) -> Segment | None:
    """The arc through the ends and the middle of some points, of at most half a turn."""
    middle = points[len(points) // 2]
    told = np.stack([points[0], middle, middle, points[-1]])
    centre, radius, _, sweep = curves.circles(told[None])
    if not np.isfinite(radius[0]) or abs(sweep[0]) > np.pi * 0.999 or radius[0] > 1e4:
        return None
    if abs(np.hypot(*(points - centre[0]).T) - radius[0]).max() > within * 0.8:
        return None
    half = curves.evaluate(np.array([ARC], np.uint8), told[None], np.array([0.5]))[0]
    return ARC, np.stack([points[0], half, half, points[-1]])


def _cubic(points: Floats, leaving: Floats, arriving: Floats, within: float) -> Segment | None:
    """The cubic with these directions at its ends that lies nearest to some points."""
    lengths = np.hypot(*np.diff(points, axis=0).T)
    t = np.concatenate([[0.0], np.cumsum(lengths)]) / max(float(lengths.sum()), 1e-12)
    first, last = points[0], points[-1]
    for _ in range(_ROUNDS):
        b0, b1, b2, b3 = (1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3
        rest = points - (b0 + b1)[:, None] * first - (b2 + b3)[:, None] * last
        a, b = b1[:, None] * leaving, -b2[:, None] * arriving
        matrix = np.array([[(a * a).sum(), (a * b).sum()], [(a * b).sum(), (b * b).sum()]])
        wanted = np.array([(a * rest).sum(), (b * rest).sum()])
        if abs(np.linalg.det(matrix)) < 1e-15:
            return None
        one, two = np.linalg.solve(matrix, wanted)
        chord = float(lengths.sum())
        if not (1e-3 * chord < one < 3 * chord and 1e-3 * chord < two < 3 * chord):
            return None
        told = np.stack([first, first + one * leaving, last - two * arriving, last])
        at = _at(told, t)
        off = float(np.hypot(*(at - points).T).max())
        if off <= within:
            return CUBIC, told
        if off > 6 * within:
            return None
        t = _nearer(told, points, t)
    return None


def _at(told: Floats, t: Floats) -> Floats:
    s = t[:, None]
    return np.asarray(
        (1 - s) ** 3 * told[0] + 3 * s * (1 - s) ** 2 * told[1] + 3 * s**2 * (1 - s) * told[2] + s**3 * told[3]
    )


def _nearer(told: Floats, points: Floats, t: Floats) -> Floats:
    """Parameters of points of the cubic that lie nearer to the points: one step of Newton's."""
    s = t[:, None]
    first, second, third = told[1:] - told[:-1]
    slope = 3 * ((1 - s) ** 2 * first + 2 * s * (1 - s) * second + s**2 * third)
    bend = 6 * ((1 - s) * (second - first) + s * (third - second))
    off = _at(told, t) - points
    top, below = (off * slope).sum(axis=1), (slope * slope).sum(axis=1) + (off * bend).sum(axis=1)
    moved = t - np.where(np.abs(below) > 1e-12, top / np.where(np.abs(below) > 1e-12, below, 1), 0)
    moved = np.maximum.accumulate(np.clip(moved, 0, 1))
    moved[0], moved[-1] = 0.0, 1.0
    return np.asarray(moved)
