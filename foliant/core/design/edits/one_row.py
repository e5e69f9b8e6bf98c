"""An edit done for one row only: what it changes is kept as values of the row's own."""

from collections.abc import Iterator
from typing import Any, Literal

from foliant.core.design.binding import with_row
from foliant.core.design.edits.command import Command
from foliant.core.design.edits.plain import PlainEdit
from foliant.core.design.edits.roster import with_own
from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.placing import measured_point
from foliant.core.design.settle import AXES, settled_design
from foliant.core.design.shapes.lettered import LETTERING
from foliant.core.design.treatments import KINDS
from foliant.core.errors import NoSuchValue, Refused
from foliant.core.frozen import Frozen
from foliant.core.quantities import quantity_of

_ALMOST = 1e-3  # mm, or degrees: nobody can cut less


class ForRow(Command):
    """Do an edit for one row only, as far as it changes values that parts have, or what is done to them: no part comes
    or goes for one row.
    """

    do: Literal["for-row"]
    row: Identifier
    edit: PlainEdit

    def apply(self, design: Design) -> Design:
        row = design.roster.row(self.row)
        before = with_row(design, self.row)
        after = settled_design(self.edit.done(before), before)
        if [piece.id for piece in before.pieces] != [piece.id for piece in after.pieces]:
            raise Refused(_NOT_ALONE)
        own = dict(row.own)
        for old, new in zip(before.pieces, after.pieces, strict=True):
            own |= dict(_differences(old, new))
        if own == dict(row.own) and before != after:
            raise Refused(_NOT_ALONE)
        done = with_own(design, row, own)
        if not _alike(with_row(done, self.row).pieces, after.pieces):
            raise Refused(_NOT_ALONE)
        return done

    def effort(self, design: Design) -> int:
        return self.edit.effort(design)

    def says(self, design: Design) -> str:
        return f"{self.edit.told(design)} for one row"


_NOT_ALONE = (
    "That cannot be done for one row only: parts come and go for all rows alike. Do it for all of them, or hide a part "
    "in this row."
)


def _differences(before: Piece, after: Piece) -> Iterator[tuple[str, str]]:
    """The values that are not what they were, by their addresses, as they would be typed."""
    if before == after:
        return
    yield from _of(f"piece {before.id}", before, after)
    if [part.id for part in before.parts] != [part.id for part in after.parts]:
        raise Refused(_NOT_ALONE)
    for old, new in zip(before.parts, after.parts, strict=True):
        if old != new:
            yield from _of_part(old, new)


def _of_part(old: Part, new: Part) -> Iterator[tuple[str, str]]:
    of = f"part {new.id}"
    if old.roles != new.roles:
        yield f"{of} roles", " and ".join(new.roles)
    for mark in ("hidden", "proportional", "flipped"):
        if getattr(old, mark) != getattr(new, mark):
            yield f"{of} {mark}", "yes" if getattr(new, mark) else "no"
    yield from _of(of, old, new, but=("x", "y"))
    yield from _of(of, old.shape, new.shape)
    done: list[tuple[Any, Any, Any]] = [(LETTERING, old.shape, new.shape), (KINDS, old.treatments, new.treatments)]
    for kinds, before, after in done:
        for key, kind in kinds.items():
            yield from _of_what_is_done(f"{key} {new.id}", getattr(before, key, None), getattr(after, key, None), kind)
    yield from _of(f"repeat {new.id}", old.repeat, new.repeat)
    for axis in AXES:
        yield from _of(f"{axis} {new.id}", old.hold(axis), new.hold(axis))
    if not new.made_of:  # what follows others lies where they put it
        was, now = measured_point(old, old.reference), measured_point(new, new.reference)
        for axis, field, at in zip(AXES, ("x", "y"), (0, 1), strict=True):
            if new.hold(axis) is None and abs(was[at] - now[at]) > _ALMOST:
                yield f"{of} {field}", f"{_plain(round(now[at], 6))} mm"


def _of_what_is_done(of: str, old: Frozen | None, new: Frozen | None, kind: type[Frozen]) -> Iterator[tuple[str, str]]:
    """The same of a treatment, or of what is done with words; first whether it is there."""
    if (old is None) != (new is None):
        yield f"{of} on", "yes" if new else "no"
    yield from _of(of, old or kind.model_construct(), new)


def _of(of: str, old: Frozen | None, new: Frozen | None, but: tuple[str, ...] = ()) -> Iterator[tuple[str, str]]:
    """What differs between two models of a kind, of the values that can be typed."""
    if old is None or type(old) is not type(new) or old == new:
        return
    for field in type(old).model_fields:
        found = getattr(new, field)
        if field in but or getattr(old, field, None) == found or found is None:
            continue
        try:
            quantity = quantity_of(type(old), field)
        except NoSuchValue:
            continue
        unit = " mm" if quantity.kind in ("length", "lengths") else ""
        each = found if isinstance(found, tuple) else (found,)
        yield f"{of} {field}", ", ".join(f"{_plain(one)}{unit}" for one in each)


def _plain(value: object) -> str:
    return str(value).removesuffix(".0") if isinstance(value, float) else str(value)


def _alike(one: object, other: object) -> bool:
    """Whether two designs, or what they are made of, are the same but for what nobody could measure."""
    match one, other:
        case float(), float():
            return abs(one - other) < _ALMOST
        case tuple(), tuple():
            return len(one) == len(other) and all(map(_alike, one, other))
        case Frozen(), Frozen() if type(one) is type(other):
            return one == other or all(map(_alike, one.__dict__.values(), other.__dict__.values()))
    return one == other
