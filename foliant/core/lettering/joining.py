"""Joining: letters, dots and lines brought together until they hold as one body."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely
import shapely.affinity
from numpy.typing import NDArray

from foliant.core.lettering.letters import Letter, Words, box_of
from foliant.core.paths import Path, PathPen, combine, join
from foliant.core.paths.nesting import bodies_of
from foliant.core.paths.overlay import fine_shape
from foliant.core.paths.shapes import outline_of
from foliant.core.paths.touching import faced, room
from foliant.core.remembering import remembered

Floats = NDArray[np.float64]
Dots = Literal["bridged", "lowered", "left"]

_WORD_GAP = 0.22
"""How far apart, as a share of the height of capitals, words stand at most that are joined without a bar."""

_SIDES, _COUNTER = 0.4, (0.04, 0.12)
"""Letters whose sides face each other over a longer stretch would run into one where they met: they are left apart by
what lies between these two; all as shares of the height of capitals.
"""

_LOW = (0.4, 0.08)
"""How far above and below its line, as shares of its own height, a letter is joined by a stroke."""

_LEVEL, _AS_NEAR = 0.25, 1.2
"""How high such a stroke begins and ends between sides that are hardly nearer elsewhere: a share of the lower letter's
height, and how many times as far apart they may be there.
"""

_SAG = 0.16
"""How deep such a stroke hangs, as a share of its length."""

_ROUNDING = 5e-4
"""What is added to an overlap, in mm, so that rounding to the grid takes nothing off it."""


@dataclass(frozen=True)
class Joining:
    """How letters are joined.

    overlap  how far each letter reaches into its neighbour, mm
    dots     what is done with dots, accents and what else flies free: bridged, lowered onto the letter, or left
    bridge   the width of bridges, mm
    bar      the height of a bar under each line, mm; 0 for none
    """

    overlap: float
    dots: Dots = "bridged"
    bridge: float = 1.0
    bar: float = 0.0


def whole(words: Words, how: Joining) -> Words:
    """The words with the dots and accents of every letter joined to it."""
    return replace(
        words, letters=tuple(replace(letter, outline=_whole(letter.outline, how)) for letter in words.letters)
    )


def closed_up(words: Words, how: Joining) -> Words:
    """The words with every letter reaching into the one before it, and every line into the one above.

    Letters that overlap by more as they are stay so. Words come near each other, unless a bar holds them. What stands
    higher or lower than its neighbour, or beside it with a long straight side, keeps its distance: see `bridges`.
    """
    lines: list[list[Letter]] = []
    baselines = list(words.baselines)
    for line in words.lines():
        closed = _closed_up(line, how, words.cap)
        if lines:
            above, number = lines[-1], line[0].line
            shift = _down(closed, above, baselines[above[0].line], how)
            closed = [letter.moved(0, shift) for letter in closed]
            baselines[number] += shift
        lines.append(closed)
    letters = tuple(letter for line in lines for letter in line)
    found = replace(words, letters=letters, baselines=tuple(baselines))
    left, _, right, _ = found.bounds
    return found.moved(-(left + right) / 2, 0)


def _closed_up(line: list[Letter], how: Joining, cap: float) -> list[Letter]:
    """A line with each letter moved left to where it meets the one before, and each word to where it comes near;
    centred where it was.
    """
    found = [line[0]]
    for before, letter in pairwise(line):
        step = letter.x - before.x
        if letter.word == before.word or not how.bar:
            risen = letter.y - before.y  # by a mark that is set off the baseline; else the pair is known
            outline = letter.outline.moved(0, risen) if risen else letter.outline
            gap = room(before.outline, outline, "across")
            if gap is not None:
                apart = _WORD_GAP * cap
                if letter.word == before.word:
                    apart = _apart(before.outline, outline, step + gap, cap) or -how.overlap - _ROUNDING
                step = min(step, apart - gap)
        found.append(replace(letter, x=found[-1].x + step))
    was, now = box_of(line), box_of(found)
    shift = (was[0] + was[2] - now[0] - now[2]) / 2
    return [letter.moved(shift, 0) for letter in found]


def _apart(one: Path, two: Path, gap: float, cap: float) -> float:
    """How far apart, mm, letters with a gap between them are left; 0 where they are to meet."""
    least, most = (share * cap for share in _COUNTER)
    long = gap > least and faced(one, two, "across", most) > _SIDES * cap
    return most if long else 0.0


def _down(line: list[Letter], above: list[Letter], baseline: float, how: Joining) -> float:
    """How far a line goes down, mm, to reach into the one above it, or into the bar on that one's baseline."""
    gaps = []
    for upper in above:
        left, _, right, _ = upper.bounds
        for lower in line:
            if lower.bounds[0] < right and lower.bounds[2] > left:
                gap = room(upper.outline.moved(upper.x - lower.x, upper.y), lower.outline.moved(0, lower.y), "down")
                if gap is not None:
                    gaps.append(gap)
    if how.bar:
        gaps.append(box_of(line)[1] - (baseline - how.overlap + how.bar))
    return -(min(gaps, default=0.0) + how.overlap + _ROUNDING)


