"""Instances: every single thing that is to be made, under a name that never moves."""

from dataclasses import dataclass

from foliant.core.design import Piece, ResolvedPiece, resolve
from foliant.core.remembering import remembered

Identity = tuple[str, str, str, int]
"""Piece, applied part (or ""), row of a list of names (or ""), and number: it stays when others come and go."""


@dataclass(frozen=True, eq=False)
class Instance:
    """One thing to be made. Equal ones share what they resolve to."""

    piece: Piece
    number: int
    resolved: ResolvedPiece
    applied: str = ""
    row: str = ""

    @property
    def identity(self) -> Identity:
        """Its name for good."""
        return (self.piece.id, self.applied, self.row, self.number)

    @property
    def label(self) -> str:
        """How it is named in sentences."""
        return f"{self.piece.name} {self.number}" if self.piece.copies > 1 else self.piece.name


def make(pieces: tuple[Piece, ...]) -> tuple[Instance, ...]:
    """Every instance that is wanted, in the order of the pieces; an empty piece gives none, nor does one in trouble."""
    return tuple(instance for piece in pieces for instance in _made(piece))


@remembered
def _made(piece: Piece) -> tuple[Instance, ...]:
    if not piece.parts:
        return ()
    resolved = resolve(piece)
    if resolved.trouble:
        return ()
    left, top, right, bottom = resolved.bounds
    if (right - left) * (bottom - top) == 0:
        return ()
    return tuple(Instance(piece, number, resolved) for number in range(1, piece.copies + 1))
