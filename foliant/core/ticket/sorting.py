"""Sorting: each mark of a piece to the operation that takes it."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from foliant.core.design import Piece, ResolvedPiece
from foliant.core.design.operations import TAKER, Drilled
from foliant.core.paths import EMPTY, NOTHING, Path, Region, join
from foliant.core.paths.along import takers_along
from foliant.core.paths.nesting import chosen_contours, contour, depths
from foliant.core.remembering import remembered
from foliant.core.works import Marks

Assigned = tuple[tuple[int, str, str], ...]
"""(index of a part, or -1 for the whole piece; mark or role; id of the operation), where not the usual one."""

_AS_WIDE = 1e-6
"""How much wider, in mm, a hole may come out than it was drawn."""


@dataclass(frozen=True, eq=False)
class Sorted:
    """The marks of a piece by the operation that takes them.

    faces    what lies on the material and not along its outline, slits too, by the id of the operation
    outline  the outline of the piece
    edges    (c,) for every contour of the outline, the id of the operation that takes it
    depth    (c,) how many contours of the outline lie round each
    """

    faces: dict[str, Marks]
    outline: Path
    edges: tuple[str, ...]
    depth: NDArray[np.int64]

    @cached_property
    def taken(self) -> dict[str, Marks]:
        """All that each operation takes."""
        found = dict(self.faces)
        for operation in dict.fromkeys(self.edges):
            lines = chosen_contours(self.outline, np.array([edge == operation for edge in self.edges]))
            before = found.get(operation, Marks(NOTHING, EMPTY))
            found[operation] = replace(before, lines=join([before.lines, lines]))
        return found


def assigned(piece: Piece) -> Assigned:
    """What of a piece is given to other operations than the usual ones."""
    own = [(-1, mark, operation) for mark, operation in piece.operations]
    for index, part in enumerate(piece.made):
        own += [(index, role, operation) for role, operation in part.operations if role in part.roles]
    return tuple(own)


def sort_marks(piece: Piece, resolved: ResolvedPiece, drilled: Drilled) -> Sorted:
    """The marks of a piece, each with its operation; `drilled` is that of the ticket."""
    return _sorted(resolved, assigned(piece), drilled)


@remembered
def _sorted(resolved: ResolvedPiece, own: Assigned, drilled: Drilled) -> Sorted:
    usual = {**TAKER, **{mark: operation for index, mark, operation in own if index < 0}}
    given = {(index, role): operation for index, role, operation in own if index >= 0}
    faces: dict[str, Marks] = {}

    def put(operation: str, lines: Path, area: Region = NOTHING) -> None:
        before = faces.get(operation, Marks(NOTHING, EMPTY))
        now = replace(before, area=area if len(area.path) else before.area, lines=join([before.lines, lines]))
        if now:
            faces[operation] = now

    engraved = _by_taker(resolved, "engraves", usual["engraves"], given)
    for operation, parts in engraved.items():
        whole = len(engraved) == 1
        area, lines = (resolved.engraved, resolved.strokes) if whole else resolved.engraved_of(parts)
        put(operation, lines, area)
    for index, picture in resolved.pictures:
        taker = given.get((index, "engraves"), usual["pictures"])
        before = faces.get(taker, Marks(NOTHING, EMPTY))
        faces[taker] = replace(before, pictures=(*before.pictures, picture))
    scored = _by_taker(resolved, "scores", usual["scores"], given)
    for operation, parts in scored.items():
        put(operation, resolved.scored if len(scored) == 1 else resolved.scored_of(parts))
    slit = _by_taker(resolved, "cuts", usual["inner"], given) if len(resolved.slits) else {}
    for operation, parts in slit.items():
        put(operation, resolved.slits if len(slit) == 1 else resolved.slits_of(parts))
    outline = resolved.outline.path
    depth = depths(outline)
    return Sorted(faces, outline, tuple(_takers_of_edges(resolved, depth, usual, given, drilled)), depth)


def _by_taker(
    resolved: ResolvedPiece, role: str, usual: str, given: dict[tuple[int, str], str]
) -> dict[str, list[int]]:
    """The parts that play a role as areas and lines, by the operation that takes them."""
    found: dict[str, list[int]] = {}
    for index, (roles, form, _) in enumerate(resolved.parts):
        if role in roles and not (role == "engraves" and form.look):
            found.setdefault(given.get((index, role), usual), []).append(index)
    return found


def _takers_of_edges(
    resolved: ResolvedPiece,
    depth: NDArray[np.int64],
    usual: dict[str, str],
    given: dict[tuple[int, str], str],
    drilled: Drilled,
) -> list[str]:
    """For every contour of the outline its operation: that of a part it runs along, else one that takes holes so
    small, or else that of its side.
    """
    found = [usual["outer"] if level == 0 else usual["inner"] for level in depth.tolist()]
    for at in np.flatnonzero(depth % 2).tolist() if drilled else ():
        left, top, right, bottom = contour(resolved.outline.path, at).bounds
        width = max(right - left, bottom - top)
        found[at] = next((taker for widest, taker in drilled if width <= widest + _AS_WIDE), found[at])
    own = [
        (resolved.edges_of(index), operation) for (index, role), operation in given.items() if role in ("adds", "cuts")
    ]
    outline = resolved.outline.path
    if not own or not len(outline):
        return found
    return [taker or usually for taker, usually in zip(takers_along(outline, own), found, strict=True)]
