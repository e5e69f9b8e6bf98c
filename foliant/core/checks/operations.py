"""Whether every operation of the ticket can be run as it stands."""

from collections.abc import Iterator

from foliant.core.checks.finding import Finding, Fix
from foliant.core.design import Piece
from foliant.core.design.benches import cut_here
from foliant.core.design.edits.operations import AssignMarks
from foliant.core.ticket import MOST_MOVES, Job, Line
from foliant.core.units import format_length, format_number

GENTLE = 95.0
"""More power than so many percent is remarked on."""


def operations_have_settings(job: Job) -> Iterator[Finding]:
    """An operation with neither a recipe nor settings of the maker's own cannot run."""
    stock = job.design.stock
    sheet = f"{format_length(stock.thickness, job.design.unit)} {job.shop.material(stock.material).name}"
    for line in job.lines:
        if line.on and not job.machine.does(line.work):
            yield _not_for_a_blade(job, line)
        elif line.on and not line.settings:
            yield Finding(
                "operations_have_settings",
                "stop",
                f"{line.title}: no recipe",
                f"There is no recipe to {line.work.verb} {sheet} on {job.machine.name}: type power and speed on the "
                "ticket, switch the operation off, or choose another machine or material.",
                "ticket",
                place=_place(line),
            )


def _not_for_a_blade(job: Job, line: Line) -> Finding:
    """What a blade cannot do; lines that it can draw round the same may do."""
    fixes = [
        Fix(
            f"Score round what {line.title} takes of {piece.name}",
            AssignMarks(do="assign-marks", piece=piece.id, parts=parts, mark=mark, operation="score"),
        )
        for piece in cut_here(job.design)
        for mark, parts in _taken_of(piece, line.id)
    ]
    return Finding(
        "operations_have_settings",
        "stop",
        f"{line.title}: {job.machine.name} cannot {line.work.verb}",
        f"{job.machine.name} has a blade, which cannot {line.work.verb}: score or kiss-cut it, or choose another "
        "machine on the ticket.",
        "ticket",
        place=_place(line),
        fixes=tuple(fixes),
    )


def _taken_of(piece: Piece, operation: str) -> Iterator[tuple[str, tuple[str, ...]]]:
    """What an operation takes of a piece that others could: its engraved areas."""
    parts = [part for part in piece.made if part.plays("engraves") and part.shape.look is None]
    mine = tuple(part.id for part in parts if piece.taker("engraves", part) == operation)
    if mine:
        yield "engraves", mine


def operations_are_not_endless(job: Job) -> Iterator[Finding]:
    """An operation of millions of moves would burn for days, and could not be held in memory."""
    for line in job.lines:
        if line.on and line.excess:
            cure = "wider lines, fewer passes or fewer pieces" if line.work.filled else "fewer passes or fewer pieces"
            yield Finding(
                "operations_are_not_endless",
                "stop",
                f"{line.title}: too many moves",
                f"{line.title} would take about {line.excess:,} moves, and an operation takes at most {MOST_MOVES:,}: "
                f"ask for {cure}, or switch it off. The rest of the ticket is ready.",
                "ticket",
            )


def something_is_on(job: Job) -> Iterator[Finding]:
    """A ticket with everything switched off does nothing."""
    if job.lines and not any(line.on for line in job.lines):
        yield Finding(
            "something_is_on",
            "stop",
            "Everything is switched off",
            "Every operation of the ticket is switched off, so the machine would do nothing: switch one on.",
            "ticket",
        )


def powers_are_gentle(job: Job) -> Iterator[Finding]:
    """Full power shortens the life of a laser tube or diode and scorches the work."""
    for line in job.lines:
        if line.on and line.settings and line.settings.power > GENTLE:
            what = "presses as hard as it can" if job.machine.kind == "blade" else "wears the source and chars the edge"
            yield Finding(
                "powers_are_gentle",
                "look",
                f"{line.title} runs at {line.settings.power:g} % power",
                f"{line.title} runs at {line.settings.power:g} % power, which {what}: try less power with a lower "
                "speed or one more pass.",
                "ticket",
                place=_place(line),
            )


def recipes_are_tested(job: Job) -> Iterator[Finding]:
    """Settings that nobody has tried are told, and kept once they were."""
    guessed = [line for line in job.lines if line.runs and line.recipe and line.recipe.guessed and not line.overridden]
    if guessed:
        names = " and ".join(dict.fromkeys(line.title for line in guessed))
        origin = guessed[0].recipe.origin if guessed[0].recipe else ""
        yield Finding(
            "recipes_are_tested",
            "look",
            f"{names}: settings that nobody has tried",
            f"For {names} there is no recipe for this thickness; the settings are {origin}. Test them on a scrap, and "
            "keep what works as the recipe on the ticket.",
            "ticket",
            place=_place(guessed[0]),
        )


def speeds_are_real(job: Job) -> Iterator[Finding]:
    """A speed above what the machine can do is not reached."""
    for line in job.lines:
        if line.on and line.settings and line.settings.pace > job.machine.top_speed:
            yield Finding(
                "speeds_are_real",
                "look",
                f"{line.title} is faster than {job.machine.name} can go",
                f"{line.title} asks for {format_number(line.settings.pace)} mm/s and {job.machine.name} goes at most "
                f"{format_number(job.machine.top_speed)} mm/s, so it would burn deeper than meant: lower the speed.",
                "ticket",
                place=_place(line),
            )


def _place(line: Line) -> tuple[float, float, float, float]:
    return line.bounds
