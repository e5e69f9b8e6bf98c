"""Curve recovery: the polygons that GEOS returns, told again in the curves that went in.

Nearly all edges of an overlay are edges that went in, whole; they are found by a look-up of their two
ends. The rest were split where outlines cross; each is found by what lies under its middle. Unbroken
runs of edges from one segment become one piece of that segment, and where two curves meet the meeting
point is moved from the crossing of their chords to the crossing of the curves themselves.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.flatten import GRID, TOLERANCE, Flat, on_grid
from foliant.core.paths.path import LINE, Path

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_AT_WILL = 1e6
_REACH = 3 * GRID
"""How far, in mm, a split edge may lie from the edge it was split from, after rounding."""


@dataclass(frozen=True, eq=False)
class Edges:
    """The edges of all rings with what each came from: segment -1 where nothing explains it."""

    starts: Floats
    ends: Floats
    ring: Ints
    segment: Ints
    t0: Floats
    t1: Floats


def recover(shape: shapely.Geometry, source: Path, flat: Flat, open_lines: bool = False) -> Path:
    """The boundary of `shape` as a path made of pieces of `source`, of which `flat` holds the edges.

    Only closed contours bound areas, unless `open_lines` says that others may too.
    """
    edges = _explain(ring_edges(shape), source, flat, open_lines)
    return assemble(edges, source)


def ring_edges(shape: shapely.Geometry) -> Edges:
    """The edges of all rings, on the grid, not yet explained."""
    rings = shapely.get_rings(shapely.get_parts(shape))
    coordinates, ring = shapely.get_coordinates(rings, return_index=True)
    coordinates = on_grid(coordinates)
    inner = ring[1:] == ring[:-1]
    starts, ends, ring = coordinates[:-1][inner], coordinates[1:][inner], ring[:-1][inner]
    real = (starts != ends).any(axis=1)
    starts, ends, ring = starts[real], ends[real], ring[real]
    # A ring that the grid has closed to nothing (fewer than three edges) bounds no area.
    big = np.bincount(ring, minlength=len(rings))[ring] >= 3
    nothing = np.full(int(big.sum()), -1)
    zero = np.zeros(int(big.sum()))
    return Edges(starts[big], ends[big], ring[big], nothing, zero, zero.copy())


def _pack(points: Floats) -> Ints:
    """Grid points as single integers; coordinates up to ±50 m."""
    cells = np.round(points / GRID).astype(np.int64) + (1 << 29)
    return np.asarray((cells[:, 0] << 30) | cells[:, 1])


def _explain(edges: Edges, source: Path, flat: Flat, open_lines: bool) -> Edges:
    """Find for every edge its segment and parameters: by its ends, or else by what lies under it."""
    used = (flat.points != flat.ends).any(axis=1)
    if not open_lines:
        used &= source.closed[source.contour_of[flat.segment]]
    candidates = np.flatnonzero(used)
    packed, number = np.unique(_pack(np.concatenate([flat.points, flat.ends])), return_inverse=True)
    size = len(packed)
    begins, finishes = number[: len(flat.points)][candidates], number[len(flat.points) :][candidates]
    keys = np.concatenate([begins * size + finishes, finishes * size + begins])
    order = np.argsort(keys, kind="stable")
    keys = keys[order]

    first, second = _pack(edges.starts), _pack(edges.ends)
    i, j = (np.minimum(np.searchsorted(packed, ends), size - 1) for ends in (first, second))
    known = (packed[i] == first) & (packed[j] == second)
    wanted = i * size + j
    at = np.minimum(np.searchsorted(keys, wanted), len(keys) - 1)
    known &= keys[at] == wanted
    found = order[at]
    reverse = found >= len(candidates)
    origin = candidates[np.where(reverse, found - len(candidates), found)]

    segment = np.where(known, flat.segment[origin], -1)
    t0 = np.where(reverse, flat.t1[origin], flat.t0[origin])
    t1 = np.where(reverse, flat.t0[origin], flat.t1[origin])

    split = np.flatnonzero(~known)
    if len(split):
        whole = np.zeros(len(flat.points), bool)
        whole[origin[known]] = True
        remaining = candidates[~whole[candidates]]
        middle, start, end = _look_under(edges, split, flat, remaining)
        sure = middle >= 0
        segment[split[sure]] = flat.segment[middle[sure]]
        t0[split[sure]], t1[split[sure]] = start[sure], end[sure]
    return Edges(edges.starts, edges.ends, edges.ring, segment, t0, t1)


def _look_under(edges: Edges, split: Ints, flat: Flat, remaining: Ints) -> tuple[Ints, Floats, Floats]:
    """For split edges: the flat edge each lies on (-1 for none) and the segment's parameters at both ends."""
    best = np.full(len(split), -1)
    start, end = np.zeros(len(split)), np.zeros(len(split))
    if not len(remaining):
        return best, start, end
    tree = shapely.STRtree(shapely.linestrings(np.stack([flat.points[remaining], flat.ends[remaining]], axis=1)))
    middles = shapely.points((edges.starts[split] + edges.ends[split]) / 2)
    which, hit = tree.query(middles, predicate="dwithin", distance=_REACH)
    if not len(which):
        return best, start, end
    under = remaining[hit]
    base, along = flat.points[under], flat.ends[under] - flat.points[under]
    length = np.hypot(along[:, 0], along[:, 1])
    unit = along / length[:, None]

    def across(points: Floats) -> Floats:
        away = points - base
        return np.asarray(np.abs(away[:, 0] * unit[:, 1] - away[:, 1] * unit[:, 0]))

    def share(points: Floats) -> Floats:
        return np.asarray(((points - base) * unit).sum(axis=1) / length)

    a, b = edges.starts[split[which]], edges.ends[split[which]]
    miss = np.maximum(across(a), across(b))
    # Of edges that lie over each other, the one that reaches to both ends explains it best.
    from_a, from_b = share(a), share(b)
    beyond = (np.maximum(-np.minimum(from_a, from_b), np.maximum(from_a, from_b) - 1) * length > _REACH).astype(int)
    order = np.lexsort((under, miss, beyond, which))
    chosen = order[np.unique(which[order], return_index=True)[1]]
    chosen = chosen[miss[chosen] <= _REACH]
    at = which[chosen]
    best[at] = under[chosen]
    span = flat.t1[under] - flat.t0[under]
    start[at] = (flat.t0[under] + np.clip(from_a, 0, 1) * span)[chosen]
    end[at] = (flat.t0[under] + np.clip(from_b, 0, 1) * span)[chosen]
    return best, start, end


