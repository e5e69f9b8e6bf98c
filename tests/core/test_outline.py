"""The live outline of a piece: any mix agrees with GEOS, edges that meet are one, parts that do nothing say so."""

import math
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design, resolve
from foliant.core.design.idle import idle_parts
from foliant.core.lettering import Style, set_words
from foliant.core.paths import Path, combine, divide, exclude, intersect, similarity, subtract
from foliant.core.paths.flatten import flatten
from foliant.core.paths.polygons import polygons
from foliant.core.paths.shapes import circle, outline_of, rectangle, regular_polygon, ring
from tests.core.test_paths import blob, fine_polygon
from tests.making import edited, glyphs, one_piece, put

HERE: dict[str, Any] = {"piece": "p1"}
whole = st.integers(-15, 15)
half = st.integers(-30, 30).map(lambda n: n / 2)
size = st.integers(2, 20)
turns = st.sampled_from([0, 0, 0, 30, 45, 90])
GLYPHS = [glyph for font in ("pacifico", "zilla-slab", "bebas-neue") for glyph in glyphs("OBSERVatory", font, 14)]

# Sizes and places on a coarse grid, so that many edges are shared and many corners touch.
mixed = st.one_of(
    st.builds(lambda w, h, x, y: rectangle(w, h).moved(x, y), size, size, half, half),
    st.builds(
        lambda w, h, t, x, y: rectangle(w, h).transformed(similarity(t)).moved(x, y), size, size, turns, whole, whole
    ),
    st.builds(lambda d, x, y: circle(d).moved(x, y), size, half, half),
    st.builds(lambda d, x, y: ring(d + 4, 1.5).moved(x, y), size, whole, whole),
    st.builds(
        lambda n, r, t, x, y: regular_polygon(n, r).transformed(similarity(t)).moved(x, y),
        st.integers(3, 8),
        size,
        turns,
        whole,
        whole,
    ),
    st.builds(lambda d, k, x, y: blob(x, y, d / 2, k), size, st.floats(-0.2, 0.4), half, half),
    st.builds(lambda glyph, x, y: glyph.moved(x, y), st.sampled_from(GLYPHS), whole, whole),
)


def area(design: Design) -> float:
    return resolve(design.pieces[0]).outline.path.area


def reference(paths: list[Path]) -> shapely.Geometry:
    """The area of paths by a flattening a hundred times finer, united by GEOS alone."""
    found = []
    for path in paths:
        flat = flatten(path, 0.00002)
        found.append(shapely.union_all(polygons(path, flat, np.zeros(len(path.starts), np.int64))))
    return shapely.union_all(found)


def test_a_speck_of_the_grid_does_not_turn_a_corner_into_a_line() -> None:
    # Two bars across a D, such that GEOS leaves an edge of a single grid step where one meets the stem.
    letter = set_words("D", Style("zilla-slab", size=20.0)).letters[0].outline
    bars = (
        [(15.3737, -14.7327), (17.943, -17.302), (18.7915, -16.4535), (16.2222, -13.8842)],
        [(6.9609, -6.3199), (0.9295, -0.2886), (1.7781, 0.56), (7.8094, -5.4714)],
    )
    cut = combine([letter], [outline_of(bar) for bar in bars])
    assert cut.path.area == pytest.approx(178.25, abs=0.1)
    assert len(cut.bodies) == 2


@given(st.lists(mixed, min_size=1, max_size=6), st.lists(mixed, max_size=3))
def test_any_mix_has_the_area_that_geos_finds(adds: list[Path], cuts: list[Path]) -> None:
    result = combine(adds, cuts)
    expected = reference(adds).difference(reference(cuts)) if cuts else reference(adds)
    # A hundredth of a square millimetre for every 100 mm of edge; hairlines, which are closed, count as edge.
    edge = max(expected.length, 100) / 100
    assert abs(result.path.area - expected.area) <= 0.01 * edge + hairlines(expected)
    assert shapely.is_valid(result.shape)
    bodies = solid(expected)
    # Curves that overlap by less than their flattenings tell may be two bodies that touch.
    apart = shapely.union_all([reference([path]).buffer(-0.011) for path in adds])
    assert len(solid(result.shape)) <= max(len(bodies), len(solid(apart.difference(reference(cuts)))))
    for body in bodies:
        assert result.shape.distance(body.representative_point()) < 0.02  # none is lost


