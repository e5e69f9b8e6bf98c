"""Sizing several parts as one, until what is measured is what was asked for."""

import math
from collections.abc import Callable, Collection, Sequence

from foliant.core.design.edits.command import changed, moved, with_parts
from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import own_bounds
from foliant.core.design.references import Bounds, Point, Reference, point_of
from foliant.core.design.resolve import resolve
from foliant.core.design.settle import reheld, settled, with_sources
from foliant.core.design.shapes.shape import even
from foliant.core.errors import Refused

Scaling = Callable[[Part, float, float, Point], Part]
"""A part made so many times as wide and as tall about a point of its piece."""

_NEAR = 1e-4  # mm, from what was asked for
_OFF = 0.01  # mm, from which on it was not reached
_MOST_STEPS = 12
_SIDES = {"width": 0, "height": 1}


def sized_as_one(
    piece: Piece,
    parts: Sequence[Part],
    size: dict[str, float],
    scaled: Scaling,
    measure: Callable[[Piece], Bounds],
    about: Reference = "middle",
    proportional: bool = False,
) -> Piece:
    """The piece, settled, with these parts sized so that what is measured is so wide or so tall, mm.

    What has a size of its own keeps it, such as a hole for a ring, unless nothing else is sized; so does what follows
    other parts, such as a surround, the distance at which it follows, as long as that leaves whole what was whole. So
    sizes do not all grow by one factor, and the right one is looked for. Raises `Refused` where there is none.
    """
    found = _sized(piece, parts, size, scaled, measure, about, proportional, _along)
    if len(resolve(found).outline.bodies) > len(resolve(piece).outline.bodies):
        return _sized(piece, parts, size, scaled, measure, about, proportional, _scaled_too)
    return found


def _along(part: Part, factor: float) -> Part:
    return changed(part, shape=part.shape.along(factor))


def _scaled_too(part: Part, factor: float) -> Part:
    return changed(part, shape=part.shape.scaled(factor))


def _sized(
    piece: Piece,
    parts: Sequence[Part],
    size: dict[str, float],
    scaled: Scaling,
    measure: Callable[[Piece], Bounds],
    about: Reference,
    proportional: bool,
    followed: Callable[[Part, float], Part],
) -> Piece:
    kept = [part for part in parts if part.shape.keeps_size]
    sizable = [part for part in parts if not part.shape.keeps_size]
    if not sizable:
        kept, sizable = [], list(parts)
    box = measure(piece)
    fixed, extent = point_of(box, about), [box[2] - box[0], box[3] - box[1]]
    wanted = {_SIDES[field]: value for field, value in size.items() if extent[_SIDES[field]]}
    factors = [wanted[side] / extent[side] if side in wanted else 1.0 for side in (0, 1)]
    if proportional and wanted:
        lead = max(wanted, key=lambda side: abs(math.log(factors[side])))
        wanted, factors = {lead: wanted[lead]}, [factors[lead]] * 2
    before: dict[int, tuple[float, float]] = {side: (1.0, extent[side]) for side in wanted}
    for _ in range(_MOST_STEPS):
        now = _scaled(piece, sizable, kept, factors, fixed, scaled, followed)
        box = measure(now)
        got = {side: box[side + 2] - box[side] for side in wanted}
        if all(abs(got[side] - wanted[side]) < _NEAR for side in wanted):
            break
        for side, (factor, measured) in before.items():
            step = (factors[side] - factor) / (got[side] - measured) if got[side] != measured else 0.0
            before[side] = factors[side], got[side]
            better = factors[side] + (wanted[side] - got[side]) * step
            factors[side] = better if better > 0 else factors[side] / 2
            if proportional:
                factors[1 - side] = factors[side]
    if any(abs(got[side] - wanted[side]) > _OFF for side in wanted):
        raise Refused("That size is not reached by sizing these parts: others, or holes and rims, keep theirs.")
    there = point_of(box, about)
    away = fixed[0] - there[0], fixed[1] - there[1]
    if max(map(abs, away)) < _NEAR:
        return now
    return _settled(
        now,
        [moved(now.part(part.id), *away) for part in sizable] + [_free(now.part(part.id), away) for part in kept],
        {part.id for part in sizable},
    )


def _scaled(
    piece: Piece,
    sizable: Sequence[Part],
    kept: Sequence[Part],
    factors: list[float],
    fixed: Point,
    scaled: Scaling,
    followed: Callable[[Part, float], Part],
) -> Piece:
    across, down = factors
    new = [scaled(part, across, down, fixed) for part in sizable]
    for part in kept:
        here = point_of(own_bounds(part), "middle")
        new.append(_free(part, ((here[0] - fixed[0]) * (across - 1), (here[1] - fixed[1]) * (down - 1))))
    ids = {part.id for part in (*sizable, *kept)}
    for part in piece.parts:
        if part.made_of and part.id not in ids and ids.issuperset(part.made_of):
            new.append(followed(part, even(across, down)))
    return _settled(piece, new, {part.id for part in sizable})


def _free(part: Part, away: Point) -> Part:
    """The part shifted along each axis on which nothing holds it."""
    return moved(part, 0.0 if part.across else away[0], 0.0 if part.down else away[1])


def _settled(piece: Piece, new: Sequence[Part], held_anew: Collection[str]) -> Piece:
    """The piece with parts changed: what follows them does, then holds are read anew, and then kept."""
    return settled(reheld(with_sources(with_parts(piece, new)), held_anew))
