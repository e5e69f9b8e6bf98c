"""Arrays: equal shapes in rows and columns, as close as the gap allows, each row's next slid up to it."""

from typing import Literal

import numpy as np
import shapely

from foliant.core.packing.task import shifted
from foliant.core.packing.touching import Lying

Way = Literal["straight", "staggered", "turned"]

_STEPS = 200
_FINE = 0.004

Offset = tuple[float, float, bool]
"""Where the left and top of one come to lie, mm from those of the first, and whether it lies head to tail with it."""


def array(
    shape: shapely.Geometry, opposite: shapely.Geometry, columns: int, rows: int, way: Way, gap: float
) -> list[Offset]:
    """The places of an array, row by row, of a shape; `opposite` is it turned by half, for those head to tail.

    straight   in line both ways
    staggered  every other row half a place further, sunk between those of the row before
    turned     in each row one with its head up and one with its head down, by turns
    """
    one, other = (shifted(each, *(-edge for edge in shapely.bounds(each)[:2])) for each in (shape, opposite))
    across = _one_row(one, other if way == "turned" else one, columns, gap)
    cells = [shifted(other if odd else one, x, 0.0) for x, odd in across]
    row = shapely.union_all([shapely.buffer(cell, 0) for cell in cells])
    aside = across[1][0] / 2 if way == "staggered" and columns > 1 else 0.0
    if way == "staggered" and columns == 1:
        aside = pitch(one, one, (1.0, 0.0), gap) / 2
    down = pitch(row, shifted(row, aside, 0.0), (0.0, 1.0), gap)
    if aside:  # the second row after it lies below it in line
        down = max(down, pitch(row, row, (0.0, 1.0), gap) / 2)
    turned = way == "turned"
    return [
        (round(x + (aside if r % 2 else 0.0), 4), round(r * down, 4), turned and odd)
        for r in range(rows)
        for x, odd in across
    ]


def _one_row(one: shapely.Geometry, other: shapely.Geometry, columns: int, gap: float) -> list[tuple[float, bool]]:
    """How far across each of a row lies, and whether it is one of the others."""
    there, back = pitch(one, other, (1.0, 0.0), gap), pitch(other, one, (1.0, 0.0), gap)
    back += max(0.0, max(pitch(each, each, (1.0, 0.0), gap) for each in (one, other)) - there - back)
    every = (divmod(column, 2) for column in range(columns))
    return [(pair * (there + back) + odd * there, bool(odd)) for pair, odd in every]


def pitch(first: shapely.Geometry, second: shapely.Geometry, way: tuple[float, float], gap: float) -> float:
    """How far one way the second has to go, from where it is, to lie just clear of the first, mm."""
    _, _, right, bottom = shapely.bounds(first).tolist()
    edges = shapely.bounds(second).tolist()
    far = gap + max(right - edges[0], bottom - edges[1], 0.0)
    lies = Lying((-np.inf, -np.inf, np.inf, np.inf), gap, inside=False)
    lies.add(first)

    def clear(by: float) -> bool:
        return lies.clear(second, way[0] * by, way[1] * by)

    step, at = far / _STEPS, far
    while at > step and clear(at - step):
        at -= step
    taken = max(at - step, 0.0)
    while at - taken > _FINE:
        middle = (at + taken) / 2
        at, taken = (middle, taken) if clear(middle) else (at, middle)
    return float(at)
