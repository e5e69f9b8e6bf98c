"""Putting: one way to name any value of a design, and one way to set it.

Whatever sets a value goes through `put`: a value typed in a sentence, a role pressed, a part hidden, a column of names.
To give something new a value of its own, name its kind in `_PUTTERS`.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from foliant.core.design.edits.command import (
    Values,
    changed,
    check_target,
    fields,
    holder,
    moved,
    unlocked,
    with_design,
    with_parts,
    with_piece,
)
from foliant.core.design.edits.nodes import set_node_values
from foliant.core.design.edits.room import check_room
from foliant.core.design.edits.treating import with_treatment
from foliant.core.design.holds import Axis, Hold
from foliant.core.design.model import ROLES, UNNAMED, Design, Part, Piece, Stock
from foliant.core.design.operations import Operation, Ticket
from foliant.core.design.placing import measured_point, reference_point
from foliant.core.design.roster import Roster
from foliant.core.design.settle import AXES, left_by, reheld
from foliant.core.design.shapes import Combination, Lap, Words
from foliant.core.design.shapes.lettered import LETTERING
from foliant.core.design.treatments import KINDS
from foliant.core.errors import Refused
from foliant.core.quantities import Quantity, build, quantity_of, with_values
from foliant.core.units import MM_PER_INCH, Unit


@dataclass(frozen=True)
class Holder:
    """What values belong to: a kind of thing, and the ids that name one of it.

    As text: `project`, `piece p1`, `part a3`, `across a3` or `down a3` (its holds), `hold a3` (both), `repeat a3`,
    `cornered a3` (any treatment), `joined a3`, `fit a3`, `edge a3` or `stencil a3` (of words), `node a3 0 2` (a contour
    and a node of it), `operation engrave`, `column c5`, `stock`, `sheet` or `ticket`. Whether a treatment, or what is
    done with words, is there at all is a value of it too: `cornered a3 on`.
    """

    kind: str
    ids: tuple[str, ...] = ()

    @classmethod
    def read(cls, text: str) -> "Holder":
        """The holder of that text; raises `Refused` where there is no such kind."""
        kind, *ids = text.split() or [""]
        if kind not in _PUTTERS:
            raise Refused(f"There is nothing called “{text[:40]}” to change.")
        return cls(kind, tuple(ids))

    def __str__(self) -> str:
        return " ".join((self.kind, *self.ids))

    @property
    def id(self) -> str:
        """The id that names it; "" where there is only one of its kind."""
        return self.ids[0] if self.ids else ""


@dataclass(frozen=True)
class Address:
    """One value of a design: its holder, and the field. As text `part a3 width`."""

    holder: Holder
    field: str

    @classmethod
    def read(cls, text: str) -> "Address":
        """The address of that text; raises `Refused`."""
        of, _, field = text.rpartition(" ")
        return cls(Holder.read(of), field)

    def __str__(self) -> str:
        return f"{self.holder} {self.field}"


def put(design: Design, of: Holder, values: Values) -> Design:
    """The design with typed values of one holder set, all at once; raises `Refused`.

    A part's `x` and `y` are where its reference point lies on the piece. A part that is locked takes only what it is
    marked with: `locked`, `hidden` or its contrary `shown`, `proportional`; whether it is `flipped` is said likewise.
    """
    return _PUTTERS[of.kind](design, of, values)


def _put_project(design: Design, of: Holder, values: Values) -> Design:
    rest = dict(values)
    if "unit" in rest:
        unit = rest.pop("unit")
        # The nudge goes along between its two usual steps; a step of the maker's own stays.
        nudge = _usual_nudge(unit) if design.nudge == _usual_nudge(design.unit) else design.nudge
        design = with_design(design, unit=unit, nudge=nudge)
    return with_values(design, rest, design.unit) if rest else design


def _usual_nudge(unit: object) -> float:
    return 0.5 if unit == "mm" else MM_PER_INCH / 64


def _put_stock(design: Design, of: Holder, values: Values) -> Design:
    return with_design(design, stock=_with_stock_values(design.stock, values, design.unit))


def _put_sheet(design: Design, of: Holder, values: Values) -> Design:
    return with_design(design, sheet=with_values(design.sheet, values, design.unit))


def _put_ticket(design: Design, of: Holder, values: Values) -> Design:
    return with_design(design, ticket=with_values(design.ticket, values, design.unit))


def _put_operation(design: Design, of: Holder, values: Values) -> Design:
    return with_operation(design, _with_operation_values(design.ticket.operation(of.id), values, design.unit))


def _put_column(design: Design, of: Holder, values: Values) -> Design:
    new = with_values(design.roster.column(of.id), values, design.unit)
    columns = tuple(new if column.id == of.id else column for column in design.roster.columns)
    return with_design(design, roster=build(Roster, {**dict(design.roster), "columns": columns}))


def _put_piece(design: Design, of: Holder, values: Values) -> Design:
    return with_piece(design, with_values(design.piece(of.id), values, design.unit))


def _put_part(design: Design, of: Holder, values: Values) -> Design:
    piece = holder(design, of.id)
    part = piece.part(of.id)
    marks = {field: _switched(field, raw) for field, raw in values.items() if field in _MARKS}
    rest = {field: raw for field, raw in values.items() if field not in marks and field != "shown"}
    if "shown" in values:
        marks = {"hidden": not _switched("shown", values["shown"]), **marks}
    if rest or "flipped" in marks:
        unlocked(part)
    if "depth" in rest and isinstance(part.shape, Lap) and part.shape.opens == "below":
        return _with_mate_depth(design, part, values, design.unit)
    if design.name == UNNAMED and (words := _first_line(rest.get("text"))):
        design = with_design(design, name=words)
        piece = holder(design, of.id)
    if "roles" in rest:
        part = _with_roles(part, rest.pop("roles"))
    piece = with_parts(piece, [part.model_copy(update=marks)])
    return with_piece(design, _with_part_values(piece, piece.part(of.id), rest, design.unit) if rest else piece)


def _first_line(text: object) -> str:
    """What a project that has no name yet is called after the first words that are typed on it."""
    return " ".join(str(text or "").split("\n", 1)[0].split())[:40]


def _of_part(change: Callable[[Piece, Part, Holder, Values, Unit], Part]) -> "Putter":
    """A putter of what belongs to a part."""

    def put_it(design: Design, of: Holder, values: Values) -> Design:
        piece = holder(design, of.id)
        part = change(piece, unlocked(piece.part(of.id)), of, values, design.unit)
        return with_piece(design, with_parts(piece, [part]))

    return put_it


def _put_hold(piece: Piece, part: Part, of: Holder, values: Values, unit: Unit) -> Part:
    for axis in AXES if of.kind == "hold" else (of.kind,):
        part = _with_hold(piece, part, axis, values, unit)  # type: ignore[arg-type]
    return part


def _put_repeat(piece: Piece, part: Part, of: Holder, values: Values, unit: Unit) -> Part:
    return _with_repeat(piece, part, values, unit)


def _put_node(piece: Piece, part: Part, of: Holder, values: Values, unit: Unit) -> Part:
    return set_node_values(part, list(of.ids[1:]), values, unit)


def _put_treatment(piece: Piece, part: Part, of: Holder, values: Values, unit: Unit) -> Part:
    return _with_treatment(part, of.kind, values, unit)


def _put_lettering(piece: Piece, part: Part, of: Holder, values: Values, unit: Unit) -> Part:
    return _with_lettering(part, of.kind, values, unit)


Putter = Callable[[Design, Holder, Values], Design]
_PUTTERS: dict[str, Putter] = {
    "project": _put_project,
    "stock": _put_stock,
    "sheet": _put_sheet,
    "ticket": _put_ticket,
    "operation": _put_operation,
    "column": _put_column,
    "piece": _put_piece,
    "part": _put_part,
    "repeat": _of_part(_put_repeat),
    "node": _of_part(_put_node),
    **dict.fromkeys(("hold", *AXES), _of_part(_put_hold)),
    **dict.fromkeys(KINDS, _of_part(_put_treatment)),
    **dict.fromkeys(LETTERING, _of_part(_put_lettering)),
}

_MARKS = ("locked", "hidden", "proportional", "flipped")
_SAID = {"yes": True, "on": True, "no": False, "off": False}
_SPOKEN = {
    **dict.fromkeys(("cut", "through"), "cuts"),
    **dict.fromkeys(("score", "scored"), "scores"),
    **dict.fromkeys(("engrave", "engraved"), "engraves"),
    **dict.fromkeys(("add", "added"), "adds"),
    "guide": "guides",
}
"""How roles are said in lists that makers bring."""

_PLACES: dict[str, Quantity] = {"x": quantity_of(Part, "x"), "y": quantity_of(Part, "y")}


def _switched(field: str, raw: object) -> bool:
    """Yes or no, as a value or in words."""
    found = _SAID.get(raw.strip().lower()) if isinstance(raw, str) else raw
    if not isinstance(found, bool):
        raise Refused(f"Whether it is {field} is yes or no, not “{str(raw)[:40]}”.")
    return found


def _with_roles(part: Part, raw: Any) -> Part:
    """The part with other roles, as a list or as words with “and” or commas between."""
    roles = re.split(r"[,\s]+|\band\b", raw) if isinstance(raw, str) else raw
    if not isinstance(roles, (list, tuple)) or not all(isinstance(role, str) for role in roles):
        raise Refused(f"Its roles cannot be “{str(raw)[:40]}”; name one or more of {', '.join(ROLES)}.")
    given = changed(part, roles=tuple(_SPOKEN.get(role.lower(), role) for role in roles if role))
    return given.model_copy(update={"shape": given.shape.in_roles(part.roles, given.roles)})


def with_operation(design: Design, operation: Operation) -> Design:
    """The design with this operation in place of the one of its id."""
    known = [other.id for other in design.ticket.operations]
    operations = tuple(operation if other.id == operation.id else other for other in design.ticket.operations)
    if operation.id not in known:
        operations = (*operations, operation)
    return with_design(design, ticket=build(Ticket, {**dict(design.ticket), "operations": operations}))


def _with_stock_values(stock: Stock, values: Values, unit: Unit) -> Stock:
    """Other stock has not been measured, and does not come from where this came from."""
    new = with_values(stock, values, unit)
    fresh: Values = {}
    if {"material", "thickness"} & set(values) and "measured" not in values:
        fresh["measured"] = None
    if new.material != stock.material and "price" not in values:
        fresh["price"] = 0.0
    if {"material", "thickness", "width", "height"} & set(values):
        fresh["source"] = ""
    return new.model_copy(update=fresh)


def _with_operation_values(operation: Operation, values: Values, unit: Unit) -> Operation:
    """The operation with typed settings over its recipe's, or another name."""
    rest = dict(values)
    if "on" in rest:
        operation = operation.model_copy(update={"on": _switched("on", rest.pop("on"))})
    if "name" in rest:
        operation = with_values(operation, {"name": rest.pop("name")}, unit)
    if "holes" in rest:
        operation = with_values(operation, {"holes": rest.pop("holes")}, unit)
    own: Values = dict(operation.own)
    for field, raw in rest.items():
        quantity = quantity_of(operation.does.settings, field)
        own[field] = quantity.check(quantity.read(raw, unit), unit)
    return build(Operation, {**fields(operation), "settings": own})


