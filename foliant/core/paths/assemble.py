"""Assembling: runs of edges that came from one segment, told as one piece of it, with exact meeting points.

Straight edges become as few lines as run along them. Where two curves meet, the meeting point is moved from the
crossing of their chords to the crossing of the curves themselves. At the end every vertex that went in is held against
what is told there: a ring that strays from it is told edge by edge instead, and said to be rough.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.flatten import GRID, TOLERANCE, flatten, on_grid
from foliant.core.paths.pairs import cross, dot, size
from foliant.core.paths.path import ARC, CUBIC, LINE, Path
from foliant.core.paths.rings import next_in_ring, previous_in_ring

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Kinds = NDArray[np.uint8]

_AT_WILL = 1e6
_SPECK = 5 * GRID
"""What is shorter than this, in mm, points nowhere, and what is nearer to a line than this lies on it."""

_MEETING = 20 * TOLERANCE
"""How far, in mm, the crossing of two curves may lie from that of their chords."""

_STRAY = 4 * TOLERANCE
"""How far, in mm, a vertex may lie from what is told there."""


@dataclass(frozen=True, eq=False)
class Edges:
    """The edges of all rings with what each came from: segment -1 where nothing explains it.

    starts, ends  (k, 2) on the grid
    ring          (k,)   the ring of each, ascending
    segment       (k,)   the segment of the source
    t0, t1        (k,)   its parameters at both ends; t0 > t1 where it is followed backwards
    """

    starts: Floats
    ends: Floats
    ring: Ints
    segment: Ints
    t0: Floats
    t1: Floats


@dataclass(frozen=True, eq=False)
class Told:
    """A boundary as a path. `rough` (m,) says which contours could only be told edge by edge."""

    path: Path
    rough: Bools


@dataclass(frozen=True, eq=False)
class _Runs:
    """Unbroken runs of edges, ring by ring.

    heads, tails  (r,) the first and last edge of each, going round
    ring          (r,)
    segment       (r,) the curve it is a piece of, -1 for a straight run
    """

    heads: Ints
    tails: Ints
    ring: Ints
    segment: Ints

    def chosen(self, keep: Bools) -> "_Runs":
        return _Runs(self.heads[keep], self.tails[keep], self.ring[keep], self.segment[keep])


def assemble(edges: Edges, source: Path, beyond: float = 0.0) -> Told:
    """The rings as closed contours of pieces of `source`.

    Curves may be drawn on past their ends by `beyond` mm to meet, where a piece between them is too short to be seen.
    """
    if not len(edges.ring):
        return Told(Path(), np.zeros(0, np.bool_))
    every = _runs(edges, source)
    keep = _long_enough(edges, source, every)
    runs = every.chosen(keep)
    kinds, points = _pieces(edges, source, runs, beyond)
    astray = _astray(edges, source, every, keep, kinds, points, _STRAY + beyond)
    # What the grid has shrunk to a point goes; a loop of one cubic begins and ends in one point and stays.
    there = (np.ptp(points, axis=1).max(axis=1) > GRID / 2) & ~astray[runs.ring]
    kinds, points, ring = kinds[there], points[there], runs.ring[there]
    if len(kinds) < len(every.heads):
        kinds, points, ring = _straightened(kinds, points, ring)
    if astray.any():
        kinds, points, ring = _with_edges(edges, astray, kinds, points, ring)
    starts = np.flatnonzero(np.append(True, ring[1:] != ring[:-1])) if len(ring) else np.zeros(0, np.int64)
    path = Path(kinds, points, starts.astype(np.int64), np.ones(len(starts), np.bool_))
    return Told(path, astray[ring[starts]])


def _runs(edges: Edges, source: Path) -> _Runs:
    """The runs of all rings."""
    previous = previous_in_ring(edges.ring)
    forward = edges.t1 >= edges.t0
    straight = (edges.segment < 0) | (source.kinds[edges.segment] == LINE)
    going_on = (
        ~straight
        & (edges.segment == edges.segment[previous])
        & (forward == forward[previous])
        & (np.abs(edges.t0 - edges.t1[previous]) < 1e-6)
    )
    # Straight on from line to line (two plates butted together) is one line, whatever it came from. A speck of the
    # grid goes on from what lies before it, and does not lead into another line.
    leaving = edges.ends - edges.starts
    goes = size(leaving)
    speck = goes < _SPECK
    before = previous
    for _ in range(4):
        before = np.where(speck[before], previous[before], before)
    arriving, came = leaving.take(before, 0), goes[before]
    ahead, aside = dot(arriving, leaving) > 0, np.abs(cross(arriving, leaving))
    in_line = straight & straight[previous] & (speck | (ahead & (aside <= 2 * GRID * (came + goes))))
    breaks = _bent(edges.starts, edges.ends, edges.ring, straight, ~(going_on | in_line))
    heads = np.flatnonzero(breaks)
    # The last edge of a run is the one before the next head of the same ring, going round.
    tails = previous[heads[next_in_ring(edges.ring[heads])]]
    return _Runs(heads, tails, edges.ring[heads], np.where(straight[heads], -1, edges.segment[heads]))


def _bent(starts: Floats, ends: Floats, ring: Ints, straight: Bools, breaks: Bools) -> Bools:
    """Where runs begin, so that no vertex of a straight one lies farther than a speck from its chord.

    Every ring begins somewhere: one without a break, at a corner of its hull.
    """
    breaks = breaks.copy()
    lone = np.flatnonzero(np.bincount(ring[breaks], minlength=ring[-1] + 1)[ring] == 0)
    if len(lone):
        order = lone[np.lexsort((starts[lone, 1], starts[lone, 0], ring[lone]))]
        breaks[order[np.append(True, ring[order][1:] != ring[order][:-1])]] = True
    while True:
        inner = np.flatnonzero(straight & ~breaks)
        if not len(inner):
            return breaks
        heads = np.flatnonzero(breaks)
        run, nexts = _run_of(len(ring), ring, heads)[inner], next_in_ring(ring[heads])
        begins = starts.take(heads, 0)
        away = from_chord(starts.take(inner, 0), begins.take(run, 0), begins.take(nexts[run], 0))
        order = np.lexsort((away, run))
        farthest = order[np.append(run[order][1:] != run[order][:-1], True)]
        bends = inner[farthest[away[farthest] > _SPECK]]
        if not len(bends):
            return breaks
        breaks[bends] = True


def _run_of(count: int, ring: Ints, heads: Ints) -> Ints:
    """For each of `count` edges the number of the run that holds it; each ring's last run goes round its beginning."""
    number = np.searchsorted(heads, np.arange(count), side="right") - 1
    outside = (number < 0) | (ring[heads[number]] != ring)
    last = np.searchsorted(ring[heads], ring, side="right") - 1
    return np.where(outside, last, number)


