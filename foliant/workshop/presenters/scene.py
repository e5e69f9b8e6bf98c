"""Scenes: a piece as the Shape station draws and lists it."""

import logging
from dataclasses import asdict, dataclass
from typing import Any

from fontTools.misc.transform import Transform

from foliant.core.design import Design, Part, Piece, resolve
from foliant.core.design.benches import every_bench
from foliant.core.design.binding import tied_pieces
from foliant.core.design.budget import too_much
from foliant.core.design.edits.parts import ancestry
from foliant.core.design.edits.sizing import plate_of
from foliant.core.design.holds import PIECE
from foliant.core.design.placing import (
    Form,
    copy_maps,
    held_bounds,
    part_bounds,
    part_matrix,
    placements,
    shape_bounds,
    shape_paths,
    targets,
)
from foliant.core.design.raising import raised_on
from foliant.core.design.references import Bounds, point_of
from foliant.core.design.roster import Row
from foliant.core.design.settle import AXES, line_of, part_line
from foliant.core.design.shapes import Braille, Combination, Words
from foliant.core.design.snaps import snaps
from foliant.core.design.steps import next_steps
from foliant.core.design.treatments import corners_before
from foliant.core.equipment import Material, Shop
from foliant.core.paths import Affine, Path, Region, join
from foliant.core.paths.data import path_data
from foliant.core.paths.shapes import circle
from foliant.core.remembering import remembered
from foliant.core.units import Unit, format_length
from foliant.workshop.presenters.pictures import pictures_view
from foliant.workshop.presenters.roster import as_shown, row_shown
from foliant.workshop.presenters.spec import (
    node_sentence,
    part_sentence,
    piece_sentence,
    selection_sentence,
    text,
)
from foliant.workshop.presenters.ties import Ties, shown_where, tied_bits, ties_of

logger = logging.getLogger("foliant.scene")

MOST_CORNERS_SHOWN = 200

Stuffs = tuple[tuple[str, Material], ...]
"""What is cut on each bench, by its id."""

Raised = tuple[tuple[str, Path], ...]
"""What is applied to a piece, by the bench that it is cut on."""


def scenes(design: Design, stuffs: Stuffs, before: Design | None = None, row: str = "") -> dict[str, Any]:
    """All pieces in order, and the scenes of those that differ from `before` (all, without one).

    stuffs  what is cut on each bench
    row     the row of the roster for which they are shown, or ""

    A scene names all its parts in `ids`; of those that are as they were it does not tell again.
    """
    old = _shown(before, row) if before else {}
    same_frame = before is not None and _frame(before) == _frame(design)
    names = dict(stuffs)
    found = {}
    for key, now in _shown(design, row).items():
        known = old.get(key) if same_frame else None
        if known != now:
            scene = _with_ties(piece_scene(now.piece, names[now.piece.bench].name, design.unit), now)
            scene["raised"] = [_raised_data(path, names[bench]) for bench, path in now.raised]
            found[key] = _without_the_known(scene, now, known) if known else scene
    return {"order": [piece.id for piece in design.pieces], "scenes": found}


def _frame(design: Design) -> tuple[object, ...]:
    """What all scenes depend on."""
    return (design.unit, *((there.bench, there.stock.material) for there in every_bench(design)))


@dataclass(frozen=True)
class _Shown:
    """A piece as it is shown, with what of it comes from the roster, and the row where there is one."""

    piece: Piece
    ties: Ties
    row: Row | None
    tied: bool
    raised: Raised


def _shown(design: Design, row: str) -> dict[str, _Shown]:
    """The pieces as a row has them, by their ids."""
    row = row_shown(design, row)
    tied, found = tied_pieces(design), design.roster.row(row) if row else None
    masters = {piece.id: piece for piece in design.pieces}
    there = as_shown(design, row)
    raised = {piece.id: _raised(there, piece) for piece in there.pieces}
    return {
        piece.id: _Shown(piece, ties_of(design, masters[piece.id], row), found, True, raised[piece.id])
        if piece.id in tied
        else _Shown(piece, {}, None, False, raised[piece.id])
        for piece in there.pieces
    }


