"""Edits of the ticket: which operations there are, in which order, and which parts each of them takes."""

from collections.abc import Collection
from typing import Literal

from foliant.core.design.edits.command import Command, with_design, with_piece
from foliant.core.design.edits.putting import Holder, put, with_operation
from foliant.core.design.model import ROLES, Design, Part, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.operations import STANDARD_OF, TAKER, Operation, Ticket
from foliant.core.errors import Refused
from foliant.core.frozen import Texts
from foliant.core.quantities import build
from foliant.core.works import find_work


class RevertOperation(Command):
    """Give an operation its recipe's settings again."""

    do: Literal["revert-operation"]
    operation: Identifier

    def apply(self, design: Design) -> Design:
        return with_operation(design, design.ticket.operation(self.operation).model_copy(update={"settings": ()}))

    def says(self, design: Design) -> str:
        return f"{design.ticket.operation(self.operation).title} as the recipe says"


class SwitchOperation(Command):
    """Switch an operation on or off; what is off stays unburnt, as no other takes its marks."""

    do: Literal["switch-operation"]
    operation: Identifier
    on: bool

    def apply(self, design: Design) -> Design:
        return put(design, Holder("operation", (self.operation,)), {"on": self.on})

    def says(self, design: Design) -> str:
        return f"switch {design.ticket.operation(self.operation).title} {'on' if self.on else 'off'}"


class AddOperation(Command):
    """A new operation, of the maker's own; with `mark` it takes that mark of these parts, or of the whole piece.

    Without a work it does what the operation does that took the mark so far. With `also` the parts bear the mark from
    then on, beside those that they bear.
    """

    do: Literal["add-operation"]
    work: str = ""
    piece: Identifier | None = None
    parts: tuple[Identifier, ...] = ()
    mark: str = ""
    also: bool = False

    def apply(self, design: Design) -> Design:
        if self.also:
            design = self._marked(design)
        work = self.work or design.ticket.operation(_taker(design, self.piece, self.parts, self.mark)).work
        own = f"o{design.serial + 1}"
        title = find_work(work).title
        names = {operation.title for operation in design.ticket.listed}
        numbered = (f"{title} {n}" for n in range(2, len(names) + 3))
        name = next(free for free in (title, *numbered) if free not in names)
        added = build(Operation, {"id": own, "work": work, "name": name})
        ticket = build(Ticket, {**dict(design.ticket), "operations": (*design.ticket.operations, added)})
        design = with_design(design, ticket=ticket, serial=design.serial + 1)
        if not (self.piece and self.mark):
            return design
        return _assigned(design, self.piece, self.parts, self.mark, own)

    def _marked(self, design: Design) -> Design:
        if self.mark not in ROLES or not (self.piece and self.parts):
            raise Refused(f"Name the parts and what they are to do as well: {', '.join(ROLES)}.")
        piece = design.piece(self.piece)
        for part in map(piece.part, self.parts):
            design = put(design, Holder("part", (part.id,)), {"roles": tuple({*part.roles} | {self.mark})})
        return design

    def says(self, design: Design) -> str:
        return "add an operation"


class AssignMarks(Command):
    """Have an operation take a mark of some parts, or of a whole piece; without one, the usual one takes it again."""

    do: Literal["assign-marks"]
    piece: Identifier
    parts: tuple[Identifier, ...] = ()
    mark: str
    operation: Identifier | None = None

    def apply(self, design: Design) -> Design:
        if self.operation:
            design.ticket.operation(self.operation)
        return _assigned(design, self.piece, self.parts, self.mark, self.operation or "")

    def says(self, design: Design) -> str:
        title = design.ticket.operation(self.operation).title if self.operation else "the usual operation"
        return f"give {_named(design.piece(self.piece), self.parts)} to {title}"


class RemoveOperation(Command):
    """Take an operation of the maker's own off the ticket; the usual ones take its marks again."""

    do: Literal["remove-operation"]
    operation: Identifier

    def apply(self, design: Design) -> Design:
        operation = design.ticket.operation(self.operation)
        if operation.id in STANDARD_OF:
            raise Refused(f"{operation.title} is always on the ticket; switch it off instead.")
        left = tuple(other for other in design.ticket.operations if other.id != operation.id)
        order = tuple(key for key in design.ticket.order if key != operation.id)
        ticket = design.ticket.model_copy(update={"operations": left, "order": order})
        pieces = tuple(_released(piece, {operation.id}) for piece in design.pieces)
        return with_design(design, ticket=ticket, pieces=pieces)

    def says(self, design: Design) -> str:
        return f"take {design.ticket.operation(self.operation).title} off the ticket"


