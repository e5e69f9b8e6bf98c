"""The ticket: order, settings, fill and time."""

import re
from itertools import permutations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design
from foliant.core.equipment import SHIPPED
from foliant.core.formats.gcode import gcode_lines
from foliant.core.paths import ARC
from foliant.core.paths.shapes import circle
from foliant.core.program.motion import plan_motion
from foliant.core.program.travel import tour
from foliant.core.works.fill import fill_lines
from tests.examples import examples
from tests.making import edited, one_piece, plan, put

FULL = one_piece(
    put("circle", diameter=60),
    put("circle", role="scores", diameter=50),
    put("hole", x=30, y=8),
    put("words", text="DOME"),
)


def test_engraving_comes_first_and_outer_edges_last() -> None:
    job = plan(FULL)
    assert [line.id for line in job.lines] == ["engrave", "score", "inner", "outer"]
    assert (np.diff(job.program.toolpath().operation) >= 0).all()


def test_what_lies_in_an_opening_is_cut_before_the_opening() -> None:
    design = one_piece(put("rectangle", width=80, height=40), put("words", role="cuts", text="O", cap_height=20))
    job = plan(design)
    inner = next(i for i, line in enumerate(job.lines) if line.id == "inner")
    moves = job.program.toolpath().points[(job.program.toolpath().operation == inner) & job.program.toolpath().working]
    middle = moves[:, 0].mean(axis=0)
    reach = np.hypot(*(moves[:, 0] - middle).T)
    half = len(reach) // 2
    assert reach[: half // 2].mean() < reach[half + half // 2 :].mean()  # the counter first, then the O round it


def test_every_recipe_can_be_found_for_its_own_job_only() -> None:
    for recipe in SHIPPED.recipes:
        assert SHIPPED.recipe(recipe.machine, recipe.material, recipe.thickness, recipe.work) is recipe
        assert SHIPPED.recipe(recipe.machine, recipe.material, recipe.thickness + 7, recipe.work) is None
        assert 0 < recipe.settings.power < 100


def test_an_own_setting_stands_beside_the_recipe_and_can_be_taken_back() -> None:
    own = edited(FULL, {"do": "change", "of": "operation engrave", "values": {"power": "40 %", "passes": "2"}})
    line = plan(own).lines[0]
    assert line.settings
    assert (line.settings.power, line.settings.passes, line.settings.speed) == (40, 2, 90)
    assert line.overridden == {"power", "passes"}
    back = plan(edited(own, {"do": "revert-operation", "operation": "engrave"}))
    assert back.lines[0].settings == plan(FULL).lines[0].settings
    assert not back.lines[0].overridden


def test_settings_of_ones_own_stand_in_for_a_missing_recipe() -> None:
    thick = edited(FULL, {"do": "change", "of": "stock", "values": {"thickness": 20}})
    assert plan(thick).lines[-1].settings is None
    typed = edited(thick, {"do": "change", "of": "operation outer", "values": {"power": "90", "speed": "3"}})
    assert plan(typed).lines[-1].settings is not None


def test_what_is_switched_off_is_not_in_the_toolpath() -> None:
    job = plan(edited(FULL, {"do": "switch-operation", "operation": "engrave", "on": False}))
    assert 0 not in job.program.toolpath().operation
    assert job.program.seconds < plan(FULL).program.seconds


def test_two_passes_take_about_twice_as_long() -> None:
    once = edited(FULL, {"do": "change", "of": "operation outer", "values": {"passes": 1}})
    twice = edited(FULL, {"do": "change", "of": "operation outer", "values": {"passes": 2}})
    assert plan(twice).program.seconds_of(3) == pytest.approx(2 * plan(once).program.seconds_of(3), rel=0.02)


def test_a_circle_is_cut_as_arcs() -> None:
    job = plan(FULL)
    outer = job.program.toolpath().kinds[(job.program.toolpath().operation == 3) & job.program.toolpath().working]
    assert (outer == ARC).all()
    assert len(outer) in (4, 6)  # two half turns, of which one may be begun amid, two passes


def test_time_of_a_long_straight_cut_is_length_over_speed() -> None:
    design = one_piece(put("rectangle", width=200, height=100))
    design = edited(design, {"do": "change", "of": "operation outer", "values": {"passes": 1, "speed": 10}})
    job = plan(design)
    assert job.program.seconds_of(0) == pytest.approx(600 / 10, rel=0.02)


def test_fill_lines_cover_the_area_and_alternate() -> None:
    disc = shapely.Point(0, 0).buffer(10, quad_segs=64)
    strokes = fill_lines(disc, 0.1)
    lengths = np.abs(strokes[:, 1, 0] - strokes[:, 0, 0])
    assert lengths.sum() * 0.1 == pytest.approx(disc.area, rel=0.002)
    ways = np.sign(strokes[:, 1, 0] - strokes[:, 0, 0])
    assert (ways[1:] == -ways[:-1]).all()
    assert (np.diff(strokes[:, 0, 1]) > 0).all()


@given(st.floats(0.05, 2), st.floats(3, 30), st.floats(0, 180))
def test_fill_lines_stay_inside_whatever_the_shape(interval: float, size: float, turn: float) -> None:
    star = shapely.affinity.rotate(
        shapely.box(-size, -size / 3, size, size / 3).union(shapely.box(-1, -size, 1, size)), turn
    )
    holed = star.difference(shapely.Point(size / 2, 0).buffer(1))
    for stroke in fill_lines(holed, interval):
        assert shapely.LineString(stroke).difference(holed.buffer(1e-6)).length < 1e-6


def test_a_machine_slows_down_for_corners_and_small_circles() -> None:
    machine = SHIPPED.machine("bench-laser")
    big, small = circle(200), circle(2)
    for path, expected in ((big, 100.0), (small, (machine.acceleration * 1) ** 0.5)):
        _, seconds = plan_motion(path.kinds, path.points, np.full(2, 100.0), machine)
        assert path.length / seconds.sum() <= expected + 1e-6


@given(st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=3, max_size=30))
def test_motion_never_beats_the_speed_limit_or_the_acceleration(corners: list[tuple[float, float]]) -> None:
    machine = SHIPPED.machine("bench-laser")
    at = np.array(corners)
    points = np.stack([at[:-1], at[:-1], at[1:], at[1:]], axis=1)
    lengths = np.hypot(*(at[1:] - at[:-1]).T)
    speeds, seconds = plan_motion(np.zeros(len(points), np.uint8), points, np.full(len(points), 80.0), machine)
    assert (seconds * 80 >= lengths - 1e-6).all()
    assert (np.abs(np.diff(speeds**2)) <= 2 * machine.acceleration * np.maximum(lengths, 1e-9) + 1e-6).all()
    assert speeds[-1] == 0


