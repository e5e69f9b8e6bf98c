"""Whether edges are laid over each other: what is made twice burns twice."""

from collections.abc import Iterator
from itertools import groupby

import shapely

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix, chains
from foliant.core.checks.marks import mark_of
from foliant.core.design import part_paths, resolve
from foliant.core.design.edits.parts import RemoveParts
from foliant.core.design.placing import part_bounds, placements
from foliant.core.paths import join

_NEAR = 0.02
_LENGTH = 1.0


def nothing_lies_twice(bench: Bench) -> Iterator[Finding]:
    """Copies in one place, and scored lines along a cut edge or along each other."""
    yield from _copies(bench)
    yield from _scores(bench)


def _copies(bench: Bench) -> Iterator[Finding]:
    piece = bench.piece
    placed = sorted(
        ((part.roles, repr(placements(part)), repr(part.form), part) for part in piece.made), key=lambda row: row[:3]
    )
    for _, rows in groupby(placed, key=lambda row: row[:3]):
        alike = [row[3] for row in rows]
        if len(alike) < 2:
            continue
        name, spare = alike[0].shape.label()[:40], tuple(part.id for part in alike[1:])
        count = "twice" if len(alike) == 2 else f"{len(alike)} times"
        yield Finding(
            "nothing_lies_twice",
            "look",
            f"{name} lies {count} in one place",
            f"{name} lies {count} in the same place on {piece.name}, with the same role: keep one.",
            "shape",
            piece.id,
            part_bounds(alike[0]),
            join(part_paths(alike[0])),
            (Fix("Keep one", RemoveParts(do="remove-parts", piece=piece.id, parts=spare)),),
        )


def _scores(bench: Bench) -> Iterator[Finding]:
    piece = bench.piece
    outline = resolve(piece).outline.shape
    scored = [part for part in piece.made if part.plays("scores")]
    lines = [mark_of(part, "scores") for part in scored]
    done = [outline.boundary] if not outline.is_empty else []
    for part, line in zip(scored, lines, strict=True):
        near = shapely.union_all(shapely.buffer(done, _NEAR, cap_style="flat")) if done else shapely.Polygon()
        shared = line.intersection(near)
        done.append(line)
        if shared.length < _LENGTH:
            continue
        name = part.shape.label()[:40]
        wholly = shared.length > 0.99 * line.length
        fixes = (Fix("Drop it", RemoveParts(do="remove-parts", piece=piece.id, parts=(part.id,))),) if wholly else ()
        yield Finding(
            "nothing_lies_twice",
            "look",
            f"{name} is scored along another edge",
            f"{name} is scored along a line of {piece.name} that is cut or scored already, so it is burnt twice there: "
            "move it off the edge, or drop it.",
            "shape",
            piece.id,
            shared.bounds,
            chains(shared),
            fixes,
        )
