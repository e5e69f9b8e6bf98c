"""Where what is new lands: on free material in the middle of what it is meant for, else beside what stands there."""

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations, product
from typing import Literal, TypeVar

import shapely

from foliant.core.design.holds import AnchorKey
from foliant.core.design.model import Part, Piece, Role
from foliant.core.design.placing import part_bounds, part_region, whole_box
from foliant.core.design.references import Bounds, Point, union
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes.shape import Shape
from foliant.core.paths import join

Answer = TypeVar("Answer")

_EDGE = 3.0  # mm between a hole and the edge that it is put near
_GAP = 1.5  # mm that are left free between what is new and what stands there
_STEPS = 14  # a room is searched for a free place in so many steps each way
_LEAST_OVERLAP = 2.0  # mm that something over an edge reaches into thin material there
_MOST = 0.45  # what covers more than this share of both sides lies round what is new, not in its way

_MOST_TAKEN = 6
"""Of more marks than that no free rectangles are looked for."""

Side = Literal["left", "right", "top", "bottom"]

_AXES: dict[Side, tuple[int, int]] = {"left": (0, 0), "right": (0, 2), "top": (1, 0), "bottom": (1, 2)}


def landing(piece: Piece, own: Bounds, onto: Bounds, role: Role) -> Point | None:
    """The origin (mm) of something new with its box `own` about that origin, on the box `onto` of a piece.

    What adds or guides goes to the middle; what marks or cuts goes there too, or beside what is there already, on
    material. None where there is no such room.
    """
    centre = (onto[0] + onto[2]) / 2, (onto[1] + onto[3]) / 2
    if role in ("adds", "guides"):
        return centre
    marked = _marked(piece, onto)
    room, taken = marked.within(onto), marked.boxes
    # Lines go under lines; what has only holes beside it goes where there is the most room.
    written = marked.written

    def places() -> Iterator[Point]:
        yield centre
        if not written:
            yield from _largest_field(own, room, taken)
        for axis in (1, 0):
            yield from _beside(own, room, taken, axis)
        if written:
            yield from _largest_field(own, room, taken)
        yield from _all_over(own, room)

    return _free(piece, own, marked, ((at, at) for at in places()))


def under_words(piece: Piece, own: Bounds, onto: Bounds) -> Point | None:
    """The same of a further line: below all words that stand there, centred on them; None where there is no room."""
    marked = _marked(piece, onto)
    _, top, _, bottom = marked.within(onto)
    places = [
        (at, at)
        for left, _, right, end in marked.lines
        for at in _beside(own, (left, top, right, bottom), marked.boxes, 1)
        if at[1] + own[1] > end
    ]
    return _free(piece, own, marked, places)


def edge_for(piece: Piece, shape: Shape, onto: Bounds) -> tuple[Side, AnchorKey, float] | None:
    """The edge of the box `onto` that something goes to, the line it is held at, and how far (mm) from it; None where
    there is room at no edge.
    """
    own = join(shape.paths()).bounds
    if shape.goes == "inside":
        found = _inside_an_edge(piece, own, onto)
        return found and (found[0], "near" if found[0] in ("left", "top") else "far", found[1])
    side: Side = "bottom" if shape.goes == "under" else "left" if _lies(onto) else "top"
    return side, "after" if side == "bottom" else "before", _outward(piece, onto, side, shape.overlap)


def _lies(box: Bounds) -> bool:
    """Whether a box is clearly wider than tall."""
    return box[2] - box[0] > 1.3 * (box[3] - box[1])


