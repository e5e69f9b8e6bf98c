"""Following: what a part takes from the rest of its piece, the sources of a composite and the place of a kept hole."""

import numpy as np
import shapely

from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import frame_parts, part_paths, placements
from foliant.core.design.references import Point
from foliant.core.design.shapes import Following, Hole, Source, Words
from foliant.core.paths import Path, combine
from foliant.core.remembering import remembered


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
    return _place(adds, cuts, hole.width, hole.height, hole.margin, hole.near)


@remembered
def _place(
    adds: tuple[Path, ...], cuts: tuple[Path, ...], width: float, height: float, margin: float, near: str
) -> Point | None:
    outline = combine(adds, cuts)
    if outline.shape.is_empty:
        return None
    # A long hole is a round one drawn along a line: both its ends must have room, and so what lies between.
    radius = min(width, height) / 2
    half = (max(width - height, 0) / 2, max(height - width, 0) / 2)
    room = shapely.buffer(outline.shape, -(margin + radius - 1e-6), quad_segs=64)
    for share in (-1, -0.5, 0.5, 1) if max(half) else ():
        room = room.intersection(shapely.transform(room, lambda points, s=share: points + s * np.array(half)))
    if room.is_empty:
        return None
    left, top, right, bottom = room.bounds
    middle = outline.path.bounds
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
