"""Stencil bridges: bars left across a letter that is cut out, so that its counters do not fall."""

import math
from collections.abc import Mapping, Set
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from foliant.core.lettering.letters import Letter
from foliant.core.paths import Path, subtract
from foliant.core.paths.overlay import fine_shape
from foliant.core.paths.shapes import outline_of
from foliant.core.remembering import remembered

Direction = Literal["upright", "level", "slanting"]
ANGLES: dict[Direction, float] = {"upright": -90.0, "level": 0.0, "slanting": -45.0}
_OVER = 0.01


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


@remembered(maxsize=4096)
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
    shape = fine_shape(outline)
    counters = [shapely.Polygon(ring) for part in shapely.get_parts(shape) for ring in part.interiors]
    shifts: Mapping[int, float] = dict(moved)
    cuts: list[Path] = []
    middles: list[tuple[int, float, float]] = []
    for at, counter in enumerate(_in_reading_order(counters)):
        for way in (1, -1)[:number]:
            found = _across(shape, counter, width, ANGLES[direction], way, shifts.get(at, 0.0))
            if found:
                cuts += [found[0]] if at not in removed else []
                middles.append((at, *found[1]))
    return (subtract([outline], [cuts]).path if cuts else outline), middles


def _in_reading_order(counters: list[shapely.Polygon]) -> list[shapely.Polygon]:
    return sorted(counters, key=lambda counter: (round(counter.centroid.x, 3), round(counter.centroid.y, 3)))


def _across(
    shape: shapely.Geometry, counter: shapely.Polygon, width: float, angle: float, way: int, shift: float
) -> tuple[Path, tuple[float, float]] | None:
    """The bar from a counter, one way, to the next opening or the outside; and its middle. None where it misses."""
    along = np.array([math.cos(math.radians(angle)), math.sin(math.radians(angle))]) * way
    side = np.array([-along[1], along[0]]) * way
    reach = max(_half(counter, side) - width / 2, 0.0)
    middle = _middle(counter) + side * min(max(shift, -reach), reach)
    left, top, right, bottom = shape.bounds
    far = math.hypot(right - left, bottom - top)
    strip = _strip(middle, along, side, width, 0.0, far)
    ways = shapely.get_parts(shapely.intersection(shape, shapely.Polygon(strip)))
    walls = [part for part in ways if part.area > 1e-9 and part.distance(counter) < 1e-4]
    if not walls:
        return None
    wall = min(walls, key=lambda part: float((shapely.get_coordinates(part) - middle).dot(along).min()))
    reaches = (shapely.get_coordinates(wall) - middle).dot(along)
    near, end = float(reaches.min()) - _OVER, float(reaches.max()) + _OVER
    corners = _strip(middle, along, side, width, near, end)
    at = middle + along * (near + end) / 2
    return outline_of([(float(x), float(y)) for x, y in corners]), (float(at[0]), float(at[1]))


def _strip(
    middle: np.ndarray, along: np.ndarray, side: np.ndarray, width: float, near: float, far: float
) -> list[np.ndarray]:
    half = side * width / 2
    begin, end = middle + along * near, middle + along * far
    return [begin - half, end - half, end + half, begin + half]


def _middle(counter: shapely.Polygon) -> np.ndarray:
    centre = counter.centroid if counter.contains(counter.centroid) else counter.representative_point()
    return np.array([centre.x, centre.y])


def _half(counter: shapely.Polygon, side: np.ndarray) -> float:
    """How far a counter reaches sideways from its middle, on its narrower side, mm."""
    across = (shapely.get_coordinates(counter) - _middle(counter)).dot(side)
    return float(min(-across.min(), across.max()))
