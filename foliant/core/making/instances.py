"""Instances: every single thing that is to be made, under a name that never moves."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import islice

from foliant.core.design import Design, Piece, ResolvedPiece, resolve
from foliant.core.design.benches import thicknesses
from foliant.core.design.binding import Thick, around, bound_rows, tied_pieces
from foliant.core.design.budget import MOST_INSTANCES
from foliant.core.design.roster import Roster
from foliant.core.remembering import remembered
from foliant.core.units import Unit

Identity = tuple[str, str, str, int]
"""Piece, applied part (or ""), row of the roster (or ""), and number: it stays when others come and go."""


@dataclass(frozen=True, eq=False)
class Instance:
    """One thing to be made, its piece as its row has it. Equal ones share what they resolve to.

    row     the id of its row, or "" where the piece takes nothing from the roster
    called  what its row is called
    """

    piece: Piece
    number: int
    resolved: ResolvedPiece
    applied: str = ""
    row: str = ""
    called: str = ""

    @property
    def identity(self) -> Identity:
        """Its name for good."""
        return (self.piece.id, self.applied, self.row, self.number)

    @property
    def label(self) -> str:
        """How it is named in sentences."""
        name = f"{self.piece.name} “{self.called}”" if self.called else self.piece.name
        return f"{name} {self.number}" if self.piece.copies > 1 else name


def made_here(design: Design) -> tuple[Instance, ...]:
    """Every instance that is wanted and is cut on the bench on which the design stands."""
    every = make(design)
    return tuple(one for one in every if one.piece.bench == design.bench) if design.benches else every


def make(design: Design) -> tuple[Instance, ...]:
    """Every instance that is wanted: in the order of the pieces, of the rows, and of their numbers.

    An empty piece gives none, nor does one in trouble; a row that a value was refused for gives none of that piece.
    Rows say how many, which may be more than could ever be made: only the first `MOST_INSTANCES` are.
    """
    if not any(piece.tied for piece in design.pieces):
        return _make(design.pieces, Roster(), "mm", (("", 1.0),))
    return _make(design.pieces, design.roster, design.roster.unit, tuple(sorted(thicknesses(design).items())))


@remembered
def _make(pieces: tuple[Piece, ...], roster: Roster, unit: Unit, thick: Thick) -> tuple[Instance, ...]:
    """Kept by what it takes: a name or the size of the sheet makes nothing anew."""
    design = around(pieces, unit, thick).model_copy(update={"roster": roster})
    tied = tied_pieces(design)
    every = (instance for piece in pieces for instance in _made(design, piece, piece.id in tied))
    return tuple(islice(every, MOST_INSTANCES))


def _made(design: Design, piece: Piece, tied: bool) -> Iterator[Instance]:
    if not tied:
        yield from _copies(piece, "", "")
        return
    for bound in bound_rows(design, piece):
        if not bound.troubles:
            yield from _copies(bound.piece, bound.row.id, bound.called)


def _copies(piece: Piece, row: str, called: str) -> Iterator[Instance]:
    if not piece.parts:
        return
    resolved = resolve(piece)
    if resolved.trouble:
        return
    left, top, right, bottom = resolved.bounds
    if (right - left) * (bottom - top) == 0:
        return
    for number in range(1, piece.copies + 1):
        yield Instance(piece, number, resolved, row=row, called=called)
