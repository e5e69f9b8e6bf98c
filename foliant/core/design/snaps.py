"""Snaps: the points and edges of a piece that a part can be put on, each said in words.

Corners, nodes, middles of edges, centres, quarter points of circles, crossings of outlines, and the edges
themselves. The page only picks the nearest.
"""

from dataclasses import dataclass
from itertools import islice

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import Form, placed, placements, shape_paths
from foliant.core.design.references import Bounds, union
from foliant.core.design.shapes import Words
from foliant.core.paths import ARC, LINE, Affine, Path, join
from foliant.core.paths.curves import circles, derivatives
from foliant.core.paths.flatten import flatten
from foliant.core.remembering import remembered

MOST_NODES = 400
MOST_COPIES = 60
MOST_CROSSINGS = 1500
EDGE_TOLERANCE = 0.01
_CORNER = np.cos(np.deg2rad(5))


@dataclass(frozen=True)
class Snap:
    """A point (mm, on the piece) of a part, and what it is; `other` is the second part of a crossing."""

    x: float
    y: float
    says: str
    part: str
    other: str = ""


@dataclass(frozen=True, eq=False)
class Snaps:
    """All points, and each part's edges as chains of points (k, 2)."""

    points: tuple[Snap, ...]
    edges: tuple[tuple[str, NDArray[np.float64]], ...]


@remembered
def snaps(piece: Piece) -> Snaps:
    """What there is on a piece to put a part on."""
    points: list[Snap] = []
    edges: list[tuple[str, NDArray[np.float64]]] = []
    lines: list[shapely.Geometry] = []
    owners: list[Part] = []
    for part in piece.made:
        for matrix in islice(placements(part), MOST_COPIES):
            points += _points(part, matrix)
            if part.shape.baseline is not None or _nodes(part.form) > MOST_NODES:
                continue
            chains = _chains(join(placed(part.form, matrix)))
            if not chains:
                continue
            edges += [(part.id, chain) for chain in chains]
            lines.append(shapely.multilinestrings([shapely.linestrings(chain) for chain in chains]))
            owners.append(part)
    return Snaps((*points, *_crossings(lines, owners)), tuple(edges))


def _points(part: Part, matrix: Affine) -> list[Snap]:
    """The points of one copy of a part, those named after its box first."""
    a, b, c, d, e, f = matrix
    own = _shape_points(part.form)
    if not own:
        return []
    at = np.array([(x, y) for x, y, _ in own])
    there = at @ np.array([[a, b], [c, d]]) + np.array([e, f])
    name = part.shape.label()[:40]
    box = _box(part, matrix)
    return [
        Snap(round(float(x), 4), round(float(y), 4), f"{_said(kind, float(x), float(y), box)} of {name}", part.id)
        for (x, y), (_, _, kind) in zip(there, own, strict=True)
    ]


def _box(part: Part, matrix: Affine) -> Bounds:
    return union([path.bounds for path in placed(part.form, matrix) if len(path)] or [(0.0, 0.0, 0.0, 0.0)])


def _said(kind: str, x: float, y: float, box: Bounds) -> str:
    """The kind of a point with its place on the box, where it lies on it: "upper left corner"."""
    near = 1e-3
    down = "upper" if abs(y - box[1]) < near else "lower" if abs(y - box[3]) < near else ""
    across = "left" if abs(x - box[0]) < near else "right" if abs(x - box[2]) < near else ""
    where = " ".join(filter(None, (down, across)))
    if kind in ("corner", "quarter point", "end", "node"):
        return f"{where} {kind}".strip()
    if kind == "edge":
        return f"middle of the {where} edge" if where else "middle of an edge"
    return kind


