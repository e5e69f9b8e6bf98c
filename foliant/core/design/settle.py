"""Settling: after an edit, what goes by something else is brought up to date.

Held parts are put where their holds want them, composites follow their parts, kept holes keep their margin,
and slots are as wide as the stock is thick.
"""

from collections.abc import Collection, Iterable
from graphlib import CycleError, TopologicalSorter
from typing import Any

from foliant.core.design.benches import thicknesses
from foliant.core.design.brailled import with_cells
from foliant.core.design.following import following
from foliant.core.design.holds import PIECE, Axis, Hold, Line
from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.placing import (
    area_centre,
    compose,
    frame_parts,
    held_bounds,
    middle_box,
    part_bounds,
    part_matrix,
    part_paths,
    targets,
    visual_centre,
    whole_box,
)
from foliant.core.design.raising import kept_up, raised_from
from foliant.core.design.references import Bounds, Point, union
from foliant.core.design.repeats import placement
from foliant.core.design.shapes import Composite, Following, Lap
from foliant.core.errors import Refused

AXES: tuple[Axis, Axis] = ("across", "down")


def settled_design(design: Design, before: Design | None = None) -> Design:
    """The design with everything in it brought up to date: the stock in slots, parts that follow others, holds.

    `before` tells which pieces have not changed. Raises `Refused` where parts would follow each other in a circle.
    """
    known = {piece.id: piece for piece in before.pieces} if before else {}
    stocks = thicknesses(design)
    mates = _mates(design.pieces, stocks) if len(stocks) > 1 else {}
    pieces = {piece.id: _with_stock(piece, stocks[piece.bench], mates) for piece in design.pieces}
    done = {key: piece if known.get(key) is piece else settled(piece) for key, piece in pieces.items()}
    for key, piece in _with_laps_met(done).items():
        done[key] = settled(piece)
    now = design.model_copy(update={"pieces": tuple(done.values())})
    for piece in design.pieces:
        if piece.raises and (source := raised_from(now, piece)):
            done[piece.id] = kept_up(done[piece.id], source)
    if all(done[piece.id] is piece for piece in design.pieces):
        return design
    return design.model_copy(update={"pieces": tuple(done.values())})


def settled(piece: Piece) -> Piece:
    """The piece with every hold kept and every composite following its parts.

    A hold to a part that is gone is let go, and the part stays where it is. Raises `Refused` where parts would
    hold each other in a circle.
    """
    piece = with_cells(piece)
    if not any(targets(part) for part in piece.parts):
        return piece
    piece = _without_the_lost(piece)
    parts = {part.id: part for part in piece.parts}
    order = _in_order(parts)
    _pass_on(parts)
    for _ in range(len(parts) + 1):
        before = dict(parts)
        for key in order:
            now = piece.model_copy(update={"parts": tuple(parts.values())})
            parts[key] = _kept(following(parts[key], now), now)
            if _pass_on(parts):
                now = piece.model_copy(update={"parts": tuple(parts.values())})
                parts[key] = following(parts[key], now)
        if parts == before:
            break
    return piece.model_copy(update={"parts": tuple(parts.values())})


def with_sources(piece: Piece) -> Piece:
    """A piece from a file, its composites with the parts they follow; nothing else is changed."""
    if not any(part.made_of for part in piece.parts):
        return piece
    parts = {part.id: part for part in piece.parts}
    for key in _in_order(parts):
        if parts[key].made_of:
            parts[key] = following(parts[key], piece.model_copy(update={"parts": tuple(parts.values())}))
    return piece.model_copy(update={"parts": tuple(parts.values())})


def _pass_on(parts: dict[str, Part]) -> bool:
    """A composite lies where its parts lie: where it was moved itself, they are moved instead. Whether any was."""
    found = False
    while True:
        away = next((part for part in parts.values() if isinstance(part.shape, Composite) and _is_placed(part)), None)
        if away is None:
            return found
        found = True
        matrix = part_matrix(away)
        parts[away.id] = away.model_copy(update={"x": 0.0, "y": 0.0, "rotation": 0.0, "flipped": False})
        moved = {key for key in away.made_of if key in parts}
        for key in moved:
            x, y, rotation, flipped = placement(compose(part_matrix(parts[key]), matrix))
            parts[key] = parts[key].model_copy(update={"x": x, "y": y, "rotation": rotation, "flipped": flipped})
        held = reheld(Piece(id="p0", name="-", parts=tuple(parts.values())), moved)
        parts.update({part.id: part for part in held.parts})


