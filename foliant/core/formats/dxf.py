"""DXF: a sheet as a drawing of true size, a layer for each operation; arcs stay arcs, and cubics are splines."""

import io
from collections.abc import Iterator
from itertools import groupby
from typing import Any

import numpy as np
from numpy.typing import NDArray

from foliant.core.formats.as_drawn import layers_of, lying
from foliant.core.paths import ARC, CUBIC, Path, curves
from foliant.core.paths.flatten import GRID
from foliant.core.ticket import Job

_MM = 4  # of $INSUNITS
_KNOTS = [0.0] * 4 + [1.0] * 4


def write_dxf(job: Job) -> str:
    """The sheet as DXF of release 2010, in mm, y upwards. Where a picture is burnt, its frame is drawn."""
    import ezdxf  # which takes half a second to load, and is needed nowhere else

    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = _MM
    model = document.modelspace()
    height, matrix = job.design.stock.height, lying(job)
    for layer in layers_of(job):
        name = _named(layer.line.title, document.layers)
        document.layers.add(name, true_color=int(layer.line.work.ink[1:], 16))
        look = {"layer": name}
        areas, lines = (_upright(path.transformed(matrix), height) for path in (layer.areas, layer.lines))
        if len(areas) and layer.line.work.filled:
            _hatch(model, areas, look)
        else:
            _draw(model, areas, look)
        _draw(model, lines, look)
        for burnt, (across, down) in layer.pictures:
            left, top, wide, high = burnt.box
            x, y = left + across, height - top - down
            corners = [(x, y), (x + wide, y), (x + wide, y - high), (x, y - high)]
            model.add_lwpolyline(corners, close=True, dxfattribs=look)
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _upright(path: Path, height: float) -> Path:
    return path.transformed((1.0, 0.0, 0.0, -1.0, 0.0, height))


def _named(title: str, layers: Any) -> str:
    """A name that a layer may have, and no other has."""
    plain = "".join("_" if one in '<>/\\":;?*|=`,' else one for one in title)[:200] or "Operation"
    numbered = (f"{plain} {number}" for number in range(2, 1000))
    return next(name for name in (plain, *numbered) if name not in layers)


def _draw(model: Any, path: Path, look: dict[str, str]) -> None:
    """Every contour: in one polyline where it has no cubics, else in pieces that meet."""
    for kinds, points, closed in _contours(path):
        if not (kinds == CUBIC).any():
            model.add_lwpolyline(_bulged(kinds, points, closed), format="xyb", close=closed, dxfattribs=look)
            continue
        for is_cubic, run in groupby(range(len(kinds)), key=lambda at: kinds[at] == CUBIC):
            some = list(run)
            if is_cubic:
                for at in some:
                    model.add_open_spline([(x, y, 0) for x, y in points[at]], degree=3, dxfattribs=look)
            else:
                model.add_lwpolyline(_bulged(kinds[some], points[some], False), format="xyb", dxfattribs=look)


def _hatch(model: Any, path: Path, look: dict[str, str]) -> None:
    """All contours as one filled area, by the even-odd rule."""
    hatch = model.add_hatch(color=256, dxfattribs={**look, "hatch_style": 0})
    for kinds, points, _ in _contours(path):
        if not (kinds == CUBIC).any():
            hatch.paths.add_polyline_path(_bulged(kinds, points, True), is_closed=True)
            continue
        edges = hatch.paths.add_edge_path()
        for kind, row in zip(kinds.tolist(), points, strict=True):
            if kind == CUBIC:
                edges.add_spline(control_points=[tuple(one) for one in row], degree=3, knot_values=_KNOTS)
            elif kind == ARC:
                _arc_edge(edges, row)
            else:
                edges.add_line(tuple(row[0]), tuple(row[3]))


def _arc_edge(edges: Any, row: NDArray[np.float64]) -> None:
    centre, radius, begin, sweep = curves.circles(row[None])
    if not np.isfinite(radius[0]):
        edges.add_line(tuple(row[0]), tuple(row[3]))
        return
    first, last = np.degrees((begin[0], begin[0] + sweep[0]))
    edges.add_arc(tuple(centre[0]), float(radius[0]), *sorted((first, last)), ccw=bool(sweep[0] > 0))


def _contours(path: Path) -> Iterator[tuple[NDArray[np.uint8], NDArray[np.float64], bool]]:
    for segments, closed in path.contours():
        yield path.kinds[segments], path.points[segments], closed


def _bulged(kinds: NDArray[np.uint8], points: NDArray[np.float64], closed: bool) -> list[tuple[float, float, float]]:
    """The corners of lines and arcs that follow each other, each with the bulge of what leaves it."""
    bulges = np.zeros(len(kinds))
    arcs = kinds == ARC
    if arcs.any():
        sweep = curves.circles(points[arcs])[3]
        bulges[arcs] = np.tan(np.where(np.isfinite(sweep), sweep, 0.0) / 4)
    corners = [(float(x), float(y), float(bulge)) for (x, y), bulge in zip(points[:, 0], bulges, strict=True)]
    if closed and np.hypot(*(points[-1, 3] - points[0, 0])) < GRID:
        return corners
    return [*corners, (float(points[-1, 3, 0]), float(points[-1, 3, 1]), 0.0)]