def _with_part_values(piece: Piece, part: Part, values: Values, unit: Unit) -> Piece:
    if "keeper" in values and isinstance(part.shape, Combination):
        if values["keeper"] not in part.shape.of:
            raise Refused("That is not a part of the combination.")
        return with_parts(piece, [changed(part, shape=part.shape.keeping(str(values["keeper"])))])
    places = {field: raw for field, raw in values.items() if field in _PLACES}
    own = {field: raw for field, raw in values.items() if field in ("rotation", "reference")}
    rest = {field: raw for field, raw in values.items() if field not in places and field not in own}
    new = with_values(part, own, unit)
    if "rotation" in own:
        new = _kept_at(part, new)
    if rest:
        new = _with_shape_values(new, rest, unit)
    if places:
        now = measured_point(new, new.reference)
        for field, raw in places.items():
            wanted = _PLACES[field].number(raw, unit)
            new = moved(new, wanted - now[0], 0.0) if field == "x" else moved(new, 0.0, wanted - now[1])
    check_room(piece, new, unit)
    piece = with_parts(piece, [new])
    return reheld(piece, {part.id}) if places else piece


def _with_shape_values(part: Part, values: Values, unit: Unit) -> Part:
    """The part with other values of its shape; its reference point stays, and its proportions if they are kept."""
    if part.made_of:
        return changed(part, shape=part.shape.typed(values, unit))  # it lies where its parts lie
    kept = part.shape.in_proportion(values, unit) if part.proportional else None
    shape = kept or part.shape.typed(values, unit)
    # What finds its own place is no longer held to one.
    free: Values = {"across": None, "down": None} if shape.keeps_margin else {}
    new = changed(part, shape=shape, roles=shape.roles_after(part.shape, part.roles), **free)
    return new if set(values) <= set(shape.crops) else _kept_at(part, new)


