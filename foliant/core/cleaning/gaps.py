"""Gaps: ends of open lines that nearly meet, so that what looks closed is not."""

from collections import defaultdict

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.cleaning.found import Found, Paths, contours_of, nothing, regrouped
from foliant.core.paths import LINE, Path, join

WIDEST = 0.5
"""mm"""

MEETING = 0.01
"""Ends that lie so near, mm, meet."""

_FLAT = 1e-4
"""What closes and holds less than so much, in mm² to the mm, goes there and back on one line."""

Ints = NDArray[np.int64]
End = tuple[int, int]
"""The number of a contour, and 0 for where it begins or 1 for where it ends."""


def find(paths: Paths) -> Found:
    """Ends that lie within `WIDEST` of one other end, and of no more, in chains of lines that close: those of others
    may be meant. Ends that meet are joined as well.
    """
    chained, gaps = _chained(paths, WIDEST)
    if not gaps:
        return nothing(paths)
    return Found(len(gaps), join(_mark(start, end) for start, end in gaps), chained)


def joined(paths: Paths) -> Paths:
    """Open lines whose ends meet, as the lines that they are together, closed where they close."""
    return _chained(paths, MEETING)[0]


def _chained(paths: Paths, reach: float) -> tuple[Paths, list[tuple[NDArray[np.float64], NDArray[np.float64]]]]:
    """Open contours joined where two ends lie within a reach, and the gaps that were."""
    contours, owner = contours_of(paths)
    loose = [number for number, one in enumerate(contours) if not one.closed[0]]
    if not loose:
        return paths, []
    links = _links([contours[number] for number in loose], reach)
    rest = [one if one.closed[0] else None for one in contours]
    new, own, gaps = list(rest), owner.tolist(), []
    done: set[int] = set()
    # Chains are walked from their loose ends; what is left are rings.
    order = [n for n in range(len(loose)) if (n, 0) not in links or (n, 1) not in links]
    for first in [*order, *range(len(loose))]:
        if first in done:
            continue
        chain, closes = _walk(first, links, done)
        pieces = [_turned(contours[loose[number]], turned) for number, turned in chain]
        path, found = _welded(pieces, closes)
        if (found and not closes) or (closes and abs(path.area) < _FLAT * path.length):
            new += pieces
            own += [int(owner[loose[number]]) for number, _ in chain]
            continue
        gaps += found
        new.append(path)
        own.append(int(owner[loose[first]]))
    return regrouped(new, own, len(paths)), gaps


def _links(lines: list[Path], reach: float) -> dict[End, End]:
    """Which end goes to which: those of pairs that have no third end beside them."""
    places = np.array([[one.points[0, 0], one.points[-1, 3]] for one in lines]).reshape(-1, 2)
    points = shapely.points(places)
    one, other = shapely.STRtree(points).query(points, predicate="dwithin", distance=reach)
    near: dict[int, list[int]] = defaultdict(list)
    for first, second in zip(one.tolist(), other.tolist(), strict=True):
        if first != second and not (first // 2 == second // 2 and lines[first // 2].length <= 3 * reach):
            near[first].append(second)
    return {
        (end // 2, end % 2): (found[0] // 2, found[0] % 2)
        for end, found in near.items()
        if len(found) == 1 and len(near[found[0]]) == 1
    }


def _walk(first: int, links: dict[End, End], done: set[int]) -> tuple[list[tuple[int, bool]], bool]:
    """The contours that follow each other from one of them, each with whether it is walked from its end."""
    turned = (first, 0) in links and (first, 1) not in links
    chain = [(first, turned)]
    done.add(first)
    while True:
        number, turned = chain[-1]
        following = links.get((number, 0 if turned else 1))
        if following is None:
            return chain, False
        if following[0] in done:
            return chain, following == (first, 1 if chain[0][1] else 0)
        done.add(following[0])
        chain.append((following[0], following[1] == 1))


def _turned(one: Path, turned: bool) -> Path:
    return Path(one.kinds[::-1].copy(), one.points[::-1, ::-1].copy(), one.starts, one.closed) if turned else one


def _welded(pieces: list[Path], closes: bool) -> tuple[Path, list[tuple[NDArray[np.float64], NDArray[np.float64]]]]:
    """Lines after each other as one, with a short straight one over each gap, or their ends moved together."""
    kinds, points = [], []
    gaps = []
    for number, piece in enumerate(pieces):
        after = pieces[number + 1] if number + 1 < len(pieces) else pieces[0] if closes else None
        kinds.append(piece.kinds)
        points.append(piece.points.copy())
        if after is None:
            continue
        start, end = piece.points[-1, 3], after.points[0, 0]
        apart = float(np.hypot(*(end - start)))
        if apart > MEETING:
            kinds.append(np.array([LINE], np.uint8))
            points.append(np.stack([start, start, end, end])[None])
            gaps.append((start, end))
        elif apart > 0:
            points[-1][-1, 3] = end
            if piece.kinds[-1] == LINE:
                points[-1][-1, 2] = end
    return Path(np.concatenate(kinds), np.concatenate(points), np.zeros(1, np.int64), np.array([closes])), gaps


def _mark(start: NDArray[np.float64], end: NDArray[np.float64]) -> Path:
    points = np.stack([start, start, end, end])[None]
    return Path(np.array([LINE], np.uint8), points, np.zeros(1, np.int64), np.zeros(1, np.bool_))