def raised_view(design: Design, piece: Piece, shop: Shop) -> list[dict[str, str]]:
    """What is applied to a piece, as path data in the colours of what it is cut from."""
    materials = {there.bench: shop.material(there.stock.material) for there in every_bench(design)}
    return [_raised_data(path, materials[bench]) for bench, path in _raised(design, piece)]


def _raised(design: Design, piece: Piece) -> Raised:
    return tuple((one.bench, resolve(one).outline.path) for one in raised_on(design, piece))


def _raised_data(path: Path, stuff: Material) -> dict[str, str]:
    return {"d": _data(path), "face": stuff.face, "edge": stuff.edge}


def _with_ties(scene: dict[str, Any], shown: _Shown) -> dict[str, Any]:
    """A scene whose sentences say what comes from the roster."""
    if not shown.tied:
        return scene
    parts = [
        {**part, "spec": [*tied_bits(part["spec"], shown.ties, shown.row), *shown_where(part["id"], shown.ties)]}
        for part in scene["parts"]
    ]
    return {**scene, "tied": True, "parts": parts, "spec": tied_bits(scene["spec"], shown.ties, shown.row)}


def _without_the_known(scene: dict[str, Any], now: _Shown, known: _Shown) -> dict[str, Any]:
    piece, before = now.piece, known.piece
    if (piece.name, piece.groups, piece.bench) != (before.name, before.groups, before.bench) or (now.ties, now.row) != (
        known.ties,
        known.row,
    ):
        return scene
    same = {part.id: part for part in before.parts}
    told = {part.id for part in piece.parts if same.get(part.id) != part or targets(part)}
    return {**scene, "parts": [part for part in scene["parts"] if part["id"] in told]}


@remembered
def piece_scene(piece: Piece, stuff: str, unit: Unit) -> dict[str, Any]:
    """One piece: its outline and marks as path data, its parts, and its sentence."""
    resolved = resolve(piece)
    if piece.unread or too_much(piece):
        return bare_scene(piece, resolved.trouble)
    left, top, right, bottom = resolved.bounds
    bodies = resolved.outline.bodies
    size = size_of(resolved.bounds, unit) if len(resolved.outline.path) else ""
    if resolved.trouble:
        size = "cannot be worked out"
    return {
        "id": piece.id,
        "name": piece.name,
        "copies": piece.copies,
        "bench": piece.bench,
        "size": size or ("nothing on it yet" if not piece.parts else "no material yet"),
        "bounds": [left, top, right, bottom],
        "plated": [bool(plate_of(piece, 0)), bool(plate_of(piece, 1))],
        **_lines(piece),
        "pictures": pictures_view(resolve(piece), guides=True),
        "bodies": len(bodies),
        "loose": _loose(resolved.outline),
        "ids": [part.id for part in piece.parts],
        "combined": sorted(piece.combined),
        "trouble": resolved.trouble,
        "parts": [_part_if_any(part, piece, unit, bool(resolved.trouble)) for part in piece.parts],
        "spec": piece_sentence(piece, size, len(bodies), stuff, unit),
    }


def drawing(piece: Piece) -> dict[str, Any]:
    """A piece's path data: outline, slits, engraved areas, scored lines and guides; and its pictures."""
    return {**_lines(piece), "engraved": _data(resolve(piece).engraved.path), "strokes": _data(resolve(piece).strokes)}


def _lines(piece: Piece) -> dict[str, Any]:
    """The same without the engraved areas: a scene's own parts show those, so that words are sent once."""
    resolved = resolve(piece)
    return {
        "outline": _data(resolved.outline.path),
        "slits": _data(resolved.slits),
        "scored": _data(resolved.scored),
        "guides": _data(resolved.guides),
        "beads": _beads(piece),
        "pictures": pictures_view(resolved),
    }


def _beads(piece: Piece) -> list[str]:
    """Where the dots of Braille stand out, as path data, and where they shine; nothing where there are none."""
    found = [
        circle(part.shape.stands).moved(*at)
        for part in piece.made
        if isinstance(part.shape, Braille) and part.shape.stands
        for matrix in placements(part)
        for at in Transform(*matrix).transformPoints(part.shape.spots.tolist())
    ]
    if not found:
        return []
    return [_data(join(found)), _data(join(_glint(one) for one in found))]


def _glint(dot: Path) -> Path:
    left, top, right, _ = dot.bounds
    across = right - left
    return circle(across * 0.3).moved(left + across * 0.36, top + across * 0.34)