def _inside_an_edge(piece: Piece, own: Bounds, onto: Bounds) -> tuple[Side, float] | None:
    """An end of the longer side, and for the next one the other; inside a frame that is marked there, where it would
    cross that.
    """
    marked = _marked(piece, onto)
    upright = onto[3] - onto[1] > 1.05 * (onto[2] - onto[0])
    sides: list[Side] = ["top", "bottom", "left", "right"] if upright else ["left", "right", "top", "bottom"]
    places: list[tuple[tuple[Side, float], Point]] = []
    for room in (onto, marked.within(onto)):
        for side in sides:
            axis, end = _AXES[side]
            at = [(onto[i] + onto[i + 2] - own[i] - own[i + 2]) / 2 for i in (0, 1)]
            at[axis] = room[axis + end] + (_EDGE if end == 0 else -_EDGE) - own[axis + end]
            gap = round(abs(room[axis + end] - onto[axis + end]) + _EDGE, 4)
            places.append(((side, gap), (at[0], at[1])))
    return _free(piece, own, marked, places)


def _outward(piece: Piece, onto: Bounds, side: Side, overlap: float) -> float:
    """How far (mm) beyond a side of the box `onto` something goes in its middle, to reach `overlap` into the material
    there, or through what is thinner; less than nothing, since it goes in.
    """
    axis, end = _AXES[side]
    middle = (onto[1 - axis] + onto[3 - axis]) / 2
    line = [(at, middle) if axis == 0 else (middle, at) for at in (onto[axis] - 1, onto[axis + 2] + 1)]
    met = resolve(piece).outline.shape.intersection(shapely.LineString(line))
    if met.is_empty:
        return -round(overlap, 4)
    last = (max if end else min)(shapely.get_parts(met), key=lambda one: one.bounds[axis + end])
    away, thick = abs(float(last.bounds[axis + end]) - onto[axis + end]), float(last.length)
    return -round(float(away + min(overlap, max(thick, _LEAST_OVERLAP))), 4)


def _free(piece: Piece, own: Bounds, marked: "_Marked", places: Iterable[tuple[Answer, Point]]) -> Answer | None:
    """The first place on material where nothing is in the way or crossed."""
    material = resolve(piece).outline.shape
    shapely.prepare(material)
    shapely.prepare(marked.ink)
    for what, at in places:
        box = _moved(own, at)
        clear = not any(_near(box, other) for other in marked.boxes)
        clear = clear and not any(_crosses(box, other) for other in marked.frames)
        here = shapely.box(*box)
        if clear and (material.is_empty or material.covers(here)) and not marked.ink.intersects(here):
            return what
    return None


@dataclass(frozen=True)
class _Marked:
    """What is marked on a piece or cut from it, for what is to be put on it.

    boxes    of what may be in the way
    written  of them, those of what is engraved or scored
    lines    the box of all words, if there are any: what goes under them is centred on them
    frames   the boxes of what lies round what is new: it goes inside them, or outside
    ink      what those mark, such as words along a rim: nothing lands on that
    """

    boxes: tuple[Bounds, ...]
    written: tuple[Bounds, ...]
    lines: tuple[Bounds, ...]
    frames: tuple[Bounds, ...]
    ink: shapely.Geometry

    def within(self, onto: Bounds) -> Bounds:
        """The room inside the frames on a plate."""
        for box in self.frames:
            onto = max(onto[0], box[0]), max(onto[1], box[1]), min(onto[2], box[2]), min(onto[3], box[3])
        return onto


def _marked(piece: Piece, onto: Bounds) -> _Marked:
    parts = [part for part in piece.made if part.plays("cuts", "engraves", "scores")]
    frames = [part for part in parts if _frames(part, onto)]
    boxes = [part for part in parts if part not in frames]
    inked = [part for part in frames if part.plays("engraves", "scores")]
    regions = [(part, part_region(part).shape) for part in inked]
    words = [part_bounds(part) for part in boxes if part.plays("engraves", "scores") and part.shape.says]
    return _Marked(
        tuple(part_bounds(part) for part in boxes),
        tuple(part_bounds(part) for part in boxes if part.plays("engraves", "scores")),
        (union(words),) if words else (),
        tuple(part_bounds(part) for part in frames),
        shapely.union_all([shape if part.plays("engraves") else shape.boundary for part, shape in regions]),
    )


