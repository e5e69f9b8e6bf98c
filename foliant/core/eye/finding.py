"""Finding the stock on the bed: a rectangle whose four sides are seen, measured on the picture itself.

First a rough look from straight above: long edges in two directions at right angles, all darker or all brighter inside.
Then each side is measured across, where the picture is as fine as it was taken, and only what is seen on all four is
believed.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from foliant.core.errors import Refused
from foliant.core.eye.lens import Floats, Lens
from foliant.core.eye.lines import Line, meeting
from foliant.core.eye.straightening import Picture, at_dots, straightened

_FINE = 2.0
"""How many dots to the mm the rough look has."""

_HOLES = 9
"""What is narrower than so many of these dots is not seen: the bars of the bed, its lines, and grain."""

_LEAST = 25.0
"""How wide what is found is at least, mm."""

_TURNS, _LINES, _GUESSES = 4, 14, 6
"""How many directions are looked at, lines in each of four ways, and rectangles of them."""

_SLANT, _NEAR, _BESIDE = 0.2, 1.6, 2.0
"""How far an edge may slant from a line of which it is part, radians, how far beside it it may lie, and how far apart
lines are, mm.
"""

_DARK, _STEEP, _SUPPORT = 10.0, 6.0, 0.35
"""What is added to all shades, so that noise in the dark is no edge; how steep an edge is at least; and what share of a
side has to be one, in the rough look.
"""

_REACH, _ACROSS, _ALONG = 3.5, 0.1, 2.0
"""How far beside a side it is looked for, in which steps, and how far apart along it, mm."""

_SURE, _SURE_OF_ANY = 0.45, 0.65
_STRAIGHT = 0.25
"""What share of a side has to be seen, of what is as large as was said and of what is not, and how far from straight
that may be, mm.
"""

_NEARLY = 0.97
_SQUARE = 0.4
"""What share of the bed is all of it; and how far off a right angle its corners may be, degrees."""


@dataclass(frozen=True)
class Found:
    """Stock on the bed: its near left corner at (x, y), mm, turned anticlockwise by `turn` degrees, and its size, mm.

    seen  what share of its least seen side is seen, 0 to 1
    """

    x: float
    y: float
    turn: float
    width: float
    height: float
    seen: float

    @property
    def corners(self) -> Floats:
        """Its corners (4, 2) on the bed, from the near left one on anticlockwise, mm."""
        turn = np.radians(self.turn)
        right, away = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
        near_left = np.array([self.x, self.y])
        across, up = self.width * right, self.height * away
        return np.array([near_left, near_left + across, near_left + across + up, near_left + up])


def find_stock(
    picture: Picture, lens: Lens, bed: tuple[float, float], thickness: float = 0.0,
    size: tuple[float, float] | None = None,
) -> Found:  # fmt: skip
    """The stock that lies on a bed so wide and high, mm, in a camera's picture; what is `size` large is looked for
    first. Raises `Refused` where no rectangle is seen for sure.
    """
    width, height = bed
    plain = straightened(picture, lens, 0, 0, width, height, _FINE, thickness)
    others = []
    for guess in _guesses(plain, bed, size):
        found = _measured(picture, lens, guess, thickness)
        if found is None or not _lies_on(found, bed) or _is_the_bed(found, bed):
            continue
        if size and is_like(found, size):
            return _named(found, size)
        if found.seen >= _SURE_OF_ANY and not _is_less(found, size):
            others.append(found)
    if not others:
        raise Refused(
            "No sheet is found in the picture: have even light on the bed, all four edges in sight, and nothing lying "
            "over them."
        )
    return _named(max(others, key=lambda one: one.width * one.height), size)


def _is_the_bed(found: Found, bed: tuple[float, float]) -> bool:
    """Whether it is so large that it will be the edges of the bed themselves."""
    return all(
        long > _NEARLY * bed_long
        for long, bed_long in zip(sorted((found.width, found.height)), sorted(bed), strict=True)
    )


def _is_less(found: Found, size: tuple[float, float] | None) -> bool:
    """Whether it is so much smaller than what is looked for that it will be an opening in that."""
    return size is not None and found.width * found.height < 0.4 * size[0] * size[1]


def is_like(found: Found, size: tuple[float, float]) -> bool:
    """Whether it is as large as that, within a hundredth."""
    for wide, high in (size, size[::-1]):
        if abs(found.width - wide) < max(0.01 * wide, 1.0) and abs(found.height - high) < max(0.01 * high, 1.0):
            return True
    return False


def _lies_on(found: Found, bed: tuple[float, float]) -> bool:
    return bool((found.corners > -1.0).all() and (found.corners < np.array(bed) + 1.0).all())


def _named(found: Found, size: tuple[float, float] | None) -> Found:
    """The same rectangle from whichever of its corners it is turned the least; or, where it was asked for with another
    width than height, from the one whose sides are those.
    """
    ways = []
    for quarter in range(4):
        turn = (found.turn + 90 * quarter + 180) % 360 - 180
        wide, high = (found.width, found.height) if quarter % 2 == 0 else (found.height, found.width)
        corner = found.corners[quarter]
        ways.append(Found(float(corner[0]), float(corner[1]), float(turn), wide, high, found.seen))

    def unlike(one: Found) -> tuple[float, float]:
        off = abs(one.width - size[0]) + abs(one.height - size[1]) if size else 0.0
        return round(off / 4.0), abs(one.turn)

    return min(ways, key=unlike)


# The rough look


@dataclass(frozen=True)
class _Edges:
    """Steep places of a picture: where they are (n, 2), mm on the bed, how steep, and which way it grows brighter."""

    at: Floats
    steep: Floats
    way: Floats


def _edges(plain: Picture) -> _Edges:
    # As shares and not as differences, what lies in the dark counts as much as what lies in the light.
    calm = 80 * np.log(cv2.medianBlur(plain, _HOLES).astype(np.float32) + _DARK)
    calm = cv2.GaussianBlur(calm, (0, 0), 1.2)
    across, down = (cv2.Scharr(calm, cv2.CV_32F, *way) / 32 for way in ((1, 0), (0, 1)))
    size = np.hypot(across, down)
    channel = size.argmax(axis=2)[..., None]
    steepest, gx, gy = (np.take_along_axis(one, channel, axis=2)[..., 0] for one in (size, across, down))
    light = np.hypot(gx, gy) + 1e-9
    # Only the ridge of each edge: no steeper place to either side of it.
    ux, uy = gx / light, gy / light
    rows, columns = np.mgrid[0 : plain.shape[0], 0 : plain.shape[1]].astype(np.float32)
    places = np.stack([columns, rows], axis=-1)
    beside = [at_dots(steepest, places + way * np.stack([ux, uy], axis=-1)) for way in (-1, 1)]
    ridge = (steepest >= beside[0]) & (steepest > beside[1]) & (steepest > _least_steep(steepest))
    row, column = np.nonzero(ridge)
    at = np.column_stack([(column + 0.5) / _FINE, (plain.shape[0] - row - 0.5) / _FINE])
    way = np.arctan2(-gy[ridge], gx[ridge])
    return _Edges(at.astype(np.float64), steepest[ridge].astype(np.float64), way.astype(np.float64))


def _least_steep(steepest: NDArray[np.float32]) -> float:
    return max(1.2, min(_STEEP, float(np.percentile(steepest, 90))))


def _guesses(
    plain: Picture, bed: tuple[float, float], size: tuple[float, float] | None
) -> Iterator[tuple[float, float, float, float, float]]:
    """Rectangles that may be it, the likeliest first: turn, radians, and left, right, near and far in that way."""
    edges = _edges(plain)
    found = []
    for turn in _directions(edges):
        found += _rectangles(edges, turn, size)
    seen: list[tuple[float, ...]] = []
    for _, *rectangle in sorted(found, reverse=True):
        if all(np.abs(np.subtract(rectangle[1:], other[1:])).max() > 3.0 for other in seen):
            seen.append(tuple(rectangle))
            turn, left, right, near, far = rectangle
            yield turn, left, right, near, far
        if len(seen) >= 12:
            return


def _directions(edges: _Edges) -> list[float]:
    """The turns, radians, -45° to 45°, in which most edges run."""
    turns = np.degrees(edges.way) % 90
    counts = np.bincount((turns * 2).astype(int) % 180, np.minimum(edges.steep, 40), 180)
    smooth = sum(
        np.roll(counts, shift) * weight for shift, weight in ((-2, 0.4), (-1, 0.8), (0, 1), (1, 0.8), (2, 0.4))
    )
    best: list[float] = []
    for index in np.argsort(smooth)[::-1]:
        turn = index / 2 + 0.25
        if all(min(abs(turn - other), 90 - abs(turn - other)) > 3 for other in best):
            best.append(float(turn))
        if len(best) == _TURNS:
            break
    return [np.radians((turn + 45) % 90 - 45) for turn in best]


def _rectangles(
    edges: _Edges, turn: float, size: tuple[float, float] | None
) -> list[tuple[float, float, float, float, float, float]]:
    """Rectangles in one direction, the likeliest of each brightness, each with how likely it is."""
    cos, sin = np.cos(turn), np.sin(turn)
    x, y = edges.at[:, 0] * cos + edges.at[:, 1] * sin, edges.at[:, 1] * cos - edges.at[:, 0] * sin
    way = edges.way - turn
    found = []
    for bright in (1, -1):
        facing = [np.abs((way - up + np.pi) % (2 * np.pi) - np.pi) < _SLANT for up in _facings(bright)]
        left, right = (_lines(x[chosen], y[chosen], edges.steep[chosen]) for chosen in facing[:2])
        near, far = (_lines(y[chosen], x[chosen], edges.steep[chosen]) for chosen in facing[2:])
        if not all(len(lines.at) for lines in (left, right, near, far)):
            continue
        # Every left, right, near and far line with every other: (a, b, c, d).
        upright = np.minimum(left.covered(near.at, far.at)[:, None], right.covered(near.at, far.at)[None])
        level = np.minimum(near.covered(left.at, right.at)[:, None], far.covered(left.at, right.at)[None])
        least = np.minimum(upright, level.transpose(2, 3, 0, 1))
        wide, high = right.at[None] - left.at[:, None], far.at[None] - near.at[:, None]
        likely = 2 * least + 0.3 * np.sqrt(
            np.maximum(wide, 0)[:, :, None, None] * np.maximum(high, 0)[None, None]
        ) / 400  # fmt: skip
        if size:
            off = [np.abs(wide - w)[:, :, None, None] + np.abs(high - h)[None, None] for w, h in (size, size[::-1])]
            likely += 2 * np.exp(-((np.minimum(*off) / 4) ** 2))
        likely[(least < _SUPPORT) | (wide < _LEAST)[:, :, None, None] | (high < _LEAST)[None, None]] = -1
        for index in np.argsort(likely, axis=None)[: -_GUESSES - 1 : -1]:
            a, b, c, d = np.unravel_index(index, likely.shape)
            if likely[a, b, c, d] > 0:
                sides = float(left.at[a]), float(right.at[b]), float(near.at[c]), float(far.at[d])
                found.append((float(likely[a, b, c, d]), turn, *sides))
    return found


def _facings(bright: int) -> tuple[float, float, float, float]:
    """Which way it grows brighter at the left, right, near and far side of what is bright inside, or dark."""
    return (0.0, np.pi, np.pi / 2, -np.pi / 2) if bright > 0 else (np.pi, 0.0, -np.pi / 2, np.pi / 2)


_LONGEST, _OFFSET = 12_000, 6_000


@dataclass(frozen=True)
class _Lines:
    """Lines side by side: how far across each of them lies, (n,), and how many mm of it up to each have an edge."""

    at: Floats
    edged: NDArray[np.int64]

    def covered(self, low: Floats, high: Floats) -> Floats:
        """What share of each between every low and every high place has an edge, (n, l, h)."""
        first, last = (np.clip(np.round(places + _OFFSET).astype(int), 0, _LONGEST) for places in (low, high))
        count = self.edged[:, None, last] - self.edged[:, first, None]
        return np.asarray(count / np.maximum(last[None] - first[:, None], 1))


def _lines(across: Floats, along: Floats, steep: Floats) -> _Lines:
    """The likeliest lines among edges."""
    lines: list[float] = []
    rows = []
    low = float(across.min(initial=0.0)) - 2
    slots = np.round((across - low) * _FINE).astype(int)
    counts = np.bincount(slots, np.minimum(steep, 30), slots.max(initial=0) + 3)
    wide = counts + np.roll(counts, 1) + np.roll(counts, -1)
    for slot in np.argsort(wide)[::-1]:
        if wide[slot] <= 0 or len(lines) == _LINES:
            break
        at = low + slot / _FINE
        if any(abs(at - other) < _BESIDE for other in lines):
            continue
        marks = np.zeros(_LONGEST + 1, np.int64)
        marks[np.clip(np.round(along[np.abs(across - at) < _NEAR] + _OFFSET).astype(int), 0, _LONGEST)] = 1
        lines.append(float(at))
        rows.append(np.cumsum(marks))
    return _Lines(np.array(lines), np.array(rows).reshape(len(lines), _LONGEST + 1))


# The measuring


def _measured(
    picture: Picture, lens: Lens, guess: tuple[float, float, float, float, float], height: float
) -> Found | None:
    """A rectangle measured side by side on the picture; None where one is not seen for sure."""
    turn, left, right, near, far = guess
    right_way, away = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])

    def place(x: float, y: float) -> Floats:
        return x * right_way + y * away

    a, b, c, d = place(left, near), place(right, near), place(right, far), place(left, far)
    sides, shares = [], []
    for start, end in ((a, b), (b, c), (c, d), (d, a)):
        side = _side(picture, lens, start, end, height)
        if side is None:
            return None
        sides.append(side[0])
        shares.append(side[1])
    corners = np.array([meeting(sides[at - 1], sides[at]) for at in range(4)])
    return _rectangle(corners, min(shares))


def _side(picture: Picture, lens: Lens, start: Floats, end: Floats, height: float) -> tuple[Line, float] | None:
    """The line of one side, its inside to the left of it, and what share of it is seen; None where too little is."""
    length = float(np.hypot(*(end - start)))
    along = (end - start) / length
    inward = np.array([-along[1], along[0]])
    ends = min(4.0, length / 8)
    places = np.linspace(ends, length - ends, max(12, int(length / _ALONG)))
    steps = np.arange(_REACH, -_REACH - 1e-9, -_ACROSS)  # from inside to outside
    there = start + places[:, None, None] * along + steps[None, :, None] * inward
    dots = lens.seen(there.reshape(-1, 2), height).reshape(*there.shape).astype(np.float32)
    seen = at_dots(picture, dots).astype(np.float32)
    seen = np.asarray(cv2.GaussianBlur(seen, (0, 0), sigmaX=2.0, sigmaY=1.5), np.float32)
    offsets, steep = _crossings(seen)
    good = steep > max(0.35 * float(np.percentile(steep, 80)), 0.25)
    if good.sum() < 8:
        return None
    along_it, beside = places[good], _REACH - offsets[good] * _ACROSS
    slope, middle = _likeliest(along_it, beside)
    for _ in range(6):
        off = np.abs(beside - (slope * along_it + middle))
        keep = off < _STRAIGHT
        if keep.sum() < 8:
            return None
        slope, middle = np.polyfit(along_it[keep], beside[keep], 1)
    share = float(keep.sum() / len(places))
    if share < _SURE:
        return None
    wall = _wall(lens, (start + end) / 2, -inward, height)
    middle += _shift(seen[good][keep], offsets[good][keep], wall)
    point = start + middle * inward
    direction = along + slope * inward
    return (point, direction / np.hypot(*direction)), share


def _wall(lens: Lens, at: Floats, outward: Floats, height: float) -> float:
    """How much of the wall of a side there the camera sees, mm: it looks down on those that face it."""
    eye = lens.eye
    return max(0.0, float((eye[:2] - at) @ outward) * height / float(eye[2]))


def _shift(seen: NDArray[np.float32], offsets: Floats, wall: float) -> float:
    """How far further in, mm, the face ends than where rows of shades (n, m, 3) were found to be steep. All of them,
    laid over each other, are as steep as the edge of the face and, a wall further out, that of the wall, both blurred.
    """
    if wall < 0.05:
        return 0.0
    steps = np.arange(-12.0, 22.0)
    rows = np.arange(len(seen))[:, None]
    places = np.clip(offsets[:, None] + steps, 0, seen.shape[1] - 1.001)
    low = places.astype(int)
    part = (places - low)[..., None]
    profile = np.median(seen[rows, low] * (1 - part) + seen[rows, low + 1] * part, axis=0)
    change = profile[-8:].mean(axis=0) - profile[:4].mean(axis=0)
    size = float(np.linalg.norm(change))
    if size < 1:
        return 0.0
    steep = np.maximum(np.gradient(profile @ (change / size)), 0.0)
    at = steps * _ACROSS
    best, least = 0.0, np.inf
    for blur in (0.25, 0.35, 0.45, 0.55, 0.7):
        for place in np.arange(-0.8, 0.5, 0.02):
            both = np.stack([np.exp(-(((at - place - far) / blur) ** 2) / 2) for far in (0.0, wall)], axis=1)
            heights = np.maximum(np.linalg.lstsq(both, steep, rcond=None)[0], 0.0)
            if heights[0] < 0.2 * heights[1]:
                continue  # something of the step is the face's
            off = float(((both @ heights - steep) ** 2).sum())
            if off < least:
                best, least = -place, off
    return best


def _likeliest(along: Floats, beside: Floats) -> tuple[float, float]:
    """The slope and middle of the line that most places lie on."""
    chance = np.random.default_rng(1)
    best, most = (0.0, float(np.median(beside))), -1
    for first, second in chance.integers(0, len(along), (120, 2)):
        if abs(along[first] - along[second]) < 0.25 * np.ptp(along):
            continue
        slope = (beside[first] - beside[second]) / (along[first] - along[second])
        if abs(slope) > 0.04:
            continue
        middle = beside[first] - slope * along[first]
        count = int((np.abs(beside - (slope * along + middle)) < _STRAIGHT / 2).sum())
        if count > most:
            best, most = (float(slope), float(middle)), count
    return best


def _crossings(seen: NDArray[np.float32]) -> tuple[Floats, Floats]:
    """Where each row (n, m, 3) of shades from inside to outside leaves the face, in steps, and how steeply: the first
    place that is nearly as steep as any, so that a wall beside it is not taken for it.
    """
    rise = np.gradient(seen, axis=1)
    inside, outside = (np.median(seen[:, part].reshape(-1, 3), axis=0) for part in (slice(0, 12), slice(-12, None)))
    change = outside - inside
    size = float(np.linalg.norm(change))
    if size < 4:
        return np.zeros(len(seen)), np.zeros(len(seen))
    steep = np.maximum(rise @ (change / size), 0.0)
    top = steep.max(axis=1)
    peak = (steep >= np.roll(steep, 1, 1)) & (steep > np.roll(steep, -1, 1)) & (steep > 0.4 * top[:, None])
    peak[:, [0, -1]] = False
    first = peak.argmax(axis=1)
    rows = np.arange(len(seen))
    before, here, after = (steep[rows, np.clip(first + way, 0, steep.shape[1] - 1)] for way in (-1, 0, 1))
    bend = before - 2 * here + after
    shift = np.where(np.abs(bend) > 1e-9, 0.5 * (before - after) / np.where(bend == 0, 1, bend), 0.0)
    return first + np.clip(shift, -0.5, 0.5), np.where(peak.any(axis=1), here, 0.0)


def _rectangle(corners: Floats, seen: float) -> Found | None:
    """The rectangle nearest to four corners; None where they are not square."""
    sides = np.roll(corners, -1, axis=0) - corners
    turns = np.degrees(np.unwrap(np.arctan2(sides[:, 1], sides[:, 0])))
    off = turns - turns[0] - np.array([0, 90, 180, 270])
    if np.abs(off - off.mean()).max() > _SQUARE:
        return None
    turn = np.radians(turns[0] + off.mean())
    lengths = np.hypot(*sides.T)
    width, height = (lengths[0] + lengths[2]) / 2, (lengths[1] + lengths[3]) / 2
    right, away = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    x, y = corners.mean(axis=0) - width / 2 * right - height / 2 * away
    return Found(float(x), float(y), float(np.degrees(turn)), float(width), float(height), seen)
