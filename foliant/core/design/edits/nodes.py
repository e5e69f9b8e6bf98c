"""Edits of the nodes of a drawn shape. Places are mm on the piece; nodes are (contour, node) numbers."""

from collections.abc import Collection
from typing import Any, Literal

from pydantic import Field

from foliant.core.design import nodes as ops
from foliant.core.design.edits.command import Command, Values, changed, holder, unlocked, with_parts, with_piece
from foliant.core.design.model import Design, Part
from foliant.core.design.names import Identifier
from foliant.core.design.nodes import At, Contours, NodeKind
from foliant.core.design.placing import part_matrix
from foliant.core.design.shapes import Drawn
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.quantities import Across, Down, Quantity
from foliant.core.units import Unit, format_length

_PLACES = {
    "x": Quantity("length", "The place across", -5000, 5000),
    "y": Quantity("length", "The place down", -5000, 5000),
}
_RADIUS = Quantity("length", "The radius", 0.05, 1000)
_KINDS = Quantity(
    "choice", "The node", choices=(("corner", "a corner"), ("smooth", "smooth"), ("symmetric", "symmetric"))
)


class EditNodes(Command):
    """One change of the nodes of a drawn shape.

    op      add (on the segment that leaves the first node, at `share` of it), remove, move (by dx, dy), handle
            (the `side` handle of the first node to dx, dy from it), kind, line, curve (the segments that leave the
            nodes), break (at the first node), join (the first two), round (the corners, by `radius`)
    """

    do: Literal["edit-nodes"]
    part: Identifier
    op: Literal["add", "remove", "move", "handle", "kind", "line", "curve", "break", "join", "round"]
    nodes: list[At] = Field(min_length=1, max_length=5000)
    dx: Across = 0.0
    dy: Down = 0.0
    share: float = Field(0.5, gt=0, lt=1)
    side: Literal["arrive", "leave"] = "leave"
    kind: NodeKind = "corner"
    radius: float | str = 2.0

    def apply(self, design: Design) -> Design:
        piece = holder(design, self.part)
        part = unlocked(piece.part(self.part))
        return with_piece(design, with_parts(piece, [with_contours(part, self._changed(part, design.unit))]))

    def _changed(self, part: Part, unit: Unit) -> Contours:
        contours = drawn(part).contours
        first = self.nodes[0]
        for at in self.nodes:
            ops.node_at(contours, at)
        vector = to_own(part, self.dx, self.dy)
        match self.op:
            case "add":
                return ops.add_node(contours, first, self.share)
            case "remove":
                return ops.remove_nodes(contours, set(self.nodes))
            case "move":
                return ops.move_nodes(contours, self.nodes, *vector)
            case "handle":
                return ops.set_handle(contours, first, self.side, vector)
            case "kind":
                return ops.set_kind(contours, self.nodes, self.kind)
            case "line" | "curve":
                return ops.set_segments(contours, self.nodes, self.op == "curve")
            case "round":
                return rounded_at(contours, self.nodes, self.radius, unit)
            case "break":
                return ops.break_at(contours, first)
        if len(self.nodes) < 2:
            raise Refused("Choose the two ends that are to be joined.")
        return ops.join_nodes(contours, first, self.nodes[1])

    def says(self, design: Design) -> str:
        many = "nodes" if len(self.nodes) > 1 else "a node"
        if self.op == "round":
            return f"round {'corners' if len(self.nodes) > 1 else 'a corner'}{self._taken_off(design)}"
        words = {"handle": "shape the curve at", "kind": "change", "line": "straighten at", "curve": "bend at"}
        return f"{words.get(self.op, self.op)} {many}"

    def _taken_off(self, design: Design) -> str:
        """How much of the sharpest of these corners a rounding takes off, said where that is as much as its radius."""
        contours = drawn(holder(design, self.part).part(self.part)).contours
        radius = _RADIUS.number(self.radius, design.unit)
        most = max((ops.tip_of(contours, at) for at in self.nodes), default=0.0) * radius
        return f": {format_length(round(most, 1), design.unit)} off the tip" if most >= radius else ""


def rounded_at(contours: Contours, nodes: Collection[At], radius: float | str, unit: Unit) -> Contours:
    """The contours with corners rounded by a radius, in mm or as typed; raises `Refused` where it does not fit."""
    wanted = _RADIUS.number(radius, unit)
    found, most = ops.round_corners(contours, nodes, wanted)
    if most < wanted:
        room = f"the most there is {format_length(most, unit)}" if most else "there is no room for one"
        raise Refused(f"A radius of {format_length(wanted, unit)} does not fit between the next nodes: {room}.")
    return found


def drawn(part: Part) -> Drawn:
    """The drawn shape of a part; raises `Refused` for another kind."""
    if not isinstance(part.shape, Drawn):
        raise Refused(f"{part.shape.label()[:40]} has no nodes; make it plain first.")
    return part.shape


def with_contours(part: Part, contours: Contours) -> Part:
    """The part with other contours; its origin goes to the middle of their box, so that nothing else moves."""
    if not contours:
        raise Refused("That would leave nothing of the shape; delete the part instead.")
    left, top, right, bottom = join(Drawn(contours=contours).paths()).bounds
    x, y = (left + right) / 2, (top + bottom) / 2
    a, b, c, d, _, _ = part_matrix(part)
    shape = drawn(part).with_contours(contour.moved(-x, -y) for contour in contours)
    return changed(part, shape=shape, x=round(part.x + a * x + c * y, 6), y=round(part.y + b * x + d * y, 6))


def to_own(part: Part, dx: float, dy: float) -> tuple[float, float]:
    """A vector on the piece as one of the part's own."""
    a, b, c, d, _, _ = part_matrix(part)
    scale = a * d - b * c
    return (d * dx - c * dy) / scale, (a * dy - b * dx) / scale


def node_place(part: Part, at: At) -> tuple[float, float]:
    """Where a node lies on the piece, mm."""
    node = ops.node_at(drawn(part).contours, at)
    a, b, c, d, e, f = part_matrix(part)
    return a * node.x + c * node.y + e, b * node.x + d * node.y + f


def set_node_values(part: Part, where: list[str], values: Values, unit: Unit) -> Part:
    """The part with typed values of one node: its place across (x) and down (y), its kind, and the radius
    that rounds it.
    """
    if len(where) != 2 or not all(number.isdecimal() for number in where):
        raise Refused("That node is no longer there.")
    at = (int(where[0]), int(where[1]))
    result = part
    if "kind" in values:
        kind: Any = _KINDS.check(values["kind"], unit)
        result = with_contours(result, ops.set_kind(drawn(result).contours, [at], kind))
    for field, quantity in _PLACES.items():
        if field in values:
            wanted: Any = quantity.check(quantity.read(values[field], unit), unit)
            now = node_place(result, at)
            shift = (wanted - now[0], 0.0) if field == "x" else (0.0, wanted - now[1])
            contours = ops.move_nodes(drawn(result).contours, [at], *to_own(result, *shift))
            result = with_contours(result, contours)
    if "radius" in values:  # last, as the node is gone then
        result = with_contours(result, rounded_at(drawn(result).contours, [at], values["radius"], unit))
    return result
