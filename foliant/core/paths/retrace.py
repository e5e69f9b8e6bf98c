"""Retracing: the polygons of an offset, told again in the moved curves that they run along.

GEOS finds what the offset of a region encloses, in many short edges. Where each of its edges runs along a
known curve, an unbroken run of them becomes one piece of that curve, and its ends are where curves meet.
"""

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.paths import curves
from foliant.core.paths.assemble import Edges, Told, assemble, drawn_to, from_chord
from foliant.core.paths.flatten import GRID, flatten
from foliant.core.paths.pairs import cross, differ, dot, size
from foliant.core.paths.path import LINE, Path
from foliant.core.paths.recover import ring_edges
from foliant.core.paths.rings import next_in_ring, previous_in_ring

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_SHORT = 0.005
"""An edge shorter than this, in mm, says little about its direction."""

_ASKEW = 0.25
"""The sine of the largest angle between an edge and the curve it runs along."""

_UNSEEN = 0.05
"""A curve as short as this, in mm, may lie between two others and be seen by no edge."""

_MOST_BETWEEN = 8
"""How many curves too short to be seen may lie between two that are."""


def retrace(shape: shapely.Geometry, source: Path, reach: float) -> Told:
    """The boundary of `shape` in pieces of the segments of `source` that lie within `reach` mm of it.

    Segments of one contour of `source` that meet end to start, or nearly, are taken to run into each other.
    """
    edges = ring_edges(shape)
    segment, about = _alongside(edges, source, reach)
    t0 = _nearest(source, segment, about, edges.starts)
    # An edge ends where the next begins, so only where that runs along another curve is there more to find.
    after = next_in_ring(edges.ring)
    t1 = t0[after]
    turns = segment != segment[after]
    t1[turns] = _nearest(source, segment[turns], about[turns], edges.ends[turns])
    found = Edges(edges.starts.copy(), edges.ends.copy(), edges.ring, segment, t0, t1)
    return assemble(_joined(found, source, reach), source, 2 * reach + _UNSEEN)


def as_lines(shape: shapely.Geometry) -> Path:
    """The boundary of `shape` as it is, in straight lines."""
    edges = ring_edges(shape)
    points = np.stack([edges.starts, edges.starts, edges.ends, edges.ends], axis=1)
    starts = np.flatnonzero(np.append(True, edges.ring[1:] != edges.ring[:-1])) if len(points) else edges.ring
    return Path(np.full(len(points), LINE, np.uint8), points, starts, np.ones(len(starts), np.bool_))


def _alongside(edges: Edges, source: Path, reach: float) -> tuple[Ints, Floats]:
    """For each edge the segment it runs along, or -1, and about the parameter of that where it begins."""
    middles = (edges.starts + edges.ends) / 2
    flat = flatten(source)
    real = differ(flat.points, flat.ends)
    starts, ends, segment = (found.compress(real, 0) for found in (flat.points, flat.ends, flat.segment))
    t0, t1 = flat.t0[real], flat.t1[real]
    low, high = np.minimum(starts, ends) - reach, np.maximum(starts, ends) + reach
    # Boxes are asked, as GEOS takes longer for distances than these take below.
    which, hit = shapely.STRtree(shapely.box(*low.T, *high.T)).query(shapely.points(middles))
    away = from_chord(middles.take(which, 0), starts.take(hit, 0), ends.take(hit, 0))
    own, other = (edges.ends - edges.starts).take(which, 0), (ends - starts).take(hit, 0)
    length = size(own)
    askew = np.abs(cross(own, other)) / (length * size(other))
    agrees = (dot(own, other) > 0) & (askew < _ASKEW) | (length < _SHORT)
    agrees &= away <= reach
    which, hit, score = which[agrees], hit[agrees], (away + reach * askew * (length >= _SHORT))[agrees]
    order = np.lexsort((segment[hit], score, which))
    best = order[np.unique(which[order], return_index=True)[1]]
    result, about = np.full(len(middles), -1), np.zeros(len(middles))
    result[which[best]] = segment[hit[best]]
    best, at = which[best], hit[best]
    begins = starts.take(at, 0)
    along = ends.take(at, 0) - begins
    share = dot(edges.starts.take(best, 0) - begins, along) / dot(along, along)
    about[best] = np.clip(t0[at] + share * (t1 - t0)[at], 0, 1)
    return result, about


def _nearest(source: Path, segment: Ints, about: Floats, points: Floats) -> Floats:
    """The parameter of each edge's segment that lies nearest to one of its ends, which is near `about`."""
    t = np.zeros(len(segment))
    known = np.flatnonzero(segment >= 0)
    if not len(known):
        return t
    segment = segment[known]
    t[known] = drawn_to(source.kinds[segment], source.points.take(segment, 0), about[known], points.take(known, 0), 0.0)
    return t


def _joined(edges: Edges, source: Path, reach: float) -> Edges:
    """Where a run goes over to a curve that continues it, both end where they meet, and what is too short for
    the edges to tell (a small round between two long curves) comes in between.
    """
    before = previous_in_ring(edges.ring)
    after = next_in_ring(source.contour_of)
    linked = size(source.points[:, 3] - source.points[:, 0].take(after, 0)) < 2 * reach + _UNSEEN
    unseen = curves.rough_lengths(source.points) < 2 * reach + _UNSEEN
    turn = np.flatnonzero(
        (edges.segment >= 0) & (edges.segment[before] >= 0) & (edges.segment != edges.segment[before])
    )
    if not len(turn):
        return edges
    wanted, walk = edges.segment[turn], edges.segment[before[turn]]
    # An edge that goes over may be cut anywhere along it.
    long = size(edges.ends - edges.starts)
    room = 4 * reach + np.maximum(long[turn], long[before[turn]])
    near = np.hypot(*(source.points[walk, 3] - edges.starts[turn]).T) < room
    way = np.full((len(turn), _MOST_BETWEEN), -1)
    open_ = near & (np.hypot(*(source.points[wanted, 0] - edges.starts[turn]).T) < room)
    met = np.zeros(len(turn), bool)
    for step in range(_MOST_BETWEEN + 1):
        open_ &= linked[walk]
        walk = after[walk]
        met |= open_ & (walk == wanted)
        open_ &= ~met & unseen[walk]  # what is longer would have been told by an edge
        if step < _MOST_BETWEEN:
            way[open_, step] = walk[open_]
    way[~met] = -1
    way[curves.lengths(source.kinds, source.points)[way] < 5 * GRID] = -1  # too short for the grid as well
    at, previous = turn[met], before[turn[met]]
    edges.starts[at] = source.points[edges.segment[at], 0]
    edges.ends[previous] = source.points[edges.segment[previous], 3]
    # Where ends only nearly meet, the curves are drawn on to where they cross: see `assemble`.
    apart = (way[met, 0] < 0) & (np.hypot(*(edges.starts[at] - edges.ends[previous]).T) > 3 * GRID)
    edges.t0[at], edges.t1[previous] = np.where(apart, 1e-9, 0.0), 1.0
    row, column = np.nonzero(way >= 0)
    between, where = way[row, column], turn[row]
    return Edges(
        np.insert(edges.starts, where, source.points[between, 0], axis=0),
        np.insert(edges.ends, where, source.points[between, 3], axis=0),
        np.insert(edges.ring, where, edges.ring[where]),
        np.insert(edges.segment, where, between),
        np.insert(edges.t0, where, 0.0),
        np.insert(edges.t1, where, 1.0),
    )
