"""Strokes: lines that were given a width and drawn as two outlines, one along each side."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.cleaning.doubles import NEAR
from foliant.core.cleaning.found import Found, Geometries, Paths, contours_of, flat_lines, nothing, regrouped
from foliant.core.errors import Refused
from foliant.core.paths import Path, combine, join, offset
from foliant.core.paths.nesting import alternating, contour

WIDEST = 1.0
"""mm between the two sides; wider, it is a ring that is meant."""

_SHARE_OF_SIZE = 0.06
"""Nor is it wider than this share of what it goes round: a letter O is no stroke."""

_EVEN = 0.12
"""How far the width may be from the same everywhere, as a share of it, and over how much of the line."""
_EVENLY = 0.8
_FARTHEST = 3.0
"""Corners of the outer side may lie this many widths away from the inner one."""


def find_outer(paths: Paths) -> Found:
    """Outlines along both sides of a stroke; mended, the outer ones are left."""
    return _found(paths, middle=False)


def find_middle(paths: Paths) -> Found:
    """The same; mended, the line between the two is left."""
    return _found(paths, middle=True)


def _found(paths: Paths, middle: bool) -> Found:
    contours, owner = contours_of(paths)
    rest: list[Path | None] = list(contours)
    places = []
    changed = set()
    for outer, inner, width in sides(contours):
        between = _between(contours[outer], width) if middle else contours[outer]
        if between is not None:
            rest[outer], rest[inner] = between, None
            places += [contours[outer], contours[inner]]
            changed.add(owner[outer])
    if not places:
        return nothing(paths)
    for number in changed:  # a line within a line was an edge of what is cut out there, and goes on to be
        own = [i for i in np.flatnonzero(owner == number).tolist() if (one := rest[i]) is not None and one.closed.all()]
        turned = alternating(join(one for i in own if (one := rest[i]) is not None))
        for place, i in enumerate(own):
            rest[i] = contour(turned, place)
    return Found(len(places) // 2, join(places), regrouped(rest, owner, len(paths)))


def sides(contours: Sequence[Path], thinnest: float = NEAR) -> list[tuple[int, int, float]]:
    """The numbers of an outer and an inner side, each in one pair at most, and the width between them, mm."""
    if len(contours) < 2:
        return []
    box = np.array([one.bounds for one in contours])
    size = np.minimum(box[:, 2] - box[:, 0], box[:, 3] - box[:, 1])
    closed = np.array([bool(one.closed.all()) for one in contours])
    corners = shapely.points(box[:, :2])
    one, other = shapely.STRtree(corners).query(corners, predicate="dwithin", distance=_FARTHEST * WIDEST)
    inward = np.concatenate([box[other, :2] - box[one, :2], box[one, 2:] - box[other, 2:]], axis=1)
    near = (inward >= thinnest / 2).all(axis=1) & (inward <= _FARTHEST * WIDEST).all(axis=1)
    near &= closed[one] & closed[other] & (one != other)
    if not near.any():
        return []
    lines = flat_lines(tuple(contours))
    found: list[tuple[int, int, float]] = []
    taken: set[int] = set()
    for outer, inner in zip(one[near].tolist(), other[near].tolist(), strict=True):
        width = None if {outer, inner} & taken else _width(lines, outer, inner)
        if width is not None and thinnest <= width <= min(WIDEST, _SHARE_OF_SIZE * float(size[outer])):
            found.append((outer, inner, width))
            taken |= {outer, inner}
    return found


def _width(lines: Geometries, outer: int, inner: int) -> float | None:
    """The distance between two lines where it is the same nearly everywhere."""
    apart = [_distances(lines[outer], lines[inner]), _distances(lines[inner], lines[outer])]
    return float(np.median(np.concatenate(apart))) if is_even(apart) else None


def is_even(apart: Sequence[NDArray[np.float64]]) -> bool:
    """Whether places of two sides, of each by itself, lie as far from the other side nearly everywhere; mm."""
    width = float(np.median(np.concatenate(apart)))
    return all(
        (np.abs(some - width) <= _EVEN * width + 0.01).mean() >= _EVENLY and some.max() <= _FARTHEST * width + 0.01
        for some in apart
    )


def _distances(line: shapely.Geometry, other: shapely.Geometry) -> NDArray[np.float64]:
    """How far places that lie evenly along a line are from another, mm."""
    along = np.linspace(0, line.length, int(np.clip(line.length / 0.5, 60, 2000)), endpoint=False)
    return np.asarray(shapely.distance(shapely.line_interpolate_point(line, along), other))


def _between(outer: Path, width: float) -> Path | None:
    """What runs half the width inside an outline, with its corners; None where that is not one outline."""
    try:
        found = offset(combine([outer]), -width / 2, "sharp").path
    except Refused:
        return None
    return found if len(found.starts) == 1 else None
