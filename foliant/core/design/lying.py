"""Instances by their names: the piece that one is, what it covers, and where a place puts that."""

import hashlib

import numpy as np
import shapely

from foliant.core.design.binding import bound_row, tied_pieces
from foliant.core.design.model import Design, Piece, Place, Sheet, Stock
from foliant.core.design.resolve import ResolvedPiece, resolve
from foliant.core.design.turning import turned
from foliant.core.errors import Refused
from foliant.core.remembering import remembered

_SLACK = 1e-9


def instance_piece(design: Design, piece_id: str, row: str, number: int) -> Piece | None:
    """The piece as it is for one instance; None where no such instance is wanted."""
    try:
        piece = design.piece(piece_id)
        if bool(row) is not (piece_id in tied_pieces(design)):
            return None
        piece = bound_row(design, piece, row).piece if row else piece
    except Refused:
        return None
    return piece if number <= piece.copies else None


def turned_bounds(piece: Piece, turn: float) -> tuple[float, float, float, float]:
    """(left, top, right, bottom) of a piece turned about its origin, mm."""
    return turned(resolve(piece), turn).bounds


def turn_in_rows(resolved: ResolvedPiece, stock: Stock, sheet: Sheet) -> float:
    """How far (degrees) a piece is turned where it lies in its row: a quarter where a whole sheet has room for it only
    so, and pieces may be turned at all.
    """
    left, top, right, bottom = resolved.bounds
    wide, tall = stock.width - 2 * sheet.margin + _SLACK, stock.height - 2 * sheet.margin + _SLACK
    upright = right - left <= wide and bottom - top <= tall
    aside = bottom - top <= wide and right - left <= tall
    return 90.0 if aside and not upright and 90.0 in sheet.turns else 0.0


def outline_digest(piece: Piece) -> str:
    """A digest of a piece's outline: it is the same as long as that is."""
    return digest_of(resolve(piece))


@remembered
def digest_of(resolved: ResolvedPiece) -> str:
    """The same of what a piece comes to."""
    path = resolved.outline.path
    content = path.kinds.tobytes() + path.points.round(4).tobytes() + path.starts.tobytes()
    return hashlib.sha256(content).hexdigest()[:12]


def lying_shape(design: Design, place: Place) -> shapely.Geometry | None:
    """What an instance covers where it was put; None where it is no longer wanted."""
    piece = instance_piece(design, *place.of)
    if piece is None:
        return None
    shape = turned(resolve(piece), place.turn).outline.shape
    return shapely.transform(shape, lambda points: points + np.array((place.x, place.y)))
