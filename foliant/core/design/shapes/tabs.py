"""Tabs: bridges from an inner shape to the frame round it."""

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import shapely

from foliant.core.design.shapes.composite import Composite
from foliant.core.design.shapes.following import Source, region_of
from foliant.core.design.shapes.shape import short
from foliant.core.paths import Path, join, similarity
from foliant.core.paths.shapes import rectangle
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.remembering import remembered
from foliant.core.units import Unit

INTO = 0.5
"""How far, in mm, a tab reaches into what it joins."""


class Tabs(Composite):
    """Tabs evenly round the middle of the first part, each out to the second; nothing cuts them away."""

    kind: Literal["tabs"] = "tabs"
    count: Annotated[int, Quantity("count", "The number of tabs", 1, 60)] = 4
    width: Annotated[float, sized("The width of the tabs")] = 3.0
    turn: Annotated[float, Quantity("angle", "The turn of the first tab", -360, 360)] = 0.0

    title: ClassVar[str] = "Tabs"
    role: ClassVar[str] = "adds"
    shelf: ClassVar[str] = ""
    first: ClassVar[str] = "count"
    keeps: ClassVar[bool] = True

    def paths(self) -> tuple[Path, ...]:
        return (_tabs(self.sources, self.count, self.width, self.turn),)

    def sentence(self) -> Sequence[Bit]:
        return [Value("count"), " tabs ", Value("width"), f" wide between {self.names()}, the first at ", Value("turn")]

    def label(self) -> str:
        return f"Tabs between {self.names()}"

    def summary(self, unit: Unit) -> str:
        return f"{self.count} × {short(self.width, unit)}"


@remembered
def _tabs(sources: tuple[Source, ...], count: int, width: float, turn: float) -> Path:
    if len(sources) < 2:
        return join([])
    inner, frame = (region_of((source,)).shape for source in sources[:2])
    if inner.is_empty or frame.is_empty:
        return join([])
    middle = inner.centroid
    far = math.hypot(*(high - low for low, high in zip(frame.bounds[:2], frame.bounds[2:], strict=True))) + 1
    found = []
    for number in range(count):
        angle = turn + 360 / count * number
        reach = _reach(inner, frame, middle, angle, width, far)
        if reach:
            begin, end = reach
            bar = rectangle(end - begin, width).moved((begin + end) / 2, 0)
            # The first tab points up; the others follow clockwise.
            found.append(bar.transformed(similarity(angle - 90, 1.0, middle.x, middle.y)))
    return join(found)


def _reach(
    inner: shapely.Geometry, frame: shapely.Geometry, middle: shapely.Point, angle: float, width: float, far: float
) -> tuple[float, float] | None:
    """How far from the middle a tab begins and ends, so that its whole width reaches into both; None without a gap."""
    way = math.radians(angle - 90)
    along, aside = (math.cos(way), math.sin(way)), (-math.sin(way), math.cos(way))
    leaves, meets = [], []
    for share in (-0.5, 0.0, 0.5):
        x, y = middle.x + aside[0] * width * share, middle.y + aside[1] * width * share
        ray = shapely.LineString([(x, y), (x + along[0] * far, y + along[1] * far)])
        out = [ray.project(shapely.Point(at)) for at in shapely.get_coordinates(ray.intersection(inner))]
        if not out:
            continue
        leaves.append(max(out))
        met = [ray.project(shapely.Point(at)) for at in shapely.get_coordinates(ray.intersection(frame))]
        beyond = [at for at in met if at > max(out) - 1e-6]
        if not beyond:
            return None
        meets.append(min(beyond))
    return (min(leaves) - INTO, max(meets) + INTO) if leaves else None