@given(st.integers(0, 10_000))
@examples(8)
def test_the_tool_flies_little_between_lines_that_may_begin_anywhere(seed: int) -> None:
    random = np.random.default_rng(seed)
    middles, turns = random.uniform(0, 300, (18, 2)), np.linspace(0, 2 * np.pi, 12, endpoint=False)
    rounds = np.stack([np.cos(turns), np.sin(turns)], axis=1)
    begins = [middle + random.uniform(1, 8) * rounds for middle in middles]
    found = tour(begins, begins, (0, 200))
    assert sorted(thing for thing, _ in found) == list(range(18))
    ways = []
    for order in (random.permutation(18) for _ in range(200)):  # none that is thrown together is shorter
        here, way = np.array((0.0, 200.0)), 0.0
        for thing in order:
            away = np.hypot(*(begins[thing] - here).T)
            way, here = way + float(away.min()), begins[thing][int(away.argmin())]
        ways.append(way)
    stops = np.array([begins[thing][choice] for thing, choice in found])
    flown = float(np.hypot(*np.diff(np.vstack([[(0, 200)], stops]), axis=0).T).sum())
    assert flown < 0.75 * min(ways)
    for i in range(1, 17):  # and no two neighbours are better exchanged
        before = stops[i - 2] if i > 1 else np.array((0.0, 200.0))
        way = np.hypot(*(stops[i - 1] - before)) + np.hypot(*(stops[i + 1] - stops[i]))
        assert way <= np.hypot(*(stops[i] - before)) + np.hypot(*(stops[i + 1] - stops[i - 1])) + 1e-6


