"""Nodes: contours that can be edited point by point, and the pure functions that edit them.

A node may have a handle towards the segment that arrives and one towards the segment that leaves, each
given as a vector from the node in mm. A segment with no handle at either end is a line, else a cubic.
Functions take contours and `At`s (contour number, node number) and give new contours.
"""

import math
from collections.abc import Callable, Collection, Iterable
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.paths import CUBIC, Path, PathPen
from foliant.core.paths.corners import corners_of, largest_corner, with_corners
from foliant.core.paths.curves import evaluate

NodeKind = Literal["corner", "smooth", "symmetric"]
Vector = tuple[float, float]
At = tuple[int, int]
Floats = NDArray[np.float64]

_SAMPLES = 24
_Coordinate = Annotated[float, Field(ge=-10_000, le=10_000)]
_Handle = tuple[_Coordinate, _Coordinate]


class Node(Frozen):
    """A node at (x, y) mm; `kind` says how its two handles are kept in line."""

    x: _Coordinate
    y: _Coordinate
    arrive: _Handle | None = None
    leave: _Handle | None = None
    kind: NodeKind = "corner"

    def moved(self, dx: float, dy: float) -> "Node":
        return self.model_copy(update={"x": _grid(self.x + dx), "y": _grid(self.y + dy)})

    def with_handles(self, arrive: Vector | None, leave: Vector | None) -> "Node":
        return self.model_copy(update={"arrive": _vector(arrive), "leave": _vector(leave)})


class Contour(Frozen):
    """Nodes in order; a closed contour goes back from the last to the first."""

    nodes: Annotated[tuple[Node, ...], Field(min_length=2, max_length=5000)]
    closed: bool = True

    @property
    def segments(self) -> Iterable[tuple[Node, Node]]:
        """Each segment as the nodes it runs between."""
        after = (*self.nodes[1:], self.nodes[0]) if self.closed else self.nodes[1:]
        return zip(self.nodes, after, strict=False)

    def stretched(self, across: float, down: float) -> "Contour":
        """The contour with x and y multiplied."""

        def vector(handle: Vector | None) -> Vector | None:
            return handle and (handle[0] * across, handle[1] * down)

        nodes = (
            node.model_copy(update={"x": _grid(node.x * across), "y": _grid(node.y * down)}).with_handles(
                vector(node.arrive), vector(node.leave)
            )
            for node in self.nodes
        )
        return self.model_copy(update={"nodes": tuple(nodes)})

    def moved(self, dx: float, dy: float) -> "Contour":
        return self.model_copy(update={"nodes": tuple(node.moved(dx, dy) for node in self.nodes)})


Contours = tuple[Contour, ...]
_SHORTEST = 0.1
"""The share that a handle keeps of its length, when it is turned into line with the other."""


def path_of(contours: Contours) -> Path:
    """The path that the nodes draw."""
    pen = PathPen()
    for contour in contours:
        first = contour.nodes[0]
        pen.moveTo((first.x, first.y))
        for a, b in contour.segments:
            if a.leave is None and b.arrive is None:
                pen.lineTo((b.x, b.y))
            else:
                pen.curveTo(*_controls(a, b), (b.x, b.y))
        if contour.closed:
            pen.closePath()
        else:
            pen.endPath()
    return pen.path()


def contours_of(path: Path) -> Contours:
    """A path as nodes; arcs become cubics, and nodes that run through evenly are marked smooth or symmetric."""
    plain = path.without_arcs()
    found = []
    for segments, closed in plain.contours():
        points = plain.points[segments]
        curved = plain.kinds[segments] == CUBIC
        leaves = [_offset(p[0], p[1]) if bent else None for p, bent in zip(points, curved, strict=True)]
        arrives = [_offset(p[3], p[2]) if bent else None for p, bent in zip(points, curved, strict=True)]
        ends = [*points[:, 0].tolist()] + ([] if closed else [points[-1, 3].tolist()])
        arrives = [arrives[-1] if closed else None, *arrives[:-1]] if closed else [None, *arrives]
        leaves = leaves if closed else [*leaves, None]
        nodes = tuple(
            Node(x=_grid(x), y=_grid(y), arrive=_vector(a), leave=_vector(b), kind=_kind(a, b))
            for (x, y), a, b in zip(ends, arrives, leaves, strict=True)
        )
        found.append(Contour(nodes=nodes, closed=closed))
    return tuple(found)