def from_chord(points: Floats, starts: Floats, ends: Floats) -> Floats:
    """How far points lie from line segments, pair by pair."""
    along, away = ends - starts, points - starts
    share = np.clip(dot(away, along) / np.maximum(dot(along, along), 1e-18), 0, 1)
    return np.asarray(np.hypot(away[:, 0] - share * along[:, 0], away[:, 1] - share * along[:, 1]))


def _long_enough(edges: Edges, source: Path, runs: _Runs) -> Bools:
    """Which runs are longer than the grid can tell from a point, or are needed as their ring has hardly others."""
    chord = size(edges.ends.take(runs.tails, 0) - edges.starts.take(runs.heads, 0))
    # A curve is at least as long as its chord, so only those with a tiny chord need to be measured.
    speck = chord < _SPECK
    tiny = np.flatnonzero(speck & (runs.segment >= 0))
    if len(tiny):
        segment = runs.segment[tiny]
        length = curves.lengths(source.kinds[segment], source.points.take(segment, 0))
        share = np.abs(edges.t1[runs.tails] - edges.t0[runs.heads])[tiny]
        speck[tiny] = share * length < _SPECK
    few = np.bincount(runs.ring, weights=~speck)[runs.ring] < 2
    return np.asarray(~speck | few)


def _pieces(edges: Edges, source: Path, runs: _Runs, beyond: float) -> tuple[Kinds, Floats]:
    """What each run is told as."""
    rough = edges.starts.take(runs.heads, 0)
    start, end = edges.t0[runs.heads].copy(), edges.t1[runs.tails].copy()
    # A straight run may begin on one segment and end on another.
    meeting = _meeting_points(
        source, edges.segment[runs.heads], edges.segment[runs.tails], start, end, runs.ring, rough, beyond
    )
    after = next_in_ring(runs.ring)
    curved = runs.segment >= 0
    if curved.any():
        turned = curved & ((end - start) * (edges.t1 - edges.t0)[runs.heads] <= 0)
        if turned.any():
            # The meeting points of a short piece have passed each other.
            back = turned | turned[previous_in_ring(runs.ring)]
            meeting[back] = rough[back]
            start[turned], end[turned] = edges.t0[runs.heads][turned], edges.t1[runs.tails][turned]
        ends = meeting.take(after, 0)
        of = runs.segment[curved]
        kinds, four = source.kinds[of], source.points.take(of, 0)
        if beyond:
            for at, to in ((start, meeting), (end, ends)):
                at[curved] = drawn_to(kinds, four, at[curved], to.compress(curved, 0), beyond)
    told = np.where(curved, source.kinds[runs.segment], LINE).astype(np.uint8)
    points = np.repeat(meeting[:, None, :], 4, axis=1)
    points[:, 2:] = meeting.take(after, 0)[:, None, :]
    if curved.any():
        points[curved] = curves.cut(kinds, four, start[curved], end[curved])
    _pin_ends(told, points, meeting, meeting.take(after, 0))
    return told, points