def _with_treatment(part: Part, key: str, values: Values, unit: Unit) -> Part:
    name: Any = key
    treatment, rest = _begun(part, getattr(part.treatments, key), KINDS[name], values)
    if treatment is None:
        return changed(part, treatments=part.treatments.model_copy(update={key: None}))
    return with_treatment(part, name, with_values(treatment, rest, unit), unit)


def _begun(part: Part, there: Any, kind: Any, values: Values) -> tuple[Any, Values]:
    """What is done to a part, begun or ended where the values say whether it is `on`, with the other values."""
    rest = dict(values)
    on = _switched("on", rest.pop("on")) if "on" in rest else there is not None
    if not on and "on" not in values:
        raise Refused(f"{part.shape.label()[:40]} is not {kind.title}.")
    if on and there is None:
        needs = [field for field, told in kind.model_fields.items() if told.is_required() and field in rest]
        there = build(kind, {field: rest.pop(field) for field in needs})
    return there if on else None, rest


def _with_lettering(part: Part, key: str, values: Values, unit: Unit) -> Part:
    """The part with other values of what is done with its words; it stays where it is placed."""
    kind = LETTERING[key]  # type: ignore[index]
    if not isinstance(part.shape, Words):
        raise Refused(f"{part.shape.label()[:40]} is not {kind.title}.")
    setting, rest = _begun(part, getattr(part.shape, key), kind, values)
    shape = part.shape.model_copy(update={key: with_values(setting, rest, unit) if setting else None})
    return changed(part, shape=shape) if part.made_of else _kept_at(part, changed(part, shape=shape))


