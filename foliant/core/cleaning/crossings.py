"""Outlines that cross themselves."""

import numpy as np
import shapely

from foliant.core.cleaning.found import Found, Paths, nothing
from foliant.core.errors import Refused
from foliant.core.paths import Path, combine, join
from foliant.core.paths.flatten import flatten
from foliant.core.paths.nesting import chosen_contours


def find(paths: Paths) -> Found:
    """Closed contours whose edges cross each other; mended, the outline is the edge of what it fills."""
    if not paths:
        return nothing(paths)
    mended, places, count = [], [], 0
    counts = [len(path.starts) for path in paths]
    each = np.split(_crossed(join(paths)), np.cumsum(counts)[:-1])
    for path, crossed in zip(paths, each, strict=True):
        if not crossed.any():
            mended.append(path)
            continue
        try:
            closed = combine([path]).path
        except Refused:
            mended.append(path)
            continue
        count += int(crossed.sum())
        places.append(chosen_contours(path, crossed))
        mended.append(join([closed, chosen_contours(path, ~path.closed)]))
    return Found(count, join(places), tuple(one for one in mended if len(one))) if count else nothing(paths)


def _crossed(path: Path) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Whether each contour is closed and crosses itself."""
    found = np.zeros(len(path.starts), np.bool_)
    flat = flatten(path, 0.01)
    number = path.contour_of[flat.segment]
    edges = np.bincount(number, minlength=len(path.starts))
    ringed = path.closed & (edges >= 3)
    keep = ringed[number]
    if keep.any():
        rings = shapely.linearrings(flat.points[keep], indices=(np.cumsum(ringed) - 1)[number[keep]])
        found[ringed] = ~shapely.is_simple(rings)
    return found
