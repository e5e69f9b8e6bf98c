"""Curves: measuring them, and overlays that keep area and curves."""

import math

import numpy as np
import pytest
import shapely
from fontTools.pens.areaPen import AreaPen
from fontTools.pens.boundsPen import BoundsPen
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.paths import ARC, CUBIC, LINE, Path, PathPen, combine, join, similarity
from foliant.core.paths.flatten import flatten
from foliant.core.paths.nesting import depths
from foliant.core.paths.polygons import polygons
from foliant.core.paths.shapes import circle, rectangle, ring, slot
from tests.making import drawn

TAG = rectangle(72, 30, "cut", 6)


def fine_polygon(path: Path) -> shapely.Geometry:
    """The area of a path by a fine flattening and GEOS: the independent reference."""
    flat = flatten(path, 0.0005)
    return shapely.union_all(polygons(path, flat, np.zeros(len(path.starts), np.int64)))


def blob(x: float, y: float, size: float, wobble: float) -> Path:
    """A closed shape of four cubics."""
    k = 0.5523 * (1 + wobble)
    return drawn(lambda pen: _draw_blob(pen, x, y, size, k))


def _draw_blob(pen: PathPen, x: float, y: float, r: float, k: float) -> None:
    pen.moveTo((x + r, y))
    pen.curveTo((x + r, y + r * k), (x + r * k, y + r), (x, y + r))
    pen.curveTo((x - r * k, y + r), (x - r, y + r * k), (x - r, y))
    pen.curveTo((x - r, y - r * k), (x - r * k, y - r), (x, y - r))
    pen.curveTo((x + r * k, y - r), (x + r, y - r * k), (x + r, y))
    pen.closePath()


whole = st.integers(-20, 20)
size = st.integers(2, 30)
shapes = st.one_of(
    st.builds(lambda w, h, x, y: rectangle(w, h).moved(x, y), size, size, whole, whole),
    st.builds(
        lambda w, h, kind, x, y, turn: (
            rectangle(w, h, kind, min(w, h) / 3).transformed(similarity(turn)).moved(x, y)
        ),
        size, size, st.sampled_from(["rounded", "cut", "scooped"]), whole, whole, st.sampled_from([0, 0, 30, 45, 77.3]),
    ),
    st.builds(lambda d, x, y: circle(d).moved(x, y), size, whole, whole),
    st.builds(lambda d, x, y: ring(d + 4, 1.5).moved(x, y), size, whole, whole),
    st.builds(lambda x, y, d, k: blob(x, y, d / 2, k), whole, whole, size, st.floats(-0.2, 0.4)),
)  # fmt: skip


def test_measures_are_exact() -> None:
    disc = circle(20)
    assert disc.area == pytest.approx(math.pi * 100, abs=1e-9)
    assert disc.length == pytest.approx(math.pi * 20, abs=1e-9)
    assert disc.bounds == pytest.approx((-10, -10, 10, 10))
    assert TAG.area == pytest.approx(72 * 30 - 4 * 18)
    assert rectangle(72, 30, "rounded", 6).area == pytest.approx(72 * 30 - (4 - math.pi) * 36)
    assert rectangle(72, 30, "scooped", 6).area == pytest.approx(72 * 30 - math.pi * 36)
    assert slot(3.5, 14).bounds == pytest.approx((-1.75, -7, 1.75, 7))


def test_font_tools_pens_take_our_paths() -> None:
    bounds, area = BoundsPen(None), AreaPen(None)
    path = rectangle(72, 30, "rounded", 6)
    path.draw(bounds)
    path.draw(area)
    assert bounds.bounds == pytest.approx(path.bounds, abs=1e-3)
    assert area.value == pytest.approx(path.area, abs=0.01)


def test_a_path_drawn_to_a_path_pen_is_itself() -> None:
    path = join([rectangle(72, 30, "scooped", 6), circle(9)])
    pen = PathPen()
    path.draw(pen)
    again = pen.path()
    assert np.allclose(again.points, path.points)
    assert (again.kinds == path.kinds).all()


def test_a_circle_stays_two_arcs_through_a_weld() -> None:
    once = combine([TAG], [circle(5).moved(-20, 0)]).path
    assert sorted(once.kinds.tolist()) == [LINE] * 8 + [ARC] * 2


