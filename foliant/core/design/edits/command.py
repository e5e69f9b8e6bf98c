"""What all edits share: finding things in a design, and giving a new design with some of them changed."""

from collections.abc import Callable, Iterable
from typing import Annotated, Any, Self

from pydantic import Field

from foliant.core.design.benches import on_bench, tidied
from foliant.core.design.holds import PIECE
from foliant.core.design.model import BenchIfAny, Design, Part, Piece, Place, Sheet
from foliant.core.design.names import Identifier
from foliant.core.design.raising import without_the_lost
from foliant.core.design.settle import reheld
from foliant.core.design.shapes import Braille, Following, Lap
from foliant.core.design.shapes.shape import Shape
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.quantities import build

Values = dict[str, Any]
Parts = Annotated[tuple[Identifier, ...], Field(min_length=1, max_length=2000)]
Target = Annotated[str, Field(pattern=r"^[a-z][a-z0-9]{0,15}$")]


class Command(Frozen):
    """An edit: `done` gives the new design or raises `Refused`; `told` names it for undo.

    Each kind says in `apply` and `says` what that is of a design that stands on the bench which the edit is of.

    bench  the bench whose stock, sheet or ticket it is of; an edit of a piece is of the bench on which that is cut
    """

    bench: BenchIfAny = ""

    def done(self, design: Design) -> Design:
        """The design after it, on its first bench."""
        changed = self.apply(on_bench(design, self.where(design)))
        return tidied(without_the_lost(changed, design))

    def told(self, design: Design) -> str:
        """What it does to the design, in a few words."""
        return self.says(on_bench(design, self.where(design)))

    def where(self, design: Design) -> str:
        """The bench that it is of."""
        piece = getattr(self, "piece", None)
        return next((one.bench for one in design.pieces if one.id == piece), self.bench)

    def apply(self, design: Design) -> Design:
        raise NotImplementedError

    def says(self, design: Design) -> str:
        raise NotImplementedError

    def effort(self, design: Design) -> int:
        """How much more there is to work out than what its pieces weigh, in segments as they are; mostly nothing."""
        return 0

    def with_shop(self, shop: Shop, design: Design) -> Self:
        """The edit with what it takes from the maker's shop written into it; most take nothing."""
        return self


class PartsCommand(Command):
    """An edit of some parts of one piece."""

    piece: Identifier
    parts: Parts

    def chosen(self, design: Design) -> list[Part]:
        """The parts, in the order they were named; raises `Refused` for one that is gone."""
        piece = design.piece(self.piece)
        return [piece.part(part_id) for part_id in dict.fromkeys(self.parts)]

    def free(self, design: Design) -> list[Part]:
        """The parts, if none of them is locked."""
        return [unlocked(part) for part in self.chosen(design)]

    def bodily(self, design: Design) -> list[Part]:
        """The parts that an edit of place takes hold of: free, and none that only follows another of them."""
        parts = self.free(design)
        own = {part.id for part in parts}
        piece = design.piece(self.piece)
        return [part for part in parts if not any(one.id in own for one in sources(piece, part.id))]

    def named(self, design: Design) -> str:
        return (
            design.piece(self.piece).part(self.parts[0]).shape.label()[:40]
            if len(self.parts) == 1
            else (f"{len(self.parts)} parts")
        )

    def replaced(self, design: Design, changed: Iterable[Part], moved: bool = False) -> Design:
        """The design with these parts in place of those of the same ids; `moved` keeps holds at their new distances."""
        piece = with_parts(design.piece(self.piece), changed)
        if moved:
            piece = reheld(piece, set(self.parts))
        return with_piece(design, piece)


def fields(model: Frozen) -> Values:
    """A model's values by name, not turned into plain data."""
    return {name: getattr(model, name) for name in type(model).model_fields}


def with_design(design: Design, **changes: Any) -> Design:
    """The design with other values, checked."""
    return build(Design, {**fields(design), **changes})


def with_places_if(design: Design, stays: Callable[[Place], bool]) -> Design:
    """The design with only those of its instances where they were put, on any bench, of which `stays` says so."""

    def kept(sheet: Sheet) -> Sheet:
        return sheet.model_copy(update={"places": tuple(filter(stays, sheet.places))})

    benches = tuple(one.model_copy(update={"sheet": kept(one.sheet)}) for one in design.benches)
    return with_design(design, sheet=kept(design.sheet), benches=benches)


def with_piece(design: Design, piece: Piece, **changes: Any) -> Design:
    """The design with this piece in place of the one of the same id."""
    return with_design(design, pieces=tuple(piece if old.id == piece.id else old for old in design.pieces), **changes)