def node_at(contours: Contours, at: At) -> Node:
    """The node; raises `Refused`."""
    contour, index = at
    if not (0 <= contour < len(contours) and 0 <= index < len(contours[contour].nodes)):
        raise Refused("That node is no longer there.")
    return contours[contour].nodes[index]


def add_node(contours: Contours, at: At, share: float) -> Contours:
    """A node on the segment that leaves `at`, at parameter `share` of it; the curve keeps its shape."""
    a = node_at(contours, at)
    contour = contours[at[0]]
    if not contour.closed and at[1] == len(contour.nodes) - 1:
        raise Refused("No segment leaves the last node of an open line.")
    after = (at[1] + 1) % len(contour.nodes)
    b = contour.nodes[after]
    if a.leave is None and b.arrive is None:
        new = Node(x=_grid(a.x + (b.x - a.x) * share), y=_grid(a.y + (b.y - a.y) * share))
    else:
        p = np.array([(a.x, a.y), *_controls(a, b), (b.x, b.y)])
        first = p[:-1] + (p[1:] - p[:-1]) * share
        second = first[:-1] + (first[1:] - first[:-1]) * share
        middle = second[0] + (second[1] - second[0]) * share
        new = Node(x=_grid(middle[0]), y=_grid(middle[1]), kind="smooth").with_handles(
            _offset(middle, second[0]), _offset(middle, second[1])
        )
        a = a.with_handles(a.arrive, _offset(p[0], first[0]))
        b = b.with_handles(_offset(p[3], first[2]), b.leave)
    nodes = list(contour.nodes)
    nodes[at[1]], nodes[after] = a, b
    nodes.insert(at[1] + 1, new)
    return _with(contours, at[0], nodes)


def remove_nodes(contours: Contours, gone: Collection[At]) -> Contours:
    """Without the nodes; each gap is closed by the one segment nearest to the curve that was there."""
    for at in gone:
        node_at(contours, at)
    result = []
    for number, contour in enumerate(contours):
        lost = {index for found, index in gone if found == number}
        kept = [i for i in range(len(contour.nodes)) if i not in lost]
        if len(kept) < 2:
            continue
        nodes = {i: contour.nodes[i] for i in kept}
        following = [*kept[1:], kept[0]] if contour.closed else kept[1:]
        for start, end in zip(kept, following, strict=False):
            span = (end - start) % len(contour.nodes)
            if span > 1:
                run = [contour.nodes[(start + k) % len(contour.nodes)] for k in range(span + 1)]
                leave, arrive = _fitted(run)
                nodes[start] = nodes[start].with_handles(nodes[start].arrive, leave)
                nodes[end] = nodes[end].with_handles(arrive, nodes[end].leave)
        result.append(contour.model_copy(update={"nodes": tuple(nodes[i] for i in kept)}))
    return tuple(result)


def move_nodes(contours: Contours, chosen: Collection[At], dx: float, dy: float) -> Contours:
    """The nodes shifted by (dx, dy) mm, with their handles."""
    return _each(contours, chosen, lambda node: node.moved(dx, dy))


def set_handle(contours: Contours, at: At, side: Literal["arrive", "leave"], vector: Vector) -> Contours:
    """A node's handle; a smooth node keeps the other in line with it, a symmetric one as long too."""
    node = node_at(contours, at)
    other = node.leave if side == "arrive" else node.arrive
    length = math.hypot(*vector)
    if other is not None and node.kind != "corner" and length > 0:
        reach = length if node.kind == "symmetric" else math.hypot(*other)
        other = (-vector[0] / length * reach, -vector[1] / length * reach)
    pair = (vector, other) if side == "arrive" else (other, vector)
    return _each(contours, [at], lambda node: node.with_handles(*pair))


