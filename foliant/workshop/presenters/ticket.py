"""The ticket as its station shows it."""

import json
from typing import Any

from foliant.core.checks import Finding, check
from foliant.core.checks.marks import MARKED
from foliant.core.checks.operations import GENTLE
from foliant.core.design import Design, Operation, Piece, Ticket
from foliant.core.design.benches import cut_here
from foliant.core.design.operations import STANDARD_OF, Drilled
from foliant.core.design.resolve import resolve
from foliant.core.equipment import Shop
from foliant.core.layout import all_sheets
from foliant.core.phrases import Value
from foliant.core.proof import write_ticket
from foliant.core.quantities import quantity_of
from foliant.core.ticket import Job, Line, heights_of, plan, settings_of
from foliant.core.ticket.cards import fields_of, sides_said
from foliant.core.ticket.fills import compared
from foliant.core.ticket.only import choices, only
from foliant.core.ticket.sorting import Sorted, sort_marks
from foliant.core.units import Speeds, Unit, format_duration, format_length
from foliant.core.works import WORKS, Settings
from foliant.workshop.presenters.checks import fixes_of
from foliant.workshop.presenters.spec import Bit, by_height, settings_said, text, ticket_sentence, value

_MOST_TAKEN = 12


def ticket_words(design: Design, shop: Shop, sheet: int = 1) -> dict[str, Any]:
    """The machine, every operation in run order with its settings and time, and the time in all."""
    job = plan(design, shop, sheet)
    design = job.design
    program = job.program
    numbers = {line.id: number for number, line in enumerate(job.lines)}
    fields = set(design.card.fields) if design.card else set()
    listed = [one for one in design.ticket.listed if one.id not in fields]
    shown = [one for one in listed if one.id in numbers or one.id not in STANDARD_OF]
    takes = _takes(design)
    return {
        "spec": ticket_sentence(design, shop),
        "lines": [_line(job, operation, numbers.get(operation.id), takes.get(operation.id, [])) for operation in shown],
        "crowded": bool(job.layout.left_over),
        "works": [{"key": work.key, "title": work.title} for work in WORKS.values() if job.machine.does(work)],
        "changed": bool(design.ticket.operations or design.ticket.order or _anything_assigned(design)),
        "findings": [_finding(found) for found in check(job) if found.station == "ticket" and found.fixes],
        "card": card_view(design),
        "notes": _notes(design.ticket, design.unit),
        "some": some_of(job),
        "sheets": len(all_sheets(design)),
        "total": format_duration(program.seconds),
        "travel": format_duration(program.travel_seconds),
        "moves": len(program),
    }


def card_view(design: Design) -> dict[str, Any] | None:
    """The fields of a test card, to press the one that came out best."""
    card = design.card
    if card is None:
        return None
    rows: list[dict[str, Any]] = [{"name": f"{value:g}", "fields": []} for value in card.rows or (0.0,)]
    for row, column, says in fields_of(card):
        rows[row]["fields"].append({"row": row, "column": column, "says": says})
    title = sides_said(card.work, card.across, card.down) if card.rows else f"{card.across} across"
    columns = [f"{value:g}" for value in card.columns]
    return {"title": title, "gauge": not card.rows, "columns": columns, "rows": rows}


def ways_view(design: Design, shop: Shop, operation: str, sheet: int = 1) -> list[dict[str, Any]]:
    """Every way to fill what an operation takes, with its time, a picture, and the edit that takes it."""
    return [
        {
            "says": way.says,
            "time": format_duration(way.seconds),
            "total": format_duration(way.total),
            "now": way.now,
            "fastest": way.fastest,
            "box": way.box,
            "d": way.picture,
            "edit": {"do": "change", "of": f"operation {operation}", "values": dict(way.values)},
        }
        for way in compared(design, shop, operation, sheet)
    ]


def ticket_file(design: Design, shop: Shop, sheet: int = 1) -> bytes:
    """The ticket on one page, as PDF."""
    return write_ticket(plan(design, shop, sheet))


def some_of(job: Job) -> list[list[str]]:
    """What may be sent or saved alone, as [name, words, time]."""
    every = [["", "everything", format_duration(job.program.seconds)]]
    return every + [[key, says, format_duration(only(job, key).program.seconds)] for key, says in choices(job)]


