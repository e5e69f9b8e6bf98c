"""Ribbons: an open line that was given a width and drawn as one thin outline, along one side and back on the other.

Thin shapes are no worse than that, and a letter I is one: they are told, and only mended where it is asked for.
"""

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.cleaning.doubles import NEAR
from foliant.core.cleaning.found import Found, Paths, contours_of, flat_lines, nothing, regrouped
from foliant.core.cleaning.strokes import WIDEST, is_even
from foliant.core.paths import Path, join
from foliant.core.paths.fitting import through

Floats = NDArray[np.float64]

_LONG = 8.0
"""So many times as long as wide, at least."""

_STEPS, _MOST_STEPS, _MOST_IN_ALL = 6, 20_000, 500_000
"""How many places to the width are looked at, how many on an outline at most, and on all that are looked at in one go:
what is left then is found once those are mended.
"""

_WINDOW = 1.2
_TURN = 0.8 * np.pi
"""An end turns the outline by this much within so many widths to both sides."""

_END = 0.8
"""How many widths from the middle of an end its sides begin, whether it is flat or round."""

_FLAT = 0.1
"""What of a flat end lies so near to its middle, half a width along it, as a share of the width, lies beside that."""

_WITHIN = 0.02
"""How far, mm, what is told may lie from the middle."""


def find(paths: Paths) -> Found:
    """Thin outlines round open lines; mended, the line in their middle is left."""
    contours, owner = contours_of(paths)
    rest: list[Path | None] = list(contours)
    places, room = [], float(_MOST_IN_ALL)
    for number, one in enumerate(contours):
        width = _width(one)
        room -= one.length / width * _STEPS if width else 0.0
        if width and room > 0 and (middle := _middle(one, width)) is not None:
            rest[number] = middle
            places.append(one)
    if not places:
        return nothing(paths)
    return Found(len(places), join(places), regrouped(rest, owner, len(paths)))


def _width(one: Path) -> float | None:
    """How wide a band of the length and area of an outline would be, mm; None where it is none that is thin."""
    length, area = one.length, abs(one.area)
    if not one.closed.all() or length**2 <= 16 * area:
        return None
    width = (length - float(np.sqrt(length**2 - 16 * area))) / 4
    thin = NEAR <= width <= WIDEST and length >= 2 * _LONG * width and length / width * _STEPS <= _MOST_STEPS
    return width if thin else None


def _middle(one: Path, width: float) -> Path | None:
    """The line in the middle between both sides; None where it has not two ends and as much between them everywhere."""
    line = flat_lines((one,))[0]
    count = int(np.ceil(line.length / width * _STEPS))
    points = shapely.get_coordinates(shapely.line_interpolate_point(line, np.arange(count) / count, normalized=True))
    ends = _ends(points, round(_WINDOW * _STEPS))
    if ends is None:
        return None
    first, second = ends
    begin = round(_END * _STEPS)
    there = points[first : second + 1][begin:-begin]
    back = np.concatenate([points[second:], points[: first + 1]])[::-1][begin:-begin]
    if min(len(there), len(back)) < 4:
        return None
    (beyond, far), (before, near) = _across(there, back), _across(back, there)
    if not is_even([np.hypot(*(beyond - there).T), np.hypot(*(before - back).T)]):
        return None
    # Half-way from the places of both sides to the other, in the order in which they come on both.
    along = np.concatenate([far + np.linspace(0, 1, len(there)), near + np.linspace(0, 1, len(back))])
    middles = np.concatenate([there + beyond, back + before])[np.argsort(along, kind="stable")] / 2
    begins, finishes = (_end(points, at, middles[::way], width) for at, way in ((first, 1), (second, -1)))
    return through(np.concatenate([begins, middles, finishes]), False, min(_WITHIN, width / 8))


def _ends(points: Floats, window: int) -> tuple[int, int] | None:
    """The places, of those along a closed line, about which it turns back; None where those are not two."""
    ways = np.roll(points, -1, axis=0) - points
    angles = np.arctan2(ways[:, 1], ways[:, 0])
    turns = (angles - np.roll(angles, 1) + np.pi) % (2 * np.pi) - np.pi
    turns *= np.sign(turns.sum()) or 1.0
    around = np.cumsum(np.concatenate([turns[-window:], turns, turns[:window]]))
    back = np.append(around[2 * window], around[2 * window + 1 :] - around[: -2 * window - 1]) > _TURN
    begins = np.flatnonzero(back & ~np.roll(back, 1))
    if len(begins) != 2:
        return None
    middles = [(begin + (int(np.argmin(np.roll(back, -begin))) - 1) // 2) % len(points) for begin in begins.tolist()]
    return min(middles), max(middles)


def _end(points: Floats, at: int, middles: Floats, width: float) -> Floats:
    """Where the line in the middle ends, (1, 2): at a flat end, or amid a round one; (0, 2) where it has come so far.
    `middles` begin at that end.
    """
    way = middles[0] - middles[min(_STEPS, len(middles) - 1)]
    way /= max(float(np.hypot(*way)), 1e-12)
    half = _STEPS // 2
    sides = (points[(at + half) % len(points)] + points[at - half]) / 2
    flat = float((points[at] - sides) @ way) < _FLAT * width
    beyond = float((points[at] - middles[0]) @ way) - (0.0 if flat else width / 2)
    return (middles[0] + beyond * way)[None] if beyond > 0 else np.empty((0, 2))


def _across(side: Floats, other: Floats) -> tuple[Floats, Floats]:
    """The nearest place on another side for each of one, (n, 2), and which share of the way along it that is, (n,)."""
    ways = np.diff(other, axis=0)
    tree = shapely.STRtree(shapely.linestrings(np.stack([other[:-1], other[1:]], axis=1)))
    at = tree.query_nearest(shapely.points(side), all_matches=False)[1]
    share = ((side - other[at]) * ways[at]).sum(axis=1) / np.maximum((ways[at] ** 2).sum(axis=1), 1e-18)
    share = np.clip(share, 0, 1)
    return other[at] + share[:, None] * ways[at], (at + share) / len(ways)
