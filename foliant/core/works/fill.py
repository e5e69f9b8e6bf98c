"""Filling: the strokes and spots that cover an area, one way or another, in the order in which they are burnt."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths import LINE
from foliant.core.works.work import Moves

Floats = NDArray[np.float64]

_LEAST = 1e-4
"""Strokes shorter than that, mm, burn nothing."""

_MOST_RINGS = 4000
_SWEEP = 0.35
"""How far above and below its middle, in spacings, a row burns what is there: at a half slanting edges would be burnt
farther out than anybody sees, and at nothing they would have teeth.
"""


def rows(
    shape: shapely.Geometry, interval: float, angle: float = 0.0, one_way: bool = False, beyond: float = 0.0,
    origin: shapely.Geometry | None = None,
) -> Moves:  # fmt: skip
    """Level strokes `interval` mm apart, at an angle in degrees, every other one back unless it is all one way.

    beyond  how far the head goes on past the ends of each row with the beam off, mm, so that it is up to speed on all
            of it
    origin  what the rows lie evenly on, where that is more than the shape; else the shape itself
    """
    level = _turned(shape, -angle)
    top = float(_turned(shape if origin is None else origin, -angle).bounds[1]) if not level.is_empty else 0.0
    strokes = fill_lines(_swept(level, _SWEEP * interval), interval, top, one_way)
    moves = along_rows(strokes, beyond)
    return moves if not angle else _moved(moves, angle)


def crossed(shape: shapely.Geometry, interval: float, angle: float, one_way: bool, beyond: float) -> Moves:
    """The same at one angle and then across it."""
    both = [rows(shape, interval, turn, one_way, beyond) for turn in (angle, angle + 90)]
    return joined([one for one in both if len(one)])


def inwards(shape: shapely.Geometry, interval: float) -> Moves:
    """Along the outline and on inwards, each ring `interval` mm inside the last, one part after the other; what lies
    between the last rings is gone along too.
    """
    found = []
    for part in _from_the_left(shape):
        found += _rings(part, interval)
    return joined(found)


def dots(shape: shapely.Geometry, interval: float, dwell: float, angle: float = 0.0) -> Moves:
    """Spots on a grid of that width, row by row, the head standing still on each for `dwell` s."""
    strokes = fill_lines(_turned(shape, -angle), interval)
    if not len(strokes):
        return _along(strokes)
    spots = []
    for start, end in strokes:
        low, high = sorted((start[0], end[0]))
        first = np.ceil((low - interval / 2) / interval) * interval + interval / 2
        across = np.arange(first, high + 1e-9, interval)
        across = across if start[0] <= end[0] else across[::-1]
        spots.append(np.stack([across, np.full(len(across), start[1])], axis=1))
    points = np.concatenate(spots)
    if not len(points):
        return _along(np.zeros((0, 2, 2)))
    still = np.repeat(points[:, None], 4, axis=1)
    moves = Moves.along(np.full(len(still), LINE, np.uint8), still, dwell)
    return moves if not angle else _moved(moves, angle)


def stages(shape: shapely.Geometry, count: int, step: float) -> list[shapely.Geometry]:
    """An area in so many stages, the last of which is all of it but what stands in it; in each before, what stands is
    `step` mm narrower on every side, as far as something of it is left. Burnt one after the other its walls slope, and
    its edge outside stays as it is.
    """
    found = [shape]
    for _ in range(count - 1):
        found.append(shapely.union_all([_narrowed(part, step) for part in shapely.get_parts(found[-1])]))
    return found[::-1]


def _narrowed(area: shapely.Polygon, step: float) -> shapely.Polygon:
    """An area that leaves less of what stands in it."""
    standing = shapely.polygons(list(area.interiors))
    less = shapely.buffer(standing, -step, quad_segs=8)
    left = np.where(shapely.is_empty(less), standing, less)
    return shapely.difference(shapely.Polygon(area.exterior), shapely.union_all(left))


def fill_lines(shape: shapely.Geometry, interval: float, top: float | None = None, one_way: bool = False) -> Floats:
    """Level strokes `interval` mm apart that cover `shape`, shape (k, 2, 2), in burning order.

    Rows run from top to bottom, every other one from right to left unless all go one way, so the head need not fly
    back. They lie where they would on a shape whose upper edge is at `top` (mm), or else its own.
    """
    found = _crossings(shape, interval, top)
    if found is None:
        return np.zeros((0, 2, 2))
    a, b, first, counts, first_row = found
    edge = np.repeat(np.arange(len(a)), counts)
    row = first[edge] + np.arange(len(edge)) - np.repeat(np.cumsum(counts) - counts, counts)
    y = first_row + row * interval
    x = a[edge, 0] + (y - a[edge, 1]) * (b[edge, 0] - a[edge, 0]) / (b[edge, 1] - a[edge, 1])
    order = np.lexsort((x, row))
    row, x, y = row[order], x[order], y[order]
    # Crossings come in pairs: into the area, out of it.
    strokes = np.stack([np.stack([x[::2], y[::2]], axis=1), np.stack([x[1::2], y[1::2]], axis=1)], axis=1)
    row = row[::2]
    backward = (row % 2 == 1) & (not one_way)
    strokes[backward] = strokes[backward][:, ::-1]
    order = np.lexsort((np.where(backward, -strokes[:, 0, 0], strokes[:, 0, 0]), row))
    strokes = strokes[order]
    return np.asarray(strokes[np.abs(strokes[:, 1, 0] - strokes[:, 0, 0]) > _LEAST])


def apart(shape: shapely.Geometry, gap: float) -> list[shapely.Geometry]:
    """The shape in groups, from the left: whatever a row would reach over less than `gap` mm lies in one of them."""
    parts = shapely.get_parts(shape)
    if len(parts) < 2:
        return [shape]
    left, low, right, high = shapely.bounds(parts).T
    reach = shapely.box(left - gap / 2, low, right + gap / 2, high)
    groups = shapely.get_parts(shapely.union_all(reach))
    owner = shapely.STRtree(groups).nearest(shapely.centroid(reach))
    found = [shapely.multipolygons(parts[owner == number].tolist()) for number in range(len(groups))]
    return sorted((one for one in found if not one.is_empty), key=lambda one: one.bounds[:2])


def count_fill_lines(shape: shapely.Geometry, interval: float) -> int:
    """How many strokes `fill_lines` gives at most, reckoned without making them."""
    found = _crossings(shape, interval)
    return 0 if found is None else int(found[3].sum()) // 2


def joined(moves: Sequence[Moves]) -> Moves:
    """Moves one after the other, travel between."""
    if not moves:
        return _along(np.zeros((0, 2, 2)))
    kinds, points, dwell, working = (
        np.concatenate([getattr(one, name) for one in moves]) for name in ("kinds", "points", "dwell", "working")
    )
    heights = [np.full(len(one), np.nan) if one.z is None else one.z for one in moves]
    z = np.concatenate(heights) if any(one.z is not None for one in moves) else None
    return Moves.along(kinds, points, dwell, working, z=z)


def _from_the_left(shape: shapely.Geometry) -> list[shapely.Geometry]:
    return sorted(shapely.get_parts(shape), key=lambda part: part.bounds[:2])


def _rings(part: shapely.Geometry, interval: float) -> list[Moves]:
    found = []
    for number in range(_MOST_RINGS):
        inside = shapely.buffer(part, -interval * (number + 0.5), quad_segs=12)
        # What the ring before has left, and this one does not reach.
        left = part if number == 0 else shapely.buffer(part, -interval * number, quad_segs=12)
        missed = shapely.difference(left, shapely.buffer(inside, interval / 2 + 1e-3, quad_segs=12))
        found += [_round(ring) for ring in _outlines(inside)]
        found += [_round(ring) for ring in _outlines(missed) if shapely.Polygon(ring).area > interval**2 / 400]
        if inside.is_empty:
            break
    return found


def _outlines(shape: shapely.Geometry) -> list[shapely.LinearRing]:
    return list(shapely.get_rings(shapely.get_parts(shapely.simplify(shape, 0.002)))) if not shape.is_empty else []


def _round(ring: shapely.LinearRing) -> Moves:
    points = shapely.get_coordinates(ring)
    return _along(np.stack([points[:-1], points[1:]], axis=1))


def _swept(shape: shapely.Geometry, by: float) -> shapely.Geometry:
    """All that a row as wide as the lines lie apart would cover, were it drawn by its middle: so that slanting edges
    have no teeth.
    """
    return shapely.union_all([shape, *(shapely.affinity.translate(shape, 0.0, way * by) for way in (-1, 1))])


def _along(strokes: Floats, working: NDArray[np.bool_] | None = None, share: Floats | None = None) -> Moves:
    points = np.stack([strokes[:, 0], strokes[:, 0], strokes[:, 1], strokes[:, 1]], axis=1)
    return Moves.along(np.full(len(points), LINE, np.uint8), points, working=working, share=share)


def along_rows(strokes: Floats, beyond: float, share: Floats | None = None) -> Moves:
    """Strokes, each with its share of the power, with a run of `beyond` mm before the first and after the last of each
    row, the beam off.
    """
    if not len(strokes) or not beyond:
        return _along(strokes, share=share)
    changes = np.flatnonzero(np.abs(np.diff(strokes[:, 0, 1])) > _LEAST) + 1
    firsts, lasts = np.concatenate([[0], changes]), np.concatenate([changes - 1, [len(strokes) - 1]])
    way = np.sign(strokes[:, 1, 0] - strokes[:, 0, 0])
    before, after = strokes[firsts].copy(), strokes[lasts].copy()
    before[:, 1] = before[:, 0]
    before[:, 0, 0] -= way[firsts] * beyond
    after[:, 0] = after[:, 1]
    after[:, 1, 0] += way[lasts] * beyond
    at = np.concatenate([firsts, lasts + 1])
    every = np.insert(strokes, at, np.concatenate([before, after]), axis=0)
    working = np.insert(np.ones(len(strokes), np.bool_), at, False)
    return _along(every, working, None if share is None else np.insert(share, at, 0.0))


def _turned(shape: shapely.Geometry, angle: float) -> shapely.Geometry:
    return shapely.affinity.rotate(shape, angle, origin=(0, 0)) if angle else shape


def _moved(moves: Moves, angle: float) -> Moves:
    turn = np.radians(angle)
    cos, sin = np.cos(turn), np.sin(turn)
    points = moves.points @ np.array([[cos, sin], [-sin, cos]])
    return Moves(moves.kinds, points, moves.working, moves.dwell)


def _crossings(
    shape: shapely.Geometry, interval: float, top: float | None = None
) -> tuple[Floats, Floats, NDArray[np.int64], NDArray[np.int64], float] | None:
    """Edges as starts and ends (n, 2), the first row that each crosses and how many, and the height of row 0."""
    rings = shapely.get_rings(shapely.get_parts(shape))
    if not len(rings):
        return None
    points, ring = shapely.get_coordinates(rings, return_index=True)
    inner = ring[1:] == ring[:-1]
    a, b = points[:-1][inner], points[1:][inner]
    # A row at y crosses an edge when y lies in [low, high): shared ends count once.
    low, high = np.minimum(a[:, 1], b[:, 1]), np.maximum(a[:, 1], b[:, 1])
    first_row = float(points[:, 1].min() if top is None else top) + interval / 2
    first = np.ceil((low - first_row) / interval).astype(np.int64)
    last = np.ceil((high - first_row) / interval).astype(np.int64) - 1
    return a, b, first, np.maximum(0, last - first + 1), first_row
