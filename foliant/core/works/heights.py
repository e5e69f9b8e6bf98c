"""Heights: a head that is let down before it works and lifted before it travels, or set to where its beam is focused.

A move up or down goes nowhere else, and lasts as long as it takes.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import LINE
from foliant.core.works.work import Floats, Moves

SHALLOW = 0.3
"""How deep a turning cutter marks the face where nothing else is said, mm."""


@dataclass(frozen=True)
class Heights:
    """How a head goes up and down: to `depth` mm in the material and back up to `lift` mm over it, at these speeds in
    mm/s; or, where there is no depth, to `focus` mm over it while it works.
    """

    rise: float
    focus: float = 0.0
    depth: float = 0.0
    lift: float = 0.0
    plunge: float = 1.0

    def at_depth(self, share: float) -> "Heights":
        """The same, and only a share as deep."""
        return Heights(self.rise, self.focus, self.depth * share, self.lift, self.plunge)


def at_height(moves: Moves, heights: Heights | None) -> Moves:
    """Moves with those up and down that they take."""
    if heights is None or not len(moves):
        return moves
    return _let_down(moves, heights) if heights.depth else _focused(moves, heights)


def _let_down(moves: Moves, heights: Heights) -> Moves:
    """Down before each stretch of work, and up after it."""
    edges = np.diff(np.concatenate([[False], moves.working, [False]]).astype(np.int8))
    downs, ups = np.flatnonzero(edges == 1), np.flatnonzero(edges == -1)
    way = heights.depth + heights.lift
    at = np.concatenate([downs, ups])
    starts = np.concatenate([moves.points[downs, 0], moves.points[ups - 1, 3]])
    down = np.arange(len(at)) < len(downs)
    # Where one ends as the next begins it is lifted first: ups come before downs at the same place.
    order = np.lexsort((down, at))
    heights_to = np.where(down, -heights.depth, heights.lift)[order]
    lasting = np.where(down, way / heights.plunge, way / heights.rise)[order]
    return _inserted(moves, at[order], starts[order], heights_to, lasting, down[order])


def _focused(moves: Moves, heights: Heights) -> Moves:
    """To the focus before all of it, and back to the surface after."""
    at, ends = np.array([0, len(moves)]), np.stack([moves.points[0, 0], moves.points[-1, 3]])
    lasting = np.full(2, abs(heights.focus) / heights.rise)
    return _inserted(moves, at, ends, np.array([heights.focus, 0.0]), lasting, np.zeros(2, np.bool_))


def _inserted(
    moves: Moves, at: NDArray[np.int64], where: Floats, to: Floats, lasting: Floats, working: NDArray[np.bool_]
) -> Moves:
    still = np.repeat(where[:, None], 4, axis=1)
    known = np.full(len(moves), np.nan) if moves.z is None else moves.z
    return Moves(
        np.insert(moves.kinds, at, LINE),
        np.insert(moves.points, at, still, axis=0),
        np.insert(moves.working, at, working),
        np.insert(moves.dwell, at, lasting),
        None if moves.share is None else np.insert(moves.share, at, 0.0),
        np.insert(known, at, to),
    )
