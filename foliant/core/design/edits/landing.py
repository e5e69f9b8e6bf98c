"""Where what is new lands: on free material in the middle of what it is meant for, else beside what stands there."""

import math
from collections.abc import Iterator, Sequence
from itertools import product
from typing import Literal, TypeVar

import shapely

from foliant.core.design.model import Piece, Role
from foliant.core.design.placing import part_bounds
from foliant.core.design.references import Bounds, Point
from foliant.core.design.resolve import resolve

Answer = TypeVar("Answer")

_EDGE = 3.0  # mm between a hole and the edge that it is put near
_GAP = 1.5  # mm that are left free between what is new and what stands there
_STEPS = 24  # a room is searched for a free place in so many steps each way
_MOST = 0.6  # what covers more than this share of both sides lies round what is new, not in its way

Side = Literal["left", "right", "top", "bottom"]


def landing(piece: Piece, own: Bounds, onto: Bounds, role: Role) -> Point:
    """The origin (mm) of something new with its box `own` about that origin, on the box `onto` of a piece.

    What adds or guides goes to the middle; what marks or cuts goes there too, or beside what is there already.
    """
    centre = (onto[0] + onto[2]) / 2, (onto[1] + onto[3]) / 2
    if role in ("adds", "guides"):
        return centre
    marks = _marks(piece)
    room = _within(onto, marks)
    places = [centre, *(at for axis in (1, 0) for at in _beside(own, room, _in_the_way(marks, onto), axis))]
    places += _all_over(own, room)
    free = _free(piece, own, onto, marks, [(at, at) for at in places])
    return free or centre


def edge_landing(piece: Piece, own: Bounds, onto: Bounds) -> tuple[Side, float] | None:
    """The edge of the box `onto` that a hole with the box `own` is put near, and how far (mm) from it: an end of the
    longer side, and for the next one the other; inside a frame that is marked there, where it would cross that. None
    where there is room at no edge.
    """
    marks = _marks(piece)
    upright = onto[3] - onto[1] > 1.05 * (onto[2] - onto[0])
    sides: list[Side] = ["top", "bottom", "left", "right"] if upright else ["left", "right", "top", "bottom"]
    places: list[tuple[tuple[Side, float], Point]] = []
    for room in (onto, _within(onto, marks)):
        for side in sides:
            axis, far = (0 if side in ("left", "right") else 1), 2 if side in ("right", "bottom") else 0
            sign = -1 if far else 1
            at = [(onto[i] + onto[i + 2] - own[i] - own[i + 2]) / 2 for i in (0, 1)]
            at[axis] = room[axis + far] + sign * _EDGE - own[axis + far]
            places.append(((side, abs(room[axis + far] - onto[axis + far]) + _EDGE), (at[0], at[1])))
    return _free(piece, own, onto, marks, places)


def _free(
    piece: Piece, own: Bounds, onto: Bounds, marks: Sequence[Bounds], places: Sequence[tuple[Answer, Point]]
) -> Answer | None:
    """The first place where nothing is in the way or crossed; rather one on material."""
    taken, round_it = _in_the_way(marks, onto), [box for box in marks if _covers(box, onto)]
    free = [
        (what, box)
        for what, box in ((what, _moved(own, at)) for what, at in places)
        if not any(_near(box, other) for other in taken) and not any(_crosses(box, other) for other in round_it)
    ]
    material = resolve(piece).outline.shape
    lying = (what for what, box in free if material.covers(shapely.box(*box)))
    return next(lying, free[0][0] if free else None)


def beside(own: Bounds, onto: Bounds) -> Point:
    """How far (mm) a copy of what has the box `own` goes: straight to a side where `onto` has room, the right and below
    before the left and above; where there is none, past its shorter side.
    """
    across, down = round(own[2] - own[0] + _GAP, 4), round(own[3] - own[1] + _GAP, 4)
    ways = ((own[2] + across <= onto[2], (across, 0.0)), (own[3] + down <= onto[3], (0.0, down)))
    back = ((own[0] - across >= onto[0], (-across, 0.0)), (own[1] - down >= onto[1], (0.0, -down)))
    past = (0.0, down) if across > down else (across, 0.0)
    return next((step for fits, step in (*ways, *back) if fits), past)