def _is_placed(part: Part) -> bool:
    return bool(part.x or part.y or part.rotation % 360 or part.flipped)


def _mates(pieces: Iterable[Piece], stocks: dict[str, float]) -> dict[str, float]:
    """How thick that is which goes into each cross-lap slot, by the slot it is lapped with, mm."""
    return {part.id: stocks[one.bench] for one in pieces for part in one.parts if isinstance(part.shape, Lap)}


def _with_stock(piece: Piece, thickness: float, mates: dict[str, float]) -> Piece:
    """The piece with its slots as wide as the stock asks, or what it is lapped with where that is of other stock."""

    def fitted(part: Part) -> Part:
        mate = part.shape.mate if isinstance(part.shape, Lap) else ""
        shape = part.shape.with_stock(mates.get(mate, thickness))
        return part if shape is part.shape else part.model_copy(update={"shape": shape})

    parts = tuple(fitted(part) for part in piece.parts)
    if all(new is old for new, old in zip(parts, piece.parts, strict=True)):
        return piece
    return piece.model_copy(update={"parts": parts})


def _with_laps_met(pieces: dict[str, Piece]) -> dict[str, Piece]:
    """The pieces whose lower cross-lap slots are not as deep as what the upper ones leave, with the right depth."""
    uppers = {
        part.id: (piece, part)
        for piece in pieces.values()
        for part in piece.parts
        if isinstance(part.shape, Lap) and part.shape.opens == "above"
    }
    changed = {}
    for key, piece in pieces.items():
        parts = list(piece.parts)
        for at, part in enumerate(parts):
            if not isinstance(part.shape, Lap) or part.shape.opens == "above" or part.shape.mate not in uppers:
                continue
            depth = round(max(0.1, left_by(*uppers[part.shape.mate])), 6)
            if depth != part.shape.depth:
                parts[at] = part.model_copy(update={"shape": part.shape.model_copy(update={"depth": depth})})
        if parts != list(piece.parts):
            changed[key] = piece.model_copy(update={"parts": tuple(parts)})
    return changed


def left_by(piece: Piece, upper: Part) -> float:
    """How much of a piece's height an upper cross-lap slot leaves below it, mm."""
    frame = frame_parts(piece, frozenset((upper.id,)))
    if not frame or not isinstance(upper.shape, Lap):
        return 0.0
    box = union([part_bounds(part) for part in frame])
    return box[3] - box[1] - upper.shape.depth


def reheld(piece: Piece, ids: Collection[str]) -> Piece:
    """The piece with the holds of these parts kept at the distances they have now: they were moved by hand."""

    def read(part: Part) -> Part:
        if part.id not in ids:
            return part
        holds: dict[str, Any] = {}
        for axis in AXES:
            hold = part.hold(axis)
            theirs = line_of(piece, hold.to, axis, hold.lines.theirs, part.id) if hold else None
            if hold and theirs is not None:
                holds[axis] = hold.at_gap(part_line(part, axis, hold.lines.mine), theirs)
        return part.model_copy(update=holds) if holds else part

    return piece.model_copy(update={"parts": tuple(read(part) for part in piece.parts)})


def part_line(part: Part, axis: Axis, line: Line) -> float:
    """Where one of a part's own lines lies, mm."""
    centre = visual_centre(part) if line == "visual" else (0.0, 0.0)
    return _line(middle_box(part) if line == "middle" else held_bounds(part), centre, axis, line)


def line_of(piece: Piece, to: str, axis: Axis, line: Line, *without: str) -> float | None:
    """Where a line of a part, or of the piece's frame, lies; None where the piece has no frame."""
    if to != PIECE:
        part = piece.part(to)
        centre = area_centre(part_paths(part)) if line == "visual" else (0.0, 0.0)
        inked = line == "middle" and part.shape.baseline is not None
        return _line(part_bounds(part) if inked else whole_box(part), centre, axis, line)
    frame = frame_parts(piece, frozenset(without))
    if not frame:
        return None
    paths = tuple(path for part in frame for path in part_paths(part))
    centre = area_centre(paths) if line == "visual" else (0.0, 0.0)
    return _line(union([part_bounds(part) for part in frame]), centre, axis, line)


