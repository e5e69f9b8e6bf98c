"""Whether marks lie on the material."""

from collections.abc import Iterator

import shapely

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix, chains, outlines, say
from foliant.core.design import Part, Role, part_paths, resolve
from foliant.core.design.edits.adding import room_for_words
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.parts import RemoveParts
from foliant.core.design.placing import part_region
from foliant.core.paths import Region, join
from foliant.core.paths.flatten import flatten
from foliant.core.remembering import remembered

MARKED: dict[Role, str] = {"engraves": "engraved", "scores": "scored"}
"""The roles that mark the face, and what was done then."""

_DONE: dict[Role, str] = {**MARKED, "cuts": "cut through"}

_AREA = 0.05
_LENGTH = 0.2
_LEAST_LEFT = 0.25
"""How much of their width words keep at least, where they are made to fit."""


def marks_lie_on_the_piece(bench: Bench) -> Iterator[Finding]:
    """What is engraved, scored or slit beyond the outline marks the bed, or the piece beside it."""
    piece = bench.piece
    outline = resolve(piece).outline.shape
    if outline.is_empty:
        return
    room = _room(resolve(piece).outline)
    for part in piece.made:
        role = next((role for role in _DONE if part.plays(role)), None)
        if role is None or (role == "cuts" and any(path.closed.any() for path in part_paths(part))):
            continue
        mark = mark_of(part, role)
        if mark.is_empty or room.covers(mark):
            continue
        beyond = mark.difference(room)
        if beyond.area < _AREA and (mark.area > 0 or beyond.length < _LENGTH):
            continue
        name, does = part.shape.label()[:40], _DONE[role]
        wholly = beyond.area > 0.99 * mark.area if mark.area else beyond.length > 0.99 * mark.length
        how = "lies beside" if wholly else "reaches beyond"
        fixes = [Fix("Drop it", RemoveParts(do="remove-parts", piece=piece.id, parts=(part.id,)))] if wholly else []
        left, _, right, _ = mark.bounds
        width = None if wholly else room_for_words(piece, part)
        if width and width > _LEAST_LEFT * (right - left):
            within = Change(do="change", of=f"part {part.id}", values={"at_most": width})
            fixes.append(Fix(f"Keep it within {say(width, bench.unit)}", within))
        yield Finding(
            "marks_lie_on_the_piece",
            "look",
            f"{name} {how} the outline",
            f"{name} is {does} and {how} the outline of {piece.name}, so the bed would be marked there: "
            "move it, make it smaller, or add material.",
            "shape",
            piece.id,
            beyond.bounds,
            outlines(shapely.get_parts(beyond)) if mark.area else chains(beyond),
            tuple(fixes),
        )


@remembered
def _room(outline: Region) -> shapely.Geometry:
    """Where marks may lie: on the piece, and a hair beyond."""
    room = shapely.buffer(outline.shape, 0.02)
    shapely.prepare(room)
    return room


def mark_of(part: Part, role: Role) -> shapely.Geometry:
    """What a part engraves, as polygons, or scores, slits or engraves as strokes, as lines."""
    paths = part_paths(part)
    path = join(paths)
    if role == "engraves" and path.closed.any():
        return part_region(part).shape
    flat = flatten(path)
    if not len(flat.points):
        return shapely.GeometryCollection()
    return shapely.multilinestrings([shapely.linestrings([a, b]) for a, b in zip(flat.points, flat.ends, strict=True)])