def snap_view(piece: Piece) -> dict[str, Any]:
    """What parts can be put on: points as [x, y, words, part, other part], edges as [part, x, y, x, y, ...]."""
    found = snaps(piece)
    return {
        "points": [[snap.x, snap.y, snap.says, snap.part, snap.other] for snap in found.points],
        "edges": [[part, *chain.round(4).ravel().tolist()] for part, chain in found.edges],
    }


def selection_view(piece: Piece, ids: tuple[str, ...], node: tuple[int, ...], unit: Unit) -> dict[str, Any]:
    """The likely next steps for what is chosen; and its sentence, where that is several parts, or a node of one."""
    parts = [piece.part(part_id) for part_id in ids]
    if node:
        return {"sentence": node_sentence(parts[0], (node[0], node[1]), unit), "steps": []}
    sentence = selection_sentence(piece, parts, unit) if len(parts) > 1 else None
    return {"sentence": sentence, "steps": [asdict(step) for step in next_steps(piece, ids)]}


@remembered
def _data(path: Path) -> str:
    return path_data(path, 3)


def _loose(outline: Region) -> str:
    """The loose bodies as path data, to be marked on the drawing."""
    rings = [list(body.exterior.coords) for body in outline.bodies[1:]]
    return "".join("M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in ring) + "Z" for ring in rings)


def bare_scenes(design: Design, says: str) -> dict[str, Any]:
    """All pieces by their names and the names of their parts, with nothing drawn, and why: nothing is worked out."""
    return {
        "order": [piece.id for piece in design.pieces],
        "scenes": {piece.id: bare_scene(piece, says) for piece in design.pieces},
    }


def bare_scene(piece: Piece, says: str) -> dict[str, Any]:
    """One piece so."""
    return {
        "id": piece.id,
        "name": piece.name,
        "copies": piece.copies,
        "bench": piece.bench,
        "size": "not drawn",
        "bounds": [0.0, 0.0, 0.0, 0.0],
        "plated": [False, False],
        "outline": "",
        "slits": "",
        "scored": "",
        "guides": "",
        "beads": [],
        "raised": [],
        "pictures": [],
        "bodies": 0,
        "loose": "",
        "trouble": says,
        "ids": [part.id for part in piece.parts],
        "combined": sorted(piece.combined),
        "parts": [_bare_part(part, piece) for part in piece.parts],
        "spec": [text(piece.name, "name"), text(f": {says}")],
    }


def _part_if_any(part: Part, piece: Piece, unit: Unit, in_trouble: bool) -> dict[str, Any]:
    """A part of a piece; of one in trouble, where it cannot be drawn, no more than its name: it can be deleted."""
    if not in_trouble:
        return _part(part, piece, unit)
    try:
        return _part(part, piece, unit)
    except Exception:
        logger.exception("A part of a piece in trouble cannot be drawn")
        return _bare_part(part, piece)


def _bare_part(part: Part, piece: Piece) -> dict[str, Any]:
    nothing = [0.0, 0.0, 0.0, 0.0]
    return {
        "id": part.id,
        "kind": part.shape.kind,
        "role": part.roles[0],
        "roles": list(part.roles),
        "label": part.shape.label(),
        "summary": "not drawn",
        "missing": "",
        "bounds": nothing,
        "own": nothing,
        "wide": "",
        "tall": "",
        "d": "",
        "open": False,
        "matrix": [1.0, 0.0, 0.0, 1.0, 0.0, 0.0],
        "copies": [],
        "groups": ancestry(piece, part.group),
        "holds": [],
        "members": list(part.shape.members),
        "faces": [],
        "bridges": [],
        "corners": [],
        "data": {"id": part.id, "roles": list(part.roles), "locked": part.locked, "hidden": part.hidden},
        "spec": [text(f"{part.shape.label()[:40]} on {piece.name} cannot be drawn: undo, or delete it.")],
    }


def _part(part: Part, piece: Piece, unit: Unit) -> dict[str, Any]:
    if not targets(part):
        alone = _part_alone(part, piece.name, unit)
        return {**alone, "groups": ancestry(piece, part.group)} if part.group else alone
    view = _part_view(part, piece, unit)
    return {**view, "groups": ancestry(piece, part.group), "holds": _holds(part, piece, unit)}


@remembered
def _part_alone(part: Part, name: str, unit: Unit) -> dict[str, Any]:
    """A part that goes by nothing else, so that its view is its own."""
    return _part_view(part, Piece(id="p0", name=name, parts=(part,)), unit)


def _part_view(part: Part, piece: Piece, unit: Unit) -> dict[str, Any]:
    left, top, right, bottom = part_bounds(part)
    maps = copy_maps(part)
    return {
        "id": part.id,
        "kind": part.shape.kind,
        "role": part.roles[0],
        "roles": list(part.roles),
        "label": part.shape.label(),
        "summary": part.shape.summary(unit),
        "missing": part.shape.missing,
        "bounds": [left, top, right, bottom],
        "own": list(shape_bounds(part.form)),
        "wide": format_length(right - left, unit, with_unit=False),
        "tall": format_length(bottom - top, unit, with_unit=False),
        "d": _shape_data(part.form),
        "open": _is_open(part.form),
        "matrix": _rounded(part_matrix(part)),
        "copies": [[number, _rounded(matrix)] for number, matrix in maps.items() if number],
        "groups": [],
        "holds": [],
        "members": list(part.shape.members),
        "faces": _faces(part),
        "bridges": _bridges(part),
        "corners": _corners(part),
        "data": part.model_dump(mode="json", exclude_defaults=True) | {"shape": part.shape.model_dump(mode="json")},
        "spec": part_sentence(part, piece, unit),
    }


def _faces(part: Part) -> list[list[Any]]:
    """The faces of a division as [path data, whether it is kept, x, y of a point inside]."""
    if not isinstance(part.shape, Combination):
        return []
    return [
        [_data(face.path), kept, *(round(at, 3) for at in face.shape.point_on_surface().coords[0])]
        for face, kept in part.shape.faces()
    ]


def _bridges(part: Part) -> list[list[Any]]:
    """The stencil bridges across words as [letter, counter, x, y, whether it is there], about the part's own origin."""
    if not isinstance(part.shape, Words):
        return []
    return [
        [one.letter, one.counter, round(one.x, 3), round(one.y, 3), one.there] for one in part.shape.setting().bridges
    ]


def _corners(part: Part) -> list[list[Any]]:
    """The corners that a treatment can take as [x, y, whether it is treated], about the shape's own origin."""
    treatment = part.treatments.cornered
    if treatment is None:
        return []
    found = corners_before(part.shape, part.treatments).at[:MOST_CORNERS_SHOWN]
    return [
        [round(float(x), 3), round(float(y), 3), not treatment.only or number in treatment.only]
        for number, (x, y) in enumerate(found)
    ]


def _holds(part: Part, piece: Piece, unit: Unit) -> list[dict[str, Any]]:
    """Each hold as the drawing shows it: the two lines, in mm, and the distance between them."""
    found = []
    middle = point_of(held_bounds(part), "middle")
    for axis in AXES:
        hold = part.hold(axis)
        theirs = line_of(piece, hold.to, axis, hold.lines.theirs, part.id) if hold else None
        if hold and theirs is not None:
            found.append(
                {
                    "axis": axis,
                    "to": hold.to,
                    "name": piece.name if hold.to == PIECE else piece.part(hold.to).shape.label(),
                    "theirs": theirs,
                    "mine": part_line(part, axis, hold.lines.mine),
                    "at": middle[1] if axis == "across" else middle[0],
                    "says": format_length(abs(hold.gap), unit, with_unit=False) if abs(hold.gap) > 5e-4 else "",
                }
            )
    return found


def _rounded(matrix: Affine) -> list[float]:
    return [round(number, 6) for number in matrix]


@remembered
def _is_open(form: Form) -> bool:
    """Whether it is lines alone, which bound nothing."""
    path = join(shape_paths(form))
    return bool(len(path)) and not path.closed.any()


@remembered
def _shape_data(form: Form) -> str:
    """A shape about its own origin, so that moving a part writes nothing again."""
    return path_data(join(shape_paths(form)), 3)


def size_of(bounds: Bounds, unit: Unit) -> str:
    """How wide and tall something is, in words."""
    left, top, right, bottom = bounds
    return f"{format_length(right - left, unit, with_unit=False)} × {format_length(bottom - top, unit)}"