def _astray(edges: Edges, source: Path, every: _Runs, keep: Bools, kinds: Kinds, points: Floats, limit: float) -> Bools:
    """For each ring whether a vertex of it lies farther than `limit` mm from what is told there.

    The vertices of a run that was left out belong to the end of the run before it. Where a meeting point has moved
    along a curve, vertices beyond it lie on the piece that follows, so what seems far is held against the whole ring.
    """
    count = int(edges.ring[-1]) + 1
    run = _run_of(len(edges.ring), edges.ring, every.heads)
    kept = np.flatnonzero(keep)
    number = np.searchsorted(kept, run, side="right") - 1
    wraps = (number < 0) | (every.ring[kept[number]] != edges.ring)
    told = np.where(wraps, np.searchsorted(every.ring[kept], edges.ring, side="right") - 1, number)
    left_out = ~keep[run]
    at = edges.starts
    away = np.empty(len(at))
    line = (kinds[told] == LINE) | left_out
    of, ends = told[line], points[:, 3]
    begins = np.where(left_out[line][:, None], ends.take(of, 0), points[:, 0].take(of, 0))
    away[line] = from_chord(at.compress(line, 0), begins, ends.take(of, 0))
    bent = np.flatnonzero(~line)
    if len(bent):
        start, end = edges.t0[every.heads[run[bent]]], edges.t1[every.tails[run[bent]]]
        with np.errstate(divide="ignore", invalid="ignore"):
            share = np.nan_to_num(np.clip((edges.t0[bent] - start) / (end - start), 0, 1))
        away[bent] = size(curves.Curves(kinds, points).among(told[bent], share) - at.take(bent, 0))
    far = np.flatnonzero(~(away <= limit))
    astray = np.zeros(count, np.bool_)
    for number in np.unique(edges.ring[far]):
        own = every.ring[kept] == number
        flat = flatten(Path(kinds[own], points[own], np.zeros(1, np.int64), np.ones(1, np.bool_)))
        ring = shapely.multilinestrings(shapely.linestrings(np.stack([flat.points, flat.ends], axis=1)))
        vertex = far[edges.ring[far] == number]
        # Curves that cross at a small angle may really meet some way off.
        room = np.where(np.isin(vertex, every.heads), limit + _MEETING, limit)
        shapely.prepare(ring)
        astray[number] = not shapely.dwithin(ring, shapely.points(at[vertex]), room).all()
    return astray


