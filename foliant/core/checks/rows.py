"""Whether a piece can be made for every row of the roster, and is sound as each has it."""

from collections.abc import Iterator
from dataclasses import replace

from foliant.core.checks.finding import Finding
from foliant.core.checks.pieces import check_piece, on_sheet
from foliant.core.design import Piece, resolve
from foliant.core.design.roster import Row
from foliant.core.making import Bound, bound_rows, tied
from foliant.core.ticket import Job

_MOST_TOLD = 20
"""Findings of one check, for one piece, that are told row by row."""


def rows_can_be_made(job: Job) -> Iterator[Finding]:
    """What a row has that cannot be, or has nothing for, is that row's alone; the others are made."""
    for piece in job.design.pieces:
        if not tied(job.design, piece):
            continue
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
        yield from _told(found for row, bound in bound_rows(job.design, piece) for found in _of_row(job, row, bound))


def rows_are_sound(job: Job) -> Iterator[Finding]:
    """The findings of every piece as each row has it, shown on its first instance."""
    laid = {(one.piece.id, one.instance.row): one for one in reversed(job.layout.instances)}
    for piece in job.design.pieces:
        if tied(job.design, piece):
            yield from _told(
                replace(on_sheet(finding, laid.get((piece.id, row.id))), row=row.id, fixes=())
                for row, bound in bound_rows(job.design, piece)
                for finding in check_piece(job.design, _called(job, bound.piece, row), job.shop)
            )


def _of_row(job: Job, row: Row, bound: Bound) -> Iterator[Finding]:
    name = _called(job, bound.piece, row).name
    for _, says in bound.troubles:
        yield Finding(
            "rows_can_be_made",
            "stop",
            f"{name} cannot be made",
            f"{name} is left off the sheet. {says} Change that cell, or the value for this row alone.",
            "shape",
            bound.piece.id,
            row=row.id,
        )
    for part in bound.left_out:
        yield Finding(
            "rows_can_be_made",
            "look",
            f"{name} has no words",
            f"The row has nothing for words of {name}, so they are left out of it: fill the cell, or drop the row.",
            "shape",
            bound.piece.id,
            resolve(bound.piece).bounds if part else None,
            row=row.id,
        )


def _called(job: Job, piece: Piece, row: Row) -> Piece:
    """The piece under the name that its row gives it."""
    roster = job.design.roster
    called = roster.label(row) or f"row {roster.rows.index(row) + 1}"
    return piece.model_copy(update={"name": f"{piece.name} “{called}”"})


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