def assemble(edges: Edges, source: Path, beyond: float = 0.0) -> Path:
    """Runs of edges as pieces of their segments, with exact meeting points.

    Curves may be drawn on past their ends by `beyond` mm to meet, where a piece between them is too short to be seen.
    """
    count = len(edges.ring)
    if not count:
        return Path()
    previous = previous_in_ring(edges.ring)
    forward = edges.t1 >= edges.t0
    going_on = (
        (edges.segment >= 0)
        & (edges.segment == edges.segment[previous])
        & (forward == forward[previous])
        & (np.abs(edges.t0 - edges.t1[previous]) < 1e-6)
    )
    # Straight on from line to line (two plates butted together) is one line, whatever it came from.
    straight = (edges.segment < 0) | (source.kinds[edges.segment] == LINE)
    # A speck of the grid points nowhere: it goes on from what lies before it, and does not lead into another line.
    leaving = edges.ends - edges.starts
    goes = np.hypot(*leaving.T)
    speck = goes < 5 * GRID
    before = previous
    for _ in range(4):
        before = np.where(speck[before], previous[before], before)
    arriving, came = leaving[before], goes[before]
    cross = arriving[:, 0] * leaving[:, 1] - arriving[:, 1] * leaving[:, 0]
    ahead = (arriving * leaving).sum(axis=1) > 0
    in_line = straight & straight[previous] & (speck | (ahead & (np.abs(cross) <= 2 * GRID * (came + goes))))
    breaks = ~(going_on | in_line)
    # A ring that is one run all round (a loop of one segment) still has to begin somewhere.
    lone = np.flatnonzero(np.bincount(edges.ring[breaks], minlength=edges.ring[-1] + 1) == 0)
    breaks[np.searchsorted(edges.ring, lone[np.isin(lone, edges.ring)])] = True

    heads = np.flatnonzero(breaks)
    # The last edge of a run is the one before the next head of the same ring, going round.
    tails = previous[heads[next_in_ring(edges.ring[heads])]]
    every = len(heads)
    heads, tails = _without_specks(edges, source, heads, tails)
    ring = edges.ring[heads]
    segment = np.where(straight[heads], -1, edges.segment[heads])
    kinds = np.where(segment >= 0, source.kinds[segment], LINE).astype(np.uint8)
    points = np.repeat(edges.starts[heads][:, None, :], 4, axis=1)
    points[:, 2:] = edges.ends[tails][:, None, :]
    start, end = edges.t0[heads].copy(), edges.t1[tails].copy()
    # A loop of one cubic: the only run of its ring, and back where it began.
    loop = (segment >= 0) & (np.bincount(ring)[ring] == 1)
    start[loop], end[loop] = np.where(forward[heads[loop]], 0.0, 1.0), np.where(forward[heads[loop]], 1.0, 0.0)

    # A straight run may begin on one segment and end on another.
    meeting = _meeting_points(
        source, edges.segment[heads], edges.segment[tails], start, end, ring, points[:, 0], beyond
    )
    after = meeting[next_in_ring(ring)]
    curved = segment >= 0
    if curved.any():
        if beyond:
            for at, to in ((start, meeting), (end, after)):
                at[curved] = drawn_to(kinds[curved], source.points[segment[curved]], at[curved], to[curved], beyond)
        points[curved] = curves.cut(kinds[curved], source.points[segment[curved]], start[curved], end[curved])
    _pin_ends(kinds, points, meeting, after)
    # What the grid has shrunk to a point goes; a loop of one cubic begins and ends in one point and stays.
    kept = (points[:, 0] != points[:, 3]).any(axis=1) | ((kinds == curves.CUBIC) & (np.abs(end - start) > 0.5))
    kinds, points, ring = kinds[kept], points[kept], ring[kept]
    if len(kinds) < every:
        kinds, points, ring = _straightened(kinds, points, ring)
    starts = np.flatnonzero(np.append(True, ring[1:] != ring[:-1])) if len(ring) else np.zeros(0, np.int64)
    return Path(kinds, points, starts.astype(np.int64), np.ones(len(starts), np.bool_))