@remembered
def _whole(outline: Path, how: Joining) -> Path:
    """A letter's outline with its loose bodies, such as dots, bridged to its main one or lowered onto it."""
    if how.dots == "left" or not outline.closed.any():
        return outline
    bodies = sorted(bodies_of(outline), key=lambda body: -abs(body.area))
    main, loose = bodies[0], bodies[1:]
    if not loose:
        return outline
    added = [main]
    for body in loose:
        gap = room(body, main, "down") if body.bounds[1] < main.bounds[1] else None
        if how.dots == "lowered" and gap is not None:
            added.append(body.moved(0, gap + how.overlap + _ROUNDING))
        else:
            added += [body, bridge(fine_shape(body), fine_shape(join(added)), how.bridge)]
    return combine(added).path


def bridges(letters: Sequence[Letter], how: Joining) -> list[Path]:
    """The bridges between neighbours that do not meet, across a space without a bar or to what stands higher: a stroke
    low between them, as a script joins its letters, or the shortest way where one of them does not reach so low.
    """
    found = []
    for before, letter in pairwise(letters):
        if before.line != letter.line or (how.bar and before.word != letter.word and not letter.turn):
            continue
        one, two = _area(before), _area(letter)
        if one.is_empty or two.is_empty:
            continue  # single lines have nothing to be joined by
        # Hairlines thinner than the overlap may have passed each other when they were slid.
        if not shapely.intersects(one, two):
            feet = _feet(before, letter)
            found.append(_stroke(*feet, how.bridge) if feet else bridge(one, two, how.bridge))
    return found


def _feet(one: Letter, two: Letter) -> tuple[shapely.Geometry, shapely.Geometry] | None:
    """What of two neighbours lies where a stroke is to join them; None where one of them does not reach so low."""
    low, next_low = (
        _placed(_slice(each.outline, -_LOW[0] * each.height, _LOW[1] * each.height), each) for each in (one, two)
    )
    if low.is_empty or next_low.is_empty:
        return None
    level = _LEVEL * min(one.height, two.height)
    at, next_at = (_placed(_slice(each.outline, -level - 0.01, -level), each) for each in (one, two))
    if not (at.is_empty or next_at.is_empty) and at.distance(next_at) < _AS_NEAR * low.distance(next_low):
        return at, next_at
    return low, next_low


def _area(letter: Letter) -> shapely.Geometry:
    """What a letter covers where it lies."""
    return _placed(_own_area(letter.outline), letter)


def _placed(own: shapely.Geometry, letter: Letter) -> shapely.Geometry:
    a, b, c, d, e, f = letter.matrix
    return shapely.affinity.affine_transform(own, (a, c, b, d, e, f))


@remembered
def _own_area(outline: Path) -> shapely.Geometry:
    return fine_shape(outline)


@remembered
def _slice(outline: Path, top: float, bottom: float) -> shapely.Geometry:
    """What of a letter lies between two heights, mm below its line."""
    left, _, right, _ = outline.bounds
    return shapely.intersection(_own_area(outline), shapely.box(left, top, right, bottom))


def _stroke(one: shapely.Geometry, two: shapely.Geometry, width: float) -> Path:
    """A stroke `width` mm wide that hangs between two areas, and goes half as far into both."""
    begin, end, side = _span(one, two, width)
    hang = np.array([0.0, _SAG * float(np.hypot(*(end - begin)))])
    third = (end - begin) / 3
    upper = [begin - side, begin + third - side + hang, end - third - side + hang, end - side]
    lower = [end + side, end - third + side + hang, begin + third + side + hang, begin + side]
    points = [(float(x), float(y)) for x, y in (*upper, *lower)]
    pen = PathPen()
    pen.moveTo(points[0])
    pen.curveTo(*points[1:4])
    pen.lineTo(points[4])
    pen.curveTo(*points[5:8])
    pen.closePath()
    return pen.path()


def bars(words: Words, how: Joining) -> list[Path]:
    """The bar under each line: from its first letter to its last, and up into it by the overlap."""
    if not how.bar:
        return []
    found = []
    for line in words.lines():
        left, _, right, _ = box_of(line)
        top = words.baselines[line[0].line] - how.overlap
        found.append(outline_of([(left, top), (right, top), (right, top + how.bar), (left, top + how.bar)]))
    return found


def bridge(one: shapely.Geometry, two: shapely.Geometry, width: float) -> Path:
    """A bar `width` mm wide along the shortest way from one area to the other, and half as far into both."""
    begin, end, side = _span(one, two, width)
    corners = [begin - side, end - side, end + side, begin + side]
    return outline_of([(float(x), float(y)) for x, y in corners])


def _span(one: shapely.Geometry, two: shapely.Geometry, width: float) -> tuple[Floats, Floats, Floats]:
    """The shortest way between two areas, half a bar's width into both: its beginning, its end, and half the bar to its
    side, mm.
    """
    (x0, y0), (x1, y1) = shapely.shortest_line(one, two).coords
    way = np.array([x1 - x0, y1 - y0])
    length = float(np.hypot(*way))
    along = way / length if length > 1e-9 else np.array([1.0, 0.0])
    side = np.array([-along[1], along[0]]) * width / 2
    return np.array([x0, y0]) - along * width / 2, np.array([x1, y1]) + along * width / 2, side
