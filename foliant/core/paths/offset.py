"""Offset: a region grown or shrunk by a distance, and lines widened into areas, in true curves.

Every segment is moved sideways: lines to lines, arcs to arcs, cubics to fitted cubics, with a join at every
corner. GEOS finds what the offset encloses, and retracing tells its boundary in the moved curves themselves.
"""

from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.flatten import GRID, TOLERANCE, flatten, on_grid
from foliant.core.paths.nesting import chosen_contours
from foliant.core.paths.overlay import NOTHING, Region, combine, fine_shape, without_slivers
from foliant.core.paths.pairs import cross, dot, size
from foliant.core.paths.path import ARC, CUBIC, LINE, Path, join
from foliant.core.paths.retrace import as_lines, retrace
from foliant.core.paths.rings import next_in_ring, previous_in_ring

Joins = Literal["round", "sharp", "bevelled"]
Ends = Literal["round", "flat"]
Caps = Literal["round", "flat", "square"]
"""Ends of lines that others draw; a square one goes on for half the width."""

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]

FIT = 0.003
"""How far, in mm, a fitted cubic may lie from the curve it stands for."""

_BIAS = 0.0026
"""Fitted cubics lie this much farther off, in mm, so that no point comes closer than the distance: farther out where
an outline grows, farther in where it shrinks, so that there and back again is no farther."""

_SHARPEST = 6.0
"""A sharp corner whose tip would lie farther off than this many distances is bevelled."""

_DEEPEST = 6
"""How often a cubic is halved at most; what is still not met there bends tighter than the distance."""

_EDGES = 0.001
"""How far, in mm, the edges that GEOS offsets may lie from the curves: short edges show short curves."""

_INWARD = np.sin(np.deg2rad(8))
_TINY = 0.02
"""What fits no cubic on so short a way, in mm, is the tip of a cusp."""

_SAMPLES = np.array([0.15, 0.3, 0.5, 0.7, 0.85])
_MIDDLE = 2


def offset(region: Region, distance: float, joins: Joins = "round", closes: float = 0.0) -> Region:
    """The region grown by `distance` mm, or shrunk where it is negative; empty where nothing is left.

    Straight and round edges move exactly. No point of the moved curves is nearer to the old ones than the
    distance (less the grid), and none farther than 0.006 mm beyond it, but for sharp and bevelled corners.
    Gaps that are narrower than `closes` mm at that distance are filled: it is grown by half of that more, and
    shrunk again.
    """
    if not len(region.path) or abs(distance) < GRID:
        return region
    moved = _moved(region.path, distance, joins)
    shape = _buffered(fine_shape(region.path, _EDGES), distance + closes / 2, joins)
    if closes > 0:
        moved = join([moved, _rounds(shape, closes / 2)])
        shape = _buffered(shape, -closes / 2, joins)
    return _told(shape, moved, abs(distance) + closes)


def beside(contour: Path, distance: float) -> Path:
    """What runs beside a closed contour at a distance, outside it, or inside where that is negative: one contour, or
    more where it meets itself, or none where nothing is left.
    """
    return offset(combine([contour]), distance).path


def widened(path: Path, width: float, ends: Caps = "round", joins: Joins = "round") -> Region:
    """The area within half of `width` mm of a path's lines; closed contours become rings."""
    if not len(path) or width < 2 * GRID:
        return NOTHING
    if ends == "square":
        path, ends = _lengthened(path, width / 2), "flat"
    flat = flatten(path, _EDGES)
    contour = path.contour_of[flat.segment]
    lines = [
        shapely.linestrings(np.concatenate([flat.points[contour == i], flat.ends[contour == i][-1:]]))
        for i in range(len(path.starts))
    ]
    grown = shapely.buffer(
        lines,
        width / 2,
        quad_segs=_quarter(width / 2),
        cap_style=ends,
        join_style=_STYLES[joins],
        mitre_limit=_SHARPEST,
    )
    return _told(shapely.union_all(grown), _moved(_there_and_back(path), width / 2, joins), width / 2)


_STYLES: dict[Joins, Literal["round", "mitre", "bevel"]] = {"round": "round", "sharp": "mitre", "bevelled": "bevel"}


def _buffered(shape: shapely.Geometry, distance: float, joins: Joins) -> shapely.Geometry:
    return shapely.buffer(
        shape, distance, quad_segs=_quarter(distance), join_style=_STYLES[joins], mitre_limit=_SHARPEST
    )