def with_parts(piece: Piece, changed: Iterable[Part]) -> Piece:
    """The piece with these parts in place of those of the same ids."""
    new = {part.id: part for part in changed}
    return piece.model_copy(update={"parts": tuple(new.get(part.id, part) for part in piece.parts)})


def changed(part: Part, **values: Any) -> Part:
    """The part with other values, checked."""
    return build(Part, {**fields(part), **values})


def moved(part: Part, dx: float, dy: float) -> Part:
    """The part shifted by (dx, dy) mm."""
    return changed(part, x=round(part.x + dx, 6), y=round(part.y + dy, 6))


def unlocked(part: Part) -> Part:
    """The part, if it may be changed; raises `Refused`."""
    if part.locked:
        raise Refused(f"{part.shape.label()[:40]} is locked; unlock it to change it.")
    return part


def holder(design: Design, part_id: str) -> Piece:
    """The piece that a part is on; raises `Refused`."""
    for piece in design.pieces:
        if any(part.id == part_id for part in piece.parts):
            return piece
    raise Refused("That part is no longer on the piece.")


def last_of(design: Design, kind: type[Shape], role: str = "") -> Values:
    """What the next of a kind takes over from the one that was put on last, in that role if one is named."""
    parts = [part for piece in design.pieces for part in piece.parts if type(part.shape) is kind]
    parts = [part for part in parts if not role or role in part.roles]
    last = max(parts, key=lambda part: (len(part.id), part.id), default=None)
    return {name: getattr(last.shape, name) for name in kind.remembers} if last else {}


def check_target(piece: Piece, to: str) -> None:
    """Raises `Refused` unless `to` is "piece" or a part of the piece."""
    if to != PIECE:
        piece.part(to)


def sources(piece: Piece, part_id: str) -> list[Part]:
    """The parts that a composite follows, at first or at second hand; none for other parts."""
    found: dict[str, Part] = {}
    parts = {part.id: part for part in piece.parts}

    def follow(key: str) -> None:
        for one in parts[key].made_of:
            if one in parts and one not in found:
                found[one] = parts[one]
                follow(one)

    follow(part_id)
    return list(found.values())


def members(piece: Piece, part_id: str) -> list[Part]:
    """The parts that a combination is made of, at first or at second hand: they come and go with it."""
    found: list[Part] = []
    for key in piece.part(part_id).shape.members:
        found += [piece.part(key), *members(piece, key)]
    return found


def with_members(piece: Piece, parts: Iterable[Part]) -> list[Part]:
    """Parts with all that their combinations are made of, each once, in the order of the piece."""
    wanted = {one.id for part in parts for one in (part, *members(piece, part.id))}
    return [part for part in piece.parts if part.id in wanted]


def shifted(part: Part, dx: float, dy: float) -> Part:
    """A copy shifted with the parts it was copied with: what follows parts goes where they go by itself."""
    return part if part.made_of else moved(part, dx, dy)


def renumbered(parts: Iterable[Part], serial: int, keep_holds: bool = True) -> tuple[list[Part], dict[str, str]]:
    """Copies of parts with new ids from `serial` + 1 on, and the new id of each old one.

    Holds and repeats among the copies go to the copies; others stay, or are let go where `keep_holds` is false.
    """
    found = list(parts)
    ids = {part.id: f"a{serial + i}" for i, part in enumerate(found, 1)}

    def follow(part: Part) -> Part:
        changes: Values = {"id": ids[part.id]}
        for axis in ("across", "down"):
            hold = part.hold(axis)
            if hold and hold.to in ids:
                changes[axis] = hold.model_copy(update={"to": ids[hold.to]})
            elif hold and hold.to != PIECE and not keep_holds:
                changes[axis] = None
        about = getattr(part.repeat, "about", "")
        if part.repeat and about in ids:
            changes["repeat"] = part.repeat.model_copy(update={"about": ids[about]})
        elif part.repeat and about not in ("", PIECE) and not keep_holds:
            changes["repeat"] = part.repeat.model_copy(update={"about": ""})
        shape = part.shape
        if isinstance(shape, Following) and shape.follows:
            changes["shape"] = shape.following(
                {key: ids.get(key, key) for key in shape.follows if keep_holds or key in ids}
            )
        elif isinstance(shape, Braille) and shape.of and (shape.of in ids or not keep_holds):
            changes["shape"] = shape.model_copy(update={"of": ids.get(shape.of, "")})
        elif isinstance(shape, Lap) and shape.mate in ids:
            changes["shape"] = shape.model_copy(update={"mate": ids[shape.mate]})
        return part.model_copy(update=changes)

    return [follow(part) for part in found], ids
