"""A job as it is being done: through the same edits that the page sends, and with what was promised by each."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from foliant.core.checks import Finding, check
from foliant.core.design import Design, Piece, apply, read_edit, resolve
from foliant.core.design.binding import bound_rows, tied_pieces
from foliant.core.design.placing import box_round
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from tests.making import plan

Edit = dict[str, Any]


@dataclass(frozen=True)
class Claim:
    """What was typed, and what is measured then; mm, or as it is counted."""

    says: str
    typed: float
    measured: float


@dataclass(frozen=True)
class Sizing:
    """An edit of size: the designs before and after, and what was sized."""

    says: str
    before: Design
    after: Design


@dataclass
class Doing:
    """A job as far as it is done.

    story   what was done, for whoever reads a verdict
    plates  the parts that words were put on, by the ids of the words
    listed  what each row is to be called, where a list was taken
    """

    design: Design
    story: list[str] = field(default_factory=list)
    starter: str = ""
    claims: list[Claim] = field(default_factory=list)
    sizings: list[Sizing] = field(default_factory=list)
    plates: dict[str, str] = field(default_factory=dict)
    listed: list[str] = field(default_factory=list)
    refused: list[str] = field(default_factory=list)

    def edit(self, edit: Edit) -> bool:
        """Do an edit. What is refused is answered by a sentence, and leaves all as it was."""
        self.story.append(" ".join(str(value) for value in edit.values()))
        try:
            self.design = after(self.design, edit)
        except Refused as refusal:
            self.refuse(refusal)
            return False
        return True

    def refuse(self, refusal: Refused) -> None:
        self.refused.append(str(refusal))
        self.story.append(f"  refused: {refusal}")

    def put(self, kind: str, values: dict[str, Any], onto: str = "") -> str | None:
        """A part on the first piece, where it lands; its id, or None where it was refused."""
        where = {"piece": self.design.pieces[0].id, "onto": [onto] if onto else [], "held": True}
        done = self.edit({"do": "add-part", "kind": kind, **where, "values": values})
        return self.design.pieces[0].parts[-1].id if done else None

    def claim(self, says: str, typed: float, measure: Callable[[Piece], float]) -> None:
        """Measure what was typed on the first piece."""
        self.claims.append(Claim(says, typed, measure(self.design.pieces[0])))

    def size(self, says: str, edit: Edit, typed: float, measure: Callable[[Piece], float]) -> None:
        """Give something another size, and measure that."""
        before = self.design
        if self.edit(edit):
            self.claim(says, typed, measure)
            self.sizings.append(Sizing(says, before, self.design))

    def pieces(self) -> list[Piece]:
        """Every piece as it is made: one for each row, where there are rows."""
        tied = tied_pieces(self.design)
        return [
            made
            for piece in self.design.pieces
            for made in ([bound.piece for bound in bound_rows(self.design, piece)] if piece.id in tied else [piece])
        ]


def after(design: Design, edit: Edit) -> Design:
    """The design after an edit, in the shop that ships; raises `Refused`."""
    return apply(design, read_edit(edit).with_shop(SHIPPED, design))


def findings(design: Design) -> tuple[Finding, ...]:
    return check(plan(design))


def wide(piece: Piece) -> float:
    left, _, right, _ = resolve(piece).bounds
    return right - left


def tall(piece: Piece) -> float:
    _, top, _, bottom = resolve(piece).bounds
    return bottom - top


def chosen_wide(piece: Piece) -> float:
    """How wide the box round all of its parts is."""
    left, _, right, _ = box_round(piece.parts)
    return right - left


def chosen_tall(piece: Piece) -> float:
    _, top, _, bottom = box_round(piece.parts)
    return bottom - top


def own_size(address: str) -> Callable[[Piece], float]:
    """Measures a value of a part by its address, such as `part a2 width`."""
    _, part, name = address.split()
    return lambda piece: float(getattr(piece.part(part).shape, name))
