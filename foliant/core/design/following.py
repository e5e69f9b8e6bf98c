"""Following: what a part takes from the rest of its piece, the sources of a composite and the place of a kept hole."""

import numpy as np
import shapely

from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import frame_parts, part_paths, placements
from foliant.core.design.references import Bounds, Point
from foliant.core.design.shapes import Following, Hole, Source, Words
from foliant.core.paths import Path, combine, join
from foliant.core.paths.flatten import flatten
from foliant.core.remembering import remembered

_SLACKS = (1e-6, 5e-3)
"""A lug as wide as the hole and its walls is a place for it, though curves are told in short lines: mm."""

_CLEAR = 0.5
"""How far, in mm, a kept hole stays from what is engraved or scored."""

_QUARTER = 16


def following(part: Part, piece: Piece) -> Part:
    """The part brought up to date with the other parts of its piece."""
    if isinstance(part.shape, Following):
        return _with_sources(_carried(part), piece)
    if isinstance(part.shape, Hole) and part.shape.keeps_margin:
        at = kept_place(part.shape, piece, part.id)
        if at and max(abs(at[0] - part.x), abs(at[1] - part.y)) > 1e-4:
            return part.model_copy(update={"x": at[0], "y": at[1]})
    return part


def _carried(part: Part) -> Part:
    """Words that go along other parts, and were moved or turned by hand: they lie where those put them again."""
    shape = part.shape
    if not isinstance(shape, Words) or not shape.follows or not (part.x or part.y or part.rotation or part.flipped):
        return part
    carried = shape.carried(part.x, part.y, part.rotation)
    return part.model_copy(update={"shape": carried, "x": 0.0, "y": 0.0, "rotation": 0.0, "flipped": False})


def _with_sources(part: Part, piece: Piece) -> Part:
    assert isinstance(part.shape, Following)
    sources = _sources(part.shape, piece)
    if sources == part.shape.sources:
        return part
    return part.model_copy(update={"shape": part.shape.model_copy(update={"sources": sources})})


def _sources(shape: Following, piece: Piece) -> tuple[Source, ...]:
    parts = {part.id: part for part in piece.parts}
    # What is set aside is no longer part of a composite, but words go on along it.
    found = (parts[key] for key in shape.follows if key in parts and (shape.goes_along or not parts[key].hidden))
    return tuple(Source(part.id, part.shape.label(), part.form, placements(part)) for part in found)


def kept_place(hole: Hole, piece: Piece, hole_id: str) -> Point | None:
    """Where a kept hole's middle goes: nearest to its side with the margin to every edge; None without such a place.

    The edges are those of what adds material, and of what else is cut away but for other kept holes.
    """
    adds = tuple(path for part in frame_parts(piece, frozenset((hole_id,))) for path in part_paths(part))
    others = (part for part in piece.made if part.plays("cuts") and part.id != hole_id)
    cuts = tuple(path for part in others if not part.shape.keeps_margin for path in part_paths(part))
    filled = tuple(path for part in piece.made if part.plays("engraves") for path in part_paths(part))
    lines = tuple(path for part in piece.made if part.plays("scores") for path in part_paths(part))
    return _place(adds, cuts, (filled, lines), hole.width, hole.height, hole.margin, hole.near)


def kept_place_of(part: Part, piece: Piece) -> Point | None:
    """The same of a part; None where it is no hole that is kept."""
    return kept_place(part.shape, piece, part.id) if isinstance(part.shape, Hole) else None


def widest_margin(hole: Hole, piece: Piece, hole_id: str) -> float:
    """The widest margin, in steps of a tenth of a millimetre, with which a kept hole finds a place; 0 where none is."""
    low, high = 0, round(hole.margin * 10)
    while low < high:
        middle = (low + high + 1) // 2
        tried = hole.model_copy(update={"margin": middle / 10})
        low, high = (middle, high) if kept_place(tried, piece, hole_id) else (low, middle - 1)
    return low / 10


@remembered
def _place(
    adds: tuple[Path, ...],
    cuts: tuple[Path, ...],
    marks: tuple[tuple[Path, ...], tuple[Path, ...]],
    width: float,
    height: float,
    margin: float,
    near: str,
) -> Point | None:
    outline = combine(adds, cuts)
    if outline.shape.is_empty:
        return None
    radius = min(width, height) / 2
    filled, lines = marks
    drawn = shapely.union(combine(filled).shape, _edges(join([*filled, *lines])))
    marked = shapely.buffer(drawn, radius + _CLEAR, quad_segs=_QUARTER)
    rooms = [shapely.buffer(outline.shape, -(margin + radius - slack), quad_segs=64) for slack in _SLACKS]
    # Clear of what is engraved and scored where that can be, else without regard to it.
    for room in (*(room.difference(marked) for room in rooms), *rooms):
        if at := _place_in(room, outline.path.bounds, width, height, near):
            return at
    return None


def _edges(path: Path) -> shapely.MultiLineString:
    if not len(path):
        return shapely.MultiLineString()
    flat = flatten(path, 0.05)
    return shapely.multilinestrings(np.stack([flat.points, flat.ends], axis=1))


def _place_in(room: shapely.Geometry, middle: Bounds, width: float, height: float, near: str) -> Point | None:
    """The same where the middles of round holes may lie; `middle` is the box of the piece."""
    # A long hole is a round one drawn along a line: both its ends must have room, and so what lies between.
    half = (max(width - height, 0) / 2, max(height - width, 0) / 2)
    for share in (-1, -0.5, 0.5, 1) if max(half) else ():
        room = room.intersection(shapely.transform(room, lambda points, s=share: points + s * np.array(half)))
    if room.is_empty:
        return None
    left, top, right, bottom = room.bounds
    x, y = (middle[0] + middle[2]) / 2, (middle[1] + middle[3]) / 2
    wanted = {
        "top": ((x, top), (left, top, right, top + 1e-3)),
        "bottom": ((x, bottom), (left, bottom - 1e-3, right, bottom)),
        "left": ((left, y), (left, top, left + 1e-3, bottom)),
        "right": ((right, y), (right - 1e-3, top, right, bottom)),
    }
    at, strip = wanted[near]
    shore = room.intersection(shapely.box(*strip))
    nearest = shapely.get_coordinates(shapely.shortest_line(shore, shapely.Point(at)))[0]
    return round(float(nearest[0]), 4), round(float(nearest[1]), 4)
