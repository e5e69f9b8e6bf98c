"""Lead-ins: a cut begins in the waste beside its line, so that no mark of piercing is left on the edge."""

import numpy as np
import shapely

from foliant.core.paths import LINE, Path, curves
from foliant.core.paths.flatten import flatten
from foliant.core.works.work import Moves

_TRIES = (1.0, 0.5, 0.25)


def led_in(moves: Moves, contour: Path, length: float, outside: bool) -> Moves:
    """Moves along a closed contour that begin so far beside its first point: outside what it goes round, or inside
    where that is what falls out. Shorter where there is less waste; as they are where there is none.
    """
    if not len(moves) or not contour.closed[0] or length <= 0:
        return moves
    start = moves.points[0, 0]
    way = curves.derivatives(moves.kinds[:1], moves.points[:1], np.zeros(1))[0]
    side = np.array([way[1], -way[0]]) / max(float(np.hypot(*way)), 1e-12)
    flat = flatten(contour)
    ring = shapely.Polygon(flat.points)
    for share in _TRIES:
        for turn in (1, -1):
            begin = start + turn * side * length * share
            line = shapely.LineString([begin, start + turn * side * min(0.02, length * share / 2)])
            free = ring.disjoint(line) if outside else ring.contains(line)
            if free:
                first = np.array([[begin, begin, start, start]])
                return Moves(
                    np.concatenate([[LINE], moves.kinds]).astype(np.uint8),
                    np.concatenate([first, moves.points]),
                    np.concatenate([[True], moves.working]),
                    np.concatenate([[0.0], moves.dwell]),
                )
    return moves