def solid(shape: shapely.Geometry) -> list[shapely.Geometry]:
    """The bodies of a shape that are more than specks; what only touches at a point is two."""
    return [body for body in shapely.get_parts(shape.buffer(-0.05)) if body.area > 0.05]


def hairlines(shape: shapely.Geometry) -> float:
    """The area of gaps and fins narrower than a hairline, which an outline closes."""
    closed = shape.buffer(0.0125, join_style="mitre").buffer(-0.0125, join_style="mitre")
    opened = shape.buffer(-0.0125, join_style="mitre").buffer(0.0125, join_style="mitre")
    return closed.difference(shape).area + shape.difference(opened).area


@pytest.mark.parametrize("gap", [0.0, 0.00005, 0.004, 0.015, -0.004])
@pytest.mark.parametrize("turn", [0, 30, 77.3])
def test_plates_butted_at_an_edge_are_one_body_without_a_seam(gap: float, turn: float) -> None:
    plates = [rectangle(20, 10), rectangle(30, 10).moved(25 + gap, 0)]
    welded = combine([plate.transformed(similarity(turn)) for plate in plates])
    assert len(welded.bodies) == 1
    assert len(welded.path) == 4
    assert welded.path.area == pytest.approx(500, abs=0.5)


def test_a_real_gap_stays_a_gap() -> None:
    assert len(combine([rectangle(20, 10), rectangle(20, 10).moved(20.05, 0)]).bodies) == 2


def test_a_letter_cut_out_of_itself_and_a_disc_leaves_no_line_there_and_back() -> None:
    letter = next(glyph for glyph in glyphs("V", "bebas-neue", 14)).moved(1, -10)
    disc = circle(15).moved(-1, 0)
    left = combine([disc, letter], [letter])
    assert left.path.area == pytest.approx(subtract([disc], [[letter]]).path.area, abs=0.01)
    assert left.path.length == pytest.approx(left.shape.length, abs=0.1)
    assert left.path.bounds == pytest.approx((-8.5, -7.5, 6.5, 7.5), abs=0.01)  # nothing runs up along the letter


def test_a_disc_in_its_own_hole_leaves_no_ring() -> None:
    plate = combine([rectangle(40, 40)], [circle(20)]).path
    filled = combine([plate, circle(20.006).transformed(similarity(17))])
    assert len(filled.path) == 4


def test_a_cut_that_nearly_meets_the_edge_leaves_no_fin() -> None:
    cut = combine([rectangle(40, 20)], [rectangle(10, 12).moved(14.99, 0)])
    assert len(cut.bodies) == 1
    assert cut.path.area == pytest.approx(800 - 120, abs=0.3)


def test_coincident_copies_are_one_outline() -> None:
    star = regular_polygon(7, 12)
    assert len(combine([star] * 5).path) == 7
    assert combine([star, star], [star]).path.area == 0


@given(mixed, mixed)
def test_combinations_keep_the_sums_of_their_areas(one: Path, two: Path) -> None:
    a, b = combine([one]).path.area, combine([two]).path.area
    both = intersect([[one], [two]]).path.area
    near = 0.05
    assert combine([one, two]).path.area == pytest.approx(a + b - both, abs=near)
    assert subtract([one], [[two]]).path.area == pytest.approx(a - both, abs=near)
    assert exclude([[one], [two]]).path.area == pytest.approx(a + b - 2 * both, abs=near)
    assert sum(face.path.area for face in divide([one], [two])) == pytest.approx(a, abs=near)


def test_ten_operations_in_a_row_do_not_wear_an_outline() -> None:
    path, discs = circle(60), [circle(9.3).moved(30 * math.cos(i * 0.6), 30 * math.sin(i * 0.6)) for i in range(10)]
    for disc in discs:
        path = combine([path, disc]).path
        path = subtract([path], [[disc]]).path
        path = combine([path, disc]).path
    once = combine([circle(60), *discs]).path
    assert shapely.hausdorff_distance(fine_polygon(path).boundary, fine_polygon(once).boundary) < 0.02