def set_kind(contours: Contours, chosen: Collection[At], kind: NodeKind) -> Contours:
    """The nodes made corner, smooth or symmetric; those without handles get them along their neighbours."""
    result = contours
    for at in chosen:
        node = node_at(result, at).model_copy(update={"kind": kind})
        if kind != "corner":
            before, after = _neighbours(result[at[0]], at[1])
            node = _in_line(node, before, after)
        result = _each(result, [at], lambda _, made=node: made)  # type: ignore[misc]
    return result


def round_corners(contours: Contours, chosen: Collection[At], radius: float) -> tuple[Contours, float]:
    """The contours with corners rounded by a radius (mm), and the largest radius that they have room for; raises
    `Refused` where there is no corner.
    """
    path = path_of(contours)
    corners = corners_of(path)
    places = []
    for at in chosen:
        node = node_at(contours, at)
        away = np.hypot(*(corners.at - (node.x, node.y)).T) if len(corners.index) else np.ones(0)
        if not len(away) or away.min() > 1e-3:
            raise Refused("There is no corner at that node: it runs through, or is the end of an open line.")
        places.append(int(away.argmin()))
    most = largest_corner(path, "rounded", places)
    return contours_of(with_corners(path, "rounded", min(radius, most), places)), most


def tip_of(contours: Contours, at: At) -> float:
    """How far a rounding of 1 mm draws a corner in, mm; 0 where there is no corner."""
    before, after = _neighbours(contours[at[0]], at[1])
    node = node_at(contours, at)
    if before is None or after is None:
        return 0.0
    one, other = (
        node.arrive or (before.x - node.x, before.y - node.y),
        node.leave or (after.x - node.x, after.y - node.y),
    )
    between = abs(math.remainder(math.atan2(*one) - math.atan2(*other), 2 * math.pi))
    return 1 / math.sin(max(between, 0.05) / 2) - 1


def set_segments(contours: Contours, chosen: Collection[At], curved: bool) -> Contours:
    """The segments that leave the nodes made curves, with handles at their thirds, or straight lines."""
    result = contours
    for contour, index in chosen:
        a = node_at(result, (contour, index))
        nodes = list(result[contour].nodes)
        if not result[contour].closed and index == len(nodes) - 1:
            continue
        after = (index + 1) % len(nodes)
        b = nodes[after]
        if not curved:
            nodes[index], nodes[after] = a.with_handles(a.arrive, None), b.with_handles(None, b.leave)
        elif a.leave is None and b.arrive is None:
            third = ((b.x - a.x) / 3, (b.y - a.y) / 3)
            nodes[index] = a.with_handles(a.arrive, third)
            nodes[after] = b.with_handles((-third[0], -third[1]), b.leave)
        result = _with(result, contour, nodes)
    return result


def break_at(contours: Contours, at: At) -> Contours:
    """The contour opened at the node, or an open one parted in two there; both ends stay where they are."""
    node = node_at(contours, at)
    contour, index = contours[at[0]], at[1]
    nodes = contour.nodes
    start, end = node.with_handles(None, node.leave), node.with_handles(node.arrive, None)
    if contour.closed:
        parts = [Contour(nodes=(start, *nodes[index + 1 :], *nodes[:index], end), closed=False)]
    elif index in (0, len(nodes) - 1):
        raise Refused("An open line cannot be broken at its end.")
    else:
        parts = [
            Contour(nodes=(*nodes[:index], end), closed=False),
            Contour(nodes=(start, *nodes[index + 1 :]), closed=False),
        ]
    return (*contours[: at[0]], *parts, *contours[at[0] + 1 :])


def join_nodes(contours: Contours, first: At, second: At) -> Contours:
    """Two ends of open lines joined: by one node where they meet within 0.05 mm, else by a straight segment."""
    for at in (first, second):
        node_at(contours, at)
        if contours[at[0]].closed or at[1] not in (0, len(contours[at[0]].nodes) - 1):
            raise Refused("Only the ends of open lines can be joined; choose two of them.")
    if first[0] == second[0]:
        if first[1] == second[1]:
            raise Refused("Choose the other end too, to join the line to itself.")
        nodes = _merged(list(contours[first[0]].nodes), 0)
        return _with(contours, first[0], nodes, closed=True)
    one, two = contours[first[0]], contours[second[0]]
    head = one.nodes if first[1] else _reversed(one.nodes)
    tail = two.nodes if second[1] == 0 else _reversed(two.nodes)
    joined = _merged([*head, *tail], len(head))
    rest = tuple(c for i, c in enumerate(contours) if i not in (first[0], second[0]))
    return (*rest, Contour(nodes=tuple(joined), closed=False))