def _with_mate_depth(design: Design, lower: Part, values: Values, unit: Unit) -> Design:
    """A lower cross-lap slot as deep as typed: the upper one leaves so much of its piece."""
    assert isinstance(lower.shape, Lap)
    piece = holder(design, lower.shape.mate)
    upper = piece.part(lower.shape.mate)
    wanted: Any = with_values(lower.shape, values, unit)
    rest = left_by(piece, upper) + upper.shape.depth - wanted.depth  # type: ignore[union-attr]
    return with_piece(design, with_parts(piece, [_with_shape_values(upper, {"depth": round(rest, 6)}, unit)]))


def _kept_at(before: Part, after: Part) -> Part:
    """The part with its reference point where it was."""
    old, new = reference_point(before, before.reference), reference_point(after, before.reference)
    return moved(after, old[0] - new[0], old[1] - new[1])


def _with_hold(piece: Piece, part: Part, axis: Axis, values: Values, unit: Unit) -> Part:
    hold = part.hold(axis)
    if hold is None:
        raise Refused(f"{part.shape.label()[:40]} is not held {axis}.")
    rest = dict(values)
    to = str(rest.pop("to", hold.to))
    check_target(piece, to)
    new = with_values(hold, rest, unit).model_copy(update={"to": to})
    return changed(part, **{axis: build(Hold, fields(new))})


def _with_repeat(piece: Piece, part: Part, values: Values, unit: Unit) -> Part:
    if part.repeat is None:
        raise Refused(f"{part.shape.label()[:40]} is not repeated.")
    rest = dict(values)
    repeat = part.repeat
    if "about" in rest:
        about = str(rest.pop("about"))
        if about:
            check_target(piece, about)
        repeat = repeat.model_copy(update={"about": about})
    return changed(part, repeat=with_values(repeat, rest, unit))
