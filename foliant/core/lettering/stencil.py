"""Stencil bridges: bars left across a letter that is cut out, so that its counters do not fall."""

import math
from collections.abc import Set
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.lettering.letters import Letter
from foliant.core.paths import Path, subtract
from foliant.core.paths.overlay import fine_shape
from foliant.core.paths.shapes import outline_of
from foliant.core.remembering import remembered

Direction = Literal["upright", "level", "slanting"]
ANGLES: dict[Direction, float] = {"upright": -90.0, "level": 0.0, "slanting": -45.0}
_OVER = 0.01
_HAIR = 0.0125
"""Half the width of the openings, in mm, that count as closed."""

Corners = NDArray[np.float64]


@dataclass(frozen=True)
class Stencil:
    """How counters are held.

    width      of each bridge, mm
    number     1 or 2 bridges a counter, on one side of it or on both
    direction  which way they run, by the letter's own uprights
    moved      how far a counter's bridges are moved sideways, mm, by letter and counter (numbers from 0)
    removed    the counters that have none
    """

    width: float
    number: int
    direction: Direction
    moved: tuple[tuple[int, int, float], ...] = ()
    removed: tuple[tuple[int, int], ...] = ()


def sideways(direction: Direction, turn: float) -> tuple[float, float]:
    """Which way the bridges of a letter turned by `turn` degrees are moved, as a unit vector."""
    way = math.radians(ANGLES[direction] + turn)
    return -math.sin(way), math.cos(way)


@dataclass(frozen=True)
class Bridge:
    """A bridge: the letter and the counter that it holds, where its middle lies, whether it is not taken out."""

    letter: int
    counter: int
    x: float
    y: float
    there: bool


def stencilled(letters: tuple[Letter, ...], how: Stencil) -> tuple[list[Path], list[Bridge]]:
    """The letters' outlines where they lie, with bridges across them, and those bridges."""
    paths: list[Path] = []
    found: list[Bridge] = []
    moves = {(letter, counter): shift for letter, counter, shift in how.moved}
    for number, letter in enumerate(letters):
        own = tuple(sorted((counter, shift) for (at, counter), shift in moves.items() if at == number))
        gone = frozenset(counter for at, counter in how.removed if at == number)
        outline, middles = _bridged(letter.outline, how.width, how.number, how.direction, own, gone)
        matrix = letter.matrix
        paths.append(outline.transformed(matrix))
        a, b, c, d, e, f = matrix
        found += [Bridge(number, at, a * x + c * y + e, b * x + d * y + f, at not in gone) for at, x, y in middles]
    return paths, found


@remembered
def _bridged(
    outline: Path,
    width: float,
    number: int,
    direction: Direction,
    moved: tuple[tuple[int, float], ...],
    removed: Set[int],
) -> tuple[Path, list[tuple[int, float, float]]]:
    """An outline with bridges, and for each its counter and its middle."""
    if not outline.closed.any():
        return outline, []
    # A counter that is open by a hair is one all the same: such hairs are closed when the letter is cut out.
    shape = shapely.buffer(shapely.buffer(fine_shape(outline), _HAIR, quad_segs=2), -_HAIR, quad_segs=2)
    counters = _counters(shape)
    shifts = dict(moved)
    bars: list[tuple[int, Corners]] = []
    for at, counter in enumerate(counters):
        for way in (1, -1)[:number]:
            bars += [(at, bar) for bar in _across(shape, counter, width, ANGLES[direction], way, shifts.get(at, 0.0))]
    # Where that leaves a counter loose, as between two that lead into each other, other ways are tried.
    for turn, way in ((0, -1), (90, 1), (90, -1), (45, 1), (45, -1), (135, 1), (135, -1)):
        for at in _loose(shape, counters, [bar for _, bar in bars], width):
            found = _across(shape, counters[at], width, ANGLES[direction] + turn, way, 0.0)
            bars += [(at, bar) for bar in found]
    middles = [(at, float(bar[:, 0].mean()), float(bar[:, 1].mean())) for at, bar in bars]
    cuts = [outline_of([(float(x), float(y)) for x, y in bar]) for at, bar in bars if at not in removed]
    return (subtract([outline], [cuts]).path if cuts else outline), middles