@remembered
def _shape_points(shape: Form) -> tuple[tuple[float, float, str], ...]:
    """The points of a shape about its own origin, each with its kind; no two in one place."""
    path = join(shape_paths(shape))
    if not len(path):
        return ()
    left, top, right, bottom = path.bounds
    middle = ((left + right) / 2, (top + bottom) / 2)
    found: list[tuple[float, float, str]] = [(*middle, "middle")]
    if isinstance(shape, Words) or _nodes(shape) > MOST_NODES:
        found += [(x, y, "corner") for x in (left, right) for y in (top, bottom)]
        found += [(x, middle[1], "edge") for x in (left, right)] + [(middle[0], y, "edge") for y in (top, bottom)]
        if isinstance(shape, Words):
            found += [(x, shape.box()[3], "baseline end") for x in (left, right)]
    else:
        found += _round_points(path) + _node_points(path)
        straight = path.kinds == LINE
        found += [(float(x), float(y), "edge") for x, y in path.points[straight][:, [0, 3]].mean(axis=1)]
    seen: dict[tuple[float, float], tuple[float, float, str]] = {}
    for x, y, kind in found:
        seen.setdefault((round(x, 3), round(y, 3)), (x, y, kind))
    return tuple(seen.values())


def _node_points(path: Path) -> list[tuple[float, float, str]]:
    """Corners where the direction breaks, ends of open lines, and other nodes."""
    found = []
    count = len(path)
    leaving = derivatives(path.kinds, path.points, np.zeros(count))
    arriving = derivatives(path.kinds, path.points, np.ones(count))
    for segments, closed in path.contours():
        for index in range(segments.start, segments.stop):
            x, y = path.points[index, 0]
            before = index - 1 if index > segments.start else segments.stop - 1
            if index == segments.start and not closed:
                found.append((float(x), float(y), "end"))
                continue
            sharp = _cosine(arriving[before], leaving[index]) < _CORNER
            found.append((float(x), float(y), "corner" if sharp else "node"))
        if not closed:
            x, y = path.points[segments.stop - 1, 3]
            found.append((float(x), float(y), "end"))
    return found


def _round_points(path: Path) -> list[tuple[float, float, str]]:
    """Quarter points and centres of arcs, the quarter points first so that they name what is also a node."""
    arcs = path.points[path.kinds == ARC]
    if not len(arcs):
        return []
    found: list[tuple[float, float, str]] = []
    for centre, radius, angle, sweep in zip(*circles(arcs), strict=True):
        for quarter in range(4):
            at = quarter * np.pi / 2
            way = ((at - angle) * np.sign(sweep)) % (2 * np.pi)
            if way <= abs(sweep) + 1e-9 or way > 2 * np.pi - 1e-9:
                x, y = centre + radius * np.array([np.cos(at), np.sin(at)])
                found.append((float(x), float(y), "quarter point"))
        found.append((float(centre[0]), float(centre[1]), "centre of an arc"))
    return found


def _chains(path: Path) -> list[NDArray[np.float64]]:
    """The contours as chains of points, no farther from the curve than the tolerance."""
    flat = flatten(path, EDGE_TOLERANCE)
    contour = path.contour_of[flat.segment]
    return [np.concatenate([flat.points[contour == i], flat.ends[contour == i][-1:]]) for i in range(len(path.starts))]


def _crossings(lines: list[shapely.Geometry], owners: list[Part]) -> list[Snap]:
    """Where the outlines of two parts cross."""
    if len(lines) < 2:
        return []
    found: list[Snap] = []
    first, second = shapely.STRtree(lines).query(lines, predicate="intersects")
    for i, j in zip(first, second, strict=True):
        if i >= j or len(found) >= MOST_CROSSINGS:
            continue
        met = shapely.intersection(lines[i], lines[j])
        points = [part for part in shapely.get_parts(met) if part.geom_type == "Point"]
        names = f"crossing of {owners[i].shape.label()[:30]} and {owners[j].shape.label()[:30]}"
        found += [
            Snap(round(point.x, 4), round(point.y, 4), names, owners[i].id, owners[j].id) for point in points[:40]
        ]
    return found


def _nodes(shape: Form) -> int:
    return sum(len(path) for path in shape_paths(shape))


def _cosine(a: NDArray[np.float64], b: NDArray[np.float64]) -> float:
    size = float(np.hypot(*a) * np.hypot(*b))
    return float(a @ b) / size if size > 1e-12 else 1.0
