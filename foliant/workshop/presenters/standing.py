"""Where a project stands: what each station says of itself under its name."""

from typing import Any

from foliant.core.checks import check
from foliant.core.design import Design, Piece, Sheet, Stock, Ticket
from foliant.core.design.benches import cut_here, every_bench, on_bench
from foliant.core.design.binding import untied
from foliant.core.equipment import Shop
from foliant.core.layout import lay_sheets
from foliant.core.remembering import remembered
from foliant.core.ticket import Job, plan
from foliant.core.units import format_duration
from foliant.workshop.computing import planned
from foliant.workshop.models import Project, Run
from foliant.workshop.presenters.runs import newest_run


def quick_standing(design: Design) -> dict[str, Any]:
    """What can be said without planning the job."""
    count, rows = len(design.pieces), len(design.roster.rows)
    said = f"{count} piece{'' if count == 1 else 's'}"
    if rows and any(piece.tied for piece in design.pieces):
        said = f"{said} · {rows:,} row{'' if rows == 1 else 's'}"
    return {"shape": said}


def standing(project: Project, design: Design, sheet: int = 1) -> dict[str, Any]:
    """A few words for every station; `alert` marks the one that needs a look, `pieceSeconds` is each piece's time."""
    words = planned(design_standing, design, project.shop, sheet)
    return {**words, "run": f"{words['run']}, {_run_says(newest_run(project, sheet))}"}


def design_standing(design: Design, shop: Shop, sheet: int = 1) -> dict[str, Any]:
    """The same without what a machine has done so far."""
    job = plan(design, shop, sheet)
    sheets = [layout for there in every_bench(design) for layout in lay_sheets(there)]
    laid = sum(len(layout.instances) for layout in sheets)
    found = check(job)
    stops = sum(finding.level == "stop" for finding in found)
    if not laid:
        lies = "nothing laid out"
    elif len(sheets) > 1:
        lies = f"{laid} laid out on {len(sheets)} sheets"
    else:
        lies = f"{laid} laid out, {job.layout.used:.0%} used".replace("%", " %")
    lines = len(job.lines)
    ticket = (
        f"{lines} operation{'' if lines == 1 else 's'} · {format_duration(job.program.seconds)}"
        if lines
        else "nothing to do"
    )
    begun = any(piece.parts for piece in design.pieces)
    checked = f"{len(found)} thing{'' if len(found) == 1 else 's'} to look at" if found else "nothing to look at"
    return {
        **quick_standing(design),
        "sheet": lies,
        "ticket": ticket,
        "check": checked if begun else "nothing to check yet",
        "run": job.machine.name,
        "alert": ("stop" if stops else "look") if found and begun else "",
        "pieceSeconds": _seconds_each(job),
    }


def _run_says(run: Run | None) -> str:
    if run is None:
        return "not run yet"
    if run.silent:
        return "connection lost"
    if run.in_line and run.before.exists():
        return "waiting in line"
    if run.active:
        return "running" if run.kind == Run.Kind.JOB else "tracing"
    return {"done": "idle", "stopped": "stopped", "lost": "connection lost"}[run.state]


def _seconds_each(job: Job) -> dict[str, str]:
    """The time one of each piece takes alone, as words."""
    design = job.design
    return {
        piece.id: _seconds_of(piece, there.stock, there.sheet.model_copy(update={"places": ()}), there.ticket, job.shop)
        for there in every_bench(on_bench(design))
        for piece in cut_here(there)
        if piece.parts
    }


@remembered
def _seconds_of(piece: Piece, stock: Stock, sheet: Sheet, ticket: Ticket, shop: Shop) -> str:
    one = untied(piece).model_copy(update={"copies": 1, "bench": ""})
    alone = Design(pieces=(one,), stock=stock, sheet=sheet, ticket=ticket)
    job = plan(alone, shop)
    return f"{format_duration(job.program.seconds)} each" if job.layout.instances else "no room on the sheet"
