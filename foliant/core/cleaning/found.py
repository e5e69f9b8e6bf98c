"""What is found of a fault, and what its finders share."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths import EMPTY, Path, join
from foliant.core.paths.flatten import flatten
from foliant.core.paths.nesting import contour

Paths = tuple[Path, ...]
"""Outlines, each with all its contours, mm."""

Geometries = NDArray[np.object_]


@dataclass(frozen=True, eq=False)
class Found:
    """A fault of some outlines: how many there are, where, and the outlines with all of them mended."""

    count: int
    places: Path
    mended: Paths


def nothing(paths: Paths) -> Found:
    """That there is none."""
    return Found(0, EMPTY, paths)


def contours_of(paths: Paths) -> tuple[list[Path], NDArray[np.int64]]:
    """All contours, and the number of the outline of each."""
    found = [contour(path, number) for path in paths for number in range(len(path.starts))]
    owner = np.repeat(np.arange(len(paths)), [len(path.starts) for path in paths])
    return found, owner


def regrouped(contours: Iterable[Path | None], owner: Iterable[int], count: int) -> Paths:
    """Contours as outlines again, without those that are None; an outline of which nothing is left is gone."""
    held: list[list[Path]] = [[] for _ in range(count)]
    for one, number in zip(contours, owner, strict=True):
        if one is not None and len(one):
            held[number].append(one)
    return tuple(join(some) for some in held if some)


def flat_lines(paths: Paths, tolerance: float = 0.01) -> Geometries:
    """Every contour as a line of short edges, in order."""
    whole = join(paths)
    flat = flatten(whole, tolerance)
    number = whole.contour_of[flat.segment]
    last = np.append(number[1:] != number[:-1], True)
    # Each contour's edges begin where the last ends; its last end closes the row.
    points = np.insert(flat.points, np.flatnonzero(last) + 1, flat.ends[last], axis=0)
    index = np.insert(number, np.flatnonzero(last) + 1, number[last])
    return np.asarray(shapely.linestrings(points, indices=index))