def _line(job: Job, operation: Operation, number: int | None, takes: list[dict[str, Any]]) -> dict[str, Any]:
    unit = job.design.unit
    line = job.lines[number] if number is not None else None
    seconds = job.program.seconds_of(number) if line and number is not None else 0.0
    count = line.pieces if line else 0
    return {
        "id": operation.id,
        "work": operation.work,
        "title": operation.title,
        "name": [_name(operation, unit)],
        "own": operation.id not in STANDARD_OF,
        "pieces": f"{count} piece{'' if count == 1 else 's'}" if line else "takes nothing yet",
        "takes": takes[:_MOST_TAKEN],
        "more": max(0, len(takes) - _MOST_TAKEN),
        "on": operation.on,
        "fills": bool(line and line.runs and line.work.filled and any(len(marks.area.path) for marks, _ in line.marks)),
        "spec": _settings(job, operation, line),
        "changed": sorted(operation.own),
        "recipe": f"recipe: {line.recipe.settings.briefly(job.shop.rates.speeds)}" if line and line.recipe else "",
        "origin": line.recipe.origin if line and line.recipe else "",
        "guessed": bool(line and line.recipe and line.recipe.guessed),
        "missing": bool(line and line.settings is None),
        "hot": bool(line and line.settings and line.settings.power > GENTLE),
        "time": format_duration(seconds) if line and line.runs else "–",
        "share": round(100 * seconds / job.program.seconds, 1) if job.program.seconds else 0,
    }


def _notes(ticket: Ticket, unit: Unit) -> list[Bit]:
    """What the maker does by hand, before and after."""
    before, after = (value("ticket", ticket, field, unit) for field in ("before", "after"))
    return [
        text("By hand before it: "),
        {**before, "text": ticket.before or "nothing"},
        text("; after it: "),
        {**after, "text": ticket.after or "nothing"},
        text("."),
    ]


def _name(operation: Operation, unit: Unit) -> Bit:
    named = operation.model_copy(update={"name": operation.title})
    return {**value(f"operation {operation.id}", named, "name", unit), "style": "title"}


def _settings(job: Job, operation: Operation, line: Line | None) -> list[Bit]:
    """The settings of an operation as a sentence; what the maker has set is marked as such."""
    stock, unit = job.design.stock, job.design.unit
    sheet = f"{format_length(stock.thickness, unit)} {job.shop.material(stock.material).name}"
    verb = operation.does.verb
    strength = "force" if job.machine.kind == "blade" else "power"
    if not job.machine.does(operation.does):
        return [text(f"{job.machine.name} cannot {verb}.", "quiet")]
    found = line.settings if line else settings_of(job.design, job.shop, operation)[1]
    if found:
        own = "" if line is None or line.recipe else ", own settings"
        says = f"{verb.capitalize()} {sheet}{own}: "
    else:
        says = f"No recipe to {verb} {sheet} here; type {strength} and speed: "
    known = dict(found) if found else operation.own
    if known.get("kerf") is None:  # where nothing else is said, it is the machine's
        known["kerf"] = job.machine.kerf
    if known.get("across") is None:
        known["across"] = job.machine.kerf
    settings = operation.does.settings.model_construct(**known)
    words = [text(says, "" if found else "quiet")]
    bits = [*settings_said(settings, job.machine), *by_height(job.machine)]
    if found and (heights := heights_of(found, operation.does, job.machine, stock.actual)) and heights.depth:
        settings = settings.model_copy(update={"depth": heights.depth})
    said = [_said(bit, operation, settings, unit, job.shop.rates.speeds) for bit in bits]
    said = [{**bit, "label": strength.capitalize()} if bit.get("field") == "power" else bit for bit in said]
    return [*words, *said, *(_holes(operation, unit) if operation.work == "drill" else [])]


def _holes(operation: Operation, unit: Unit) -> list[Bit]:
    widest = value(f"operation {operation.id}", operation, "holes", unit)
    if not operation.holes:
        return [text("; takes what it is given, and holes up to "), {**widest, "text": "no width"}]
    return [text("; takes what it is given, and every hole of up to "), widest, text(" across")]