def _frames(part: Part, onto: Bounds) -> bool:
    """Whether a part lies round what is put on: it covers much of the plate, or is a line that follows its edge."""
    box = part_bounds(part)
    wide, tall = onto[2] - onto[0], onto[3] - onto[1]
    shares = (box[2] - box[0]) / max(wide, 1e-9), (box[3] - box[1]) / max(tall, 1e-9)
    follows = part.roles == ("scores",) and bool(part.shape.follows)
    return min(shares) > _MOST or (follows and max(shares) > _MOST)


def lies_free(piece: Piece, own: Bounds, onto: Bounds, at: Point) -> bool:
    """Whether something with its box `own` about its origin lies on material at a place, with nothing in its way."""
    return bool(_free(piece, own, _marked(piece, onto), [(True, at)]))


def lies_on_material(piece: Piece, at: Point) -> bool:
    """Whether there is material at a place (mm) of a piece."""
    return bool(resolve(piece).outline.shape.covers(shapely.Point(at)))


def beside(piece: Piece, chosen: Sequence[Part]) -> Point:
    """How far (mm) copies of parts go: straight to a side where there is room beside them, the right and below before
    the left and above; where there is none, past the shorter side of what they are.
    """
    own, onto = union([whole_box(part) for part in chosen]), resolve(piece).bounds
    others = [whole_box(part) for part in piece.made if part not in chosen]
    others = [box for box in others if union([own, box]) != box]  # what they lie in is no hindrance
    across, down = round(own[2] - own[0] + _GAP, 4), round(own[3] - own[1] + _GAP, 4)
    ways = [(across, 0.0), (0.0, down), (-across, 0.0), (0.0, -down)]
    free = [way for way in ways if not any(_near(_moved(own, way), box) for box in others)]
    inside = (way for way in free if union([onto, _moved(own, way)]) == onto)
    past = [(0.0, down), (across, 0.0)] if across > down else [(across, 0.0), (0.0, down)]
    return next(inside, next((way for way in past if way in free), past[0]))


def after(own: Bounds, onto: Bounds, below: bool) -> Point:
    """The origin of something new below or to the right of all there is, where there is no material yet."""
    x, y = (onto[0] + onto[2] - own[0] - own[2]) / 2, (onto[1] + onto[3] - own[1] - own[3]) / 2
    return (x, onto[3] + _GAP - own[1]) if below else (onto[2] + _GAP - own[0], y)


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


def _largest_field(own: Bounds, room: Bounds, taken: Sequence[Bounds]) -> list[Point]:
    """The place nearest to the middle of a room in the largest free rectangle of it that has room, if there is one."""
    if not 0 < len(taken) <= _MOST_TAKEN:
        return []
    grown = [(box[0] - _GAP, box[1] - _GAP, box[2] + _GAP, box[3] + _GAP) for box in taken]
    lines = [
        sorted({room[axis] + _GAP, room[axis + 2] - _GAP, *(box[end] for box in grown for end in (axis, axis + 2))})
        for axis in (0, 1)
    ]
    fields = [
        (left, top, right, bottom)
        for left, right in combinations(lines[0], 2)
        for top, bottom in combinations(lines[1], 2)
        if left >= room[0]
        and top >= room[1]
        and right <= room[2]
        and bottom <= room[3]
        and right - left >= own[2] - own[0]
        and bottom - top >= own[3] - own[1]
        and not any(box[0] < right and left < box[2] and box[1] < bottom and top < box[3] for box in grown)
    ]
    if not fields:
        return []
    field = max(fields, key=lambda box: (box[2] - box[0]) * (box[3] - box[1]))
    at = []
    for axis in (0, 1):
        wanted = (room[axis] + room[axis + 2] - own[axis] - own[axis + 2]) / 2
        at.append(min(max(wanted, field[axis] - own[axis]), field[axis + 2] - own[axis + 2]))
    return [(at[0], at[1])]


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
