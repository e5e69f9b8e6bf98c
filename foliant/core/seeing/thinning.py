"""Thinning: what is dark worn away to lines one dot wide that keep its shape, and those lines as rows of points.

The wearing is T. Y. Zhang's and C. Y. Suen's, "A Fast Parallel Algorithm for Thinning Digital Patterns", 1984.
"""

import numpy as np
from numpy.typing import NDArray

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
Spot = tuple[int, int]

_ROUND = ((-1, 0), (-1, 1), (0, 1), (1, 1), (1, 0), (1, -1), (0, -1), (-1, -1))
_MOST_ROUNDS = 400


def thinned(dark: Bools) -> Bools:
    """What is dark, (rows, columns), as lines one dot wide along its middle."""
    left = np.pad(dark, 1)
    for _ in range(_MOST_ROUNDS):
        gone = False
        for first in (True, False):
            around = [np.roll(left, (-row, -column), (0, 1)) for row, column in _ROUND]
            count = np.sum(around, axis=0, dtype=np.uint8)
            following = [*around[1:], around[0]]
            steps = [~one & other for one, other in zip(around, following, strict=True)]
            turns = np.sum(steps, axis=0, dtype=np.uint8)
            north, east, south, west = (around[at] for at in (0, 2, 4, 6))
            sides = (~(north & east & south), ~(east & south & west))
            if not first:
                sides = (~(north & east & west), ~(north & south & west))
            worn = left & (count >= 2) & (count <= 6) & (turns == 1) & sides[0] & sides[1]
            gone |= bool(worn.any())
            left &= ~worn
        if not gone:
            break
    return np.asarray(left[1:-1, 1:-1])


def chains_of(lines: Bools, shortest: float) -> list[tuple[Floats, bool]]:
    """Lines one dot wide as rows of points (n, 2), x and y in dots, each with whether it closes. Where more than two
    meet they share a point. Loose ends shorter than `shortest` dots, which wearing leaves at corners, are left out.
    """
    spots = {(int(row), int(column)) for row, column in np.argwhere(lines)}
    near = {spot: _neighbours(spot, spots) for spot in spots}
    knots = _knots(near)
    centre = {spot: np.mean([(column, row) for row, column in knot], axis=0) for knot in knots for spot in knot}
    found = _between(near, centre)
    found = _without_spurs(found, shortest)
    return found + _rings(near, found, centre)


def _neighbours(spot: Spot, spots: set[Spot]) -> list[Spot]:
    """The dots beside one; those at its corners only where no way leads round by its sides."""
    row, column = spot
    around = [(r, c) for r, c in _ROUND if (row + r, column + c) in spots]
    by_side = {(r, c) for r, c in around if not (r and c)}
    kept = [(r, c) for r, c in around if (r, c) in by_side or not {(r, 0), (0, c)} & by_side]
    return [(row + r, column + c) for r, c in kept]


def _knots(near: dict[Spot, list[Spot]]) -> list[list[Spot]]:
    """Dots where more than two lines meet, those beside each other together."""
    crossing = {spot for spot, beside in near.items() if len(beside) > 2}
    found = []
    while crossing:
        knot, edge = [], [crossing.pop()]
        while edge:
            spot = edge.pop()
            knot.append(spot)
            beside = [one for one in near[spot] if one in crossing]
            crossing -= set(beside)
            edge += beside
        found.append(knot)
    return found


Chain = tuple[Floats, bool]


def _between(near: dict[Spot, list[Spot]], centre: dict[Spot, Floats]) -> list[Chain]:
    """The lines from knots and loose ends to others."""
    found: list[Chain] = []
    walked: set[tuple[Spot, Spot]] = set()
    starts = [spot for spot, beside in near.items() if spot in centre or len(beside) == 1]
    for start in starts:
        for second in near[start]:
            if (start, second) in walked or (second in centre and start in centre and centre[second] is centre[start]):
                continue
            line = [start, second]
            while line[-1] not in centre and len(near[line[-1]]) == 2:
                before, here = line[-2:]
                line.append(next(one for one in near[here] if one != before))
            walked |= {(line[0], line[1]), (line[-1], line[-2])}
            found.append((_points(line, centre), False))
    return found


def _points(line: list[Spot], centre: dict[Spot, Floats]) -> Floats:
    return np.array([centre.get(spot, np.array([spot[1], spot[0]])) for spot in line], np.float64)


def _without_spurs(found: list[Chain], shortest: float) -> list[Chain]:
    ends: dict[tuple[float, float], int] = {}
    for points, _ in found:
        for end in (points[0], points[-1]):
            ends[tuple(end)] = ends.get(tuple(end), 0) + 1

    def is_spur(points: Floats) -> bool:
        length = float(np.hypot(*np.diff(points, axis=0).T).sum())
        loose = [ends[tuple(end)] == 1 for end in (points[0], points[-1])]
        return length < shortest and loose[0] != loose[1]

    return [(points, closed) for points, closed in found if not is_spur(points)]


def _rings(near: dict[Spot, list[Spot]], found: list[Chain], centre: dict[Spot, Floats]) -> list[Chain]:
    """Lines that no knot is on."""
    seen = {(round(y), round(x)) for points, _ in found for x, y in points} | set(centre)
    left = {spot for spot, beside in near.items() if len(beside) == 2} - seen
    rings: list[Chain] = []
    while left:
        start = min(left)
        line = [start, near[start][0]]
        while line[-1] != start and len(near[line[-1]]) == 2 and line[-1] in left:
            before, here = line[-2:]
            line.append(next((one for one in near[here] if one != before), start))
        left -= set(line)
        if line[-1] == start and len(line) > 4:
            rings.append((_points(line, {}), True))
    return rings
