"""Flattening and curve recovery, seen through what comes back."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.lettering import FONTS, Style, set_words
from foliant.core.paths import ARC, CUBIC, LINE, Path, combine, join, similarity
from foliant.core.paths.curves import evaluate
from foliant.core.paths.flatten import TOLERANCE, flatten
from foliant.core.paths.polygons import polygons
from foliant.core.paths.shapes import circle, rectangle, ring
from tests.making import drawn


def curve(*points: tuple[float, float]) -> Path:
    """An open path of one cubic."""
    return drawn(lambda pen: [pen.moveTo(points[0]), pen.curveTo(*points[1:]), pen.endPath()])


spot = st.tuples(st.floats(-50, 50), st.floats(-50, 50))


@given(spot, spot, spot, spot)
def test_edges_lie_within_the_tolerance_of_a_cubic(a: tuple, b: tuple, c: tuple, d: tuple) -> None:
    path = curve(a, b, c, d)
    if not len(path):
        return
    flat = flatten(path)
    line = shapely.LineString([*flat.points, flat.ends[-1]])
    t = np.linspace(0, 1, 400)
    on_curve = evaluate(np.full(400, path.kinds[0]), np.repeat(path.points[:1], 400, axis=0), t)
    assert shapely.distance(line, shapely.points(on_curve)).max() <= TOLERANCE + 2e-4


@given(st.floats(0.5, 400), st.floats(0, 360))
def test_edges_lie_within_the_tolerance_of_a_circle(diameter: float, turn: float) -> None:
    flat = flatten(circle(diameter).transformed(similarity(turn)))
    middles = (flat.points + flat.ends) / 2
    away = np.abs(np.hypot(*middles.T) - diameter / 2)
    assert away.max() <= TOLERANCE + 2e-4
    assert np.allclose(flat.ends[:-1], flat.points[1:])


def test_arcs_of_one_circle_give_the_same_edges_where_they_coincide() -> None:
    whole = circle(60)
    notched = combine([whole], [rectangle(20, 20).moved(30, 0)]).path
    corners = shapely.multipoints(flatten(whole).points)
    own = flatten(notched)
    arc_points = own.points[(notched.kinds[own.segment] == ARC) & (own.t0 > 0)]
    assert len(arc_points) > 30
    # The grid moves the three points that hold an arc by a little, and its corners by as much.
    assert shapely.distance(corners, shapely.points(arc_points)).max() < 3e-4


def test_what_was_cut_out_fits_back_without_a_seam() -> None:
    plate, plug = circle(60), ring(50, 8).moved(14, 3)
    cut = combine([plate], [plug])
    filled = combine([cut.path, plug])
    assert len(filled.bodies) == 1
    # Only the opening of the ring that lies in the plate's own material is material again: no hairlines remain.
    assert filled.path.area == pytest.approx(combine([plate, plug]).path.area, abs=0.02)
    assert all(polygon.area > 0.01 for polygon in map(shapely.Polygon, filled.bodies[0].interiors))


def test_shapes_apart_come_back_node_for_node() -> None:
    shapes = [circle(10), rectangle(8, 4, "scooped", 1).moved(20, 0), ring(12, 2).moved(0, 30)]
    welded = combine(shapes).path
    assert len(welded) == sum(map(len, shapes))
    assert sorted(welded.kinds.tolist()) == sorted(kind for shape in shapes for kind in shape.kinds.tolist())
    assert welded.area == pytest.approx(sum(shape.area for shape in shapes))


def test_a_shape_apart_that_runs_the_wrong_way_is_turned_round() -> None:
    wrong = circle(10).transformed((1, 0, 0, -1, 0, 0))
    assert wrong.area < 0
    assert combine([wrong, circle(4).moved(40, 0)]).path.area == pytest.approx(math.pi * (25 + 4), abs=0.01)


def test_two_copies_of_one_part_are_one() -> None:
    assert len(combine([rectangle(30, 20, "rounded", 4)] * 3).path) == 8


def test_nothing_and_what_has_no_area_come_to_nothing() -> None:
    line = drawn(lambda pen: [pen.moveTo((0, 0)), pen.lineTo((10, 0)), pen.closePath()])
    for adds in ([], [Path()], [line], [curve((0, 0), (1, 5), (4, 5), (5, 0))]):
        result = combine(adds)
        assert len(result.path) == 0
        assert result.bodies == ()
    assert len(combine([circle(10)], [circle(20)]).path) == 0


def test_a_loop_of_one_cubic_survives() -> None:
    loop = drawn(lambda pen: [pen.moveTo((0, 0)), pen.curveTo((40, 30), (-40, 30), (0, 0)), pen.closePath()])
    kept = combine([loop, rectangle(2, 2).moved(0, -10)]).path
    assert (kept.kinds == CUBIC).sum() == 1
    assert kept.area == pytest.approx(abs(loop.area) + 4, abs=0.02)


@given(
    st.text("abcdegjoqsxyzABDGOQRS8&", min_size=1, max_size=6),
    st.sampled_from([font.key for font in FONTS if not font.single_line]),
    st.floats(4, 20),
    st.sampled_from([-12.0, 0.0, 6.0]),
)  # fmt: skip
def test_glyphs_weld_to_the_area_that_geos_finds(words: str, font: str, size: float, tracking: float) -> None:
    glyphs = set_words(words, Style(font, size=size, tracking=tracking)).paths
    everything = join(glyphs)
    groups = np.repeat(np.arange(len(glyphs)), [len(glyph.starts) for glyph in glyphs])
    expected = shapely.union_all(polygons(everything, flatten(everything, 0.0005), groups))
    welded = combine(glyphs)
    assert welded.path.area == pytest.approx(expected.area, abs=0.001 * expected.length + 0.005)
    assert len(welded.bodies) == len([part for part in shapely.get_parts(expected) if part.area > 0.01])


def test_straight_runs_from_several_parts_become_one_line() -> None:
    row = [rectangle(10, 6).moved(10 * i, 0) for i in range(5)]
    welded = combine(row).path
    assert welded.kinds.tolist() == [LINE] * 4
    assert welded.bounds == pytest.approx((-5, -3, 45, 3))


def test_a_crossing_that_the_grid_splits_in_two_leaves_no_speck() -> None:
    disc, plate = circle(18).moved(-9, 19), rectangle(4, 13).moved(-6, 14)
    twice = combine([disc, plate, disc])
    once = combine([disc, plate])
    assert twice.path.area == pytest.approx(once.path.area, abs=1e-3)
    assert len(twice.path) == len(once.path)