def _straightened(kinds: NDArray[np.uint8], points: Floats, ring: Ints) -> tuple[NDArray[np.uint8], Floats, Ints]:
    """Lines that go straight on where a speck lay between them, as one."""
    before = previous_in_ring(ring)
    leaving = points[:, 3] - points[:, 0]
    arriving = leaving[before]
    cross = np.abs(arriving[:, 0] * leaving[:, 1] - arriving[:, 1] * leaving[:, 0])
    reach = np.hypot(*arriving.T) + np.hypot(*leaving.T)
    on = (
        (kinds == LINE) & (kinds[before] == LINE) & (cross <= 2 * GRID * reach) & ((arriving * leaving).sum(axis=1) > 0)
    )
    heads = np.flatnonzero(~on)
    if len(np.unique(ring[heads])) < len(np.unique(ring)):
        return kinds, points, ring
    tails = before[heads[next_in_ring(ring[heads])]]
    result = points[heads].copy()
    result[:, 3] = points[tails, 3]
    line = kinds[heads] == LINE
    result[line, 1], result[line, 2] = result[line, 0], result[line, 3]
    return kinds[heads], result, ring[heads]


def _without_specks(edges: Edges, source: Path, heads: Ints, tails: Ints) -> tuple[Ints, Ints]:
    """The runs that are longer than the grid can tell from a point, wherever their ring has others."""
    chord = np.hypot(*(edges.ends[tails] - edges.starts[heads]).T)
    ring = edges.ring[heads]
    # A curve is at least as long as its chord, so only those with a tiny chord need to be measured.
    speck = chord < 5 * GRID
    tiny = np.flatnonzero(speck & (edges.segment[heads] >= 0))
    if len(tiny):
        segment = edges.segment[heads][tiny]
        length = curves.lengths(source.kinds[segment], source.points[segment])
        speck[tiny] = np.abs(edges.t1[tails] - edges.t0[heads])[tiny] * length < 5 * GRID
    alone = np.bincount(ring, weights=~speck)[ring] < 2
    keep = ~speck | alone
    return heads[keep], tails[keep]


def previous_in_ring(ring: Ints) -> Ints:
    """For items grouped by ring, the index of the one before, going round its ring."""
    index = np.arange(len(ring)) - 1
    first = np.append(True, ring[1:] != ring[:-1])
    last = np.append(ring[1:] != ring[:-1], True)
    index[first] = np.flatnonzero(last)
    return index


def next_in_ring(ring: Ints) -> Ints:
    """For items grouped by ring, the index of the one after, going round its ring."""
    index = np.arange(len(ring)) + 1
    first = np.append(True, ring[1:] != ring[:-1])
    last = np.append(ring[1:] != ring[:-1], True)
    index[last] = np.flatnonzero(first)
    return index


