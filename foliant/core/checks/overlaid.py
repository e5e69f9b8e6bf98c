"""Whether marks keep off each other: what is marked over a mark cannot be read."""

from collections.abc import Iterator

import shapely

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, outlines
from foliant.core.checks.marks import MARKED, mark_of
from foliant.core.design import Part, Role
from foliant.core.design.placing import part_bounds
from foliant.core.design.shapes import Words
from foliant.core.paths import Path, join

_AREA = 0.05
"""mm² of letters that may lie under another mark."""

_LENGTH = 0.5
"""mm of a line that may run through letters."""


def nothing_is_marked_twice(bench: Bench) -> Iterator[Finding]:
    """Words that lie on other words, on a picture, on what else is engraved, or on a line."""
    marked = [(part, role) for part in bench.piece.made for role in MARKED if part.plays(role)]
    seen: set[frozenset[str]] = set()
    for part, role in marked:
        if not isinstance(part.shape, Words):
            continue
        ink = mark_of(part, role)
        for other, how in marked:
            pair = frozenset((part.id, other.id))
            if other.id == part.id or pair in seen or not _meet(part, other):
                continue
            shared = ink.intersection(_ground(other, how))
            if shared.area > _AREA or (not shared.area and shared.length > _LENGTH):
                seen.add(pair)
                yield _overlaid(bench, part, other, shared)


def _meet(one: Part, other: Part) -> bool:
    a, b = part_bounds(one), part_bounds(other)
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def _ground(part: Part, role: Role) -> shapely.Geometry:
    """What a part marks, or all that a picture covers."""
    return mark_of(part, "engraves") if part.shape.look else mark_of(part, role)


def _overlaid(bench: Bench, part: Part, other: Part, shared: shapely.Geometry) -> Finding:
    label, what = part.shape.label()[:30], other.shape.label()[:30]
    areas = [one for one in shapely.get_parts(shared) if one.area]
    spot: Path = outlines(areas) if areas else join([])
    return Finding(
        "nothing_is_marked_twice",
        "look",
        f"“{label}” lies on {what}",
        f"“{label}” and {what} are marked over each other on {bench.piece.name}: move one, make it smaller, or drop "
        "it.",
        "shape",
        bench.piece.id,
        shared.bounds,
        spot,
    )
