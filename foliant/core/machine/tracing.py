"""Tracing: the head goes round the work with its tool off, so that the maker sees where it will lie."""

from collections.abc import Iterator
from typing import Literal

import numpy as np
import shapely
from fontTools.misc.transform import Transform

from foliant.core.design.references import union
from foliant.core.paths import join
from foliant.core.paths.flatten import flatten
from foliant.core.ticket import Job

Round = Literal["box", "hull", "outlines"]
ROUND: dict[Round, str] = {"box": "round its box", "hull": "close round all of it", "outlines": "along the outlines"}

_FINE = 0.1  # mm that it may go beside an outline
_LOOSE = 0.3  # mm that may be cut off where it goes close round

Points = list[tuple[float, float]]


def trace_lines(job: Job, how: Round = "box") -> list[str]:
    """The lines that lead the head once round all that will be made, with the tool off."""
    ways = list(traced(job, how))
    moves = (f"G0 X{x:.3f} Y{y:.3f}" for points in ways for x, y in points)
    return ["G21", "G90", "M5", *moves, "G0 X0 Y0", "M2"]


def traced(job: Job, how: Round = "box") -> Iterator[Points]:
    """The ways that the head goes, each closed, on the bed, mm."""
    to_bed = job.program.to_bed
    weeding = join(line.weeding for line in job.lines)
    if how == "box":
        left, top, right, bottom = union([job.layout.bounds, *([weeding.bounds] if len(weeding) else [])])
        yield _on_bed([(left, bottom), (right, bottom), (right, top), (left, top), (left, bottom)], to_bed)
        return
    shapes = [laid.shape_on_sheet() for laid in job.layout.instances]
    if how == "hull":
        drawn = [*shapes, shapely.MultiPoint(flatten(weeding, _FINE).points)] if len(weeding) else shapes
        hull = shapely.convex_hull(shapely.union_all(drawn)).simplify(_LOOSE)
        yield _on_bed([(x, y) for x, y in hull.exterior.coords], to_bed)
        return
    for shape in shapes:
        for body in shapely.get_parts(shape):
            ring = np.asarray(body.exterior.simplify(_FINE).coords)
            yield _on_bed([(float(x), float(y)) for x, y in ring], to_bed)


def _on_bed(points: Points, to_bed: Transform) -> Points:
    return [(x, y) for x, y in to_bed.transformPoints(points)]
