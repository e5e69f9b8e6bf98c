"""On an edge: words bent along a closed outline, such as the rim of a disc, that follow it."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely

from foliant.core.lettering.joining import Joining
from foliant.core.lettering.letters import Letter, Words, box_of
from foliant.core.paths import Path
from foliant.core.paths.overlay import fine_shape
from foliant.core.paths.touching import room
from foliant.core.remembering import remembered

Side = Literal["outside", "inside"]
Reading = Literal["top", "bottom"]

_FINE = 0.001
_QUARTER = 90
"""Edges of a quarter turn where an edge is moved round a corner: 0.002 mm off at 50 mm."""


@dataclass(frozen=True)
class Edge:
    """Where words run along a closed outline.

    guide    the outline, one closed contour, in the coordinates of the words
    gap      from the outline to the nearer of the line of feet and the line of capitals, mm
    side     outside or inside it
    reading  "top": clockwise, feet towards the middle; "bottom": the other way round, heads towards the middle
    angle    where the middle of the words is, degrees clockwise from the top as seen from the middle
    spread   the angle that the words are spread over, degrees; 0 for as they are set
    """

    guide: Path
    gap: float
    side: Side
    reading: Reading
    angle: float
    spread: float


class Course:
    """A closed curve that letters run along with the middle of their height, by length along it, clockwise."""

    def __init__(self, ring: shapely.LinearRing, centre: tuple[float, float]) -> None:
        points = shapely.get_coordinates(shapely.orient_polygons(shapely.Polygon(ring), exterior_cw=False))
        self.points = points  # counter-clockwise with y up is clockwise on the page
        steps = np.hypot(*np.diff(points, axis=0).T)
        self.along = np.concatenate([[0.0], np.cumsum(steps)])
        self.length = float(self.along[-1])
        self.line = shapely.LineString(points)
        self.centre = centre

    def at_angle(self, degrees: float) -> float:
        """The length at which a ray from the middle, clockwise from the top, leaves the curve."""
        x, y = self.centre
        turn = math.radians(degrees)
        far = (x + math.sin(turn) * 1e5, y - math.cos(turn) * 1e5)
        crossing = shapely.get_coordinates(shapely.intersection(self.line, shapely.LineString([(x, y), far])))
        if not len(crossing):
            return float(self.line.project(shapely.Point(far)))
        outermost = crossing[np.argmax(np.hypot(crossing[:, 0] - x, crossing[:, 1] - y))]
        return float(self.line.project(shapely.Point(outermost)))

    def point(self, length: float) -> tuple[float, float]:
        """The point at a length along the curve."""
        at = length % self.length
        return (
            float(np.interp(at, self.along, self.points[:, 0])),
            float(np.interp(at, self.along, self.points[:, 1])),
        )


def bent(words: Words, edge: Edge, joining: Joining | None = None) -> Words:
    """The words along an edge, each letter turned as the edge runs where it stands.

    Letters are as far apart at half their height as they are on a straight line: their tops neither run together below
    nor gape above, and their feet the other way round.
    """
    letters: list[Letter] = []
    half = words.cap / 2
    for line in words.lines():
        number = line[0].line
        base = words.baselines[number]
        away = _distance(words, edge, base) + (half if edge.reading == "top" else -half)
        letters += _along(line, base - half, _course(edge.guide, round(away, 6)), edge, joining)
    return replace(words, letters=tuple(letters))


def baseline_gap(words: Words, edge: Edge) -> float:
    """How far the baseline of the first line lies from the edge, mm."""
    return abs(_distance(words, edge, words.baselines[0]))


def _distance(words: Words, edge: Edge, base: float) -> float:
    """How far outside the edge a baseline runs, mm."""
    first, last = words.baselines[0], words.baselines[-1]
    feet_first = (edge.side == "outside") == (edge.reading == "top")
    away = edge.gap + (last - base if feet_first else words.cap + base - first)
    return away if edge.side == "outside" else -away


@remembered
def _course(guide: Path, distance: float) -> Course:
    shape = fine_shape(guide, _FINE)
    left, top, right, bottom = guide.bounds
    moved = shapely.buffer(shape, distance, quad_segs=_QUARTER)
    parts = sorted(shapely.get_parts(moved), key=lambda part: -part.area)
    ring = parts[0].exterior if parts and not parts[0].is_empty else shapely.get_parts(shape)[0].exterior
    return Course(ring, ((left + right) / 2, (top + bottom) / 2))


def _along(line: list[Letter], level: float, course: Course, edge: Edge, joining: Joining | None) -> list[Letter]:
    """A line of letters with the height `level` of theirs on a course."""
    way = 1 if edge.reading == "top" else -1
    middle = course.at_angle(edge.angle)
    line = _spread(line, course, edge) if edge.spread else line

    def stand(letter: Letter, shift: float) -> Letter:
        half = letter.advance / 2
        length = middle + way * (letter.x + shift + half)
        reach = max(half, 0.05)
        (x0, y0), (x1, y1) = (course.point(length + way * far) for far in (-reach, reach))
        turn = math.degrees(math.atan2(y1 - y0, x1 - x0))
        x, y = course.point(length)
        cosine, sine = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        dx, dy = -half, letter.y - level
        return replace(letter, x=x + cosine * dx - sine * dy, y=y + sine * dx + cosine * dy, turn=turn)

    if joining is None:
        return [stand(letter, 0.0) for letter in line]
    shifts = _closed_shifts(line, stand, joining.overlap)
    return [stand(letter, shift - shifts[-1] / 2) for letter, shift in zip(line, shifts, strict=True)]


def _closed_shifts(line: Sequence[Letter], stand: Callable[[Letter, float], Letter], overlap: float) -> list[float]:
    """How far each letter goes back along the edge, so that it still reaches into the one before."""
    shifts = [0.0]
    for before, letter in pairwise(line):
        shift = shifts[-1]
        if before.word == letter.word:
            for _ in range(6):
                one, two = stand(before, shifts[-1]), stand(letter, shift)
                middle = -math.radians((one.turn + two.turn) / 2)
                level = (math.cos(middle), math.sin(middle), -math.sin(middle), math.cos(middle), 0.0, 0.0)
                gap = room(one.path.transformed(level), two.path.transformed(level), "across")
                if gap is None or gap <= -overlap:
                    break
                shift -= gap + overlap + 0.002
        shifts.append(shift)
    return shifts


def _spread(line: list[Letter], course: Course, edge: Edge) -> list[Letter]:
    """The line with its letters moved apart, or together, until it covers the angle."""
    begin, end = (course.at_angle(edge.angle + half) for half in (-edge.spread / 2, edge.spread / 2))
    wanted = course.length if edge.spread >= 360 else (end - begin) % course.length
    left, _, right, _ = box_of(line)
    gaps = len(line) if edge.spread >= 360 else len(line) - 1
    extra = (wanted - (right - left)) / gaps if gaps > 0 else 0.0
    shift = extra * (len(line) - 1) / 2
    return [letter.moved(extra * at - shift, 0) for at, letter in enumerate(line)]