def _line(bounds: Bounds, centre: Point, axis: Axis, line: Line) -> float:
    at = 0 if axis == "across" else 1
    near, far = bounds[at], bounds[at + 2]
    half = (near + far) / 2
    return {"near": near, "far": far, "middle": half, "capitals": half, "visual": centre[at]}[line]


def _kept(part: Part, piece: Piece) -> Part:
    changes: dict[str, Any] = {}
    for axis, field in zip(AXES, ("x", "y"), strict=True):
        hold = part.hold(axis)
        theirs = line_of(piece, hold.to, axis, hold.lines.theirs, part.id) if hold else None
        if hold and theirs is not None:
            away = hold.target(theirs) - part_line(part, axis, hold.lines.mine)
            if abs(away) > 1e-6:
                changes[field] = round(getattr(part, field) + away, 6)
    about = getattr(part.repeat, "about", "")
    if about and part.repeat:
        middle = [line_of(piece, about, axis, "middle", part.id) for axis in AXES]
        if None not in middle:
            x, y = (round(value or 0.0, 6) for value in middle)
            if (part.repeat.cx, part.repeat.cy) != (x, y):  # type: ignore[union-attr]
                changes["repeat"] = part.repeat.model_copy(update={"cx": x, "cy": y})
    return part.model_copy(update=changes) if changes else part


def _without_the_lost(piece: Piece) -> Piece:
    """The piece without links to parts that are gone, and without composites of which nothing is left."""
    while True:
        there = {part.id for part in piece.parts}
        parts = tuple(_linked(part, there) for part in piece.parts)
        left = tuple(part for part in parts if not (isinstance(part.shape, Composite) and not part.shape.of))
        piece = piece.model_copy(update={"parts": left})
        if len(left) == len(there):
            return piece


def _linked(part: Part, there: Collection[str]) -> Part:
    def known(hold: Hold | None) -> Hold | None:
        return hold if hold and (hold.to == PIECE or hold.to in there) else None

    changes: dict[str, Any] = {}
    for axis in AXES:
        if part.hold(axis) and (part.shape.goes_along or known(part.hold(axis)) is None):
            changes[axis] = None
    about = getattr(part.repeat, "about", "")
    if part.repeat and about and about != PIECE and about not in there:
        changes["repeat"] = part.repeat.model_copy(update={"about": ""})
    if isinstance(part.shape, Following) and any(key not in there for key in part.made_of):
        changes["shape"] = part.shape.following({key: key for key in part.made_of if key in there})
        if part.shape.goes_along and not changes["shape"].follows:
            left, top, right, bottom = part_bounds(part)  # they stay about where they were
            changes.update(x=round((left + right) / 2, 6), y=round((top + bottom) / 2, 6))
    return part.model_copy(update=changes) if changes else part


def _in_order(parts: dict[str, Part]) -> list[str]:
    """The held parts, each after what it is held to."""
    order = [key for axis in AXES for key in _in_order_along(axis, parts) if targets(parts[key])]
    # What is placed by the frame comes last: the frame must stand first.
    return sorted(dict.fromkeys(order), key=lambda key: PIECE in targets(parts[key]))


def _in_order_along(axis: Axis, parts: dict[str, Part]) -> list[str]:
    graph = {}
    for key, part in parts.items():
        hold, about = part.hold(axis), getattr(part.repeat, "about", "")
        graph[key] = [to for to in dict.fromkeys((hold.to if hold else "", about, *part.made_of)) if to in parts]
    try:
        return list(TopologicalSorter(graph).static_order())
    except CycleError as error:
        circle: list[str] = error.args[1][::-1]  # each is held to the one that follows
        names = " to ".join(parts[key].shape.label()[:30] for key in circle[:6])
        more = " and on" if len(circle) > 6 else ""
        raise Refused(
            f"These parts would hold each other in a circle: {names}{more}. Let go of one of these holds first."
        ) from None
