"""A sheet that lies askew: told by points of it, the work lies on it, and what is out of reach is said."""

import math
import random

import numpy as np
import pytest
import shapely

from foliant.core.equipment import SHIPPED, Jig
from foliant.core.errors import Refused
from foliant.core.machine import script_of, trace_lines
from foliant.core.machine.script import lain
from foliant.core.machine.tracing import ROUND, traced
from foliant.core.program.lie import Lie, lie_of, read_lie, spots_of
from tests.making import edited, plan, tag

JOB = plan(tag())
WIDE, HIGH = JOB.design.stock.width, JOB.design.stock.height
SPOTS = spots_of(WIDE, HIGH)


def places(lie: Lie) -> dict[str, tuple[float, float]]:
    """Where the points of a sheet are that lies so, worked out by hand."""
    cos, sin = math.cos(math.radians(lie.turn)), math.sin(math.radians(lie.turn))
    found = {}
    for spot, (_, (x, y)) in SPOTS.items():
        found[spot] = (lie.x + x * cos - y * sin, lie.y + x * sin + y * cos)
    return found


def test_two_points_of_a_sheet_tell_how_it_lies() -> None:
    dice = random.Random(5)
    for _ in range(200):
        lie = Lie(dice.uniform(0, 90), dice.uniform(0, 90), dice.uniform(-30, 30))
        marks = dict(dice.sample(sorted(places(lie).items()), 2))
        found = lie_of(marks, SPOTS)
        assert (found.x, found.y, found.turn) == pytest.approx((lie.x, lie.y, lie.turn), abs=0.01)
    assert lie_of({}, SPOTS) == Lie()
    one = lie_of({"middle": (WIDE, HIGH)}, SPOTS)
    assert (one.x, one.y, one.turn) == (WIDE / 2, HIGH / 2, 0)
    with pytest.raises(Refused, match="mm apart, and on the sheet"):
        lie_of({"left": (0, 0), "right": (WIDE + 30, 0)}, SPOTS)


def test_a_jig_is_found_by_its_two_marks() -> None:
    jig = Jig(key="jig", name="Jig", width=300, height=200, mark_x=10, mark_y=190, other_x=290, other_y=190)
    lie = Lie(25, 40, -3)
    marks = {"mark": lie.map.transformPoint((10, 10)), "other-mark": lie.map.transformPoint((290, 10))}
    found = lie_of(marks, spots_of(300, 200, jig))
    assert (found.x, found.y, found.turn) == pytest.approx((25, 40, -3), abs=1e-3)


def test_a_sheet_is_squared_by_two_places_along_its_near_edge() -> None:
    lie = Lie(40, 30, 7)
    on_edge = {spot: lie.map.transformPoint((along, 0)) for spot, along in (("edge", 180), ("edge-too", 60))}
    assert lie_of(on_edge, SPOTS).turn == pytest.approx(7, abs=1e-3)
    with_corner = lie_of({**on_edge, "left": (40, 30)}, SPOTS)
    assert (with_corner.x, with_corner.y, with_corner.turn) == pytest.approx((40, 30, 7), abs=1e-3)
    assert lie_of({"edge": on_edge["edge"]}, SPOTS) == Lie()
    with pytest.raises(Refused, match="further along the edge"):
        lie_of({"edge": (40, 30), "edge-too": (50, 31)}, SPOTS)


def test_the_work_lies_on_the_sheet_where_that_lies_and_never_beyond_the_bed() -> None:
    lie = Lie(40, 30, 12)
    straight, askew = (np.array([end for one in job.program.stretches() for end in one.points[:, 3]])
                       for job in (JOB, lain(JOB, lie)))  # fmt: skip
    turn = math.radians(12)
    turned = straight @ np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]]) + (40, 30)
    assert askew == pytest.approx(turned, abs=1e-6)
    script = script_of(JOB.design, SHIPPED, "job", lie=lie)
    assert len(script.lines) > 100
    for beyond in (Lie(-20, 0), Lie(380, 0), Lie(0, 0, 170)):
        for kind in ("job", "trace"):
            with pytest.raises(Refused, match="beyond the bed of Bench laser"):
                script_of(JOB.design, SHIPPED, kind, lie=beyond)  # type: ignore[arg-type]
    assert read_lie("12, 8,2.5") == Lie(12, 8, 2.5)
    with pytest.raises(Refused, match="is no place"):
        read_lie("here")


def test_the_head_goes_round_the_box_close_round_all_or_along_the_outlines() -> None:
    job = plan(edited(tag(), {"do": "change", "of": "piece p1", "values": {"copies": 3}}))
    ways = {how: [np.array(way) for way in traced(job, how)] for how in ROUND}
    assert {how: len(found) for how, found in ways.items()} == {"box": 1, "hull": 1, "outlines": 3}
    box, hull = shapely.Polygon(ways["box"][0]), shapely.Polygon(ways["hull"][0])
    outlines = shapely.union_all([shapely.Polygon(way) for way in ways["outlines"]])
    assert box.buffer(0.01).covers(hull)
    assert hull.buffer(0.35).covers(outlines)
    cut = sum(laid.resolved.outline.bodies[0].area for laid in job.layout.instances)
    assert outlines.area == pytest.approx(cut, rel=0.05)  # but for its hole
    for how, found in ways.items():
        lines = trace_lines(job, how)
        assert lines[:3] == ["G21", "G90", "M5"]
        assert len([line for line in lines if line.startswith("G0")]) == sum(map(len, found)) + 1
