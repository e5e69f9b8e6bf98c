"""The areas that are painted in a drawing: filled by either rule, or the width of a line."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.drawings.drawing import Item
from foliant.core.errors import Refused
from foliant.core.paths import EMPTY, LINE, Path, Region, combine, divide, intersect, join, widened
from foliant.core.paths.flatten import flatten
from foliant.core.paths.joints import within
from foliant.core.paths.nesting import alternating, contour
from foliant.core.paths.polygons import windings

_WIDE = 4.0
_THINNEST = 0.2
"""A line as wide as that, mm, which is clipped becomes the area that is left of it."""


def filled(path: Path, odd: bool) -> Path:
    """What is filled of a path, so that the nonzero rule fills it too: open contours are closed, and of contours that
    are filled by the even-odd rule those that lie in an odd number of others run the other way.
    """
    path = _closed(path)
    if not odd or not len(path):
        return path
    if not _crosses(path):
        return alternating(path)
    try:
        return _odd_faces(path)
    except Refused:
        return path


def stroked(item: Item) -> Path:
    """The area of an item's line; raises `Refused` where it cannot be told."""
    # Its edges may lie some thousandths of a millimetre off, which is much of a thin line: so it is widened enlarged.
    larger = max(1.0, _WIDE / item.width)
    found = widened(_times(item.path, larger), item.width * larger, item.ends, item.joins).path
    return _times(found, 1 / larger)


def seen_through(item: Item, clip: Region) -> Iterator[Item]:
    """What may be seen of an item that is clipped by a region; raises `Refused` where that cannot be told."""
    left, top, right, bottom = item.path.bounds
    half = item.width / 2 if item.stroke else 0.0
    box = shapely.box(left - half, top - half, right + half, bottom + half)
    if shapely.contains(clip.shape, box):
        yield item
        return
    if not shapely.intersects(clip.shape, box):
        return
    if item.fill:
        area = intersect([[filled(item.path, item.odd)], [clip.path]]).path
        yield Item(area, item.fill, layer=item.layer)
    if item.stroke and item.width >= _THINNEST:
        yield Item(intersect([[stroked(item)], [clip.path]]).path, item.stroke, layer=item.layer)
    elif item.stroke:
        yield replace(item, path=within(join([item.path]), clip), fill="")


def painted(item: Item) -> tuple[Path, ...]:
    """All areas of an item, each filled by the nonzero rule: that of its fill, and that of its line where it has a
    width.
    """
    found = []
    if item.fill:
        found.append(filled(item.path, item.odd))
    if item.stroke and item.width > 0:
        found.append(stroked(item))
    return tuple(path for path in found if len(path))


def _times(path: Path, factor: float) -> Path:
    return path.transformed((factor, 0.0, 0.0, factor, 0.0, 0.0))


def _closed(path: Path) -> Path:
    """Every contour closed, by a line home where it is not."""
    if path.closed.all():
        return path
    found = []
    for number in range(len(path.starts)):
        one = contour(path, number)
        if not one.closed[0]:
            kinds, points = one.kinds, one.points
            first, last = points[0, 0], points[-1, 3]
            if (first != last).any():
                kinds = np.append(kinds, np.uint8(LINE))
                points = np.concatenate([points, np.stack([last, last, first, first])[None]])
            one = Path(kinds, points, np.zeros(1, np.int64), np.ones(1, np.bool_))
        found.append(one)
    return join(found)


def _rings(path: Path) -> NDArray[Any]:
    flat = flatten(path)
    number = path.contour_of[flat.segment]
    enough = np.bincount(number, minlength=len(path.starts)) >= 3
    keep = enough[number]
    index = (np.cumsum(enough) - 1)[number[keep]]
    return np.asarray(shapely.linearrings(flat.points[keep], indices=index)) if keep.any() else np.empty(0, object)


def _crosses(path: Path) -> bool:
    """Whether contours cross themselves or each other."""
    rings = _rings(path)
    if not shapely.is_simple(rings).all():
        return True
    one, other = shapely.STRtree(rings).query(rings, predicate="intersects")
    return bool((one != other).any())


def _odd_faces(path: Path) -> Path:
    """The faces of contours that cross which they go round an odd number of times."""
    faces = divide([path], [path])
    if not faces:
        return EMPTY
    inside = shapely.get_coordinates(shapely.point_on_surface([face.shape for face in faces]))
    turns = windings(_rings(path), inside)
    return combine([face.path for face, turn in zip(faces, turns, strict=True) if turn % 2]).path
