"""Segments of no length to speak of."""

import numpy as np

from foliant.core.cleaning.found import Found, Paths, contours_of, nothing, regrouped
from foliant.core.paths import Path, curves, join

SHORT = 0.003
"""mm"""


def find(paths: Paths) -> Found:
    """Segments shorter than `SHORT`, between others that then meet."""
    whole = join(paths)
    if not (curves.lengths(whole.kinds, whole.points) < SHORT).any():
        return nothing(paths)
    contours, owner = contours_of(paths)
    new: list[Path | None] = []
    places: list[Path] = []
    count = 0
    for one in contours:
        short = curves.lengths(one.kinds, one.points) < SHORT
        if not short.any() or short.all():
            new.append(one)
            continue
        count += int(short.sum())
        gone = np.arange(short.sum())
        places.append(Path(one.kinds[short], one.points[short], gone, np.zeros(len(gone), np.bool_)))
        points = one.points[~short].copy()
        points[1:, 0] = points[:-1, 3]
        if one.closed[0]:
            points[0, 0] = points[-1, 3]
        new.append(Path(one.kinds[~short], points, np.zeros(1, np.int64), one.closed))
    return Found(count, join(places), regrouped(new, owner, len(paths))) if count else nothing(paths)