def _rounds(shape: shapely.Geometry, radius: float) -> Path:
    """Circles about the inward corners of a shape: what shrinking it leaves there."""
    rings = shapely.get_rings(shapely.get_parts(shapely.orient_polygons(shape)))
    points, ring = shapely.get_coordinates(rings, return_index=True)
    inner = ring[1:] == ring[:-1]
    starts, leaving, ring = points[:-1].compress(inner, 0), np.diff(points, axis=0).compress(inner, 0), ring[:-1][inner]
    if not len(starts):
        return Path()
    arriving = leaving.take(previous_in_ring(ring), 0)
    corners = starts.compress(cross(arriving, leaving) < -_INWARD * size(arriving) * size(leaving), 0)
    way = radius * np.array([[[1, 0], [0, -1], [0, -1], [-1, 0]], [[-1, 0], [0, 1], [0, 1], [1, 0]]])
    arcs = (corners[:, None, None] + way[None]).reshape(-1, 4, 2)
    starts_at = np.arange(0, len(arcs), 2)
    return Path(np.full(len(arcs), ARC, np.uint8), arcs, starts_at, np.zeros(len(starts_at), np.bool_))


def _quarter(distance: float) -> int:
    """How many edges make a quarter circle of that radius, within the tolerance."""
    return max(2, int(np.ceil(np.pi / 4 / np.arccos(1 - min(0.9, _EDGES / abs(distance))))))


def _told(shape: shapely.Geometry, moved: Path, distance: float) -> Region:
    """A buffer of GEOS in the moved curves; GEOS flattens hollows by up to a hundredth of the distance."""
    shape = shapely.orient_polygons(without_slivers(shape))
    if shape.is_empty:
        return NOTHING
    reach = 3 * TOLERANCE + 0.012 * abs(distance)
    told = retrace(shape, moved, reach)
    path, rough = told.path, chosen_contours(told.path, told.rough)
    fine = fine_shape(path)
    # Curves that hold another area than the edges would be wrong: the edges then stand as they are.
    if abs(fine.area - shape.area) > reach * shape.length + reach**2:
        path, fine = as_lines(shape), shape
        rough = path
    return Region(path, fine, rough)


def _lengthened(path: Path, by: float) -> Path:
    """Every open contour going straight on at both ends."""
    leaving, arriving = _direction(path.kinds, path.points, 0.0), _direction(path.kinds, path.points, 1.0)
    found: list[Path] = []
    for segments, closed in path.contours():
        kinds, points = path.kinds[segments], path.points[segments]
        if not closed:
            first, last = points[0, 0], points[-1, 3]
            before, after = first - by * leaving[segments.start], last + by * arriving[segments.stop - 1]
            ways = np.array([[before, before, first, first], [last, last, after, after]])
            points = np.concatenate([ways[:1], points, ways[1:]])
            kinds = np.concatenate([[LINE], kinds, [LINE]]).astype(np.uint8)
        found.append(Path(kinds, points, np.zeros(1, np.int64), np.array([closed])))
    return join(found)


def _there_and_back(path: Path) -> Path:
    """Every contour walked to its end and back again, so that both its sides are moved to the right."""
    walked: list[Path] = []
    for segments, closed in path.contours():
        kinds, points = path.kinds[segments], path.points[segments]
        back = points[::-1, ::-1]
        if closed:
            walked += [_contour(kinds, points), _contour(kinds[::-1], back)]
        else:
            walked.append(_contour(np.concatenate([kinds, kinds[::-1]]), np.concatenate([points, back])))
    return join(walked)


def _contour(kinds: NDArray[np.uint8], points: Floats) -> Path:
    return Path(np.array(kinds), np.array(points), np.zeros(1, np.int64), np.ones(1, np.bool_))


def _moved(path: Path, distance: float, joins: Joins) -> Path:
    """Every segment moved to its right by `distance`, and the joins at the corners, contour by contour."""
    kinds, points, source = _moved_segments(path, distance)
    arriving, leaving = _direction(path.kinds, path.points, 1.0), _direction(path.kinds, path.points, 0.0)
    after = next_in_ring(path.contour_of)
    begin, end = (path.points[:, side] + distance * _right(way) for side, way in ((0, leaving), (3, arriving)))
    owner, join_kinds, join_points = _joints(
        path.points[:, 3], end, begin[after], arriving, leaving[after], distance, joins
    )
    # Each join comes after the last piece of its segment.
    order = np.argsort(np.concatenate([2 * source, 2 * owner + 1]), kind="stable")
    contour = path.contour_of[np.concatenate([source, owner])[order]]
    return Path(
        np.concatenate([kinds, join_kinds])[order],
        on_grid(np.concatenate([points, join_points]).take(order, 0)),
        np.flatnonzero(np.append(True, contour[1:] != contour[:-1])),
        np.zeros(len(path.starts), np.bool_),
    )


