"""What is to be packed, and what comes of it."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

MOST_CORNERS = 160
"""With how many corners a shape is packed as it is; one with more is told by fewer that lie just outside it."""

_COARSE = 0.03
"""How far outside, in mm."""

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Stamp:
    """A shape to be packed, about its own origin (mm, y down). Copies of it are packed as one thing, many times.

    turns  the rotations, clockwise in degrees, that it may be laid in
    """

    shape: shapely.Geometry
    turns: tuple[float, ...] = (0.0,)

    @cached_property
    def area(self) -> float:
        """The area of material it takes, mm²."""
        return float(self.shape.area)

    @cached_property
    def plain(self) -> shapely.Geometry:
        """The shape as it is packed: never smaller than it is."""
        if shapely.get_num_coordinates(self.shape) <= MOST_CORNERS:
            return self.shape
        grown = shapely.buffer(self.shape, _COARSE, join_style="mitre")
        return shapely.simplify(grown, 0.9 * _COARSE)

    @lru_cache(maxsize=64)  # noqa: B019  a stamp lives as long as its task
    def turned(self, turn: float) -> shapely.Geometry:
        """The shape as it is packed, turned about its origin."""
        return turned(self.plain, turn)


@dataclass(frozen=True)
class Put:
    """A stamp laid down: its number among those of the task, its turn (degrees), and where its origin lies (mm)."""

    stamp: int
    turn: float
    x: float
    y: float


@dataclass(frozen=True, eq=False)
class Bed:
    """What is packed on: a rectangle from (0, 0) (mm), less a margin, and what lies or is missing there already."""

    width: float
    height: float
    margin: float = 0.0
    taken: tuple[shapely.Geometry, ...] = ()

    @property
    def inner(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of where things may lie."""
        return (self.margin, self.margin, self.width - self.margin, self.height - self.margin)


@dataclass(frozen=True, eq=False)
class Task:
    """Stamps, as many as they are listed, to be laid on a bed no nearer than `gap` mm to each other.

    inside  whether things may lie in the openings of others
    """

    bed: Bed
    stamps: tuple[Stamp, ...]
    wanted: tuple[int, ...]
    gap: float = 2.0
    inside: bool = True

    @cached_property
    def kinds(self) -> dict[int, int]:
        """How often each stamp is wanted, by its number."""
        numbers, counts = np.unique(np.array(self.wanted, np.int64), return_counts=True)
        return dict(zip(numbers.tolist(), counts.tolist(), strict=True))


@dataclass(frozen=True, eq=False)
class Packed:
    """What found a place, proved clear, and how good that is.

    puts   what lies where; a stamp that is wanted n times stands here up to n times
    reach  how far right of the margin the last of it reaches, mm
    """

    task: Task
    puts: tuple[Put, ...]
    reach: float = field(default=0.0)

    @property
    def left_over(self) -> int:
        """How many found no place."""
        return len(self.task.wanted) - len(self.puts)

    @property
    def area(self) -> float:
        """The area of what lies there, mm²."""
        return sum(self.task.stamps[put.stamp].area for put in self.puts)

    @property
    def density(self) -> float:
        """The share of the strip it takes, as far as it reaches, that becomes pieces: 0 to 1."""
        bed = self.task.bed
        strip = self.reach * (bed.height - 2 * bed.margin)
        return self.area / strip if strip > 0 else 0.0

    def beats(self, other: "Packed | None") -> bool:
        """Whether it is better: more lies there, or as much in less room."""
        if other is None:
            return True
        mine, theirs = round(self.area, 3), round(other.area, 3)
        return (len(self.puts), mine, -round(self.reach, 4)) > (len(other.puts), theirs, -round(other.reach, 4))


def turned(shape: shapely.Geometry, turn: float) -> shapely.Geometry:
    """A shape turned clockwise on the page about the origin."""
    if turn % 360 == 0:
        return shape
    angle = np.deg2rad(turn)
    cosine, sine = round(float(np.cos(angle)), 15), round(float(np.sin(angle)), 15)
    return shapely.transform(shape, lambda points: points @ np.array([[cosine, sine], [-sine, cosine]]))


def shifted(shape: shapely.Geometry, x: float, y: float) -> shapely.Geometry:
    """A shape moved by (x, y)."""
    return shapely.transform(shape, lambda points: points + np.array((x, y)))


def lying(task: Task, puts: Sequence[Put]) -> list[shapely.Geometry]:
    """The shapes of what lies somewhere, there."""
    return [shifted(task.stamps[put.stamp].turned(put.turn), put.x, put.y) for put in puts]


def filled_in(shape: shapely.Geometry) -> shapely.Geometry:
    """A shape without its openings."""
    return shapely.union_all([shapely.Polygon(part.exterior) for part in shapely.get_parts(shape)])