def _said(bit: Any, operation: Operation, settings: Settings, unit: Unit, speeds: Speeds) -> Bit:
    if not isinstance(bit, Value):
        return text(str(bit))
    quantity = quantity_of(type(settings), bit.field)
    found = getattr(settings, bit.field, None)
    shown = "…" if found is None else quantity.show(found, unit, speeds)
    return {
        "of": f"operation {operation.id}",
        "field": bit.field,
        "kind": quantity.kind,
        "label": quantity.label,
        "text": shown,
        "raw": "" if found is None else found if quantity.choices else shown,
        "own": bit.field in operation.own,
        **({"choices": quantity.choices} if quantity.choices else {}),
    }


def _takes(design: Design) -> dict[str, list[dict[str, Any]]]:
    """What each operation takes, each mark as a choice of the operation that takes it."""
    found: dict[str, list[dict[str, Any]]] = {}
    for piece in cut_here(design):
        resolved = resolve(piece)
        if not piece.parts or not piece.copies or resolved.trouble:
            continue
        sort = sort_marks(piece, resolved, design.ticket.drilled)
        for taker, parts, mark, label in (*_face_marks(piece), *_edge_marks(piece, sort, design.ticket.drilled)):
            found.setdefault(taker, []).append(_taken(design.ticket, piece, taker, parts, mark, label))
    return found


Taken = tuple[str, tuple[str, ...], str, str]


def _face_marks(piece: Piece) -> list[Taken]:
    return [
        (piece.taker(role, part), (part.id,), role, part.shape.label()[:24])
        for part in piece.made
        for role in MARKED
        if role in part.roles
    ]


def _edge_marks(piece: Piece, sort: Sorted, drilled: Drilled) -> list[Taken]:
    own: list[Taken] = [
        (operation, (part.id,), role, part.shape.label()[:24])
        for part in piece.made
        for role, operation in part.operations
        if role in ("adds", "cuts")
    ]
    given = {taker for taker, *_ in own}
    for side, inside in (("inner", True), ("outer", False)):
        takers = {taker for depth, taker in zip(sort.depth, sort.edges, strict=True) if bool(depth) == inside}
        # What takes single holes by their width was not given the side, so it cannot give it away.
        by_width = {taker for _, taker in drilled} - {piece.taker(side)}
        label = _holed(piece) if inside else piece.name
        own += [(taker, (), side, label[:24]) for taker in sorted(takers - given - by_width)]
    return own


def _holed(piece: Piece) -> str:
    """What the inner edges of a piece are called: by the parts that cut them, where there are such."""
    cuts = [part for part in piece.made if part.plays("cuts") and not dict(part.operations).get("cuts")]
    if not cuts:
        return piece.name
    first, more = cuts[0].shape.label(), len(cuts) - 1
    return f"{first[:16]} and {more} more" if more else first


def _taken(ticket: Ticket, piece: Piece, taker: str, parts: tuple[str, ...], mark: str, label: str) -> dict[str, Any]:
    """One mark, said as a choice of what takes it; each choice is an edit."""
    where = {"piece": piece.id, "parts": list(parts), "mark": mark}
    choices = [("", f"{operation.title}") for operation in ticket.listed if operation.id == taker]
    choices += [(json.dumps({"do": "add-operation", **where}), "an operation of its own")]
    choices += [
        (json.dumps({"do": "add-operation", **where, "mark": role, "also": True}), f"{done} too, by one of its own")
        for role, done in MARKED.items()
        if parts and mark in MARKED and role not in piece.part(parts[0]).roles
    ]
    choices += [
        (json.dumps({"do": "assign-marks", **where, "operation": operation.id}), operation.title)
        for operation in ticket.listed
        if operation.id != taker
    ]
    bit = {
        "of": f"taken {piece.id} {'-'.join(parts)} {mark}",
        "field": "operation",
        "kind": "choice",
        "label": f"What takes {label}",
        "text": label,
        "raw": "",
        "choices": choices,
        "style": "chip",
    }
    return {"key": bit["of"], "bits": [bit]}


def _anything_assigned(design: Design) -> bool:
    return any(piece.operations or any(part.operations for part in piece.parts) for piece in cut_here(design))


def _finding(found: Finding) -> dict[str, Any]:
    return {"title": found.title, "sentence": found.sentence, "level": found.level, "fixes": fixes_of(found)}
