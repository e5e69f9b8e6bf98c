"""Edits that mend what a check has found: join loose bodies, drop them, take off what lies twice."""

import math
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from foliant.core.design.edits.command import Command, with_piece
from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes import Bridge, Drawn
from foliant.core.errors import Refused
from foliant.core.paths import Path, Region, combine, offset
from foliant.core.paths.nesting import bodies_of, contour, depths
from foliant.core.quantities import Across, Down, Quantity, build

INTO = 1.5
"""How far, in mm, a bridge reaches into each of the bodies it joins."""

MOST_BRIDGES = 200


class JoinBodies(Command):
    """Put bridges of a width (mm) between the bodies of a piece where they are nearest, until it is one.

    With a point of the piece, only the body there is joined, to what is nearest to it.
    """

    do: Literal["join-bodies"]
    piece: Identifier
    width: Annotated[float, Quantity("length", "The width of the bridge", 0.1, 100)] = 3.0
    x: Across | None = None
    y: Down | None = None

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        bodies = resolve(piece).outline.bodies
        if len(bodies) < 2:
            raise Refused(f"{piece.name} is one body already.")
        ways = nearest_ways(bodies)
        if self.x is not None and self.y is not None:
            at = body_at(piece, self.x, self.y)
            ways = [nearest_way(at, [body for body in bodies if body is not at])]
        if len(ways) > MOST_BRIDGES:
            raise Refused(f"{piece.name} has {len(bodies):,} bodies, which is more than bridges can mend.")
        bridges = [self._bridge(way, design.serial + i) for i, way in enumerate(ways, 1)]
        grown = piece.model_copy(update={"parts": (*piece.parts, *bridges)})
        return with_piece(design, grown, serial=design.serial + len(bridges))

    def _bridge(self, way: shapely.LineString, number: int) -> Part:
        (x1, y1), (x2, y2) = way.coords
        shape = build(Bridge, {"length": round(way.length + 2 * INTO, 3), "width": self.width})
        turn = math.degrees(math.atan2(y2 - y1, x2 - x1)) if way.length > 1e-6 else 0.0
        place = {"x": round((x1 + x2) / 2, 4), "y": round((y1 + y2) / 2, 4), "rotation": round(turn, 4)}
        return build(Part, {"id": f"a{number}", "roles": ("adds",), "shape": shape, **place})

    def says(self, design: Design) -> str:
        return f"join the bodies of {design.piece(self.piece).name}"


class DropBody(Command):
    """Cut away the body of a piece that holds the point (x, y), so that it is not made."""

    do: Literal["drop-body"]
    piece: Identifier
    x: Across
    y: Down

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        outline = resolve(piece).outline
        if len(outline.bodies) < 2:
            raise Refused(f"{piece.name} is one body: dropping it would leave nothing.")
        at = body_at(piece, self.x, self.y)
        path = next(
            (
                path
                for path in bodies_of(outline.path)
                if combine([path]).shape.distance(at.representative_point()) < 1e-6
            ),
            None,
        )
        if path is None:
            raise Refused("That body is no longer there.")
        # Its holes go with it, and a little more, so that no skin is left where curves meet.
        solid = offset(combine([contour(path, 0)]), 0.01).path
        part = _drawn(solid, "cuts", design.serial + 1)
        return with_piece(design, piece.model_copy(update={"parts": (*piece.parts, part)}), serial=design.serial + 1)

    def says(self, design: Design) -> str:
        return f"drop a body of {design.piece(self.piece).name}"


class FillOpenings(Command):
    """Fill the openings of a piece that hold these points, each with a patch of its own."""

    do: Literal["fill-openings"]
    piece: Identifier
    at: Annotated[tuple[tuple[float, float], ...], Field(min_length=1, max_length=200)]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        path = resolve(piece).outline.path
        inner = [contour(path, int(number)) for number in np.flatnonzero(depths(path) % 2)]
        spots = [shapely.Point(x, y) for x, y in self.at]
        # A little larger than the opening, so that no skin of it is left.
        found = [offset(hole, 0.05).path for hole in map(_filled, inner) if _holds(hole, spots)]
        if not found:
            raise Refused("Those openings are no longer there.")
        patches = [_drawn(patch, "adds", design.serial + number) for number, patch in enumerate(found, 1)]
        grown = piece.model_copy(update={"parts": (*piece.parts, *patches)})
        return with_piece(design, grown, serial=design.serial + len(patches))

    def says(self, design: Design) -> str:
        return f"fill openings of {design.piece(self.piece).name}"


def _filled(hole: Path) -> Region:
    return combine([hole])


def _holds(hole: Region, spots: list[shapely.Point]) -> bool:
    return any(hole.shape.distance(spot) < 1e-3 for spot in spots)


def _drawn(path: Path, role: str, number: int) -> Part:
    """An outline of the piece as a part of its own."""
    left, top, right, bottom = path.bounds
    x, y = round((left + right) / 2, 4), round((top + bottom) / 2, 4)
    shape = Drawn.of(path.moved(-x, -y))
    return build(Part, {"id": f"a{number}", "roles": (role,), "shape": shape, "x": x, "y": y})


def body_at(piece: Piece, x: float, y: float) -> shapely.Polygon:
    """The body of a piece that holds a point; raises `Refused`."""
    at = shapely.Point(x, y)
    for body in resolve(piece).outline.bodies:
        if body.distance(at) < 1e-3:
            return body
    raise Refused("That body is no longer there.")


def nearest_way(body: shapely.Polygon, others: list[shapely.Polygon]) -> shapely.LineString:
    """The shortest way from a body to any of the others."""
    near = others[int(np.argmin(shapely.distance(body, np.array(others, object))))]
    return shapely.shortest_line(body, near)


def nearest_ways(bodies: tuple[shapely.Polygon, ...]) -> list[shapely.LineString]:
    """The shortest ways that make all bodies one: each time the nearest to what is joined already (Prim's tree)."""
    every = np.array(bodies, object)
    away = shapely.distance(every[0], every)
    nearest = np.zeros(len(every), np.int64)
    left = np.arange(1, len(every))
    ways = []
    while len(left):
        take = left[int(np.argmin(away[left]))]
        ways.append(shapely.shortest_line(every[nearest[take]], every[take]))
        left = left[left != take]
        more = shapely.distance(every[take], every)
        closer = more < away
        away, nearest = np.where(closer, more, away), np.where(closer, take, nearest)
    return ways