def test_a_combination_follows_its_parts_and_its_keeper_can_be_swapped() -> None:
    design = one_piece(put("circle", diameter=40, x=0, y=0), put("rectangle", width=30, height=10, x=20, y=0))
    design = edited(design, {"do": "combine-parts", **HERE, "parts": ["a2", "a3"], "how": "subtract"})
    overlap = intersect([[circle(40)], [rectangle(30, 10).moved(20, 0)]]).path.area
    assert area(design) == pytest.approx(math.pi * 400 - overlap, abs=0.01)
    design = edited(design, {"do": "change", "of": "part a4", "values": {"keeper": "a3"}})
    assert area(design) == pytest.approx(300 - overlap, abs=0.01)
    design = edited(design, {"do": "change", "of": "part a4", "values": {"how": "weld"}})
    assert area(design) == pytest.approx(math.pi * 400 + 300 - overlap, abs=0.01)
    moved = edited(design, {"do": "move-parts", **HERE, "parts": ["a4"], "dx": 7, "dy": -2})
    assert (moved.pieces[0].part("a2").x, moved.pieces[0].part("a3").x) == (7, 27)
    turned = edited(design, {"do": "rotate-parts", **HERE, "parts": ["a4"], "by": 90})
    assert area(turned) == pytest.approx(area(design), abs=0.01)
    apart = edited(design, {"do": "take-apart", **HERE, "parts": ["a4"]})
    assert [part.id for part in apart.pieces[0].parts] == ["a2", "a3"]


def test_combinations_nest_and_are_copied_whole() -> None:
    design = one_piece(*(put("circle", diameter=20, x=12 * i, y=0) for i in range(3)))
    design = edited(
        design,
        {"do": "combine-parts", **HERE, "parts": ["a2", "a3"], "how": "intersect"},
        {"do": "combine-parts", **HERE, "parts": ["a4", "a5"], "how": "weld"},
    )
    lens = intersect([[circle(20)], [circle(20).moved(12, 0)]]).path.area
    both = intersect([[circle(20)], [circle(20).moved(12, 0)], [circle(20).moved(24, 0)]]).path.area
    assert area(design) == pytest.approx(lens + math.pi * 100 - both, abs=0.01)
    copied = edited(design, {"do": "duplicate-parts", **HERE, "parts": ["a6"], "dx": 100, "dy": 0})
    assert area(copied) == pytest.approx(2 * area(design), abs=0.01)
    gone = edited(copied, {"do": "remove-parts", **HERE, "parts": ["a6"]})
    assert len(gone.pieces[0].parts) == 5
    assert area(gone) == pytest.approx(area(design), abs=0.01)


def test_a_divided_plate_drops_the_part_that_is_pressed_and_takes_it_along() -> None:
    design = one_piece(put("rectangle", width=40, height=20, x=20, y=10), put("line", length=60, x=20, y=10))
    design = edited(
        design,
        {"do": "combine-parts", **HERE, "parts": ["a2", "a3"], "how": "divide"},
        {"do": "turn-face", **HERE, "parts": ["a4"], "x": 20, "y": 4},
    )
    assert area(design) == pytest.approx(400)
    turned = edited(design, {"do": "rotate-parts", **HERE, "parts": ["a4"], "by": 90})
    assert area(turned) == pytest.approx(400, abs=0.01)
    kept = edited(design, {"do": "turn-face", **HERE, "parts": ["a4"], "x": 20, "y": 4})
    assert area(kept) == pytest.approx(800)
    split = edited(kept, {"do": "split-bodies", **HERE, "parts": ["a4"]})
    assert [part.shape.kind for part in split.pieces[0].parts] == ["drawn", "drawn"]


def test_parts_that_do_nothing_say_so() -> None:
    design = one_piece(
        put("rectangle", width=40, height=30, x=20, y=15),
        put("circle", diameter=10, x=20, y=15),
        put("hole", width=4, height=4, x=80, y=15),
        put("hole", width=4, height=4, x=10, y=15),
        put("rectangle", width=40, height=30, x=20, y=15),
    )
    assert idle_parts(design.pieces[0]) == {"a3": "adds nothing", "a4": "cuts nothing", "a6": "adds nothing"}