def _joints(
    node: Floats, here: Floats, there: Floats, arriving: Floats, leaving: Floats, distance: float, joins: Joins
) -> tuple[NDArray[np.int64], NDArray[np.uint8], Floats]:
    """The round joins from the end of a moved segment, `here`, to the start of the next: of which, kinds, points."""
    turn = cross(arriving, leaving)
    back = (dot(arriving, leaving) < 0) & (np.abs(turn) < 1e-6)  # a line that turns round at its end
    outside = back | (turn * distance > 0) if joins == "round" else back
    half = (here + there) / 2 - node
    depth = size(half)
    way = np.where(back[:, None], arriving, half / np.maximum(depth, 1e-12)[:, None])
    middle = node + way * abs(distance)
    bulge = np.where(back, abs(distance), abs(distance) - depth)
    round_ones = outside & (bulge > 2 * GRID)
    arcs = np.stack([here, middle, middle, there], axis=1)[round_ones]
    return np.flatnonzero(round_ones), np.full(len(arcs), ARC, np.uint8), arcs


def _direction(kinds: NDArray[np.uint8], points: Floats, t: float) -> Floats:
    count = len(kinds)
    slope = curves.derivatives(kinds, points, np.full(count, t))
    long = size(slope)
    # A control that lies on its end gives no direction there; just beside it there is one.
    flat = long < 1e-7
    if flat.any():
        slope[flat] = curves.derivatives(kinds[flat], points[flat], np.full(int(flat.sum()), abs(t - 1e-3)))
        long = np.maximum(size(slope), 1e-12)
    return np.asarray(slope / long[:, None])


def _units(ways: Floats) -> Floats:
    return np.asarray(ways / np.maximum(size(ways), 1e-12)[..., None])


def _right(direction: Floats) -> Floats:
    """The unit normals to the right of directions (outward on a contour whose area counts as positive)."""
    return np.stack([direction[..., 1], -direction[..., 0]], axis=-1)


def _moved_segments(path: Path, distance: float) -> tuple[NDArray[np.uint8], Floats, NDArray[np.int64]]:
    """Kinds, points and source of the moved segments, in path order.

    A cubic may become several, and what bends tighter than the distance none, as it never shows.
    """
    kinds, points = path.kinds, path.points
    number = np.arange(len(path))
    straight = kinds == LINE
    moved_lines = points[straight] + distance * _right(_direction(kinds[straight], points[straight], 0.0))[:, None, :]
    arc = kinds == ARC
    moved_arcs = np.empty((int(arc.sum()), 4, 2))
    arc_kinds = np.full(len(moved_arcs), ARC, np.uint8)
    shown = np.ones(len(moved_arcs), np.bool_)
    if len(moved_arcs):
        centre, radius, angle, sweep = curves.circles(points[arc])
        new = radius + distance * np.sign(sweep)
        for column, share in ((0, 0.0), (1, 0.5), (2, 0.5), (3, 1.0)):
            at = angle + sweep * share
            moved_arcs[:, column] = centre + new[:, None] * np.stack([np.cos(at), np.sin(at)], axis=1)
        shown = new > 0
        tiny = np.abs(new) * np.abs(sweep) ** 2 / 8 < 2 * GRID
        arc_kinds[tiny] = LINE
        moved_arcs[tiny, 1], moved_arcs[tiny, 2] = moved_arcs[tiny, 0], moved_arcs[tiny, 3]
    cubic = kinds == CUBIC
    fitted, owner = _moved_cubics(points[cubic], distance)
    all_kinds = np.concatenate([kinds[straight], arc_kinds[shown], np.full(len(fitted), CUBIC, np.uint8)])
    all_points = np.concatenate([moved_lines, moved_arcs[shown], fitted])
    source = np.concatenate([number[straight], number[arc][shown], number[cubic][owner]])
    order = np.argsort(source, kind="stable")
    return all_kinds[order], all_points.take(order, 0), source[order]


