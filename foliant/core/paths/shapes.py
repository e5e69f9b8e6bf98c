"""Base shapes as paths about the origin, with arcs where they are round."""

import math
from collections.abc import Sequence
from typing import Literal

from foliant.core.paths.path import Path, join
from foliant.core.paths.pens import PathPen, Point

Corners = Literal["square", "rounded", "cut", "scooped"]
Tip = Literal["round", "square", "pointed"]

_DIAGONAL = 0.5**0.5
_SWING = 0.3642  # of half a wave: the handles of a cubic that follows a cosine to 0.6 % of its depth


def rectangle(width: float, height: float, corners: Corners = "square", corner: float = 0.0) -> Path:
    """A rectangle of `width` × `height` mm; each corner takes `corner` mm from both its edges.

    Rounded corners are quarter circles inside the shape, scooped ones are quarter circles bitten out of
    it, cut ones are straight. `corner` must not be more than half the shorter side.
    """
    x, y = width / 2, height / 2
    size = corner if corners != "square" else 0.0
    pen = PathPen()
    pen.moveTo((-x + size, -y))
    for across, down, dx, dy in ((1, -1, 1, 0), (1, 1, 0, 1), (-1, 1, -1, 0), (-1, -1, 0, -1)):
        tip = (x * across, y * down)
        arrive = (tip[0] - dx * size, tip[1] - dy * size)
        # The next edge runs a quarter turn clockwise from this one.
        leave = (tip[0] - dy * size, tip[1] + dx * size)
        pen.lineTo(arrive)
        if size and corners == "cut":
            pen.lineTo(leave)
        elif size:
            centre = (leave[0] - dx * size, leave[1] - dy * size) if corners == "rounded" else tip
            out = 1 if corners == "rounded" else -1
            middle = (centre[0] + across * out * size * _DIAGONAL, centre[1] + down * out * size * _DIAGONAL)
            pen.arcTo(middle, leave)
    pen.closePath()
    return pen.path()


def circle(diameter: float) -> Path:
    """A circle as two half-turn arcs, clockwise on the page."""
    r = diameter / 2
    pen = PathPen()
    pen.moveTo((-r, 0))
    pen.arcTo((0, -r), (r, 0))
    pen.arcTo((0, r), (-r, 0))
    pen.closePath()
    return pen.path()


def ring(diameter: float, band: float) -> Path:
    """A ring `band` mm wide: two circles, of which the inner runs the other way."""
    return join([circle(diameter), circle(diameter - 2 * band).transformed((1, 0, 0, -1, 0, 0))])


def slot(width: float, height: float) -> Path:
    """A round hole, or a long one with half-round ends when the two sizes differ."""
    if width == height:
        return circle(width)
    return rectangle(width, height, "rounded", min(width, height) / 2)


def ellipse(width: float, height: float) -> Path:
    """An ellipse of `width` × `height` mm as eight cubics (error under 1e-5 of its size); a circle in arcs."""
    if width == height:
        return circle(width)
    return circle(1.0).without_arcs().transformed((width, 0, 0, height, 0, 0))


def outline_of(points: Sequence[Point]) -> Path:
    """A closed polygon through the points."""
    pen = PathPen()
    pen.moveTo(points[0])
    for point in points[1:]:
        pen.lineTo(point)
    pen.closePath()
    return pen.path()


def regular_polygon(sides: int, diameter: float) -> Path:
    """A polygon of equal sides, its corners on a circle of `diameter` mm, one corner at the top."""
    return outline_of([_on_circle(diameter / 2, 360 * i / sides) for i in range(sides)])


def star(points: int, diameter: float, inner: float) -> Path:
    """A star, its points on a circle of `diameter` mm and its notches on one of `inner` mm; a point at the top."""
    radii = (diameter / 2, inner / 2)
    return outline_of([_on_circle(radii[i % 2], 180 * i / points) for i in range(2 * points)])


def sector(diameter: float, angle: float, inner: float = 0.0) -> Path:
    """A slice of `angle` degrees of a circle, opening to the top; with `inner` mm it is a slice of a ring."""
    outer = [_on_circle(diameter / 2, angle * (i / 4 - 0.5)) for i in range(5)]
    within = [_on_circle(inner / 2, angle * (0.5 - i / 4)) for i in range(5)]
    pen = PathPen()
    pen.moveTo(outer[0])
    pen.arcTo(outer[1], outer[2])
    pen.arcTo(outer[3], outer[4])
    pen.lineTo(within[0])
    if inner:
        pen.arcTo(within[1], within[2])
        pen.arcTo(within[3], within[4])
    pen.closePath()
    return pen.path()