def _with_edges(edges: Edges, astray: Bools, kinds: Kinds, points: Floats, ring: Ints) -> tuple[Kinds, Floats, Ints]:
    """The pieces with the edges of the rings that went astray, as straight as they are."""
    own = astray[edges.ring]
    lines = np.stack([edges.starts, edges.starts, edges.ends, edges.ends], axis=1)[own]
    rings = np.concatenate([ring, edges.ring[own]])
    order = np.argsort(rings, kind="stable")
    kinds = np.concatenate([kinds, np.full(len(lines), LINE, np.uint8)])[order]
    return kinds, np.concatenate([points, lines])[order], rings[order]


def _straightened(kinds: Kinds, points: Floats, ring: Ints) -> tuple[Kinds, Floats, Ints]:
    """Lines that go straight on where a speck lay between them, as one."""
    if not len(ring):
        return kinds, points, ring
    before = previous_in_ring(ring)
    leaving = points[:, 3] - points[:, 0]
    arriving = leaving.take(before, 0)
    aside, reach = np.abs(cross(arriving, leaving)), size(arriving) + size(leaving)
    line = kinds == LINE
    on = line & line[before] & (aside <= 2 * GRID * reach) & (dot(arriving, leaving) > 0)
    if not on.any():
        return kinds, points, ring
    heads = np.flatnonzero(_bent(points[:, 0], points[:, 3], ring, line, ~on))
    tails = before[heads[next_in_ring(ring[heads])]]
    result = points[heads].copy()
    result[:, 3] = points[tails, 3]
    straight = kinds[heads] == LINE
    result[straight, 1], result[straight, 2] = result[straight, 0], result[straight, 3]
    return kinds[heads], result, ring[heads]


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
    kinds_a, points_a = source.kinds[a], source.points.take(a, 0)
    kinds_b, points_b = source.kinds[b], source.points.take(b, 0)
    # Both sides at once, as calls cost more than numbers here.
    both = curves.Curves(np.concatenate([kinds_a, kinds_b]), np.concatenate([points_a, points_b]))
    tu = np.stack([start[work], end[before[work]]])
    with np.errstate(divide="ignore", invalid="ignore"):
        for _ in range(5):
            at, slopes = (found.reshape(2, -1, 2) for found in (both.at(tu.ravel()), both.slopes(tu.ravel())))
            gap, (slope_a, slope_b) = at[0] - at[1], slopes
            step = cross(gap, slopes[::-1]) / cross(slope_a, slope_b)
            tu = tu - step
            if not (np.abs(step) > 1e-12).any():
                break
        t, u = tu
        # A crossing just past the end of a curve is that end: rounding to the grid moves it by so much.
        more_t, more_u = (_share(kinds, points, beyond) for kinds, points in ((kinds_a, points_a), (kinds_b, points_b)))
        t, u = np.clip(t, -more_t, 1 + more_t), np.clip(u, -more_u, 1 + more_u)
        inside = np.isfinite(t) & np.isfinite(u)
        t, u = np.nan_to_num(t, nan=0.0), np.nan_to_num(u, nan=0.0)
        found, other_found = both.at(np.concatenate([t, u])).reshape(2, -1, 2)
        gap = found - other_found
        moved = size(found - point.take(work, 0))
        # Straight edges cross where GEOS found it, but for the specks that were left out between them.
        most = np.where((kinds_a == LINE) & (kinds_b == LINE), 2 * _SPECK, _MEETING) + beyond
        good = inside & (size(gap) < 10 * GRID) & (moved < most)
    # Curves that touch rather than cross meet on the longer piece, so that the shorter one bends.
    touch = work[~good]
    mine, theirs = (curves.rough_lengths(source.points.take(side, 0)) for side in (own[touch], other[touch]))
    longer = mine >= theirs
    segment = np.where(longer, own[touch], other[touch])
    at = np.where(longer, start[touch], end[before[touch]])
    on_longer = curves.evaluate(source.kinds[segment], source.points.take(segment, 0), at)
    near = size(on_longer - point.take(touch, 0)) < 4 * TOLERANCE
    point[touch[near]] = on_longer[near]
    point[work[good]] = found[good]
    start[work[good]] = t[good]
    end[before[work[good]]] = u[good]
    return on_grid(point)