def _merged(nodes: list[Node], at: int) -> list[Node]:
    """The node before `at` and the one at it made one, if they meet."""
    end, start = nodes[at - 1], nodes[at]
    if math.hypot(end.x - start.x, end.y - start.y) > 0.05 or len(nodes) < 3:
        return nodes
    nodes[at] = start.with_handles(end.arrive, start.leave)
    del nodes[at - 1]
    return nodes


def _reversed(nodes: tuple[Node, ...]) -> tuple[Node, ...]:
    return tuple(node.with_handles(node.leave, node.arrive) for node in reversed(nodes))


def _with(contours: Contours, number: int, nodes: list[Node], closed: bool | None = None) -> Contours:
    old = contours[number]
    new = Contour(nodes=tuple(nodes), closed=old.closed if closed is None else closed)
    return (*contours[:number], new, *contours[number + 1 :])


def _each(contours: Contours, chosen: Collection[At], change: Callable[[Node], Node]) -> Contours:
    result = contours
    for at in chosen:
        nodes = list(result[at[0]].nodes)
        nodes[at[1]] = change(node_at(result, at))
        result = _with(result, at[0], nodes)
    return result


def _neighbours(contour: Contour, index: int) -> tuple[Node | None, Node | None]:
    last = len(contour.nodes) - 1
    before = contour.nodes[index - 1] if index or contour.closed else None
    after = contour.nodes[(index + 1) % (last + 1)] if index < last or contour.closed else None
    return before, after


def _in_line(node: Node, before: Node | None, after: Node | None) -> Node:
    """The node with both handles in one line, as its kind asks."""
    if before is None or after is None:
        return node
    arrive = node.arrive or ((before.x - node.x) / 3, (before.y - node.y) / 3)
    leave = node.leave or ((after.x - node.x) / 3, (after.y - node.y) / 3)
    in_length, out_length = math.hypot(*arrive), math.hypot(*leave)
    if not in_length or not out_length:
        return node
    way = (leave[0] / out_length - arrive[0] / in_length, leave[1] / out_length - arrive[1] / in_length)
    size = math.hypot(*way)
    if size < 1e-9:  # both handles point one way: turn the line square to them
        way, size = (-leave[1], leave[0]), out_length
    x, y = way[0] / size, way[1] / size
    # Handles as long as they reach along the line, or those of a spike would make it as wide as it is long.
    in_length, out_length = (
        max(_SHORTEST * length, abs(handle[0] * x + handle[1] * y))
        for handle, length in ((arrive, in_length), (leave, out_length))
    )
    if node.kind == "symmetric":
        in_length = out_length = (in_length + out_length) / 2
    return node.with_handles((-x * in_length, -y * in_length), (x * out_length, y * out_length))


