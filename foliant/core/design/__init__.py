"""The design: what is being made. Frozen, typed, and changed only by edits that give a new design."""

from foliant.core.design.edits import Edit, apply, read_edit
from foliant.core.design.model import Design, Part, Piece, Place, Role, Sheet, Stock
from foliant.core.design.operations import Operation, Ticket
from foliant.core.design.placing import part_paths
from foliant.core.design.proving import begun, finished, proved
from foliant.core.design.reading import read_design, read_stored
from foliant.core.design.resolve import ResolvedPiece, resolve

__all__ = [
    "Design",
    "Edit",
    "Operation",
    "Part",
    "Piece",
    "Place",
    "ResolvedPiece",
    "Role",
    "Sheet",
    "Stock",
    "Ticket",
    "apply",
    "begun",
    "finished",
    "part_paths",
    "proved",
    "read_design",
    "read_edit",
    "read_stored",
    "resolve",
]
