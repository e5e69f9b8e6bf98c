"""Whether a piece has material, and holds together."""

import math
from collections.abc import Iterator

import numpy as np
import shapely

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix, outlines, say
from foliant.core.design import resolve
from foliant.core.design.edits.lettering import SetLetters
from foliant.core.design.edits.mending import DropBody, JoinBodies
from foliant.core.design.shapes import Words
from foliant.core.paths.flatten import flatten

BRIDGE = 3.0
_BRIDGED = 1.0
"""How wide stencil bridges are at least, mm."""

_SLIT = 0.03  # mm, half the width that a slit is taken to have
_SLIVER = 0.5  # mm²


def pieces_have_material(bench: Bench) -> Iterator[Finding]:
    """A piece that nothing adds material to cannot be cut out."""
    piece = bench.piece
    if not len(resolve(piece).outline.path):
        what = "has nothing on it yet" if not piece.parts else "has no material left"
        yield Finding(
            "pieces_have_material",
            "stop" if piece.parts else "look",
            f"{piece.name} {what}",
            f"{piece.name} {what}: put on a shape that adds material, or delete the piece.",
            "shape",
            piece.id,
        )


def bodies_hold_together(bench: Bench) -> Iterator[Finding]:
    """A piece of more than one body falls apart; what is loose is shown."""
    piece = bench.piece
    bodies = resolve(piece).outline.bodies
    if len(bodies) < 2 or piece.raises or bench.carried:  # letters that are applied, or of a foil, lie apart
        return
    loose = bodies[1:]
    inside = [body for body in loose if any(_is_inside(body, other) for other in bodies if other is not body)]
    count = f"{len(loose)} loose bodies" if len(loose) > 1 else "a loose body"
    left, top, right, bottom = loose[0].bounds
    size = f"{say(right - left, bench.unit)} × {say(bottom - top, bench.unit)}"
    fate = "falls out of the opening round it" if inside else "is not joined to the rest"
    cure = (
        "join it, bridge the letters, use a stencil font, or engrave instead of cutting through"
        if inside
        else "join it, or move the parts until they overlap"
    )
    fixes = [*_stencil_fixes(bench)] if inside else []
    width = say(BRIDGE, bench.unit)
    where = "here" if len(loose) == 1 else "each"
    at = loose[0].representative_point()
    fixes.append(Fix(f"Join with a {width} bridge {where}", JoinBodies(do="join-bodies", piece=piece.id, width=BRIDGE)))
    if len(loose) == 1:
        fixes.append(Fix("Drop it", DropBody(do="drop-body", piece=piece.id, x=at.x, y=at.y)))
    else:
        fixes.append(Fix("Drop the largest", DropBody(do="drop-body", piece=piece.id, x=at.x, y=at.y)))
    yield Finding(
        "bodies_hold_together",
        "stop",
        f"{piece.name} is not one piece",
        f"{piece.name} comes off the sheet with {count}; the largest, {size}, {fate}: {cure}.",
        "shape",
        piece.id,
        shapely.union_all(loose).bounds,
        outlines(loose),
        tuple(fixes),
    )


def slits_part_nothing(bench: Bench) -> Iterator[Finding]:
    """A slit from edge to edge, or round a place, cuts the piece in two."""
    resolved = resolve(bench.piece)
    flat = flatten(resolved.slits)
    if not len(flat.points) or not resolved.outline.bodies:
        return
    slits = shapely.union_all(shapely.linestrings(np.stack([flat.points, flat.ends], axis=1)))
    # As wide as this, lines that end on an edge reach over it.
    left = shapely.get_parts(resolved.outline.shape.difference(slits.buffer(_SLIT)))
    pieces = sorted((body for body in left if body.area > _SLIVER), key=lambda body: -body.area)
    if len(pieces) <= len(resolved.outline.bodies):
        return
    loose = pieces[len(resolved.outline.bodies) :]
    yield Finding(
        "slits_part_nothing",
        "look",
        f"A slit parts {bench.piece.name}",
        f"A slit runs from edge to edge of {bench.piece.name}, or all the way round, so it falls into {len(pieces)}: "
        "end it before the edge, or make pieces of them.",
        "shape",
        bench.piece.id,
        shapely.union_all(loose).bounds,
        outlines(loose),
    )


def _stencil_fixes(bench: Bench) -> Iterator[Fix]:
    """Stencil bridges for the words that are cut through and have none."""
    words = [part for part in bench.piece.made if part.plays("cuts") and isinstance(part.shape, Words)]
    bare = tuple(part.id for part in words if isinstance(part.shape, Words) and part.shape.stencil is None)
    if bare:
        # Thinner bridges would only be found thin.
        width = max(_BRIDGED, math.ceil(bench.limit * 10) / 10)
        edit = SetLetters(do="set-letters", piece=bench.piece.id, parts=bare, what="stencil", to="on", width=width)
        yield Fix("Hold the counters by stencil bridges", edit)


def _is_inside(body: shapely.Polygon, other: shapely.Polygon) -> bool:
    """Whether a body lies in a hole of another."""
    return any(shapely.Polygon(ring).contains(body.representative_point()) for ring in other.interiors)
