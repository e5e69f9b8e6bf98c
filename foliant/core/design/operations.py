"""The ticket of a design: the machine, and what is to be done on the sheet, one operation after the other.

Foliant's own operations are always there, by well-known ids; the document keeps only what the maker changed in them,
those the maker added, and the order if the maker gave one.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import model_validator

from foliant.core.design.names import Identifier, NameIfAny
from foliant.core.errors import Refused
from foliant.core.frozen import Figures, Frozen, whole
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, quantity_of, sized
from foliant.core.works import Work, find_work

Mark = Literal["engraves", "pictures", "scores", "inner", "outer"]
"""What of a piece an operation takes: areas to engrave, pictures, lines to score, and the two sides of its outline."""

BEGINS = (("anywhere", "wherever it is nearest"), ("smooth", "away from corners"))

KERF = (("off", "on the drawn line"), ("on", "beside the line, by half their width"))
"""Whether cuts make up for their own width."""

FACES = (("up", "face up"), ("down", "face down, mirrored"))

WEEDING = (
    ("none", "no weeding lines"),
    ("frame", "a weeding frame round all"),
    ("lines", "a weeding frame and lines between"),
)
"""What is cut of the waste of a foil, so that it comes off easily."""

Weeding = Literal["none", "frame", "lines"]
MOST_OPERATIONS = 100
_LONGEST_NOTE = 400


@dataclass(frozen=True)
class Standard:
    """An operation that every ticket has, and the marks that it takes where nothing else is said."""

    id: str
    title: str
    work: str
    takes: Mark


STANDARD = (
    Standard("engrave", "Engraving", "engrave", "engraves"),
    Standard("picture", "Pictures", "picture", "pictures"),
    Standard("score", "Score lines", "score", "scores"),
    Standard("inner", "Holes and inner edges", "cut", "inner"),
    Standard("outer", "Outer edges", "cut", "outer"),
)
"""Engraving first, inner cuts before outer ones, so that nothing shifts before it is finished."""

STANDARD_OF: dict[str, Standard] = {standard.id: standard for standard in STANDARD}
TAKER: dict[str, str] = {standard.takes: standard.id for standard in STANDARD}
"""The operation that takes a mark where nothing else is said."""


Drilled = tuple[tuple[float, str], ...]
"""(how wide a hole may be that it takes, mm; the id of an operation that drills)"""


class Operation(Frozen):
    """One operation: its work, a name of the maker's, whether it is on, and the maker's values over the recipe's.

    holes  of one that drills: it takes every opening that is no wider than so many mm and given to no other
    """

    id: Identifier
    work: Annotated[str, Quantity("words", "The work", check_text=lambda key: find_work(key).key)]
    name: NameIfAny = ""
    on: bool = True
    holes: Annotated[float, sized("The widest hole it takes", 0, 50)] = 0.0
    settings: Figures = ()

    @model_validator(mode="after")
    def _values_are_of_its_work(self) -> "Operation":
        standard = STANDARD_OF.get(self.id)
        if standard and standard.work != self.work:
            raise Refused(f"The operation “{self.id}” always does the work “{standard.work}”.")
        if self.holes and self.work != "drill":
            raise Refused("Only an operation that drills takes holes by how wide they are.")
        for field, value in self.settings:
            quantity = quantity_of(self.does.settings, field)
            quantity.check(value)
            if quantity.kind == "count" and value != int(float(value)):
                raise Refused(f"{quantity.label} must be a whole number.")
        return self

    @property
    def does(self) -> Work:
        """Its work."""
        return find_work(self.work)

    @property
    def own(self) -> dict[str, float | str]:
        """The maker's values over the recipe's."""
        return {name: whole(value) for name, value in self.settings}

    @property
    def title(self) -> str:
        """What the ticket calls it."""
        standard = STANDARD_OF.get(self.id)
        return self.name or (standard.title if standard else self.does.title)


def _check_note(text: str) -> str:
    plain = " ".join(text.split())
    if len(plain) > _LONGEST_NOTE:
        raise Refused(f"A note holds at most {_LONGEST_NOTE} characters and this has {len(plain):,}.")
    return plain


class Ticket(Frozen):
    """The machine that is to do the work, and what the maker changed and added.

    machine     the key of a machine of the shop
    begins      where on a closed contour the tool may begin
    kerf        whether cuts run beside the edges by half of their width, outside outer edges and inside inner ones
    face        whether the sheet lies face up, or down, so that all is done mirrored
    weeding     what is cut of the waste, by the operation that cuts the most outer edges, and how far outside, `weed`
    before      what the maker does by hand before it runs, and `after` it
    operations  those of Foliant's that were changed, and all that were added
    order       ids in the order that the maker gave; what is not named stands where Foliant puts it
    """

    machine: Annotated[str, Quantity("choice", "The machine", open=True)] = "bench-laser"
    begins: Annotated[Literal["anywhere", "smooth"], Quantity("choice", "Where cuts begin", choices=BEGINS)] = (
        "anywhere"
    )
    kerf: Annotated[Literal["off", "on"], Quantity("choice", "Where cuts run", choices=KERF)] = "off"
    face: Annotated[Literal["up", "down"], Quantity("choice", "How the sheet lies", choices=FACES)] = "up"
    weeding: Annotated[Weeding, Quantity("choice", "What is cut of the waste", choices=WEEDING)] = "none"
    weed: Annotated[float, sized("How far outside the weeding frame is", 0.5, 200)] = 4.0
    before: Annotated[str, Quantity("words", "What is done by hand before", check_text=_check_note)] = ""
    after: Annotated[str, Quantity("words", "What is done by hand after", check_text=_check_note)] = ""
    operations: tuple[Operation, ...] = ()
    order: tuple[Identifier, ...] = ()

    @model_validator(mode="after")
    def _each_is_there_once(self) -> "Ticket":
        ids = [operation.id for operation in self.operations]
        if len(set(ids)) < len(ids):
            raise Refused("Two operations of the ticket have the same id.")
        if len(ids) > MOST_OPERATIONS:
            raise Refused(f"A ticket holds at most {MOST_OPERATIONS} operations of your own.")
        return self

    def sentence(self, about: str) -> list[Bit]:
        """The ticket as a phrase; `about` says what lies on which machine."""
        lies: list[Bit] = [Value("machine"), about, ", ", Value("face")]
        weeding: list[Bit] = [", ", Value("weed"), " outside"] if self.weeding != "none" else []
        return [*lies, "; cuts run ", Value("kerf"), " and begin ", Value("begins"), "; ", Value("weeding"), *weeding]

    @property
    def drilled(self) -> Drilled:
        """The operations that take holes by their width, the one of the smallest first."""
        return tuple(sorted((operation.holes, operation.id) for operation in self.operations if operation.holes))

    @property
    def listed(self) -> tuple[Operation, ...]:
        """Every operation in run order."""
        changed = {operation.id: operation for operation in self.operations}
        found = [changed.pop(standard.id, _plain(standard)) for standard in STANDARD]
        for operation in changed.values():  # one that was added comes after the last that does the same
            alike = [i for i, other in enumerate(found) if other.work == operation.work and operation.work != "cut"]
            found.insert(alike[-1] + 1 if alike else _first_cut(found), operation)
        return tuple(_ordered(found, self.order))

    def operation(self, operation_id: str) -> Operation:
        """The operation of that id; raises `Refused`."""
        for operation in self.listed:
            if operation.id == operation_id:
                return operation
        raise Refused("That operation is no longer on the ticket.")


def _plain(standard: Standard) -> Operation:
    return Operation(id=standard.id, work=standard.work)


def _first_cut(found: list[Operation]) -> int:
    return next((i for i, operation in enumerate(found) if operation.work == "cut"), len(found))


def _ordered(found: list[Operation], order: tuple[str, ...]) -> list[Operation]:
    """Operations in the maker's order; those it does not name follow what they follow in Foliant's."""
    by_id = {operation.id: operation for operation in found}
    result = [key for key in dict.fromkeys(order) if key in by_id]
    before = ""
    for operation in found:
        if operation.id not in result:
            result.insert(result.index(before) + 1 if before else 0, operation.id)
        before = operation.id
    return [by_id[key] for key in result]