def _meeting_points(
    source: Path, first: Ints, last: Ints, start: Floats, end: Floats, ring: Ints, rough: Floats, beyond: float
) -> Floats:
    """Where each run begins: the crossing of its first segment with the last of the run before, by Newton's method.

    first, last (n,) are the segments on which each run begins and ends, -1 where unknown; start and end
    are its parameters there, which are moved along; rough (n, 2) is where the chords cross.
    """
    before = previous_in_ring(ring)
    point = rough.copy()
    own, other = first, last[before]
    # Ends of whole segments that meet are exact already.
    at_end = np.isin(start, (0.0, 1.0)) & np.isin(end[before], (0.0, 1.0))
    work = np.flatnonzero((own >= 0) & (other >= 0) & ~at_end)
    if not len(work):
        return on_grid(point)
    a, b = own[work], other[work]
    kinds_a, points_a = source.kinds[a], source.points[a]
    kinds_b, points_b = source.kinds[b], source.points[b]
    t, u = start[work].copy(), end[before[work]].copy()
    with np.errstate(divide="ignore", invalid="ignore"):
        for _ in range(5):
            gap = curves.evaluate(kinds_a, points_a, t) - curves.evaluate(kinds_b, points_b, u)
            slope_a, slope_b = curves.derivatives(kinds_a, points_a, t), curves.derivatives(kinds_b, points_b, u)
            cross = slope_a[:, 0] * slope_b[:, 1] - slope_a[:, 1] * slope_b[:, 0]
            t = t - (gap[:, 0] * slope_b[:, 1] - gap[:, 1] * slope_b[:, 0]) / cross
            u = u - (gap[:, 0] * slope_a[:, 1] - gap[:, 1] * slope_a[:, 0]) / cross
        # A crossing just past the end of a curve is that end: rounding to the grid moves it by so much.
        more_t, more_u = (_share(kinds, points, beyond) for kinds, points in ((kinds_a, points_a), (kinds_b, points_b)))
        t, u = np.clip(t, -more_t, 1 + more_t), np.clip(u, -more_u, 1 + more_u)
        inside = np.isfinite(t) & np.isfinite(u)
        t, u = np.nan_to_num(t, nan=0.0), np.nan_to_num(u, nan=0.0)
        found = curves.evaluate(kinds_a, points_a, t)
        gap = found - curves.evaluate(kinds_b, points_b, u)
        moved = np.hypot(*(found - point[work]).T)
        good = inside & (np.hypot(*gap.T) < 10 * GRID) & (moved < 20 * TOLERANCE + beyond)
    # Curves that touch rather than cross meet on the longer piece, so that the shorter one bends.
    touch = work[~good]
    mine, theirs = (curves.lengths(source.kinds[side], source.points[side]) for side in (own[touch], other[touch]))
    longer = mine >= theirs
    segment = np.where(longer, own[touch], other[touch])
    at = np.where(longer, start[touch], end[before[touch]])
    on_longer = curves.evaluate(source.kinds[segment], source.points[segment], at)
    near = np.hypot(*(on_longer - point[touch]).T) < 4 * TOLERANCE
    point[touch[near]] = on_longer[near]
    point[work[good]] = found[good]
    start[work[good]] = t[good]
    end[before[work[good]]] = u[good]
    return on_grid(point)


def _share(kinds: NDArray[np.uint8], points: Floats, length: float) -> Floats:
    """The share of each segment by which it may be drawn on: a length in mm, at most a third, and lines at will."""
    share = np.zeros(len(kinds))
    if length:
        share = np.minimum(length / np.maximum(curves.lengths(kinds, points), GRID), 1 / 3)
    share[kinds == LINE] = _AT_WILL
    return share


def drawn_to(kinds: NDArray[np.uint8], points: Floats, t: Floats, target: Floats, beyond: float) -> Floats:
    """Parameters moved to where segments are nearest to `target`, at most `beyond` mm past their ends."""
    more = _share(kinds, points, beyond)
    for _ in range(5):
        slope = curves.derivatives(kinds, points, t)
        gap = curves.evaluate(kinds, points, t) - target
        step = (gap * slope).sum(axis=1) / np.maximum((slope * slope).sum(axis=1), 1e-12)
        t = np.clip(t - np.clip(step, -0.2, 0.2), -more, 1 + more)
    return t


def _pin_ends(kinds: NDArray[np.uint8], points: Floats, begin: Floats, finish: Floats) -> None:
    """Put every run's ends on the meeting points exactly; curves bend by as little as that takes."""
    first, last = begin - points[:, 0], finish - points[:, 3]
    line, arc, cubic = kinds == LINE, kinds == curves.ARC, kinds == curves.CUBIC
    points[cubic, 1] += first[cubic]
    points[cubic, 2] += last[cubic]
    points[arc, 1] += (first[arc] + last[arc]) / 2
    points[arc, 2] = points[arc, 1]
    points[:, 0], points[:, 3] = begin, finish
    points[line, 1], points[line, 2] = begin[line], finish[line]
    bent = ~line
    points[bent, 1:3] = on_grid(points[bent, 1:3].reshape(-1, 2)).reshape(-1, 2, 2)
    # An arc that the grid has made flat is a line.
    flat = arc & (np.abs(_bulges(points)) < 2 * GRID)
    kinds[flat] = LINE
    points[flat, 1], points[flat, 2] = points[flat, 0], points[flat, 3]


def _bulges(points: Floats) -> Floats:
    """How far the point half-way along each arc lies from its chord, in mm, signed."""
    chord, half = points[:, 3] - points[:, 0], points[:, 1] - points[:, 0]
    length = np.maximum(np.hypot(chord[:, 0], chord[:, 1]), GRID)
    return np.asarray((chord[:, 0] * half[:, 1] - chord[:, 1] * half[:, 0]) / length)
