"""Whether each piece holds together and says what it should."""

from collections.abc import Iterator

import numpy as np
import shapely

from foliant.core.checks.finding import Finding, say
from foliant.core.design import Piece, part_paths, resolve
from foliant.core.design.shapes import Words
from foliant.core.layout import Instance
from foliant.core.paths import LINE, Path, join
from foliant.core.ticket import Job


def pieces_have_material(job: Job) -> Iterator[Finding]:
    """A piece that nothing adds material to cannot be cut out."""
    for piece in job.design.pieces:
        if not len(resolve(piece).outline.path):
            what = "has nothing on it yet" if not piece.parts else "has no material left"
            yield Finding(
                "pieces_have_material",
                "stop" if piece.parts else "look",
                f"{piece.name} {what}",
                f"{piece.name} {what}: put on a shape that adds material, or delete the piece.",
                "shape",
                piece.id,
                _place(_first(job, piece)),
            )


def bodies_hold_together(job: Job) -> Iterator[Finding]:
    """A piece of more than one body falls apart; what is loose is shown."""
    for piece in job.design.pieces:
        bodies = resolve(piece).outline.bodies
        if len(bodies) < 2:
            continue
        loose = bodies[1:]
        inside = [body for body in loose if any(_is_inside(body, other) for other in bodies if other is not body)]
        count = f"{len(loose)} loose bodies" if len(loose) > 1 else "a loose body"
        left, top, right, bottom = loose[0].bounds
        size = f"{say(right - left, job.design.unit)} × {say(bottom - top, job.design.unit)}"
        fate = "falls out of the opening round it" if inside else "is not joined to the rest"
        cure = (
            "use a stencil font, or engrave instead of cutting through"
            if inside
            else "move the parts until they overlap, or put on a shape that joins them"
        )
        here = _outlines(loose)
        instance = _first(job, piece)
        yield Finding(
            "bodies_hold_together",
            "stop",
            f"{piece.name} is not one piece",
            f"{piece.name} comes off the sheet with {count}; the largest, {size}, {fate}: {cure}.",
            "shape",
            piece.id,
            _shifted(shapely.union_all(loose).bounds, instance),
            join(i.on_sheet(here) for i in job.layout.instances if i.piece.id == piece.id),
        )


def words_can_be_set(job: Job) -> Iterator[Finding]:
    """Characters the font has no glyph for leave gaps."""
    for piece in job.design.pieces:
        for part in piece.made:
            if isinstance(part.shape, Words) and (missing := part.shape.setting().missing):
                listed = ", ".join(f"“{character}”" for character in missing[:8])
                yield Finding(
                    "words_can_be_set",
                    "stop",
                    f"A font lacks {listed}",
                    f"The font of “{part.shape.text[:40]}” on {piece.name} has no {listed}, so a gap is left; "
                    "choose another font or other words.",
                    "shape",
                    piece.id,
                    _place(_first(job, piece)),
                )


def lines_are_closed(job: Job) -> Iterator[Finding]:
    """An open line adds nothing, cuts nothing and fills nothing: it can only be scored."""
    for piece in job.design.pieces:
        for part in piece.made:
            closed = join(part_paths(part)).closed
            if part.role in ("adds", "cuts", "engraves") and len(closed) and not closed.any():
                does = {"adds": "adds no material", "cuts": "cuts nothing away", "engraves": "fills no area"}[part.role]
                name = part.shape.label()[:40]
                yield Finding(
                    "lines_are_closed",
                    "look",
                    f"{name} {does}",
                    f"{name} on {piece.name} is an open line, so it {does}: score it, or close it.",
                    "shape",
                    piece.id,
                    _place(_first(job, piece)),
                )


def nothing_is_set_aside(job: Job) -> Iterator[Finding]:
    """Hidden parts are not made; the maker should know."""
    for piece in job.design.pieces:
        hidden = [part.shape.label()[:30] for part in piece.parts if part.hidden]
        if hidden:
            names = ", ".join(hidden[:4]) + (" and more" if len(hidden) > 4 else "")
            count = "A part is" if len(hidden) == 1 else f"{len(hidden)} parts are"
            yield Finding(
                "nothing_is_set_aside",
                "look",
                f"{count} hidden on {piece.name}",
                f"{names} on {piece.name}: what is hidden is not made. Show it, or delete it.",
                "shape",
                piece.id,
                _place(_first(job, piece)),
            )


def _first(job: Job, piece: Piece) -> Instance | None:
    return next((instance for instance in job.layout.instances if instance.piece.id == piece.id), None)


def _place(instance: Instance | None) -> tuple[float, float, float, float] | None:
    return instance.bounds if instance else None


def _shifted(
    bounds: tuple[float, float, float, float], instance: Instance | None
) -> tuple[float, float, float, float] | None:
    if instance is None:
        return None
    dx, dy = instance.shift
    return (bounds[0] + dx, bounds[1] + dy, bounds[2] + dx, bounds[3] + dy)


def _is_inside(body: shapely.Polygon, other: shapely.Polygon) -> bool:
    """Whether a body lies in a hole of another."""
    return any(shapely.Polygon(ring).contains(body.representative_point()) for ring in other.interiors)


def _outlines(bodies: tuple[shapely.Polygon, ...]) -> Path:
    paths = []
    for body in bodies:
        points = np.asarray(body.exterior.coords)
        segments = np.stack([points[:-1], points[:-1], points[1:], points[1:]], axis=1)
        kinds = np.full(len(segments), LINE, np.uint8)
        paths.append(Path(kinds, segments, np.zeros(1, np.int64), np.ones(1, bool)))
    return join(paths)
