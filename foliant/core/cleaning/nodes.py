"""Outlines of far more nodes than their curves need."""

from foliant.core.cleaning.found import Found, Paths, contours_of, nothing, regrouped
from foliant.core.paths import Path, join
from foliant.core.paths.fitting import fitted

WITHIN = 0.02
"""How far, mm, what is drawn with fewer may lie off."""

FEWEST = 24
"""Contours of fewer nodes are as somebody drew them."""

_WORTH = 0.6
"""It is worth it where no more than this share is left."""

_LONG = 1.5
"""Curves whose segments are longer than this on average, mm, are not traced point by point."""


def find(paths: Paths) -> Found:
    """Contours of many short segments that lines, arcs and cubics follow with far fewer."""
    contours, owner = contours_of(paths)
    new: list[Path | None] = []
    places, spared = [], 0
    for one in contours:
        fewer = fitted(one, WITHIN) if len(one) >= FEWEST and one.length / len(one) < _LONG else one
        if len(fewer) <= _WORTH * len(one):
            spared += len(one) - len(fewer)
            places.append(one)
            new.append(fewer)
        else:
            new.append(one)
    return Found(spared, join(places), regrouped(new, owner, len(paths))) if spared else nothing(paths)
