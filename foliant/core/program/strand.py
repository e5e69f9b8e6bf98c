"""Strands: what is done in one go, with the choices where it may begin."""

from collections.abc import Callable
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import Path, curves
from foliant.core.paths.flatten import GRID
from foliant.core.program.program import Block

Floats = NDArray[np.float64]

_VISIBLE = float(np.cos(np.deg2rad(15)))
"""A corner where the way turns by more is seen."""

_CHOICES = 16
"""In how many places, about evenly spaced, a closed line may begin; each comes to a block of its own."""


class Strand:
    """A line in its piece's own coordinates that becomes a block, once it is known where it begins.

    anywhere  whether a closed one may begin at more than one place
    corners   whether it may begin at a visible corner
    """

    def __init__(
        self, line: Path, block_of: Callable[[Path], Block], anywhere: bool = True, corners: bool = True
    ) -> None:
        self._line, self._block_of = line, block_of
        self._blocks: dict[int, Block] = {}
        self._anywhere = anywhere
        self._cuts = _cuts(line, corners) if anywhere and line.closed[0] else np.zeros((0, 2))

    @cached_property
    def begins(self) -> Floats:
        """Where it may begin, (k, 2)."""
        if len(self._cuts):
            segments = self._cuts[:, 0].astype(np.int64)
            return curves.evaluate(self._line.kinds[segments], self._line.points[segments], self._cuts[:, 1])
        if self._anywhere:
            return np.array([self._line.points[0, 0], self._line.points[-1, 3]])
        return self.block(0).moves.points[:1, 0]

    @cached_property
    def ends(self) -> Floats:
        """Where it ends then, (k, 2)."""
        if len(self._cuts):
            return self.begins
        return self.begins[::-1] if self._anywhere else self.block(0).moves.points[-1:, 3]

    def block(self, choice: int) -> Block:
        """The block that begins there; only those that are asked for are made."""
        if choice not in self._blocks:
            line = _begun_at(self._line, *self._cuts[choice]) if len(self._cuts) else _turned(self._line, choice)
            self._blocks[choice] = self._block_of(line)
        return self._blocks[choice]


def _cuts(line: Path, corners: bool) -> Floats:
    """Segments and parameters at which a closed line may begin: its nodes, and between them on long segments.

    Away from corners, where there is nothing else, in the middle of the longest segment.
    """
    lengths = curves.lengths(line.kinds, line.points)
    step = max(float(lengths.sum()) / _CHOICES, GRID)
    visible = np.zeros(len(line), bool) if corners else _corners(line)
    found: list[tuple[int, float]] = []
    since = step
    for segment, length in enumerate(lengths.tolist()):
        if since >= 0.5 * step and not visible[segment]:
            found.append((segment, 0.0))
            since = 0.0
        parts = int(length // step)
        found += [(segment, part / (parts + 1)) for part in range(1, parts + 1)]
        since = length / (parts + 1) if parts else since + length
    return np.array(found or [(int(np.argmax(lengths)), 0.5)])


def _corners(line: Path) -> NDArray[np.bool_]:
    """Whether each segment of a closed line begins at a corner that the eye sees."""
    near = np.full(len(line), 1e-3)  # a handle may lie on its node
    out = curves.evaluate(line.kinds, line.points, near) - line.points[:, 0]
    into = line.points[:, 3] - curves.evaluate(line.kinds, line.points, 1 - near)
    into = np.roll(into, 1, axis=0)
    lengths = np.hypot(*out.T) * np.hypot(*into.T)
    return np.asarray((into * out).sum(axis=1) < _VISIBLE * lengths)


def _begun_at(line: Path, segment: float, share: float) -> Path:
    """A closed line that begins at a place on one of its segments."""
    index = int(segment)
    order = np.roll(np.arange(len(line)), -index)
    kinds, points = line.kinds[order], line.points[order].copy()
    if share:
        two = np.repeat(points[:1], 2, axis=0)
        halves = curves.cut(np.repeat(kinds[:1], 2), two, np.array([share, 0.0]), np.array([1.0, share]))
        halves[0, 3], halves[1, 0] = points[0, 3], points[0, 0]
        halves[1, 3] = halves[0, 0]
        kinds = np.append(kinds, kinds[0])
        points = np.concatenate([halves[:1], points[1:], halves[1:]])
    return Path(kinds, points, np.zeros(1, np.int64), line.closed)


def _turned(line: Path, choice: int) -> Path:
    """An open line as it is, or from its other end."""
    if choice == 0:
        return line
    return Path(line.kinds[::-1].copy(), line.points[::-1, ::-1].copy(), line.starts, line.closed)
