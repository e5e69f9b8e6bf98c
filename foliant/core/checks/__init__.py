"""Checks: what would spoil the job, found before it is burnt. One file a subject, all named in `CHECKS`.

To add a check of the whole job: write a generator of `Finding`s that takes a `Job`, and name it here. A check of
one piece takes a `Bench`, and is named in `pieces.PIECE_CHECKS`.
"""

from collections.abc import Callable, Iterator
from dataclasses import replace

from foliant.core.checks.assignments import every_mark_is_taken, nothing_is_filled_twice, the_order_spoils_nothing
from foliant.core.checks.drilling import drills_are_as_wide
from foliant.core.checks.finding import Finding, Fix
from foliant.core.checks.kerf import cuts_leave_room, cutters_reach, fits_are_true
from foliant.core.checks.operations import (
    operations_are_not_endless,
    operations_have_settings,
    powers_are_gentle,
    recipes_are_tested,
    something_is_on,
    speeds_are_real,
)
from foliant.core.checks.pieces import PIECE_CHECKS, check_piece, pieces_are_sound
from foliant.core.checks.rows import not_too_many_are_asked_for, rows_are_sound, rows_can_be_made
from foliant.core.checks.sheet import (
    everything_fits,
    nothing_lies_on_what_is_gone,
    nothing_overlaps,
    nothing_sticks_out,
    packed_pieces_are_as_they_were,
    pieces_lie_within_their_slots,
    sheet_is_not_empty,
    the_sheet_is_not_cut_along_its_edge,
    the_shelf_has_enough_sheets,
)
from foliant.core.checks.shop import machines_are_here, materials_are_here, stock_is_as_on_the_shelf
from foliant.core.checks.tactile import letters_stand_out
from foliant.core.ticket import Job

CHECKS: tuple[Callable[[Job], Iterator[Finding]], ...] = (
    materials_are_here,
    machines_are_here,
    pieces_are_sound,
    rows_can_be_made,
    not_too_many_are_asked_for,
    rows_are_sound,
    sheet_is_not_empty,
    stock_is_as_on_the_shelf,
    everything_fits,
    the_shelf_has_enough_sheets,
    nothing_sticks_out,
    the_sheet_is_not_cut_along_its_edge,
    nothing_overlaps,
    nothing_lies_on_what_is_gone,
    packed_pieces_are_as_they_were,
    pieces_lie_within_their_slots,
    letters_stand_out,
    something_is_on,
    fits_are_true,
    cuts_leave_room,
    cutters_reach,
    drills_are_as_wide,
    every_mark_is_taken,
    operations_have_settings,
    operations_are_not_endless,
    nothing_is_filled_twice,
    the_order_spoils_nothing,
    powers_are_gentle,
    recipes_are_tested,
    speeds_are_real,
)


def check(job: Job) -> tuple[Finding, ...]:
    """Every finding about a job, those that stop it first."""
    found = [finding for run in CHECKS for finding in run(job)]
    there = [_on(job.design.bench, finding) for finding in found] if job.design.bench else found
    return tuple(sorted(there, key=lambda finding: finding.level != "stop"))


def _on(bench: str, finding: Finding) -> Finding:
    """The finding with what mends it as edits of that bench."""
    fixes = (replace(fix, edit=fix.edit.model_copy(update={"bench": bench})) for fix in finding.fixes)
    return replace(finding, fixes=tuple(fixes))


__all__ = ["CHECKS", "PIECE_CHECKS", "Finding", "Fix", "check", "check_piece"]
