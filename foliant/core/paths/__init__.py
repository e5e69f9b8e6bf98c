"""Curves: what a path is, measuring it, and overlaying paths without losing the curves."""

from foliant.core.paths.overlay import Region, combine
from foliant.core.paths.path import ARC, CUBIC, EMPTY, LINE, Affine, Path, join, similarity
from foliant.core.paths.pens import ArcPen, PathPen

__all__ = [
    "ARC",
    "CUBIC",
    "EMPTY",
    "LINE",
    "Affine",
    "ArcPen",
    "Path",
    "PathPen",
    "Region",
    "combine",
    "join",
    "similarity",
]
