"""Rows of the roster as pictures: a piece as each of them has it, and what there is to look at."""

from typing import Any

from foliant.core.checks.rows import check_row
from foliant.core.design import Design, Piece, resolve
from foliant.core.design.binding import bound_row, tied_pieces
from foliant.core.design.raising import raised_on
from foliant.core.equipment import Shop
from foliant.workshop.presenters.scene import drawing, raised_view, size_of


def row_pictures(design: Design, piece_id: str, rows: tuple[str, ...], shop: Shop) -> dict[str, Any]:
    """How a piece looks for each of some rows, and what there is to look at; rows that are gone are left out."""
    piece = design.piece(piece_id)
    there = {row.id for row in design.roster.rows}
    if piece_id not in tied_pieces(design):
        return {}
    return {row: _picture(design, piece, row, shop) for row in rows if row in there}


def _picture(design: Design, piece: Piece, row: str, shop: Shop) -> dict[str, Any]:
    bound = bound_row(design, piece, row)
    resolved = resolve(bound.piece)
    found = check_row(design, bound, shop)
    applied = tuple(bound_row(design, one, row).piece for one in raised_on(design, piece))
    return {
        "called": bound.called,
        "copies": bound.piece.copies,
        "size": size_of(resolved.bounds, design.unit) if len(resolved.outline.path) else "nothing",
        "bounds": list(resolved.bounds),
        **drawing(bound.piece),
        "raised": raised_view(design.model_copy(update={"pieces": applied}), bound.piece, shop),
        "looks": [{"level": finding.level, "title": finding.title} for finding in found],
    }
