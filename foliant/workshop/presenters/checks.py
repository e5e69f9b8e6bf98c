"""Findings, and the rehearsal, as the Check station shows them."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from foliant.core.checks import Finding, check, check_piece
from foliant.core.checks.rows import check_row
from foliant.core.design import Design, Piece
from foliant.core.design.binding import bound_row, tied_pieces
from foliant.core.design.idle import idle_parts
from foliant.core.equipment import Shop
from foliant.core.paths import ARC, curves
from foliant.core.paths.data import path_data
from foliant.core.program import Program
from foliant.core.program.toolpath import Toolpath
from foliant.core.ticket import plan
from foliant.core.ticket.doing import drill_of
from foliant.core.units import format_duration
from foliant.workshop.presenters.roster import row_shown
from foliant.workshop.presenters.spec import text, value

CHORD = 0.005
"""How far, in mm, the straight steps that the rehearsal draws for an arc may lie from it."""


_LEVEL = 1e-6


def findings(design: Design, shop: Shop, sheet: int = 1) -> list[dict[str, Any]]:
    """Every finding with its place on the sheet."""
    return [
        {
            "level": finding.level,
            "title": finding.title,
            "sentence": finding.sentence,
            "station": finding.station,
            "piece": finding.piece,
            "place": finding.place,
            "spot": path_data(finding.spot, 2),
            "fixes": fixes_of(finding),
        }
        for finding in check(plan(design, shop, sheet))
    ]


def fixes_of(finding: Finding) -> list[dict[str, Any]]:
    """The edits that mend a finding, and what their buttons say."""
    return [{"says": fix.says, "edit": fix.edit.model_dump(mode="json", by_alias=True)} for fix in finding.fixes]


def rehearsal_of(design: Design, shop: Shop, sheet: int = 1) -> bytes:
    """The toolpath of a design's job for the page; see `rehearsal_points`."""
    job = plan(design, shop, sheet)
    return rehearsal_points(job.program, [number for number, line in enumerate(job.lines) if line.work.pictures])


def piece_findings(piece: Piece, design: Design, shop: Shop, row: str = "") -> dict[str, Any]:
    """The findings of one piece in its own coordinates, its thin limit, and what its idle parts say of themselves; of
    one that takes values from the roster, as a row has it.
    """
    if row_shown(design, row) and piece.id in tied_pieces(design):
        bound = bound_row(design, piece, row)
        piece, found = bound.piece, check_row(design, bound, shop)
    else:
        found = check_piece(design, piece, shop)
    stock = design.stock
    told = stock.model_copy(update={"thinnest": stock.limit(shop.material(stock.material))})
    limit = value("stock", told, "thinnest", design.unit)
    return {
        "findings": [
            {
                "check": finding.check,
                "level": finding.level,
                "title": finding.title,
                "sentence": finding.sentence,
                "spot": path_data(finding.spot, 2),
                "fixes": fixes_of(finding),
            }
            for finding in found
        ],
        "limit": [text("Material thinner than "), limit, text(" is shaded.")],
        "idle": idle_parts(piece),
    }


def rehearsal_words(design: Design, shop: Shop, sheet: int = 1) -> dict[str, Any]:
    """The lines of the rehearsal: when each operation ends, and how long the job takes."""
    job = plan(design, shop, sheet)
    program = job.program
    return {
        "seconds": program.seconds,
        "total": format_duration(program.seconds),
        "travel": format_duration(program.travel_seconds),
        "operations": [
            {
                "id": job.lines[i].id,
                "work": job.lines[i].work.key,
                "title": job.lines[i].title,
                "line": i,
                "spot": drill_of(job.lines[i].settings, job.machine),
                "ends": program.end_of(i),
                "time": format_duration(program.seconds_of(i)),
            }
            for i in job.ready
        ],
    }


def _rows_of_dots(
    toolpath: Toolpath, kind: NDArray[np.int64], pictured: NDArray[np.bool_]
) -> tuple[NDArray[np.int64], NDArray[np.bool_]]:
    """The kinds of moves once the gaps in a row of dots count as burnt, and whether each is the last of its row."""
    level = pictured & (np.abs(toolpath.points[:, 3, 1] - toolpath.points[:, 0, 1]) < _LEVEL)
    begins = np.append(True, ~(level[1:] & level[:-1]) | (np.diff(toolpath.place) != 0))
    row = np.cumsum(begins) - 1
    burns = np.bincount(row, toolpath.working & level) > 0
    return np.where(level & burns[row], toolpath.operation, kind), np.append(begins[1:], True)


def rehearsal_points(program: Program, pictures: Sequence[int] = ()) -> bytes:
    """The toolpath of a program for the page: little-endian float32 rows of x, y (mm on the sheet), time (s), kind.

    Each row is where a step ends and when; kind is -1 for travel, else the index of the ticket line. The
    first row is where the tool starts. Of the lines that burn `pictures`, a row of dots is one step.
    """
    toolpath = program.toolpath()
    if not len(toolpath):
        return b""
    counts = np.ones(len(toolpath), np.int64)
    arcs = toolpath.kinds == ARC
    if arcs.any():
        _, radius, _, sweep = curves.circles(toolpath.points[arcs])
        widest = 2 * np.arccos(1 - np.minimum(1, CHORD / radius))
        counts[arcs] = np.ceil(np.abs(sweep) / widest).astype(np.int64)
    which = np.repeat(np.arange(len(toolpath)), counts)
    step = np.arange(len(which)) - np.repeat(np.cumsum(counts) - counts, counts)
    share = (step + 1) / counts[which]
    at = curves.evaluate(toolpath.kinds[which], toolpath.points[which], share)
    begins = toolpath.finishes - toolpath.durations
    when = begins[which] + share * toolpath.durations[which]
    kind = np.where(toolpath.working, toolpath.operation, -1)
    last = np.ones(len(kind), np.bool_)
    if pictures:
        kind, last = _rows_of_dots(toolpath, kind, np.isin(toolpath.operation, pictures))
    rows = np.column_stack([at, when, kind[which]])[last[which]]
    first = [[*toolpath.points[0, 0], 0.0, -1.0]]
    return np.concatenate([first, rows]).astype("<f4").tobytes()