def arch(width: float, height: float, rise: float) -> Path:
    """A rectangle whose upper edge is an arc that rises `rise` mm, at most half the width."""
    x, y = width / 2, height / 2
    radius = (x * x + rise * rise) / (2 * rise)
    centre = radius - y  # the arc's centre, below its top at -y
    half = math.degrees(math.asin(min(1.0, x / radius)))

    def on_arc(turn: float) -> Point:
        across, down = _on_circle(radius, turn)
        return across, down + centre

    pen = PathPen()
    pen.moveTo((-x, -y + rise))
    pen.arcTo(on_arc(-half / 2), (0.0, -y))
    pen.arcTo(on_arc(half / 2), (x, -y + rise))
    for corner in ((x, y), (-x, y)):
        pen.lineTo(corner)
    pen.closePath()
    return pen.path()


def waved(width: float, height: float, waves: int, upper: float, lower: float) -> Path:
    """A rectangle whose upper and lower edges go in `waves` waves, so many mm deep; at its corners they are widest."""
    x, y = width / 2, height / 2
    pen = PathPen()
    pen.moveTo((-x, -y))
    _wave(pen, (-x, -y), (x, -y), waves, upper)
    pen.lineTo((x, y))
    _wave(pen, (x, y), (-x, y), waves, -lower)
    pen.closePath()
    return pen.path()


def _wave(pen: PathPen, start: Point, end: Point, waves: int, depth: float) -> None:
    """Waves from one point to another straight across, the first trough `depth` mm below them."""
    if not depth:
        pen.lineTo(end)
        return
    half = (end[0] - start[0]) / (2 * waves)
    for i in range(2 * waves):
        here, there = start[0] + i * half, end[0] if i == 2 * waves - 1 else start[0] + (i + 1) * half
        before, after = (start[1], start[1] + depth) if i % 2 == 0 else (start[1] + depth, start[1])
        pen.curveTo((here + _SWING * half, before), (there - _SWING * half, after), (there, after))


def flap(width: float, height: float, tip: Tip) -> Path:
    """An open line down one side, round the tip at the bottom and up the other."""
    x, y = width / 2, height / 2
    low = y if tip == "square" else y - x
    pen = PathPen()
    pen.moveTo((-x, -y))
    pen.lineTo((-x, low))
    if tip == "round":
        pen.arcTo((-x * _DIAGONAL, low + x * _DIAGONAL), (0.0, y))
        pen.arcTo((x * _DIAGONAL, low + x * _DIAGONAL), (x, low))
    elif tip == "pointed":
        pen.lineTo((0.0, y))
    pen.lineTo((x, low))
    pen.lineTo((x, -y))
    pen.endPath()
    return pen.path()


def drop(width: float, height: float) -> Path:
    """A drop with its point at the top: a circle of `width` mm and the two tangents to it from the point."""
    radius = width / 2
    low = height / 2 - radius  # the circle's centre
    reach = height - radius
    turn = math.degrees(math.acos(radius / reach))
    right, left = _on_circle(radius, turn), _on_circle(radius, -turn)
    pen = PathPen()
    pen.moveTo((0.0, -height / 2))
    pen.lineTo((right[0], right[1] + low))
    middle = _on_circle(radius, (turn + 180) / 2)
    pen.arcTo((middle[0], middle[1] + low), (0.0, low + radius))
    pen.arcTo((-middle[0], middle[1] + low), (left[0], left[1] + low))
    pen.closePath()
    return pen.path()


def heart(width: float, height: float, dip: float) -> Path:
    """A heart of `width` × `height` mm whose upper edge dips by `dip` mm between its lobes."""
    share = dip / height
    half = [
        ((0.0, share), (0.04, 0.06), (0.14, 0.0), (0.26, 0.0)),
        ((0.26, 0.0), (0.42, 0.0), (0.5, 0.13), (0.5, 0.3)),
        ((0.5, 0.3), (0.5, 0.55), (0.22, 0.78), (0.0, 1.0)),
    ]
    right = [tuple((x * width, (y - 0.5) * height) for x, y in curve) for curve in half]
    pen = PathPen()
    pen.moveTo(right[0][0])
    for curve in right:
        pen.curveTo(*curve[1:])
    for curve in reversed(right):
        pen.curveTo(*[(-x, y) for x, y in curve[2::-1]])
    pen.closePath()
    return pen.path()


def _on_circle(radius: float, turn: float) -> Point:
    """The point `turn` degrees clockwise from the top of a circle about the origin."""
    at = math.radians(turn)
    return radius * math.sin(at), -radius * math.cos(at)