def _moved_cubics(points: Floats, distance: float) -> tuple[Floats, NDArray[np.int64]]:
    """Cubics (n, 4, 2) moved sideways, each as few as meet the fit; and for each piece the cubic it is of."""
    owner = np.arange(len(points))
    start, end = np.zeros(len(points)), np.ones(len(points))
    done: list[tuple[Floats, NDArray[np.int64], Floats]] = []
    for depth in range(_DEEPEST + 1):
        if not len(owner):
            break
        pieces, good, hidden = _fit(points.take(owner, 0), start, end, distance)
        good |= (depth == _DEEPEST) & ~hidden
        done.append((pieces.compress(good, 0), owner[good], start[good]))
        rest = ~(good | hidden)
        middle = (start + end)[rest] / 2
        start, end = np.concatenate([start[rest], middle]), np.concatenate([middle, end[rest]])
        owner = np.concatenate([owner[rest], owner[rest]])
    if not done:
        return np.zeros((0, 4, 2)), np.zeros(0, np.int64)
    pieces, owner, start = (np.concatenate(column) for column in zip(*done, strict=True))
    order = np.lexsort((start, owner))
    return pieces.take(order, 0), owner[order]


def _fit(points: Floats, start: Floats, end: Floats, distance: float) -> tuple[Floats, Bools, Bools]:
    """One cubic for each moved piece of a cubic, with its tangents and through its middle; whether it fits, and
    whether it never shows on the outline, as it bends tighter than the distance and so runs backwards or on the spot.
    """
    kinds = np.full(len(points), CUBIC, np.uint8)
    pieces = curves.cut(kinds, points, start, end)
    every = curves.Curves(kinds, pieces)
    first, last = (_direction(kinds, pieces, t) for t in (0.0, 1.0))
    result = np.empty_like(pieces)
    result[:, 0] = pieces[:, 0] + distance * _right(first)
    result[:, 3] = pieces[:, 3] + distance * _right(last)
    shares = np.repeat(_SAMPLES[:, None], len(points), axis=1)
    normals = _right(_units(every.slopes(shares)))
    # Amid them a little farther off: see `_BIAS`.
    more = np.sign(distance) * _BIAS * np.minimum(1.0, 25.6 * (shares * (1 - shares)) ** 2)
    wanted = every.at(shares) + (distance + more)[..., None] * normals
    # B(½) = (start + end)/2 + 3/8 (a·first - b·last): two equations for the two handle lengths.
    want = 8 / 3 * (wanted[_MIDDLE] - (result[:, 0] + result[:, 3]) / 2)
    turn, chord = cross(first, last), size(result[:, 3] - result[:, 0])
    with np.errstate(divide="ignore", invalid="ignore"):
        a, b = cross(want, last) / turn, cross(want, first) / turn
    plain = ~((a > 0.1 * chord) & (b > 0.1 * chord) & (a < chord) & (b < chord))
    # Nearly straight: the handles are as long as the moved curve is fast at its ends.
    size_first, pace_first = _pace(pieces, (0, 1, 2), distance)
    size_last, pace_last = _pace(pieces, (3, 2, 1), -distance)
    a[plain] = (size_first * np.maximum(pace_first, 0.05))[plain]
    b[plain] = (size_last * np.maximum(pace_last, 0.05))[plain]
    result[:, 1] = result[:, 0] + a[:, None] * first
    result[:, 2] = result[:, 3] - b[:, None] * last
    gap = curves.Curves(kinds, result).at(shares) - wanted
    across, along = np.abs(dot(gap, normals)), np.abs(cross(gap, normals))
    worst = np.maximum(across, np.where(along > np.maximum(0.25 * chord, _TINY), along, 0.0)).max(axis=0)
    backwards = (pace_first < 0) & (pace_last < 0) | (dot(result[:, 3] - result[:, 0], first) < 0)
    good = (worst <= FIT) & (pace_first > 0) & (pace_last > 0) & ~backwards
    return result, good, backwards | (~good & (chord < _TINY))


def _pace(pieces: Floats, order: tuple[int, int, int], distance: float) -> tuple[Floats, Floats]:
    """The length of the handle at one end of each cubic, and how fast the moved curve runs there beside it:
    one and the bend times the distance, below zero where it runs backwards.
    """
    end, near, far = (pieces[:, i] for i in order)
    arm, turn = near - end, far - near
    long = np.maximum(size(arm), 1e-9)
    bend = 2 / 3 * cross(arm, turn) / long**3
    return long, 1 + bend * distance