def _fitted(run: list[Node]) -> tuple[Vector | None, Vector | None]:
    """The handles of the one cubic nearest to the segments through `run`, by least squares on its two lengths.

    After P. J. Schneider, "An algorithm for automatically fitting digitized curves" (Graphics Gems, 1990):
    the directions at both ends are kept, the lengths are solved for, and the parameters improved in turn.
    """
    if all(a.leave is None and b.arrive is None for a, b in pairwise(run)):
        return None, None
    path = path_of((Contour(nodes=tuple(run), closed=False),))
    steps = np.linspace(0, 1, _SAMPLES, endpoint=False)
    points = np.concatenate(
        [
            evaluate(np.repeat(path.kinds[i], _SAMPLES), np.repeat(path.points[i : i + 1], _SAMPLES, axis=0), steps)
            for i in range(len(path))
        ]
        + [path.points[-1:, 3]]
    )
    start, end = points[0], points[-1]
    towards = _unit(np.array(run[0].leave) if run[0].leave else points[1] - start)
    back = _unit(np.array(run[-1].arrive) if run[-1].arrive else points[-2] - end)
    length = float(np.hypot(*np.diff(points, axis=0).T).sum())
    t = _shares(run)
    handles = np.zeros(2)
    for _ in range(12):
        s = 1 - t
        base = np.outer(s**3 + 3 * s**2 * t, start) + np.outer(3 * s * t**2 + t**3, end)
        first, second = np.outer(3 * s**2 * t, towards), np.outer(3 * s * t**2, back)
        matrix = np.stack([first.ravel(), second.ravel()], axis=1)
        handles = np.linalg.lstsq(matrix, (points - base).ravel(), rcond=None)[0]
        if (handles <= 0).any():
            handles = np.full(2, length / 3)
            break
        curve = np.stack([start, start + handles[0] * towards, end + handles[1] * back, end])
        t = _nearest_parameters(curve, points, t)
    a, b = towards * handles[0], back * handles[1]
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))


def _shares(run: list[Node]) -> Floats:
    """A parameter for every sample: where a cubic was parted, the handles at the node tell how it was."""
    widths = [1.0]
    for before, node, after in zip(run, run[1:], run[2:], strict=False):
        ins = math.hypot(*(node.arrive or (node.x - before.x, node.y - before.y)))
        outs = math.hypot(*(node.leave or (after.x - node.x, after.y - node.y)))
        widths.append(widths[-1] * outs / ins if ins and outs else widths[-1])
    knots = np.concatenate([[0.0], np.cumsum(widths)]) / sum(widths)
    steps = np.linspace(0, 1, _SAMPLES, endpoint=False)
    parts = [low + (high - low) * steps for low, high in pairwise(knots)]
    return np.concatenate([*parts, [1.0]])


def _nearest_parameters(curve: Floats, points: Floats, t: Floats) -> Floats:
    """One Newton step towards the parameter of the point of a cubic nearest to each of `points`."""
    s = (1 - t)[:, None]
    u = t[:, None]
    at = s**3 * curve[0] + 3 * s**2 * u * curve[1] + 3 * s * u**2 * curve[2] + u**3 * curve[3]
    first = 3 * (s**2 * (curve[1] - curve[0]) + 2 * s * u * (curve[2] - curve[1]) + u**2 * (curve[3] - curve[2]))
    second = 6 * (s * (curve[2] - 2 * curve[1] + curve[0]) + u * (curve[3] - 2 * curve[2] + curve[1]))
    away = at - points
    slope = (first**2).sum(1) + (away * second).sum(1)
    step = np.divide((away * first).sum(1), slope, out=np.zeros_like(t), where=slope > 1e-12)
    return np.asarray(np.clip(t - step, 0, 1))


def _unit(vector: Floats) -> Floats:
    return np.asarray(vector / max(float(np.hypot(*vector)), 1e-12))


def _controls(a: Node, b: Node) -> tuple[Vector, Vector]:
    leave, arrive = a.leave or (0.0, 0.0), b.arrive or (0.0, 0.0)
    return (a.x + leave[0], a.y + leave[1]), (b.x + arrive[0], b.y + arrive[1])


def _kind(arrive: Vector | None, leave: Vector | None) -> NodeKind:
    if arrive is None or leave is None:
        return "corner"
    in_length, out_length = math.hypot(*arrive), math.hypot(*leave)
    if not in_length or not out_length:
        return "corner"
    cosine = (arrive[0] * leave[0] + arrive[1] * leave[1]) / (in_length * out_length)
    if cosine > -0.99999:
        return "corner"
    return "symmetric" if abs(in_length - out_length) < 0.001 * in_length else "smooth"


def _offset(origin: Floats, tip: Floats) -> Vector:
    return float(tip[0] - origin[0]), float(tip[1] - origin[1])


def _vector(vector: Vector | None) -> Vector | None:
    return vector and (_grid(vector[0]), _grid(vector[1]))


def _grid(value: float) -> float:
    return round(float(value), 6) + 0.0
