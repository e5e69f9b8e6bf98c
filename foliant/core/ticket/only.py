"""Only some of a job: one operation, one piece, or all that goes through the material, with its own time."""

from dataclasses import replace

import numpy as np

from foliant.core.errors import Refused
from foliant.core.paths import EMPTY
from foliant.core.program import Program
from foliant.core.ticket.job import Job, Line
from foliant.core.ticket.sorting import sort_marks

CUTS = "cuts"


def choices(job: Job) -> list[tuple[str, str]]:
    """What of a job may be done alone, as (how it is named, how it is said): each operation that runs, each piece."""
    running = [(f"operation {job.lines[index].id}", job.lines[index].title) for index in job.ready]
    pieces = dict.fromkeys((laid.piece.id, laid.piece.name) for laid in job.layout.instances)
    named = [(f"piece {key}", name) for key, name in pieces]
    return [*(running if len(running) > 1 else []), *(named if len(named) > 1 else [])]


def only(job: Job, what: str) -> Job:
    """The job with nothing done but what is named: `operation outer`, `piece p1`, or `cuts` for what goes through the
    material; all of it where that is "".

    Raises `Refused` where there is no such thing on the sheet.
    """
    if not what:
        return job
    kind, _, key = what.partition(" ")
    chosen = [index for index in job.ready if job.lines[index].id == key] if kind == "operation" else []
    if what == CUTS:
        chosen = [index for index in job.ready if job.lines[index].work.through]
    if chosen:
        lines = tuple(
            line if number in chosen else replace(line, marks=(), weeding=EMPTY)
            for number, line in enumerate(job.lines)
        )
        return replace(job, lines=lines, program=_some(job.program, np.isin(job.program.operation, chosen)))
    mine = [number for number, laid in enumerate(job.layout.instances) if laid.piece.id == key]
    if kind == "piece" and mine:
        lines = tuple(_of(line, job, mine) for line in job.lines)
        return replace(job, lines=lines, program=_some(job.program, np.isin(job.program.instance, mine)))
    raise Refused("That is not on this sheet any more, so it cannot be done alone.")


def _some(program: Program, kept: np.ndarray) -> Program:
    """The program at some of its places, in the same order."""
    found = {name: getattr(program, name)[kept] for name in ("block", "shift", "operation", "instance")}
    return replace(program, **found)


def _of(line: Line, job: Job, instances: list[int]) -> Line:
    """A line of the ticket with what it takes of some of the instances."""
    there = [job.layout.instances[number] for number in instances]
    drilled = job.design.ticket.drilled
    taken = [(sort_marks(laid.piece, laid.resolved, drilled).taken.get(line.id), laid.shift) for laid in there]
    return replace(line, marks=tuple((marks, shift) for marks, shift in taken if marks), weeding=EMPTY)
