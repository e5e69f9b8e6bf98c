"""Whether a piece can be made for every row of the roster, and is sound as each has it."""

from collections.abc import Iterator
from dataclasses import replace

from foliant.core.checks.finding import Finding, Fix
from foliant.core.checks.pieces import check_piece, on_sheet
from foliant.core.design import Design, Edit, Piece, apply
from foliant.core.design.benches import alone, cut_here
from foliant.core.design.binding import Bound, bound_rows, tied_pieces
from foliant.core.design.budget import MOST_INSTANCES
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.one_row import ForRow
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.ticket import Job

_MOST_TOLD = 20
"""Findings of one check, for one piece, that are told row by row."""


def rows_can_be_made(job: Job) -> Iterator[Finding]:
    """What a row has that cannot be, or has nothing for, is that row's alone; the others are made."""
    for piece in _tied(job):
        if not job.design.roster.rows:
            yield Finding(
                "rows_can_be_made",
                "look",
                f"{piece.name} has no row",
                f"Values of {piece.name} come from the roster, which has no row yet, so none is made: type or paste "
                "some rows, or have its values come from the roster no longer.",
                "shape",
                piece.id,
            )
        yield from _told(found for bound in bound_rows(job.design, piece) for found in _of_row(bound))


def not_too_many_are_asked_for(job: Job) -> Iterator[Finding]:
    """Rows that say how many could ask for more than any sheet holds."""
    tied = _tied(job)
    wanted = sum(piece.copies for piece in cut_here(job.design) if piece not in tied)
    wanted += sum(bound.piece.copies for piece in tied for bound in bound_rows(job.design, piece))
    if tied and wanted > MOST_INSTANCES:
        yield Finding(
            "not_too_many_are_asked_for",
            "stop",
            f"The rows ask for more than {MOST_INSTANCES:,}",
            f"The rows ask for more than {MOST_INSTANCES:,} pieces in all, and no more are made of a project: ask for "
            "fewer in the roster.",
            "shape",
        )


def rows_are_sound(job: Job) -> Iterator[Finding]:
    """The findings of every piece as each row has it that lies on the sheet, shown on its first instance. Of those that
    found no room it is only said that they did not.
    """
    laid = {(one.piece.id, one.instance.row): one for one in reversed(job.layout.instances)}
    for piece in _tied(job):
        yield from _told(
            replace(
                on_sheet(finding, laid.get((piece.id, bound.row.id))),
                row=bound.row.id,
                fixes=_fixes(finding, bound, piece),
            )
            for bound in bound_rows(job.design, piece)
            if (piece.id, bound.row.id) in laid
            for finding in check_piece(job.design, _named(bound), job.shop)
        )


def check_row(design: Design, bound: Bound, shop: Shop) -> tuple[Finding, ...]:
    """Every finding about a piece as one row has it, in its own coordinates."""
    return (*_of_row(bound), *check_piece(design, _named(bound), shop))


def _fixes(finding: Finding, bound: Bound, piece: Piece) -> tuple[Fix, ...]:
    """The fixes of a finding for all rows, where the piece as it is drawn allows them, and, where they only change
    values, for the one row before that.
    """
    found: list[Fix] = []
    for fix in finding.fixes:
        if isinstance(fix.edit, Change):
            found.append(Fix(f"{fix.says}, {bound.called} only", ForRow(do="for-row", row=bound.row.id, edit=fix.edit)))
        if isinstance(fix.edit, Change) or _allowed(piece, fix.edit):
            found.append(Fix(f"{fix.says}, in all rows", fix.edit))
    return tuple(found)


def _allowed(piece: Piece, edit: Edit) -> bool:
    try:
        apply(alone(piece), edit)
    except Refused:
        return False
    return True


def _tied(job: Job) -> list[Piece]:
    tied = tied_pieces(job.design)
    return [piece for piece in cut_here(job.design) if piece.id in tied]


def _of_row(bound: Bound) -> Iterator[Finding]:
    name = _named(bound).name
    for _, says in bound.troubles:
        yield Finding(
            "rows_can_be_made",
            "stop",
            f"{name} cannot be made",
            f"{name} is left off the sheet. {says} Change that cell, or the value for this row alone.",
            "shape",
            bound.piece.id,
            row=bound.row.id,
        )
    for _ in bound.left_out:
        yield Finding(
            "rows_can_be_made",
            "look",
            f"{name} has no words",
            f"The row has nothing for words of {name}, so they are left out of it: fill the cell, or drop the row.",
            "shape",
            bound.piece.id,
            row=bound.row.id,
        )


def _named(bound: Bound) -> Piece:
    """The piece under the name that its row gives it, for sentences."""
    return bound.piece.model_copy(update={"name": f"{bound.piece.name} “{bound.called}”"})


def _told(findings: Iterator[Finding]) -> Iterator[Finding]:
    """The first of each check row by row, and then how many rows more there are."""
    rows: dict[str, set[str]] = {}
    last: dict[str, Finding] = {}
    for finding in findings:
        there = rows.setdefault(finding.check, set())
        there.add(finding.row)
        if len(there) <= _MOST_TOLD:
            yield finding
        else:
            last[finding.check] = finding
    for check, finding in last.items():
        more = len(rows[check]) - _MOST_TOLD
        count = "1 row" if more == 1 else f"{more:,} rows"
        yield replace(
            finding, title=f"{finding.title}, and so {count}", sentence=f"{finding.sentence} {count} more like it."
        )
