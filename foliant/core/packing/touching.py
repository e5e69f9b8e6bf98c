"""Exact geometry: shapes slid together to exactly the gap, and a layout proved clear."""

from collections.abc import Sequence

import numpy as np
import shapely

from foliant.core.packing.task import filled_in, shifted

SLACK = 1e-6
"""Nearer than the gap by so many mm is as good as the gap."""

_OVER = 0.001
"""So little area, mm², that two shapes share is none."""

_FINE = 0.004
"""How much more than the gap, in mm, may be left between two shapes that were slid together."""

Bounds = tuple[float, float, float, float]


class Lying:
    """What lies there already, asked whether a shape would come too near to it."""

    def __init__(self, inner: Bounds, gap: float, inside: bool) -> None:
        self._inner, self._gap, self._inside = inner, gap, inside
        self._shapes: list[shapely.Geometry] = []
        self._boxes = np.zeros((0, 4))

    def add(self, shape: shapely.Geometry) -> None:
        """From now on this lies there too."""
        kept = shape if self._inside else filled_in(shape)
        shapely.prepare(kept)
        self._shapes.append(kept)
        self._boxes = np.vstack([self._boxes, shapely.bounds(kept)])

    def settled(self, shape: shapely.Geometry, x: float, y: float, reach: float) -> tuple[float, float] | None:
        """Where a shape lies clear within `reach` mm of (x, y), slid left and up as far as that allows; or None."""
        near = self._near(shape, x, y, 2 * reach)
        clear = self._begin(shape, near, x, y, reach)
        if clear is None:
            return None
        x, y = clear
        for _ in range(2):
            x -= self._slide(shape, near, x, y, (-1.0, 0.0), reach)
            y -= self._slide(shape, near, x, y, (0.0, -1.0), reach)
        return x, y

    def nearest(self, shape: shapely.Geometry, x: float, y: float, far: float, ways: int) -> tuple[float, float] | None:
        """The nearest place to (x, y) at which a shape lies clear, looked for so many ways, up to `far` mm away."""
        inner, (left, top, right, bottom) = self._inner, shapely.bounds(shape)
        x = min(max(x, inner[0] - left), max(inner[2] - right, inner[0] - left))
        y = min(max(y, inner[1] - top), max(inner[3] - bottom, inner[1] - top))
        near = self._near(shape, x, y, far)
        if self._clear(shape, near, x, y):
            return x, y
        best: tuple[float, float, float] | None = None
        for angle in np.arange(ways) * (2 * np.pi / ways):
            way = (float(np.cos(angle)), float(np.sin(angle)))
            most = far if best is None else best[0]
            found = self._out(shape, near, x, y, way, most)
            if found is not None and found < most:
                best = (found, x + found * way[0], y + found * way[1])
        return best and best[1:]

    def drawn(self, shape: shapely.Geometry, x: float, y: float, reach: float) -> tuple[float, float]:
        """Where a shape that lies clear is drawn to: the gap of what is within `reach` mm of it, each way."""
        near = self._near(shape, x, y, 2 * reach)
        for ways in (((-1.0, 0.0), (1.0, 0.0)), ((0.0, -1.0), (0.0, 1.0))):
            free = [(self._slide(shape, near, x, y, way, reach), way) for way in ways]
            least, way = min(free)
            if least < reach:
                x, y = x + way[0] * least, y + way[1] * least
        return x, y

    def overlapping(self, count: int) -> set[int]:
        """The numbers of those among the first `count` that lie over any other."""
        if not count:
            return set()
        tree = shapely.STRtree(self._shapes)
        first, second = tree.query(self._shapes[:count], predicate="intersects")
        pairs = [(a, b) for a, b in zip(first.tolist(), second.tolist(), strict=True) if a != b]
        return {a for a, b in pairs if shapely.intersection(self._shapes[a], self._shapes[b]).area > _OVER}

    def _out(
        self, shape: shapely.Geometry, near: list[shapely.Geometry], x: float, y: float, way: tuple[float, float],
        far: float,
    ) -> float | None:  # fmt: skip
        """How far a shape has to go one way until it lies clear, if that is less than `far` mm."""
        low, high = 0.0, 1.0
        while not self._clear(shape, near, x + way[0] * high, y + way[1] * high):
            low, high = high, 2 * high
            if low >= far:
                return None
        return self._edge(shape, near, x, y, way, high, low, 0.01)

    def _edge(
        self, shape: shapely.Geometry, near: list[shapely.Geometry], x: float, y: float, way: tuple[float, float],
        clear: float, taken: float, fine: float,
    ) -> float:  # fmt: skip
        """How far one way a shape lies just clear, between a distance at which it does and one at which it does not."""
        while abs(clear - taken) > fine:
            middle = (clear + taken) / 2
            if self._clear(shape, near, x + way[0] * middle, y + way[1] * middle):
                clear = middle
            else:
                taken = middle
        return clear

    def clear(self, shape: shapely.Geometry, x: float, y: float) -> bool:
        """Whether a shape lies clear there."""
        return self._clear(shape, self._near(shape, x, y, 0.0), x, y)

    def _begin(
        self, shape: shapely.Geometry, near: list[shapely.Geometry], x: float, y: float, reach: float
    ) -> tuple[float, float] | None:
        for step in (0.0, 0.5, 1.0):
            for dx, dy in ((1, 0), (0, 1), (1, 1), (0, -1), (-1, 0), (1, -1), (-1, 1)) if step else ((0, 0),):
                at = (x + dx * step * reach, y + dy * step * reach)
                if self._clear(shape, near, *at):
                    return at
        return None

    def _slide(
        self, shape: shapely.Geometry, near: list[shapely.Geometry], x: float, y: float, way: tuple[float, float],
        most: float,
    ) -> float:  # fmt: skip
        """How far a shape that lies clear can go one way and lie clear there."""
        if self._clear(shape, near, x + way[0] * most, y + way[1] * most):
            return most
        return self._edge(shape, near, x, y, way, 0.0, most, _FINE)

    def _near(self, shape: shapely.Geometry, x: float, y: float, reach: float) -> list[shapely.Geometry]:
        left, top, right, bottom = shapely.bounds(shape)
        room = self._gap + reach
        low, high = self._boxes[:, :2], self._boxes[:, 2:]
        found = ((low < (right + x + room, bottom + y + room)) & (high > (left + x - room, top + y - room))).all(1)
        return [self._shapes[int(i)] for i in np.flatnonzero(found)]

    def _clear(self, shape: shapely.Geometry, near: list[shapely.Geometry], x: float, y: float) -> bool:
        left, top, right, bottom = shapely.bounds(shape)
        inner = self._inner
        if left + x < inner[0] - SLACK or top + y < inner[1] - SLACK:
            return False
        if right + x > inner[2] + SLACK or bottom + y > inner[3] + SLACK:
            return False
        if not near:
            return True
        there = shifted(shape, x, y)
        if not self._inside:
            there = filled_in(there)
        return not _any_near(near, there, self._gap)


def _any_near(shapes: Sequence[shapely.Geometry], other: shapely.Geometry, gap: float) -> bool:
    """Whether one of them lies nearer than the gap to another shape, or over it."""
    if gap > 0:
        return bool(shapely.dwithin(shapes, other, gap - SLACK / 2).any())
    over = shapely.intersection(shapes, other)
    return bool((shapely.area(over) > _OVER).any())


def proved_clear(
    shapes: Sequence[shapely.Geometry], gap: float, inner: Bounds, there: Sequence[shapely.Geometry] = ()
) -> list[bool]:
    """For each shape where it lies, whether it is within the bounds and no nearer than the gap to what is there, nor to
    any before it that is proved: so those can stay whatever becomes of the others.
    """
    lies = Lying(inner, gap, inside=True)
    for shape in there:
        lies.add(shape)
    proved = []
    for shape in shapes:
        proved.append(lies.clear(shape, 0.0, 0.0))
        if proved[-1]:
            lies.add(shape)
    return proved