def test_a_tour_is_within_three_percent_of_the_shortest_that_there_is() -> None:
    """Held against every order of seven outlines, each begun where its way is the shortest."""
    random, start = np.random.default_rng(5), np.array((0.0, 0.0))
    turns = np.arange(8) * np.pi / 4
    ring = np.stack([np.cos(turns), np.sin(turns)], axis=1)
    orders = np.array(list(permutations(range(7))))
    for _ in range(4):
        begins = random.uniform(0, 200, (7, 1, 2)) + random.uniform(4, 50, (7, 1, 1)) * ring
        ways = np.hypot(*np.moveaxis(begins[:, :, None, None] - begins[None, None], 4, 0)).transpose(0, 2, 1, 3)
        cost = np.hypot(*np.moveaxis(begins - start, 2, 0))[orders[:, 0]]
        for before, after in zip(orders.T[:-1], orders.T[1:], strict=True):
            cost = (cost[:, :, None] + ways[before, after]).min(axis=1)
        found = tour(list(begins), list(begins), (0, 0))
        stops = np.array([start, *(begins[thing][choice] for thing, choice in found)])
        assert np.hypot(*np.diff(stops, axis=0).T).sum() < 1.03 * cost.min()


def test_an_open_line_is_begun_at_whichever_end_is_nearer() -> None:
    lines = [put("line", role="scores", length=40, x=30, y=y) for y in (10, 20, 30)]
    path = plan(one_piece(put("rectangle", width=60, height=40, x=30, y=20), *lines)).program.toolpath()
    scored = path.operation == 0
    flown = path.points[scored & ~path.working]
    assert np.hypot(*(flown[1:, 3] - flown[1:, 0]).T) == pytest.approx([10, 10], abs=0.01)


def test_cuts_begin_away_from_corners_if_the_maker_minds() -> None:
    parts = (
        put("rectangle", width=60, height=40, x=30, y=20),
        put("star", diameter=20, x=20, y=20, role="cuts"),
        put("circle", diameter=8, x=48, y=20, role="cuts"),
    )
    smooth = edited(one_piece(*parts, copies=4), {"do": "change", "of": "ticket", "values": {"begins": "smooth"}})
    for design, minds in ((smooth, True), (one_piece(*parts, copies=4), False)):
        program = plan(design).program
        at_corner = []
        for block in program.blocks:
            begin, end = block.moves.points[0], block.moves.points[-1]
            ways = begin[3] - begin[0], end[3] - end[0]
            straight = all((points[1] == points[0]).all() for points in (begin, end))
            turn = np.dot(*ways) / (np.hypot(*ways[0]) * np.hypot(*ways[1]))
            at_corner.append(straight and turn < 0.95)
        assert any(at_corner) is not minds
    lengths = [plan(design).program.toolpath() for design in (smooth, one_piece(*parts, copies=4))]
    burnt = [np.hypot(*(path.points[:, 3] - path.points[:, 0])[path.working].T).sum() for path in lengths]
    assert burnt[0] == pytest.approx(burnt[1], rel=0.01)


def test_no_row_is_flown_over_a_gap_that_takes_longer_than_to_come_back() -> None:
    discs = [put("circle", role="engraves", diameter=12, x=x, y=20) for x in (12, 148)]
    near = [put("circle", role="engraves", diameter=12, x=x, y=20) for x in (12, 26)]
    plate = put("rectangle", width=160, height=40, x=80, y=20)

    def flown(design: Design) -> float:
        path = plan(design).program.toolpath()
        own = (path.operation == 0) & ~path.working
        return float(np.hypot(*(path.points[own, 3] - path.points[own, 0]).T).sum())

    assert flown(one_piece(plate, *discs)) < 500  # and not 120 rows of 124 mm
    assert flown(one_piece(plate, *near)) > 120 * 2  # 2 mm are flown over


def test_lines_of_gcode_say_at_which_place_they_are() -> None:
    job = plan(FULL)
    written = [some for some in gcode_lines(job) if some.place >= 0]
    places = [some.place for some in written]
    assert places == sorted(places)
    assert set(places) == set(range(len(job.program.block)))
    assert 0 <= len(job.program) - sum(some.moves for some in written) < 20  # no line goes to where it is
    last = {some.place: some.lines[-1] for some in written}
    for stretch in job.program.stretches():
        found = dict(re.findall(r"([XY])(-?[\d.]+)", last[stretch.place]))
        for axis, at in zip("XY", stretch.points[-1, 3], strict=True):
            assert float(found.get(axis, at)) == pytest.approx(at, abs=6e-4)