def _marks(piece: Piece) -> list[Bounds]:
    return [part_bounds(part) for part in piece.made if part.plays("cuts", "engraves", "scores")]


def _covers(box: Bounds, onto: Bounds) -> bool:
    wide, tall = onto[2] - onto[0], onto[3] - onto[1]
    return box[2] - box[0] > _MOST * wide and box[3] - box[1] > _MOST * tall


def _in_the_way(marks: Sequence[Bounds], onto: Bounds) -> list[Bounds]:
    return [box for box in marks if not _covers(box, onto)]


def _within(onto: Bounds, marks: Sequence[Bounds]) -> Bounds:
    """The room inside a frame that is marked on a plate, if there is one."""
    for box in marks:
        if _covers(box, onto):
            onto = max(onto[0], box[0]), max(onto[1], box[1]), min(onto[2], box[2]), min(onto[3], box[3])
    return onto


def _crosses(box: Bounds, frame: Bounds) -> bool:
    """Whether a box lies neither inside a frame nor outside it."""
    inside = frame[0] < box[0] and box[2] < frame[2] and frame[1] < box[1] and box[3] < frame[3]
    return not inside and _near(box, frame)


def _beside(own: Bounds, onto: Bounds, taken: Sequence[Bounds], axis: int) -> list[Point]:
    """Places in the free stretches of the middle line along an axis, the nearest first; of two, the later one."""
    cross = 1 - axis
    centre = ((onto[0] + onto[2]) / 2, (onto[1] + onto[3]) / 2)
    size = own[axis + 2] - own[axis]
    lane = (centre[cross] + own[cross], centre[cross] + own[cross + 2])
    spans = sorted((box[axis], box[axis + 2]) for box in taken if box[cross] < lane[1] and box[cross + 2] > lane[0])
    found = []
    for low, high, after, before in _gaps(spans, onto[axis], onto[axis + 2]):
        if high - low < size + 2 * _GAP:
            continue
        at = (low + high) / 2
        if after and not before:  # a line under another stays near it
            at = min(at, low + size / 2 + max(_GAP, size))
        elif before and not after:
            at = max(at, high - size / 2 - max(_GAP, size))
        found.append(at)
    found.sort(key=lambda at: (round(abs(at - centre[axis]), 3), -at))
    offset = (own[axis] + own[axis + 2]) / 2
    return [(at - offset, centre[cross]) if axis == 0 else (centre[cross], at - offset) for at in found]


def _all_over(own: Bounds, room: Bounds) -> list[Point]:
    """Places all over a room, the nearest to its middle first."""
    centre = (room[0] + room[2]) / 2, (room[1] + room[3]) / 2
    first = [room[i] + _GAP - own[i] for i in (0, 1)]
    last = [room[i + 2] - _GAP - own[i + 2] for i in (0, 1)]
    lines = [[first[i] + (last[i] - first[i]) * step / _STEPS for step in range(_STEPS + 1)] for i in (0, 1)]
    return sorted(product(lines[0], lines[1]), key=lambda at: math.dist(at, centre))


def _gaps(spans: Sequence[tuple[float, float]], low: float, high: float) -> Iterator[tuple[float, float, bool, bool]]:
    """The free stretches, and whether something stands before and after each."""
    at, after = low, False
    for begin, end in spans:
        if begin > at:
            yield at, min(begin, high), after, True
        at, after = max(at, end), True
    if at < high:
        yield at, high, after, False


def _moved(own: Bounds, at: Point) -> Bounds:
    return own[0] + at[0], own[1] + at[1], own[2] + at[0], own[3] + at[1]


def _near(one: Bounds, other: Bounds) -> bool:
    free = 0.5 * _GAP
    return (
        one[0] < other[2] + free and other[0] < one[2] + free and one[1] < other[3] + free and other[1] < one[3] + free
    )