class OrderOperations(Command):
    """Do one operation before another, or last."""

    do: Literal["order-operations"]
    operation: Identifier
    before: Identifier | None = None

    def apply(self, design: Design) -> Design:
        ticket = design.ticket
        moved = ticket.operation(self.operation)
        order = [operation.id for operation in ticket.listed if operation.id != moved.id]
        if self.before and self.before != moved.id:
            ticket.operation(self.before)
        at = order.index(self.before) if self.before in order else len(order)
        order.insert(at, moved.id)
        return with_design(design, ticket=ticket.model_copy(update={"order": tuple(order)}))

    def says(self, design: Design) -> str:
        return f"do {design.ticket.operation(self.operation).title} {'earlier' if self.before else 'last'}"


class UsualOperations(Command):
    """Foliant's own ticket again: its operations and order, nothing assigned, and every setting from the recipes."""

    do: Literal["usual-operations"]

    def apply(self, design: Design) -> Design:
        pieces = tuple(_released(piece, None) if piece.bench == design.bench else piece for piece in design.pieces)
        ticket = design.ticket.model_copy(update={"operations": (), "order": ()})
        return with_design(design, ticket=ticket, pieces=pieces)

    def says(self, design: Design) -> str:
        return "the usual ticket"


def _taker(design: Design, piece_id: str | None, parts: Collection[str], mark: str) -> str:
    """The operation that takes a mark of a piece, or of the first of these parts."""
    if mark not in (*TAKER, "adds", "cuts"):
        raise Refused("Say what the operation is to do: name a work, or a mark that it takes.")
    if not piece_id:
        raise Refused("Say which piece has that mark.")
    piece = design.piece(piece_id)
    return piece.taker(mark, piece.part(next(iter(parts))) if parts else None)


def _assigned(design: Design, piece_id: str, parts: Collection[str], mark: str, operation: str) -> Design:
    piece = design.piece(piece_id)
    if not parts:
        if mark not in TAKER:
            raise Refused(f"A piece has no mark “{mark[:20]}”; it has {', '.join(TAKER)}.")
        if operation and design.ticket.operation(operation).does.pictures != (mark == "pictures"):
            raise Refused(f"{design.ticket.operation(operation).title} cannot take {mark}: pictures are burnt alone.")
        return with_piece(design, piece.model_copy(update={"operations": _with(piece.operations, mark, operation)}))
    changed = {}
    for part in (piece.part(part_id) for part_id in parts):
        if mark not in part.roles or mark == "guides":
            raise Refused(f"{part.shape.label()[:40]} has no mark “{mark[:20]}” that an operation could take.")
        if operation:
            _check_takes(design, operation, part, mark)
        changed[part.id] = part.model_copy(update={"operations": _with(part.operations, mark, operation)})
    new = tuple(changed.get(part.id, part) for part in piece.parts)
    return with_piece(design, piece.model_copy(update={"parts": new}))


def _check_takes(design: Design, operation: str, part: Part, mark: str) -> None:
    """Raise `Refused` where a picture is given to what burns none, or something else to what burns only pictures."""
    taker = design.ticket.operation(operation)
    if taker.does.pictures != (mark == "engraves" and part.shape.look is not None):
        does = "burns only pictures" if taker.does.pictures else "burns no pictures"
        raise Refused(f"{taker.title} {does}, so it cannot take {part.shape.label()[:40]}.")


def _with(operations: Texts, mark: str, operation: str) -> Texts:
    rest = {key: value for key, value in operations if key != mark}
    return tuple(sorted({**rest, **({mark: operation} if operation else {})}.items()))


def _released(piece: Piece, operations: set[str] | None) -> Piece:
    """The piece with nothing of it assigned to these operations, or to any."""

    def kept(assigned: Texts) -> Texts:
        return tuple(pair for pair in assigned if operations is not None and pair[1] not in operations)

    def free(part: Part) -> Part:
        return part.model_copy(update={"operations": kept(part.operations)}) if part.operations else part

    if not (piece.operations or any(part.operations for part in piece.parts)):
        return piece
    parts = tuple(free(part) for part in piece.parts)
    return piece.model_copy(update={"operations": kept(piece.operations), "parts": parts})


def _named(piece: Piece, parts: tuple[str, ...]) -> str:
    if not parts:
        return piece.name
    return piece.part(parts[0]).shape.label()[:40] if len(parts) == 1 else f"{len(parts)} parts"
