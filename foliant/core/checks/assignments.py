"""Whether every mark is taken by one operation, and all in an order that spoils nothing."""

from collections.abc import Iterator
from itertools import combinations

import shapely

from foliant.core.checks.finding import Finding, Fix, outlines
from foliant.core.design import Piece
from foliant.core.design.benches import cut_here
from foliant.core.design.edits.operations import AssignMarks, OrderOperations
from foliant.core.layout import Laid
from foliant.core.ticket import Job, Line
from foliant.core.ticket.sorting import assigned, sort_marks

_AREA = 0.05


def every_mark_is_taken(job: Job) -> Iterator[Finding]:
    """What was given to an operation that is no longer there is not burnt at all."""
    known = {operation.id for operation in job.design.ticket.listed}
    for piece in cut_here(job.design):
        for index, mark, operation in assigned(piece):
            if operation in known:
                continue
            parts = (piece.made[index].id,) if index >= 0 else ()
            name = piece.made[index].shape.label()[:40] if parts else piece.name
            edit = AssignMarks(do="assign-marks", piece=piece.id, parts=parts, mark=mark)
            yield Finding(
                "every_mark_is_taken",
                "stop",
                f"{name}: no operation takes it",
                f"{name} of {piece.name} was given to an operation that is not on the ticket, so it would be left out: "
                "give it to one that is.",
                "ticket",
                piece.id,
                fixes=(Fix("Give it to the usual one", edit),),
            )


def nothing_is_filled_twice(job: Job) -> Iterator[Finding]:
    """Area that two operations fill is burnt twice as deep."""
    for piece, instance in _each_piece(job):
        faces = sort_marks(piece, instance.resolved, job.design.ticket.drilled).faces
        running = [line for line in job.lines if line.runs and line.work.filled and line.id in faces]
        for first, second in combinations(running, 2):
            areas = faces[first.id].area.shape, faces[second.id].area.shape
            shared = shapely.intersection(*areas)
            if shared.area < _AREA:
                continue
            place = shapely.transform(shared, lambda points, instance=instance: points + instance.shift)
            fixes = tuple(
                Fix(f"Give both to {keeper.title}", _given(piece, loser, keeper))
                for keeper, loser in ((first, second), (second, first))
            )
            yield Finding(
                "nothing_is_filled_twice",
                "look",
                f"{first.title} and {second.title} fill the same area",
                f"{first.title} and {second.title} both fill a place on {piece.name}, so it is burnt twice as deep "
                "there: give both parts to one of them, or move them apart.",
                "ticket",
                piece.id,
                place.bounds,
                outlines(shapely.get_parts(place)),
                fixes,
            )


def _given(piece: Piece, loser: Line, keeper: Line) -> AssignMarks:
    """The edit that gives what one operation fills of a piece to another."""
    moved = [part for part in piece.made if part.plays("engraves") and piece.taker("engraves", part) == loser.id]
    parts = tuple(part.id for part in moved)
    return AssignMarks(do="assign-marks", piece=piece.id, parts=parts, mark="engraves", operation=keeper.id)


def the_order_spoils_nothing(job: Job) -> Iterator[Finding]:
    """A piece that is cut out may shift or fall, so what is on it should come before."""
    told = set()
    for piece, instance in _each_piece(job):
        sort = sort_marks(piece, instance.resolved, job.design.ticket.drilled)
        for first, second in combinations([line for line in job.lines if line.runs], 2):
            sides = {int(depth) for depth, taker in zip(sort.depth, sort.edges, strict=True) if taker == first.id}
            inner = any(depth and taker == second.id for depth, taker in zip(sort.depth, sort.edges, strict=True))
            late = second.id in sort.faces or (inner and 0 in sides)
            if not (first.work.through and 0 in sides and late) or (first.id, second.id) in told:
                continue
            told.add((first.id, second.id))
            edit = OrderOperations(do="order-operations", operation=second.id, before=first.id)
            yield Finding(
                "the_order_spoils_nothing",
                "look",
                f"{first.title} comes before {second.title}",
                f"{first.title} comes before {second.title} on the ticket, but a piece that is cut out may shift: what "
                f"{second.title} does on a piece is done before that is cut out all the same. Put them in that order.",
                "ticket",
                piece.id,
                instance.bounds,
                fixes=(Fix(f"{second.title} first", edit),),
            )


def _each_piece(job: Job) -> Iterator[tuple[Piece, Laid]]:
    """Every piece that is made, as each row has it, with its first instance."""
    seen = set()
    for instance in job.layout.instances:
        if instance.piece not in seen:
            seen.add(instance.piece)
            yield instance.piece, instance
