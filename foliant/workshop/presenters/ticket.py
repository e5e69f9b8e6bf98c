"""The ticket as its station shows it."""

from dataclasses import asdict
from typing import Any

from foliant.core.design import Design
from foliant.core.equipment import material
from foliant.core.ticket import Job, Line, plan
from foliant.core.units import format_duration, format_length
from foliant.workshop.presenters.spec import operation_sentence, ticket_sentence


def ticket_words(design: Design) -> dict[str, Any]:
    """The machine, every operation in run order with its settings and time, and the time in all."""
    job = plan(design)
    path = job.toolpath
    return {
        "spec": ticket_sentence(design.ticket, job.machine.about, design.stock, design.unit),
        "lines": [_line(design, job, line, index) for index, line in enumerate(job.lines)],
        "total": format_duration(path.seconds),
        "travel": format_duration(path.travel_seconds),
        "moves": len(path),
    }


def _line(design: Design, job: Job, line: Line, index: int) -> dict[str, Any]:
    seconds = job.toolpath.seconds_of(index)
    sheet = f"{format_length(design.stock.thickness, design.unit)} {material(design.stock.material).name}"
    verb = line.work.capitalize()
    if line.recipe:
        says = f"{verb} {sheet}"
    else:
        says = (
            f"{verb} {sheet}, own settings"
            if line.settings
            else f"No recipe to {line.work} {sheet} here; type power and speed"
        )
    settings = asdict(line.settings) if line.settings else design.ticket.operation(line.kind).settings
    return {
        "kind": line.kind,
        "title": line.title,
        "pieces": f"{line.pieces} piece{'' if line.pieces == 1 else 's'}",
        "on": line.on,
        "spec": operation_sentence(design.ticket.operation(line.kind), says, settings, line.fills, design.unit),
        "own": sorted(line.overridden),
        "recipe": _recipe(line),
        "missing": line.settings is None,
        "hot": bool(line.settings and line.settings.power >= 100),
        "time": format_duration(seconds) if line.runs else "–",
        "share": round(100 * seconds / job.toolpath.seconds, 1) if job.toolpath.seconds else 0,
    }


def _recipe(line: Line) -> str:
    """What the recipe says, for those who have left it."""
    if not line.recipe:
        return ""
    settings = line.recipe.settings
    passes = f"{settings.passes} pass{'' if settings.passes == 1 else 'es'}"
    fill = f", lines {settings.interval:g} mm apart" if line.fills else ""
    return f"recipe: {settings.power:g} % at {settings.speed:g} mm/s, {passes}{fill}"
