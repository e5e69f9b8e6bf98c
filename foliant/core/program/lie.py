"""Where the sheet lies on the bed, told by points of it that the head was led to."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from fontTools.misc.transform import Identity, Transform

from foliant.core.equipment import Jig
from foliant.core.errors import Refused

Point = tuple[float, float]
Spot = Literal["left", "right", "far", "middle", "mark", "other-mark", "edge", "edge-too"]

EDGE: tuple[Spot, Spot] = ("edge", "edge-too")
"""Two places anywhere on the near edge: it is squared by them."""

_SHORTEST = 20.0
"""So far apart they are at least, mm."""

_OFF = 0.02
"""By what share two marks may lie further apart, or nearer, than the sheet is wide."""


@dataclass(frozen=True)
class Lie:
    """Its near left corner at (x, y) on the bed, mm, and turned anticlockwise about that by `turn` degrees."""

    x: float = 0.0
    y: float = 0.0
    turn: float = 0.0

    @property
    def map(self) -> Transform:
        """From where it would lie straight in the near left corner of the bed."""
        return Identity.translate(self.x, self.y).rotate(math.radians(self.turn))


STRAIGHT = Lie()


def spots_of(width: float, height: float, jig: Jig | None = None) -> dict[Spot, tuple[str, Point]]:
    """Points of a sheet so large, or of a jig that is laid there, that the head is led to: how they are said, and where
    they are, mm from near left.
    """
    found: dict[Spot, tuple[str, Point]] = {
        "left": ("its near left corner", (0.0, 0.0)),
        "right": ("its near right corner", (width, 0.0)),
        "far": ("its far left corner", (0.0, height)),
        "middle": ("its middle", (width / 2, height / 2)),
    }
    if jig:
        found["mark"] = ("its first mark", (jig.mark_x, height - jig.mark_y))
        found["other-mark"] = ("its second mark", (jig.other_x, height - jig.other_y))
    return found


def lie_of(marks: Mapping[Spot, Point], spots: Mapping[Spot, tuple[str, Point]]) -> Lie:
    """How a sheet lies whose points, see `spots_of`, are at these places of the bed: one of them tells its place, two
    of them its turn too, and so do two places on its near edge, which then lies as near to the corner of the bed as it
    can. Raises `Refused` where they cannot be of this sheet.
    """
    edge = [marks[spot] for spot in EDGE if spot in marks]
    found = [(spots[spot][1], at) for spot, at in marks.items() if spot in spots]
    squared = _along(*edge) if len(edge) == 2 else 0.0
    if not found and len(edge) < 2:
        return STRAIGHT
    if not found:
        found = [((0.0, 0.0), _nearest(edge[0], squared))]
    turn = _turn(found) if len(found) > 1 else squared
    (x, y), (to_x, to_y) = found[0]
    cos, sin = math.cos(turn), math.sin(turn)
    return Lie(round(to_x - (x * cos - y * sin), 3), round(to_y - (x * sin + y * cos), 3), round(math.degrees(turn), 4))


def _along(one: Point, other: Point) -> float:
    """By how much an edge through two places is turned, radians, -90° to 90°."""
    if math.dist(one, other) < _SHORTEST:
        raise Refused(
            f"Lead the head further along the edge, {_SHORTEST:g} mm at least, and say again that it is there."
        )
    (left, a), (right, b) = sorted((one, other))
    return math.atan2(b - a, right - left)


def _nearest(place: Point, turn: float) -> Point:
    """The point of a line through a place that is nearest to the corner of the bed."""
    reach = place[0] * math.cos(turn) + place[1] * math.sin(turn)
    return place[0] - reach * math.cos(turn), place[1] - reach * math.sin(turn)


def _turn(found: Sequence[tuple[Point, Point]]) -> float:
    """By how much it is turned, radians, by the two marks that are furthest apart."""
    pairs = [(one, other) for at, one in enumerate(found) for other in found[at + 1 :]]
    (a, p), (b, q) = max(pairs, key=lambda pair: math.dist(pair[0][0], pair[1][0]))
    wide, measured = math.dist(a, b), math.dist(p, q)
    if abs(measured - wide) > max(_OFF * wide, 1.0):
        raise Refused(
            f"These places are {measured:.1f} mm apart, and on the sheet they are {wide:.1f} mm: lead the head there "
            "again, or type the size of the sheet."
        )
    turn = math.atan2(q[1] - p[1], q[0] - p[0]) - math.atan2(b[1] - a[1], b[0] - a[0])
    return (turn + math.pi) % (2 * math.pi) - math.pi


def read_lie(text: str) -> Lie:
    """A lie as it is typed: "12,8" or "12,8,2.3", in mm and degrees; raises `Refused`."""
    try:
        numbers = [float(part) for part in text.split(",")]
        if not 2 <= len(numbers) <= 3 or not all(map(math.isfinite, numbers)):
            raise ValueError
    except ValueError:
        raise Refused(f"“{text[:40]}” is no place: type x,y or x,y,turn, in mm and degrees.") from None
    return Lie(*numbers)
