"""Weeding: a frame round all pieces of a foil, and lines between them."""

import numpy as np
import pytest
import shapely

from foliant.core.formats import WRITERS
from foliant.core.machine import trace_lines
from foliant.core.paths import Path
from foliant.core.ticket.only import only
from tests.making import edited, plan, tag

FOIL = (
    {"do": "change", "of": "ticket", "values": {"machine": "desk-cutter"}},
    {"do": "change", "of": "stock", "values": {"material": "ivory-card", "width": 297, "height": 210}},
)


def weeded(kind: str, copies: int = 6, **values: object):
    ticket = {"do": "change", "of": "ticket", "values": {"weeding": kind, **values}}
    return plan(edited(tag(copies=copies), *FOIL, ticket))


def waste(job) -> Path:
    (found,) = [line.weeding for line in job.lines if len(line.weeding)]
    return found


def test_a_frame_goes_round_all_pieces_by_the_operation_that_cuts_them_out_and_comes_last() -> None:
    job = weeded("frame", weed=5)
    left, top, right, bottom = job.layout.bounds
    assert waste(job).bounds == pytest.approx((max(left - 5, 1), max(top - 5, 1), right + 5, bottom + 5))
    last = job.program.instance.tolist()
    assert last[-1] == -1
    assert last.count(-1) == 1
    assert job.lines[int(job.program.operation[-1])].id == "outer"
    none = weeded("none")
    assert job.program.seconds > none.program.seconds
    assert job.program.seconds_by_instance(6).sum() == pytest.approx(job.program.seconds - job.program.home_seconds)


def test_lines_run_between_all_pieces_and_touch_none() -> None:
    job = weeded("lines")
    path = waste(job)
    assert len(path.starts) > 3
    lines = shapely.multilinestrings(
        [shapely.linestrings(np.vstack([points[0], points[3]])) for points in path.points[4:]]
    )
    pieces = [laid.shape_on_sheet() for laid in job.layout.instances]
    assert all(piece.distance(lines) > 0.4 for piece in pieces)
    edges = shapely.node(shapely.union_all([lines, shapely.box(*path.bounds).exterior]))
    strips = shapely.get_parts(shapely.polygonize(shapely.get_parts(edges)))
    held = [sum(strip.contains(piece) for piece in pieces) for strip in strips]
    assert sorted(held) == [1] * len(pieces)  # each lies in a strip of its own
    assert WRITERS["svg"].write(job).decode().count("M") > WRITERS["svg"].write(weeded("none")).decode().count("M")


def test_the_bounds_are_traced_with_the_frame_and_one_piece_alone_needs_none() -> None:
    job = weeded("frame", weed=12, copies=1)
    xs = [float(line[4:].split()[0]) for line in trace_lines(job) if "." in line]
    assert max(xs) - min(xs) == pytest.approx(waste(job).bounds[2] - waste(job).bounds[0], abs=0.01)
    two = edited(weeded("frame").design, {"do": "add-piece", "name": "Other"})
    alone = only(plan(two), "operation inner")
    assert not any(len(line.weeding) for line in alone.lines)
