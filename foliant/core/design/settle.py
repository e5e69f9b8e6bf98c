"""Settling: after an edit, every held part is put where its hold wants it."""

from collections.abc import Collection
from typing import Any

from foliant.core.design.holds import PIECE, Axis, Hold, Line
from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import (
    area_centre,
    frame_parts,
    held_bounds,
    part_bounds,
    part_paths,
    targets,
    visual_centre,
    whole_box,
)
from foliant.core.design.references import Bounds, Point, union
from foliant.core.errors import Refused

AXES: tuple[Axis, Axis] = ("across", "down")


def settled(piece: Piece) -> Piece:
    """The piece with every hold kept; raises `Refused` where parts would hold each other in a circle.

    A hold to a part that is gone is let go, and the part stays where it is.
    """
    if not any(targets(part) for part in piece.parts):
        return piece
    parts = {part.id: _without_the_lost(part, {part.id for part in piece.parts}) for part in piece.parts}
    order = _in_order(parts)
    for _ in range(len(parts) + 1):
        before = dict(parts)
        for key in order:
            now = piece.model_copy(update={"parts": tuple(parts.values())})
            parts[key] = _kept(parts[key], now)
        if parts == before:
            break
    return piece.model_copy(update={"parts": tuple(parts.values())})


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
    return _line(held_bounds(part), centre, axis, line)


def line_of(piece: Piece, to: str, axis: Axis, line: Line, *without: str) -> float | None:
    """Where a line of a part, or of the piece's frame, lies; None where the piece has no frame."""
    if to != PIECE:
        part = piece.part(to)
        centre = area_centre(part_paths(part)) if line == "visual" else (0.0, 0.0)
        return _line(whole_box(part), centre, axis, line)
    frame = frame_parts(piece, frozenset(without))
    if not frame:
        return None
    paths = tuple(path for part in frame for path in part_paths(part))
    centre = area_centre(paths) if line == "visual" else (0.0, 0.0)
    return _line(union([part_bounds(part) for part in frame]), centre, axis, line)


def _line(bounds: Bounds, centre: Point, axis: Axis, line: Line) -> float:
    at = 0 if axis == "across" else 1
    near, far = bounds[at], bounds[at + 2]
    return {"near": near, "far": far, "middle": (near + far) / 2, "visual": centre[at]}[line]


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


def _without_the_lost(part: Part, there: Collection[str]) -> Part:
    def known(hold: Hold | None) -> Hold | None:
        return hold if hold and (hold.to == PIECE or hold.to in there) else None

    changes: dict[str, Any] = {"across": known(part.across), "down": known(part.down)}
    about = getattr(part.repeat, "about", "")
    if part.repeat and about and about != PIECE and about not in there:
        changes["repeat"] = part.repeat.model_copy(update={"about": ""})
    return part.model_copy(update=changes)


def _in_order(parts: dict[str, Part]) -> list[str]:
    """The held parts, each after what it is held to."""
    order: list[str] = []
    for axis in AXES:
        for key in parts:
            _follow(key, axis, parts, [], order)
    # What is placed by the frame comes last: the frame must stand first.
    unique = list(dict.fromkeys(order))
    return sorted(unique, key=lambda key: PIECE in targets(parts[key]))


def _follow(key: str, axis: Axis, parts: dict[str, Part], way: list[str], order: list[str]) -> None:
    if key in way:
        names = " to ".join(parts[held].shape.label() for held in [*way[way.index(key) :], key])
        raise Refused(f"These parts would hold each other in a circle: {names}. Let go of one of these holds first.")
    part = parts[key]
    hold, about = part.hold(axis), getattr(part.repeat, "about", "")
    for to in {hold.to if hold else "", about} - {"", PIECE}:
        _follow(to, axis, parts, [*way, key], order)
    if targets(part):
        order.append(key)
