"""Jigs: the next instance into the next slot, load after load; and a piece or a drawing as a jig."""

import math

import numpy as np
import shapely
from fontTools.misc.transform import Transform

from foliant.core.bringing import Answers, groups_of, taken_in
from foliant.core.design import Design, Piece, ResolvedPiece, Sheet, apply, read_edit, resolve
from foliant.core.design.model import MOST_SHEETS
from foliant.core.design.turning import turned
from foliant.core.drawings import Drawing
from foliant.core.equipment import Jig
from foliant.core.equipment.jigs import MOST_CORNERS, MOST_SLOTS, POINTS, DrawnSlot, Slot
from foliant.core.errors import Refused
from foliant.core.layout.laid import Laid
from foliant.core.making import Identity, Instance
from foliant.core.paths import combine
from foliant.core.paths.nesting import contour
from foliant.core.quantities import build

_FINE = 0.005
_ALIKE = 0.03
"""So much of its area may differ between a slot and the first one turned."""


def in_slots(jig: Jig, sheet: Sheet, wanted: tuple[Instance, ...]) -> dict[Identity, tuple[int, Laid] | None]:
    """For each instance the load and the place where it lies, its middle on that of its slot; None for those beyond the
    last load. Slots that are off stay empty.
    """
    free = [slot for slot in jig.slots if slot.number not in sheet.off]
    there = ((load, slot) for load in range(1, MOST_SHEETS + 1) for slot in free)
    laid: dict[Identity, tuple[int, Laid] | None] = dict.fromkeys(instance.identity for instance in wanted)
    for instance, (load, slot) in zip(wanted, there, strict=False):
        laid[instance.identity] = (load, _in(jig, slot, instance))
    return laid


def _in(jig: Jig, slot: Slot, instance: Instance) -> Laid:
    """An instance in a slot, the point of its box on that of the slot's, before the slot is turned."""
    (mine_x, mine_y), (slot_x, slot_y) = (
        _point(jig, box) for box in (turned(instance.resolved, jig.turn).bounds, slot.box)
    )
    at = Transform().rotate(math.radians(slot.turn)).transformPoint((slot_x - mine_x, slot_y - mine_y))
    return Laid(instance, round(slot.x + at[0], 6), round(slot.y + at[1], 6), (jig.turn + slot.turn) % 360)


def _point(jig: Jig, box: tuple[float, float, float, float]) -> tuple[float, float]:
    """The point of a box that things lie by."""
    _, across, down = POINTS[jig.point]
    left, top, right, bottom = box
    return left + (right - left) * across, top + (bottom - top) * down


def slot_of(jig: Jig, laid: Laid) -> Slot:
    """The slot that something lies in, which is the nearest."""
    left, top, right, bottom = laid.bounds
    return min(jig.slots, key=lambda slot: math.dist((slot.x, slot.y), ((left + right) / 2, (top + bottom) / 2)))


def jig_of(resolved: ResolvedPiece, name: str) -> Jig:
    """A piece as a jig: what is open in it, or is drawn on it as closed guides, are the slots, row by row. Slots that
    are the first one turned lie so turned. Raises `Refused` where there are none, or too many.
    """
    drawn = [*_openings(resolved), *_closed(resolved)]
    if not drawn:
        raise Refused(f"{name} has no slots: cut them out of it, or draw them on it as guides.")
    if len(drawn) > MOST_SLOTS:
        raise Refused(f"A jig has at most {MOST_SLOTS} slots, and {name} has {len(drawn):,} openings.")
    left, top, right, bottom = shapely.total_bounds([*drawn, shapely.box(*resolved.bounds)])
    there = [shapely.transform(one, lambda points: points - (left, top)) for one in drawn]
    height = max(one.bounds[3] - one.bounds[1] for one in there)
    there.sort(key=lambda one: (round(one.centroid.y / height), one.centroid.x))
    width, high = float(right - left), float(bottom - top)
    slots = tuple(_slot(one, there[0]) for one in there)
    marks = {"mark_x": 0.0, "mark_y": high, "other_x": width, "other_y": high}
    return build(Jig, {"key": "jig", "name": name, "width": width, "height": high, "drawn": slots, **marks})


def jig_of_piece(piece: Piece) -> Jig:
    """The same, of a piece as it was drawn."""
    return jig_of(resolve(piece), piece.name)


def jig_of_drawing(drawing: Drawing, name: str) -> Jig:
    """A drawing as a jig: what its outermost outline holds are the slots, or those outlines themselves where there are
    several that hold none. Raises `Refused`.
    """
    outer = [group for group in groups_of(drawing, bare=True) if group.kind == "outer"]
    try:
        return jig_of_piece(_piece_of(drawing, name, {}))
    except Refused:
        if sum(group.count for group in outer) < 2:
            raise
    return jig_of_piece(_piece_of(drawing, name, {group.key: "guides" for group in outer}))


def _piece_of(drawing: Drawing, name: str, roles: dict[str, str]) -> Piece:
    design = apply(Design(), read_edit({"do": "add-piece", "name": name}))
    edit = taken_in(drawing, Answers(roles=roles, name=name), design.pieces[0].id, bare=True)
    return apply(design, edit).pieces[0]


def _openings(resolved: ResolvedPiece) -> list[shapely.Polygon]:
    bodies = shapely.get_parts(resolved.outline.shape)
    return [shapely.Polygon(ring) for body in bodies for ring in body.interiors]


def _closed(resolved: ResolvedPiece) -> list[shapely.Polygon]:
    guides = resolved.guides
    closed = [contour(guides, number) for number in np.flatnonzero(guides.closed).tolist()]
    return list(shapely.get_parts(combine(closed).shape)) if closed else []


def _slot(shape: shapely.Polygon, first: shapely.Polygon) -> DrawnSlot:
    """A slot as the first one turned, where it is that; else as it lies."""
    turn = _turn_from(first, shape)
    upright = shapely.affinity.rotate(shape, -turn, origin="centroid")
    left, top, right, bottom = upright.bounds
    middle = shapely.affinity.rotate(shapely.Point((left + right) / 2, (top + bottom) / 2), turn, origin=shape.centroid)
    steps = (shapely.get_coordinates(shapely.simplify(upright, _FINE * 4**step).exterior)[:-1] for step in range(9))
    corners = next(found for found in steps if len(found) <= MOST_CORNERS)
    outline = tuple(map(tuple, (corners - ((left + right) / 2, (top + bottom) / 2)).round(4).tolist()))
    return DrawnSlot(x=round(middle.x, 4), y=round(middle.y, 4), turn=turn, outline=outline)


def _turn_from(first: shapely.Polygon, other: shapely.Polygon) -> float:
    """How far one shape is turned from another, clockwise; 0 where it is another shape."""
    one, two = (shapely.affinity.translate(each, -each.centroid.x, -each.centroid.y) for each in (first, other))
    by = _lean(two) - _lean(one)
    turns = sorted({round((by + quarter) % 360, 3) for quarter in (0, 90, 180, 270)} | {0.0})
    apart = {turn: shapely.affinity.rotate(one, turn, origin=(0, 0)).symmetric_difference(two).area for turn in turns}
    best = min(turns, key=lambda turn: (round(apart[turn], 2), turn))
    return best if apart[best] < _ALIKE * one.area else 0.0


def _lean(shape: shapely.Polygon) -> float:
    """How far the longer side of the narrowest box round a shape leans, degrees."""
    corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(shape))
    sides = np.diff(corners[:3], axis=0)
    longer = sides[int(np.argmax(np.hypot(*sides.T)))]
    return float(np.degrees(np.arctan2(longer[1], longer[0])))