def test_butted_plates_become_one_body_without_a_seam() -> None:
    welded = combine([rectangle(10, 10), rectangle(10, 10).moved(10, 0)])
    assert len(welded.bodies) == 1
    assert len(welded.path) == 4
    assert welded.path.area == pytest.approx(200)


def test_the_inside_of_a_ring_is_open() -> None:
    assert combine([ring(60, 5)]).path.area == pytest.approx(math.pi * (30**2 - 25**2), abs=1e-3)


def test_a_contour_that_crosses_itself_follows_the_nonzero_rule() -> None:
    star = drawn(
        lambda pen: [
            pen.moveTo((0, -10)),
            *(
                pen.lineTo((10 * math.sin(i * 4 * math.pi / 5), -10 * math.cos(i * 4 * math.pi / 5)))
                for i in range(1, 5)
            ),
            pen.closePath(),
        ]
    )
    assert combine([star]).shape.contains(shapely.Point(0, 0))


def test_ten_welds_in_a_row_do_not_wear_a_curve() -> None:
    path = circle(40)
    for i in range(10):
        path = combine([path, circle(12).moved(20 * math.cos(i), 20 * math.sin(i))]).path
    reference = combine([circle(40), *(circle(12).moved(20 * math.cos(i), 20 * math.sin(i)) for i in range(10))])
    worn = shapely.hausdorff_distance(fine_polygon(path).boundary, fine_polygon(reference.path).boundary)
    assert worn < 0.02


@given(st.integers(2, 5), st.floats(-6, 60), st.floats(-4, 4), st.floats(1, 9), st.booleans())
def test_a_row_of_butted_plates_met_by_a_circle(count: int, x: float, y: float, diameter: float, cuts: bool) -> None:
    plates = [rectangle(10, 6).moved(10 * i, 0) for i in range(count)]
    disc = circle(diameter).moved(x, y)
    row = shapely.box(-5, -3, 10 * count - 5, 3)
    expected = row.difference(fine_polygon(disc)) if cuts else row.union(fine_polygon(disc))
    result = combine(plates, [disc]) if cuts else combine([*plates, disc])
    assert result.path.area == pytest.approx(expected.area, abs=0.01)
    assert shapely.symmetric_difference(fine_polygon(result.path), expected).area < 0.01


@given(st.lists(shapes, min_size=1, max_size=5), st.lists(shapes, max_size=3))
def test_overlay_agrees_with_an_independent_computation(adds: list[Path], cuts: list[Path]) -> None:
    result = combine(adds, cuts)
    expected = shapely.union_all([fine_polygon(path) for path in adds])
    if cuts:
        expected = shapely.difference(expected, shapely.union_all([fine_polygon(path) for path in cuts]))
    edge = expected.length + 1
    assert result.path.area == pytest.approx(expected.area, abs=0.001 * edge + 0.01)
    assert shapely.symmetric_difference(fine_polygon(result.path), expected).area < 0.003 * edge + 0.01


@given(st.lists(shapes, min_size=1, max_size=6))
def test_a_weld_has_no_more_nodes_than_went_in_and_lies_between_its_parts(adds: list[Path]) -> None:
    welded = combine(adds).path
    areas = [combine([path]).path.area for path in adds]
    assert max(areas) - 0.05 <= welded.area <= sum(areas) + 0.05
    # Every crossing of two outlines adds a node to each; shapes that barely cross add few.
    crossings = 2 * sum(
        len(shapely.get_parts(shapely.intersection(fine_polygon(a).boundary, fine_polygon(b).boundary)))
        for i, a in enumerate(adds)
        for b in adds[:i]
    )
    assert len(welded) <= sum(map(len, adds)) + crossings


@given(shapes, shapes)
def test_cut_away_and_put_back_restores_the_area(plate: Path, hole: Path) -> None:
    cut = combine([plate], [hole])
    kept = combine([cut.path, hole] if len(cut.path) else [hole])
    together = combine([plate, hole])
    assert kept.path.area == pytest.approx(together.path.area, abs=0.02)


def test_depths_count_what_holds_a_contour() -> None:
    nested = join([circle(40), circle(30), circle(20), circle(4).moved(100, 0)])
    assert depths(nested).tolist() == [0, 1, 2, 0]


def test_a_lopsided_scale_turns_arcs_into_curves_of_the_same_size() -> None:
    oval = circle(20).transformed((2, 0, 0, 1, 0, 0))
    assert (oval.kinds == CUBIC).all()
    assert oval.area == pytest.approx(math.pi * 200, rel=1e-5)
