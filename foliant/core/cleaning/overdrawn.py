"""Lines drawn over lines: straight stretches of open lines that others cover."""

from collections import defaultdict

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.cleaning.found import Found, Paths, contours_of, nothing, regrouped
from foliant.core.paths import LINE, Path, join

NEAR = 0.03
"""How far aside, mm, a line may lie of the one that covers it."""

LEAST = 0.2
"""A shorter stretch, mm, is a crossing or a meeting of ends."""

Floats = NDArray[np.float64]


def find(paths: Paths) -> Found:
    """Straight stretches of open lines that lie along straight edges of contours before them, or along longer ones."""
    contours, owner = contours_of(paths)
    kinds = np.concatenate([one.kinds for one in contours]) if contours else np.zeros(0, np.uint8)
    number = np.repeat(np.arange(len(contours)), [len(one) for one in contours])
    straight = np.flatnonzero(kinds == LINE)
    if len(straight) < 2:
        return nothing(paths)
    every = np.concatenate([one.points for one in contours])[straight]
    starts, ends, of = every[:, 0], every[:, 3], number[straight]
    is_open = np.array([not one.closed[0] for one in contours])
    lines = shapely.linestrings(np.stack([starts, ends], axis=1))
    upper, lower = shapely.STRtree(lines).query(lines, predicate="dwithin", distance=NEAR)
    wanted = is_open[of[upper]] & (of[upper] != of[lower])
    covered = _covered(starts, ends, upper[wanted], lower[wanted])
    length = np.hypot(*(ends - starts).T)
    gone: dict[int, list[tuple[float, float]]] = defaultdict(list)
    for (segment, by), (begin, end) in covered.items():
        # Of two open lines the later gives way, unless it is the one that reaches farther.
        mine, others = (length[segment], -of[segment]), (length[by], -of[by])
        if not is_open[of[by]] or mine < others:
            gone[segment].append((begin, end))
    if not gone:
        return nothing(paths)
    return _told(paths, contours, owner, straight, number, {segment: _merged(some) for segment, some in gone.items()})


def _covered(
    starts: Floats, ends: Floats, upper: NDArray[np.int64], lower: NDArray[np.int64]
) -> dict[tuple[int, int], tuple[float, float]]:
    """Which share of each straight line, from where to where, lies along another."""
    way = ends[lower] - starts[lower]
    size = np.maximum(np.hypot(*way.T), 1e-9)
    unit = way / size[:, None]
    own = ends[upper] - starts[upper]
    length = np.maximum(np.hypot(*own.T), 1e-9)

    def along(points: Floats) -> Floats:
        return np.asarray(((points - starts[lower]) * unit).sum(axis=1))

    t0, t1 = along(starts[upper]), along(ends[upper])
    low, high = np.maximum(np.minimum(t0, t1), 0), np.minimum(np.maximum(t0, t1), size)
    aside = np.abs(own[:, 0] * unit[:, 1] - own[:, 1] * unit[:, 0])
    off = starts[upper] - starts[lower]
    apart = np.abs(off[:, 0] * unit[:, 1] - off[:, 1] * unit[:, 0])
    parallel = (aside <= NEAR + 1e-3 * length) & (apart <= NEAR + aside)
    parallel &= high - low >= np.minimum(LEAST, 0.9 * length)
    span = np.where(np.abs(t1 - t0) < 1e-9, 1.0, t1 - t0)
    first, second = (low - t0) / span, (high - t0) / span
    begin, end = np.clip(np.minimum(first, second), 0, 1), np.clip(np.maximum(first, second), 0, 1)
    return {(int(upper[i]), int(lower[i])): (float(begin[i]), float(end[i])) for i in np.flatnonzero(parallel)}


def _merged(stretches: list[tuple[float, float]]) -> list[tuple[float, float]]:
    found: list[tuple[float, float]] = []
    for begin, end in sorted(stretches):
        if found and begin <= found[-1][1] + 1e-9:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((begin, end))
    return found


def _told(
    paths: Paths,
    contours: list[Path],
    owner: NDArray[np.int64],
    straight: NDArray[np.int64],
    number: NDArray[np.int64],
    gone: dict[int, list[tuple[float, float]]],
) -> Found:
    """The contours without what is covered, in pieces where that lay in their middle."""
    begins = np.searchsorted(number, np.arange(len(contours)))
    lost: dict[int, dict[int, list[tuple[float, float]]]] = defaultdict(dict)
    for segment, stretches in gone.items():
        at = int(straight[segment])
        lost[int(number[at])][at - int(begins[number[at]])] = stretches
    new, own, places, count = [], [], [], 0
    for which, one in enumerate(contours):
        if which not in lost:
            new.append(one)
            own.append(int(owner[which]))
            continue
        kept, dropped = _without(one, lost[which])
        places += dropped
        count += len(dropped)
        new += kept
        own += [int(owner[which])] * len(kept)
    return Found(count, join(places), regrouped(new, own, len(paths)))


def _without(one: Path, lost: dict[int, list[tuple[float, float]]]) -> tuple[list[Path], list[Path]]:
    runs: list[list[tuple[int, Floats]]] = [[]]
    dropped: list[Path] = []
    for at in range(len(one)):
        kind, points = int(one.kinds[at]), one.points[at]
        here = 0.0
        for begin, end in [*lost.get(at, []), (1.0, 1.0)]:
            if begin - here > 1e-6:
                runs[-1].append((kind, points if (here, begin) == (0.0, 1.0) else _between(points, here, begin)))
            if end > begin:
                dropped.append(_path([(LINE, _between(points, begin, end))]))
                runs.append([])
            here = end
    return [_path(run) for run in runs if run], dropped


def _between(points: Floats, begin: float, end: float) -> Floats:
    a, b = (points[0] + share * (points[3] - points[0]) for share in (begin, end))
    return np.stack([a, a, b, b])


def _path(run: list[tuple[int, Floats]]) -> Path:
    kinds, points = zip(*run, strict=True)
    return Path(np.array(kinds, np.uint8), np.stack(points), np.zeros(1, np.int64), np.zeros(1, np.bool_))