def _counters(shape: shapely.Geometry) -> list[shapely.Polygon]:
    """The counters of a letter, from the left, filled."""
    found = [shapely.Polygon(ring) for part in shapely.get_parts(shape) for ring in part.interiors]
    return sorted(found, key=lambda counter: (round(counter.centroid.x, 3), round(counter.centroid.y, 3)))


def _loose(shape: shapely.Geometry, counters: list[shapely.Polygon], bars: list[Corners], width: float) -> list[int]:
    """The counters that would fall out of a plate, though the bars are left standing: what holds by a hair is loose."""
    if not counters:
        return []
    cut = shape.difference(shapely.union_all([shapely.Polygon(bar) for bar in bars]))
    left, top, right, bottom = shape.bounds
    plate = shapely.box(left - 1, top - 1, right + 1, bottom + 1).difference(cut)
    bodies = shapely.get_parts(shapely.buffer(plate, -width / 10))
    rest = max(bodies, key=lambda part: part.envelope.area)
    return [at for at, counter in enumerate(counters) if rest.distance(shapely.Point(_middle(shape, counter))) > width]


def _across(
    shape: shapely.Geometry, counter: shapely.Polygon, width: float, angle: float, way: int, shift: float
) -> list[Corners]:
    """The bar from a counter, one way, through the wall round it, as its four corners; none where it misses."""
    along = np.array([math.cos(math.radians(angle)), math.sin(math.radians(angle))]) * way
    side = np.array([-along[1], along[0]]) * way
    middle = _middle(shape, counter)
    sideways = (shapely.get_coordinates(counter) - middle).dot(side)
    reach = max(min(-sideways.min(), sideways.max()) - width / 2, 0.0)
    middle = middle + side * min(max(shift, -reach), reach)
    left, top, right, bottom = shape.bounds
    far = math.hypot(right - left, bottom - top)
    ray = shapely.LineString([middle, middle + along * far])
    # What stands in the counter itself is passed over: the wall is what ends outside it.
    crossed = [
        (shapely.get_coordinates(part) - middle).dot(along)[[0, -1]]
        for part in shapely.get_parts(shapely.intersection(shape, ray))
        if part.length > _OVER and not counter.contains(shapely.Point(part.coords[-1] + along * _OVER))
    ]
    if not crossed:
        return []
    begin, finish = min(crossed, key=min)
    strip = shapely.Polygon(_strip(middle, along, side, width, 0.0, far))
    inner = shapely.LineString([middle + along * begin, middle + along * finish])
    wall = max(shapely.get_parts(shape.intersection(strip)), key=lambda part: part.intersection(inner).length)
    # Both faces of the wall may slant; but a stroke that runs along the bridge is not cut along its whole length.
    reaches = (shapely.get_coordinates(wall) - middle).dot(along)
    near = max(float(reaches.min()), begin - 2 * width) - _OVER
    end = min(float(reaches.max()), finish + 2 * width) + _OVER
    return [_strip(middle, along, side, width, near, end)]


def _strip(middle: Corners, along: Corners, side: Corners, width: float, near: float, far: float) -> Corners:
    half = side * width / 2
    begin, end = middle + along * near, middle + along * far
    return np.array([begin - half, end - half, end + half, begin + half])


def _middle(shape: shapely.Geometry, counter: shapely.Polygon) -> Corners:
    """The middle of a counter, clear of what stands in it."""
    free = max(shapely.get_parts(counter.difference(shape)), key=lambda part: part.area)
    centre = free.centroid if free.contains(free.centroid) else free.representative_point()
    return np.array([centre.x, centre.y])
