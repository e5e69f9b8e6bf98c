"""The ticket on one page, for the bench: the sheet, what lies on which machine, every operation in order, and notes."""

from collections.abc import Iterator
from dataclasses import replace

from foliant.core.formats.as_drawn import lying
from foliant.core.paths import Affine, PathPen
from foliant.core.proof.pages import (
    HIGH,
    INK,
    QUIET,
    WIDE,
    Page,
    Shape,
    drawn,
    length_of_text,
    line_of_text,
    rectangle_of,
)
from foliant.core.ticket import Job, Line, heights_of
from foliant.core.units import format_duration, format_length

_EDGE = 14.0
_PICTURE = (WIDE - 2 * _EDGE, 105.0)
_ROW = 11.5
_MOST_ROWS = 12
_RULE = "#d8cdb8"


def ticket_page(job: Job) -> Page:
    """One page of A4 for a job."""
    design, stock, unit = job.design, job.design.stock, job.design.unit
    stuff = job.shop.material(stock.material)
    size = f"{format_length(stock.width, unit, with_unit=False)} × {format_length(stock.height, unit)}"
    thick = format_length(stock.thickness, unit)
    measured = f", measured {format_length(stock.actual, unit)}" if stock.measured else ""
    count = len(job.layout.instances)
    lies = " · face down, drawn mirrored" if design.ticket.face == "down" else ""
    about = (
        f"{job.machine.name} · {thick} {stuff.name}{measured}, {size} · {count} piece{'' if count == 1 else 's'}{lies}"
    )
    shapes = [
        *line_of_text(design.name, 8.0, (_EDGE, _EDGE + 6), INK, font="alegreya", most=120),
        *_at_right(f"{format_duration(job.program.seconds)} in all", _EDGE + 6),
        *line_of_text(about, 3.4, (_EDGE, _EDGE + 13), QUIET, most=WIDE - 2 * _EDGE),
    ]
    scale = min(_PICTURE[0] / stock.width, _PICTURE[1] / stock.height)
    top = _EDGE + 18
    shapes += [_placed(one, scale, (_EDGE, top), lying(job)) for one in _sheet(job)]
    y = top + stock.height * scale + 8
    if design.ticket.before:
        y = _note(shapes, "Before", design.ticket.before, y)
    rows = [(index, job.lines[index]) for index in job.ready]
    for number, (index, line) in enumerate(rows[:_MOST_ROWS], 1):
        shapes += _operation(job, number, index, line, y)
        y += _ROW
    if len(rows) > _MOST_ROWS:
        shapes += line_of_text(f"and {len(rows) - _MOST_ROWS} more operations", 3.2, (_EDGE + 8, y + 4), QUIET)
        y += 8
    if design.ticket.after:
        y = _note(shapes, "After", design.ticket.after, y + 2)
    shapes += line_of_text(
        "Test on a scrap first; stay beside the machine while it runs.", 2.8, (_EDGE, HIGH - 8), QUIET
    )
    return Page(WIDE, HIGH, shapes)


def _sheet(job: Job) -> Iterator[Shape]:
    stock = job.design.stock
    stuff = job.shop.material(stock.material)
    yield Shape(rectangle_of(0, 0, stock.width, stock.height), "#fffdf8", QUIET, 0.3)
    for hole in job.layout.gone:
        pen = PathPen()
        corners = list(hole.exterior.coords)[:-1]
        pen.moveTo(corners[0])
        for corner in corners[1:]:
            pen.lineTo(corner)
        pen.closePath()
        yield Shape(pen.path(), _RULE, QUIET, 0.2)
    for laid in job.layout.instances:
        for one in drawn(laid.resolved, stuff):
            yield replace(one, path=one.path.moved(*laid.shift))


def _placed(one: Shape, scale: float, at: tuple[float, float], over: Affine) -> Shape:
    return replace(one, path=one.path.transformed(over).transformed((scale, 0, 0, scale, *at)))


def _operation(job: Job, number: int, index: int, line: Line, y: float) -> Iterator[Shape]:
    assert line.settings
    yield Shape(rectangle_of(_EDGE, y - 4.5, WIDE - _EDGE, y - 4.4), _RULE)
    yield from line_of_text(f"{number}", 4.2, (_EDGE, y), QUIET)
    yield Shape(rectangle_of(_EDGE + 8, y - 3.0, _EDGE + 14, y - 0.4), line.work.ink)
    yield from line_of_text(line.title, 4.2, (_EDGE + 17, y), INK, most=90)
    takes = f"{line.pieces} piece{'' if line.pieces == 1 else 's'}"
    how = f"{line.settings.briefly(job.shop.rates.speeds)}{_height(job, line)} · {takes}"
    yield from line_of_text(how, 3.2, (_EDGE + 17, y + 4.6), QUIET, most=120)
    yield from _at_right(format_duration(job.program.seconds_of(index)), y)


def _height(job: Job, line: Line) -> str:
    """How deep it goes, or where its focus is, where the head goes up and down."""
    assert line.settings
    heights = heights_of(line.settings, line.work, job.machine, job.design.stock.actual)
    if heights is None:
        return ""
    unit = job.design.unit
    return (
        f", {format_length(heights.depth, unit)} deep"
        if heights.depth
        else f", focus {format_length(heights.focus, unit)}"
    )


def _at_right(says: str, y: float) -> list[Shape]:
    return line_of_text(says, 4.2, (WIDE - _EDGE - length_of_text(says, 4.2), y), INK)


def _note(shapes: list[Shape], title: str, says: str, y: float) -> float:
    """What the maker does by hand, over as many lines as it takes."""
    shapes += line_of_text(title, 3.8, (_EDGE, y), INK)
    for line in _wrapped(says):
        shapes += line_of_text(line, 3.4, (_EDGE + 17, y), INK)
        y += 4.8
    return y + 4


def _wrapped(says: str, most: int = 84) -> Iterator[str]:
    line = ""
    for word in says.split():
        if line and len(line) + 1 + len(word) > most:
            yield line
            line = ""
        line = f"{line} {word}".strip()
    yield line
