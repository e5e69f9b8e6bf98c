"""Test cards: a grid of fields, each done with other settings, and a gauge for the width of the cut. Whichever field
came out best becomes the recipe.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from foliant.core.design import Design, Operation, Part, Piece, Stock, Ticket, apply, read_edit
from foliant.core.design.edits.benches import from_shelf
from foliant.core.design.edits.command import with_piece
from foliant.core.design.model import Card
from foliant.core.design.placing import part_bounds
from foliant.core.design.shapes import Hole
from foliant.core.design.shapes.rectangle import Rectangle
from foliant.core.equipment import Shop
from foliant.core.equipment.edits import KeepRecipe
from foliant.core.equipment.guessing import guess
from foliant.core.errors import Refused
from foliant.core.quantities import build, quantity_of
from foliant.core.ticket.marks import marks_sheet
from foliant.core.units import format_number
from foliant.core.works import find_work

MOST_FIELDS = 8
WORKS: dict[str, Literal["engraves", "scores", "cuts"]] = {"engrave": "engraves", "score": "scores", "cut": "cuts"}
"""The works that a card tests, and the role its fields play."""

_TITLE, _LABEL, _EDGE, _GAP = 4.0, 2.4, 3.0, 2.0
_LEFT, _TOP = 14.0, 18.0
_FIRST = {"power": 30.0, "speed": 60.0, "passes": 1.0, "interval": 0.1}
_SPAN = {"power": (0.4, 1.4), "speed": (0.5, 2.0), "interval": (0.5, 2.0), "passes": (1.0, 4.0)}
_FOCUS = 3.0
"""How far over and under its usual focus a card goes, mm."""

_GAUGE = tuple(round(0.04 * step, 2) for step in range(0, 11))
_PLUG = 10.0
_LABELS = "o1"


_UNITS = {"percent": "%", "speed": "mm/s", "length": "mm", "seconds": "s"}


@dataclass(frozen=True)
class Axis:
    """What changes along one side of a card: a setting, and its values."""

    field: str
    values: tuple[float, ...]


def usual_axis(shop: Shop, machine: str, material: str, thickness: float, work: str, field: str, count: int) -> Axis:
    """A setting round what its recipe says, or is guessed, from half of it to twice as much; raises `Refused`."""
    asked = (machine, material, thickness, work)
    recipe = shop.recipe(*asked) or guess(shop, *asked)
    middle = float(dict(recipe.values).get(field, _FIRST.get(field, 1.0))) if recipe else _FIRST.get(field, 1.0)
    quantity = quantity_of(find_work(work).settings, field)
    if field == "focus":
        return Axis(field, tuple(round(value, 2) for value in np.linspace(-_FOCUS, _FOCUS, count).tolist()))
    if quantity.kind == "count":
        return Axis(field, tuple(float(number) for number in range(1, count + 1)))
    low, high = _SPAN.get(field, (0.5, 2.0))
    values = np.geomspace(max(middle * low, quantity.least), min(middle * high, quantity.most), count)
    return Axis(field, tuple(float(f"{value:.2g}") for value in values))


def field_card(
    shop: Shop, machine: str, stock: Stock, work: str, across: Axis, down: Axis, field: float = 8.0
) -> Design:
    """A design of one card on the stock: labelled fields so many mm wide. Raises `Refused` where a setting cannot be
    so, the work is none that a card tests, or the card is larger than the stock.
    """
    if work not in WORKS:
        raise Refused(f"A test card is made to {', '.join(WORKS)}, not to “{work[:20]}”.")
    if across.field == down.field:
        raise Refused("The two sides of a card change two different settings.")
    for axis in (across, down):
        if not 1 <= len(axis.values) <= MOST_FIELDS:
            raise Refused(f"A side of a card has 1 to {MOST_FIELDS} fields.")
        quantity = quantity_of(find_work(work).settings, axis.field)
        for value in axis.values:
            quantity.check(value)
    asked = (machine, stock.material, stock.thickness)
    head = shop.machine(machine)
    if "focus" in (across.field, down.field) and not head.focuses:
        raise Refused(f"The head of {head.name} does not go up and down by itself, so it cannot test its focus.")
    base = _base(shop, asked, work)
    step = field + _GAP
    width = _LEFT + len(across.values) * step + _EDGE
    height = _TOP + len(down.values) * step + _EDGE
    if width > stock.width or height > stock.height:
        raise Refused(
            f"That card is {format_number(width)} × {format_number(height)} mm and the sheet is smaller: fewer or "
            "smaller fields fit."
        )
    labels = _operation(_LABELS, "engrave", "Labels", _base(shop, asked, "engrave"))
    operations, parts, names = [labels], [_plate(width, height)], []
    for row, low in enumerate(down.values):
        for column, high in enumerate(across.values):
            own = f"o{10 + row * MOST_FIELDS + column}"
            values = {**base, across.field: high, down.field: low}
            operations.append(_operation(own, work, f"Field {row + 1}.{column + 1}", values))
            at = (_LEFT + column * step + field / 2, _TOP + row * step + field / 2)
            parts.append(_field(f"a{100 + row * MOST_FIELDS + column}", work, field, at, own))
            names.append(own)
    sides = {"across": across.field, "columns": across.values, "down": down.field, "rows": down.values}
    card = Card(work=work, fields=tuple(names), **sides)
    outer = Operation(id="outer", work="cut", on=False)  # a card is cut out only by whoever wants that
    ticket = Ticket(machine=machine, operations=(*operations, outer))
    piece = Piece(id="p1", name="Test card", parts=tuple(parts), operations=(("engraves", _LABELS),))
    design = Design(name="Test card", serial=1000, pieces=(piece,), stock=stock, ticket=ticket, card=card)
    title = f"{find_work(work).verb} {stock.thickness:g} mm {shop.material(stock.material).name}"
    design = _with_words(design, title, (_EDGE, _EDGE + 2), _TITLE, from_left=True)
    design = _with_words(design, sides_said(work, across.field, down.field), (_EDGE, _EDGE + 7), _LABEL, from_left=True)
    for number, value in enumerate(across.values):
        design = _with_words(design, f"{value:g}", (_LEFT + number * step + field / 2, _TOP - 2.5), _LABEL)
    for number, value in enumerate(down.values):
        place = (_EDGE, _TOP + number * step + field / 2)
        design = _with_words(design, f"{value:g}", place, _LABEL, from_left=True)
    return design


def sides_said(work: str, across: str, down: str) -> str:
    """What changes across a card and down it, with units: "speed in mm/s across, power in % down"."""

    def said(field: str) -> str:
        unit = _UNITS.get(quantity_of(find_work(work).settings, field).kind)
        return f"{field} in {unit}" if unit else field

    return f"{said(across)} across, {said(down)} down"


def kerf_gauge(shop: Shop, machine: str, stock: Stock) -> Design:
    """A comb of openings and a plug: the plug goes snugly into the opening whose label is the width of the cut, mm."""
    asked = (machine, stock.material, stock.thickness)
    step = _PLUG + 6
    width, height = 2 * _EDGE + len(_GAUGE) * step, 34.0
    if width > stock.width or height > stock.height:
        raise Refused(f"The gauge is {width:g} × {height:g} mm: take a sheet that is at least as large.")
    parts = [_plate(width, height)]
    for at, kerf in enumerate(_GAUGE):
        hole = Hole(width=round(_PLUG - 2 * kerf, 3), height=14.0)
        place = (_EDGE + at * step + step / 2, 12.0)
        parts.append(Part(id=f"a{100 + at}", roles=("cuts",), shape=hole, x=place[0], y=place[1]))
    plug = Part(id="a300", roles=("adds",), shape=Rectangle(width=_PLUG, height=26.0), x=_PLUG / 2, y=13.0)
    labels = _operation(_LABELS, "engrave", "Labels", _base(shop, asked, "engrave"))
    comb = Piece(id="p1", name="Comb", parts=tuple(parts), operations=(("engraves", _LABELS),))
    pieces = (comb, Piece(id="p2", name="Plug", parts=(plug,)))
    card = Card(work="cut", across="kerf", columns=_GAUGE)
    ticket = Ticket(machine=machine, operations=(labels,))  # cuts run on the drawn line: that is what is measured
    design = Design(name="Width of the cut", serial=1000, pieces=pieces, stock=stock, ticket=ticket, card=card)
    for at, kerf in enumerate(_GAUGE):
        design = _with_words(design, f"{kerf:.2f}", (_EDGE + at * step + step / 2, 25.0), _LABEL)
    return design


def usual_card(shop: Shop, machine: str, material: str, work: str) -> Design:
    """The card that most makers begin with, on the first sheet of a material: power across and speed down; of a cut,
    speed and passes; for `focus` that and power; for `gauge` the gauge; for `marks` those for the eye.
    """
    if not (shop.has_machine(machine) and shop.has_material(material)):
        raise Refused("That machine or material is no longer in the workshop.")
    stuff = shop.material(material)
    there = [sheet for sheet in shop.shelf if sheet.material == material and sheet.count and not sheet.used]
    stock = from_shelf(there[0]) if there else Stock(material=material, thickness=stuff.thicknesses[0])
    if work == "marks":
        return marks_sheet(shop, machine)
    if work == "gauge":
        return kerf_gauge(shop, machine, stock)
    if work == "focus":
        asked = (shop, machine, stock.material, stock.thickness, "engrave")
        return field_card(
            shop, machine, stock, "engrave", usual_axis(*asked, "focus", 5), usual_axis(*asked, "power", 3)
        )
    asked = (shop, machine, stock.material, stock.thickness, work)
    if work == "cut":
        return field_card(shop, machine, stock, work, usual_axis(*asked, "speed", 5), usual_axis(*asked, "passes", 3))
    if work not in WORKS:
        raise Refused(f"A test card is made to {', '.join(WORKS)}, not to “{work[:20]}”.")
    return field_card(shop, machine, stock, work, usual_axis(*asked, "power", 5), usual_axis(*asked, "speed", 5))


def kept(design: Design, shop: Shop, row: int, column: int, origin: str) -> KeepRecipe:
    """The edit of a shop that keeps the settings of a field, counted from 0, as the recipe for the card's work; of a
    gauge, the width of the cut. Raises `Refused` where there is no such field.
    """
    card, stock, machine = design.card, design.stock, design.ticket.machine
    if card is None or not 0 <= column < len(card.columns) or not 0 <= row < max(len(card.rows), 1):
        raise Refused("There is no such field on this card.")
    if card.fields:
        values = design.ticket.operation(card.fields[row * len(card.columns) + column]).own
    else:
        base = _base(shop, (machine, stock.material, stock.thickness), card.work)
        values = {**base, card.across: card.columns[column]}
    return KeepRecipe(
        do="keep-recipe", machine=machine, material=stock.material, thickness=stock.thickness, work=card.work,
        values=tuple(sorted(values.items())), origin=origin,
    )  # fmt: skip


def _base(shop: Shop, asked: tuple[str, str, float], work: str) -> dict[str, Any]:
    """What a recipe says, or is guessed, or what most begin with."""
    recipe = shop.recipe(*asked, work) or guess(shop, *asked, work)
    if recipe:
        return dict(recipe.values)
    return {name: _FIRST[name] for name in ("power", "speed", "passes")}


def _operation(own: str, work: str, name: str, values: dict[str, Any]) -> Operation:
    return build(Operation, {"id": own, "work": work, "name": name, "settings": values})


def _plate(width: float, height: float) -> Part:
    shape = Rectangle(width=width, height=height)
    return Part(id="a1", roles=("adds",), shape=shape, x=width / 2, y=height / 2)


def _field(own: str, work: str, size: float, at: tuple[float, float], operation: str) -> Part:
    role = WORKS[work]
    shape = Hole(width=size, height=size * 0.999) if role == "cuts" else Rectangle(width=size, height=size)
    return Part(id=own, roles=(role,), shape=shape, x=at[0], y=at[1], operations=((role, operation),))


def _with_words(design: Design, text: str, at: tuple[float, float], height: float, from_left: bool = False) -> Design:
    """The design with words on its first piece: about a place, or from there on to the right."""
    values = {"text": text, "cap_height": 0.7 * height, "font": "alegreya-sans"}
    edit = {"do": "add-part", "piece": "p1", "kind": "words", "role": "engraves", "values": values}
    design = apply(design, read_edit({**edit, "x": at[0], "y": at[1]}))
    if not from_left:
        return design
    piece = design.piece("p1")
    last = piece.parts[-1]
    moved = last.model_copy(update={"x": last.x + at[0] - part_bounds(last)[0]})
    return with_piece(design, piece.model_copy(update={"parts": (*piece.parts[:-1], moved)}))


def fields_of(card: Card) -> Iterator[tuple[int, int, str]]:
    """Every field, as (row, column, what it was done with)."""
    for row in range(max(len(card.rows), 1)):
        for column, value in enumerate(card.columns):
            own = f"{card.across} {value:g}"
            yield row, column, own if not card.rows else f"{own}, {card.down} {card.rows[row]:g}"