def _share(kinds: Kinds, points: Floats, length: float) -> Floats:
    """The share of each segment by which it may be drawn on: a length in mm, at most a third, and lines at will."""
    share = np.zeros(len(kinds))
    if length:
        share = np.minimum(length / np.maximum(curves.rough_lengths(points), GRID), 1 / 3)
    share[kinds == LINE] = _AT_WILL
    return share


def drawn_to(kinds: Kinds, points: Floats, t: Floats, target: Floats, beyond: float) -> Floats:
    """Parameters moved to where segments are nearest to `target`, at most `beyond` mm past their ends."""
    more = _share(kinds, points, beyond)
    found = t.copy()
    line, arc, cubic = (np.flatnonzero(kinds == kind) for kind in (LINE, ARC, CUBIC))
    if len(line):
        start = points[:, 0].take(line, 0)
        along = points[:, 3].take(line, 0) - start
        found[line] = dot(target.take(line, 0) - start, along) / np.maximum(dot(along, along), 1e-18)
    if len(arc):
        centre, _, angle, sweep = curves.circles(points.take(arc, 0))
        away = target.take(arc, 0) - centre
        turn = np.arctan2(away[:, 1], away[:, 0]) - (angle + sweep * t[arc])
        found[arc] += ((turn + np.pi) % (2 * np.pi) - np.pi) / sweep
    if len(cubic):
        every, at, most = curves.Curves(kinds[cubic], points.take(cubic, 0)), t[cubic], more[cubic]
        goal = target.take(cubic, 0)
        for _ in range(4):
            slope = every.slopes(at)
            gap = every.at(at) - goal
            step = dot(gap, slope) / np.maximum(dot(slope, slope), 1e-12)
            before, at = at, np.clip(at - np.clip(step, -0.2, 0.2), -most, 1 + most)
            if (np.abs(at - before) < 1e-6).all():  # the next step would be the square of it
                break
        found[cubic] = at
    return np.asarray(np.clip(found, -more, 1 + more))


def _pin_ends(kinds: Kinds, points: Floats, begin: Floats, finish: Floats) -> None:
    """Put every run's ends on the meeting points exactly; curves bend by as little as that takes."""
    first, last = begin - points[:, 0], finish - points[:, 3]
    line, arc, cubic = kinds == LINE, kinds == ARC, kinds == CUBIC
    points[cubic, 1] += first[cubic]
    points[cubic, 2] += last[cubic]
    points[arc, 1] += (first[arc] + last[arc]) / 2
    points[arc, 2] = points[arc, 1]
    points[:, 0], points[:, 3] = begin, finish
    points[line, 1], points[line, 2] = begin[line], finish[line]
    bent = ~line
    points[bent, 1:3] = on_grid(points[bent, 1:3].reshape(-1, 2)).reshape(-1, 2, 2)
    # An arc that the grid has made flat is a line.
    flat = arc & (np.abs(curves.bulges(points)) < 2 * GRID)
    kinds[flat] = LINE
    points[flat, 1], points[flat, 2] = points[flat, 0], points[flat, 3]
