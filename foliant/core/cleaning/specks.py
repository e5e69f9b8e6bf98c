"""Specks: contours too small to be meant."""

from foliant.core.cleaning.found import Found, Paths, contours_of, nothing, regrouped
from foliant.core.paths import join

LARGEST = 0.4
"""mm, both ways"""


def find(paths: Paths) -> Found:
    """Contours of which nothing reaches farther than `LARGEST`, where there are larger ones."""
    contours, owner = contours_of(paths)
    small = []
    for one in contours:
        left, top, right, bottom = one.bounds
        small.append(max(right - left, bottom - top) < LARGEST)
    if not any(small) or all(small):
        return nothing(paths)
    specks = [one for one, is_small in zip(contours, small, strict=True) if is_small]
    rest = [None if is_small else one for one, is_small in zip(contours, small, strict=True)]
    return Found(len(specks), join(specks), regrouped(rest, owner, len(paths)))
