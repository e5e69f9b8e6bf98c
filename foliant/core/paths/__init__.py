"""Curves: what a path is, measuring it, and overlaying paths without losing the curves."""

from foliant.core.paths.offset import Caps, Ends, Joins, offset, widened
from foliant.core.paths.overlay import NOTHING, Region, combine, divide, exclude, intersect, subtract
from foliant.core.paths.path import ARC, CUBIC, EMPTY, LINE, Affine, Path, join, similarity
from foliant.core.paths.pens import ArcPen, PathPen

__all__ = [
    "ARC",
    "CUBIC",
    "EMPTY",
    "LINE",
    "NOTHING",
    "Affine",
    "ArcPen",
    "Caps",
    "Ends",
    "Joins",
    "Path",
    "PathPen",
    "Region",
    "combine",
    "divide",
    "exclude",
    "intersect",
    "join",
    "offset",
    "similarity",
    "subtract",
    "widened",
]
