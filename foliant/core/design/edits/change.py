"""The edit behind every value of a sentence: set typed values of one thing."""

from typing import Any, Literal, Self

from foliant.core.design.edits.command import (
    Command,
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
from foliant.core.design.edits.operations import with_operation
from foliant.core.design.edits.parts import check_room
from foliant.core.design.edits.sizing import resized
from foliant.core.design.edits.treating import with_treatment
from foliant.core.design.holds import Axis, Hold
from foliant.core.design.model import Design, Part, Piece, Stock
from foliant.core.design.operations import Operation
from foliant.core.design.placing import reference_point, shape_bounds
from foliant.core.design.settle import AXES, left_by, reheld
from foliant.core.design.shapes import Combination, Lap, Words
from foliant.core.design.shapes.lettered import LETTERING
from foliant.core.design.treatments import KINDS
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.quantities import Quantity, build, quantity_of, with_values
from foliant.core.units import Unit

_OF_PARTS = ("part", "across", "down", "hold", "repeat", "node", *KINDS, *LETTERING)
_PLACES: dict[str, Quantity] = {
    "x": quantity_of(Part, "x"),
    "y": quantity_of(Part, "y"),
}


class Change(Command):
    """Set typed values of one thing.

    `of` names it: `project`, `piece p1`, `part a3`, `across a3` or `down a3` (its holds), `hold a3` (both),
    `repeat a3`, `cornered a3` (any treatment), `joined a3`, `fit a3`, `edge a3` or `stencil a3` (of words),
    `node a3 0 2` (a contour and a node of it), `operation engrave`, `stock`, `sheet` or `ticket`.
    A part's `x` and `y` are where its reference point lies on the piece.
    """

    do: Literal["change"]
    of: str
    values: Values

    def apply(self, design: Design) -> Design:
        what, _, key = self.of.partition(" ")
        unit = design.unit
        match what:
            case "project":
                return with_values(design, self.values, unit)
            case "stock":
                return with_design(design, stock=_with_stock_values(design.stock, self.values, unit))
            case "sheet":
                return with_design(design, sheet=with_values(design.sheet, self.values, unit))
            case "ticket":
                return with_design(design, ticket=with_values(design.ticket, self.values, unit))
            case "operation":
                return with_operation(design, _with_operation_values(design.ticket.operation(key), self.values, unit))
            case "piece":
                return with_piece(design, with_values(design.piece(key), self.values, unit))
            case _ if what in _OF_PARTS:
                part_id, *where = key.split() or [""]
                piece = holder(design, part_id)
                part = unlocked(piece.part(part_id))
                if "depth" in self.values and isinstance(part.shape, Lap) and part.shape.opens == "below":
                    return _with_mate_depth(design, part, self.values, unit)
                if what == "part":
                    return with_piece(design, _with_part_values(piece, part, self.values, unit))
                if what in KINDS:
                    return with_piece(design, with_parts(piece, [_with_treatment(part, what, self.values, unit)]))
                if what in LETTERING:
                    return with_piece(design, with_parts(piece, [_with_lettering(part, what, self.values, unit)]))
                if what == "repeat":
                    part = _with_repeat(piece, part, self.values, unit)
                elif what == "node":
                    part = set_node_values(part, where, self.values, unit)
                elif what == "hold":
                    for axis in AXES:
                        part = _with_hold(piece, part, axis, self.values, unit)
                elif what in AXES:
                    part = _with_hold(piece, part, what, self.values, unit)
                return with_piece(design, with_parts(piece, [part]))
        raise Refused(f"There is nothing called “{self.of[:40]}” to change.")

    def says(self, design: Design) -> str:
        return f"change {' and '.join(self.values).replace('_', ' ')}"

    def with_shop(self, shop: Shop, design: Design) -> Self:
        """A material or machine is one of the shop's; a change of material takes a thickness that it is sold in."""
        machine = str(self.values.get("machine", "")) if self.of == "ticket" else ""
        if machine and not shop.has_machine(machine):
            raise Refused(f"There is no machine “{machine[:40]}” in the workshop.")
        material = str(self.values.get("material", "")) if self.of == "stock" else ""
        if material and not shop.has_material(material):
            raise Refused(f"There is no material “{material[:40]}” in the workshop.")
        if not material or "thickness" in self.values:
            return self
        sold = shop.material(material).sold_like(design.stock.thickness)
        return self.model_copy(update={"values": {**self.values, "thickness": sold}})


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
    if "name" in rest:
        operation = with_values(operation, {"name": rest.pop("name")}, unit)
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
        now = reference_point(new, new.reference)
        for field, raw in places.items():
            quantity = _PLACES[field]
            wanted: Any = quantity.check(quantity.read(raw, unit), unit)
            new = moved(new, wanted - now[0], 0.0) if field == "x" else moved(new, 0.0, wanted - now[1])
    check_room(piece, new, unit)
    piece = with_parts(piece, [new])
    return reheld(piece, {part.id}) if places else piece


def _with_shape_values(part: Part, values: Values, unit: Unit) -> Part:
    """The part with other values of its shape; its reference point stays, and its proportions if they are kept."""
    shape = with_values(part.shape, values, unit).changed_from(part.shape)
    if part.made_of:
        return changed(part, shape=shape)  # it lies where its parts lie
    if part.proportional and len(values) == 1 and next(iter(values)) in ("width", "height"):
        before, after = shape_bounds(part.shape), shape_bounds(shape)
        side = 0 if "width" in values else 1
        factor = (after[side + 2] - after[side]) / (before[side + 2] - before[side])
        return resized(part, factor, factor, part.reference)
    return _kept_at(part, changed(part, shape=shape))


def _with_treatment(part: Part, key: str, values: Values, unit: Unit) -> Part:
    name: Any = key
    treatment = getattr(part.treatments, key)
    if treatment is None:
        raise Refused(f"{part.shape.label()[:40]} is not {KINDS[name].title}.")
    return with_treatment(part, name, with_values(treatment, values, unit), unit)


def _with_lettering(part: Part, key: str, values: Values, unit: Unit) -> Part:
    """The part with other values of what is done with its words; it stays where it is placed."""
    setting = getattr(part.shape, key, None)
    if not isinstance(part.shape, Words) or setting is None:
        raise Refused(f"{part.shape.label()[:40]} is not {LETTERING[key].title}.")  # type: ignore[index]
    shape = part.shape.model_copy(update={key: with_values(setting, values, unit)})
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
