"""Doubles: contours that lie on others, exactly or nearly, whichever way they run."""

import numpy as np
import shapely

from foliant.core.cleaning.found import Found, Paths, contours_of, flat_lines, nothing, regrouped
from foliant.core.paths import join

NEAR = 0.05
"""How far apart, mm, two lines may lie that are meant as one."""


def find(paths: Paths) -> Found:
    """Contours that lie within `NEAR` of one before them all along, as that does of them."""
    contours, owner = contours_of(paths)
    if len(contours) < 2:
        return nothing(paths)
    box = np.array([one.bounds for one in contours])
    tree = shapely.STRtree(shapely.points(box[:, :2]))
    one, other = tree.query(shapely.points(box[:, :2]), predicate="dwithin", distance=2 * NEAR)
    pairs = (one < other) & (np.abs(box[one, 2:] - box[other, 2:]).max(axis=1) <= 2 * NEAR)
    one, other = one[pairs], other[pairs]
    if not len(one):
        return nothing(paths)
    lines = flat_lines(paths)
    length = shapely.length(lines)
    alike = np.abs(length[one] - length[other]) <= 8 * NEAR + 0.01 * length[one]
    one, other = one[alike], other[alike]
    near = shapely.hausdorff_distance(lines[one], lines[other]) <= NEAR
    spare = np.zeros(len(contours), np.bool_)
    for first, second in zip(one[near].tolist(), other[near].tolist(), strict=True):
        if not spare[first]:
            spare[second] = True
    if not spare.any():
        return nothing(paths)
    rest = [None if is_spare else it for it, is_spare in zip(contours, spare, strict=True)]
    places = join(it for it, is_spare in zip(contours, spare, strict=True) if is_spare)
    return Found(int(spare.sum()), places, regrouped(rest, owner, len(paths)))
