"""Sizing several parts as one, until what is measured is what was asked for."""

import math
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass

from foliant.core.design.edits.command import changed, moved, with_parts
from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import own_bounds
from foliant.core.design.references import Bounds, Point, Reference, point_of
from foliant.core.design.resolve import resolve
from foliant.core.design.settle import reheld, settled, with_sources
from foliant.core.design.shapes import Shape
from foliant.core.design.shapes.shape import even
from foliant.core.errors import Refused

_NEAR = 1e-4  # mm, from what was asked for
_OFF = 0.01  # mm, from which on it was not reached
_MOST_STEPS = 12
_SIDES = {"width": 0, "height": 1}


@dataclass(frozen=True)
class AsOne:
    """Parts of a piece that are sized as one.

    scaled   makes a part so many times as wide and as tall about a point of the piece
    measure  the box that is to have the size asked for
    about    the point of that box which stays where it is
    """

    piece: Piece
    parts: Sequence[Part]
    scaled: Callable[[Part, float, float, Point], Part]
    measure: Callable[[Piece], Bounds]
    about: Reference = "middle"

    def sized(self, size: Mapping[str, float], proportional: bool = False) -> Piece:
        """The piece, settled, so wide or so tall, mm.

        What has a size of its own keeps it, such as a hole for a ring, unless nothing else is sized; so does what
        follows other parts, such as a surround, the distance at which it follows, as long as that leaves whole what was
        whole. So sizes do not all grow by one factor, and the right one is looked for. Raises `Refused` where there is
        none.
        """
        found = self._found(size, proportional, lambda shape, factor: shape.along(factor))
        if len(resolve(found).outline.bodies) > len(resolve(self.piece).outline.bodies):
            return self._found(size, proportional, lambda shape, factor: shape.scaled(factor))
        return found

    def _found(self, size: Mapping[str, float], proportional: bool, followed: Callable[[Shape, float], Shape]) -> Piece:
        """Each side's factor is corrected by how much what is measured changed with it."""
        box = self.measure(self.piece)
        fixed, extent = point_of(box, self.about), [box[2] - box[0], box[3] - box[1]]
        wanted = {_SIDES[field]: value for field, value in size.items() if extent[_SIDES[field]]}
        factors = [wanted[side] / extent[side] if side in wanted else 1.0 for side in (0, 1)]
        if proportional and wanted:
            lead = max(wanted, key=lambda side: abs(math.log(factors[side])))
            wanted, factors = {lead: wanted[lead]}, [factors[lead]] * 2
        before = {side: (1.0, extent[side]) for side in wanted}
        for _ in range(_MOST_STEPS):
            now = self._scaled(factors, fixed, followed)
            box = self.measure(now)
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
        return self._put_back(now, fixed, point_of(box, self.about))

    @property
    def _sizable(self) -> Sequence[Part]:
        return [part for part in self.parts if not part.shape.keeps_size] or self.parts

    @property
    def _kept(self) -> list[Part]:
        sizable = self._sizable
        return [part for part in self.parts if part not in sizable]

    def _scaled(self, factors: Sequence[float], fixed: Point, followed: Callable[[Shape, float], Shape]) -> Piece:
        across, down = factors
        new = [self.scaled(part, across, down, fixed) for part in self._sizable]
        for part in self._kept:
            here = point_of(own_bounds(part), "middle")
            new.append(_where_free(part, (here[0] - fixed[0]) * (across - 1), (here[1] - fixed[1]) * (down - 1)))
        ids = {part.id for part in self.parts}
        for part in self.piece.parts:
            if part.made_of and part.id not in ids and ids.issuperset(part.made_of):
                new.append(changed(part, shape=followed(part.shape, even(across, down))))
        return _settled(self.piece, new, {part.id for part in self._sizable})

    def _put_back(self, piece: Piece, there: Point, here: Point) -> Piece:
        dx, dy = there[0] - here[0], there[1] - here[1]
        if max(abs(dx), abs(dy)) < _NEAR:
            return piece
        new = [moved(piece.part(part.id), dx, dy) for part in self._sizable]
        new += [_where_free(piece.part(part.id), dx, dy) for part in self._kept]
        return _settled(piece, new, {part.id for part in self._sizable})


def _where_free(part: Part, dx: float, dy: float) -> Part:
    """The part shifted along each axis on which nothing holds it."""
    return moved(part, 0.0 if part.across else dx, 0.0 if part.down else dy)


def _settled(piece: Piece, new: Sequence[Part], held_anew: Collection[str]) -> Piece:
    """The piece with parts changed: what follows them does, then holds are read anew, and then kept."""
    return settled(reheld(with_sources(with_parts(piece, new)), held_anew))
