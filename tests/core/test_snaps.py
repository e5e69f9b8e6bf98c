"""Snaps: the points a part can be put on, said in words."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.checks import check
from foliant.core.design import Design, resolve
from foliant.core.design.distances import gap_between
from foliant.core.design.snaps import Snap, snaps
from foliant.core.errors import Refused
from foliant.core.layout import lay_out
from foliant.core.units import format_length, parse_length
from tests.making import edited, one_piece, plan, put


def points(design: Design) -> dict[str, tuple[float, float]]:
    return {snap.says: (snap.x, snap.y) for snap in snaps(design.pieces[0]).points}


def test_a_rectangle_offers_its_corners_middles_and_centre() -> None:
    found = points(one_piece(put("rectangle", width=72, height=30)))
    assert found["upper left corner of Rectangle"] == (0, 0)
    assert found["lower right corner of Rectangle"] == (72, 30)
    assert found["middle of the upper edge of Rectangle"] == (36, 0)
    assert found["middle of Rectangle"] == (36, 15)
    assert len(found) == 9


def test_a_circle_offers_its_quarter_points_and_a_turned_part_its_own() -> None:
    design = one_piece(put("circle", diameter=20))
    assert points(design)["upper quarter point of Circle"] == (10, 0)
    assert points(design)["left quarter point of Circle"] == (0, 10)
    turned = one_piece(put("rectangle", width=20, height=10, x=0, y=0))
    turned = edited(turned, {"do": "change", "of": "part a2", "values": {"rotation": 90}})
    corners = {(snap.x, snap.y) for snap in snaps(turned.pieces[0]).points if "corner" in snap.says}
    assert corners == {(-5, -10), (5, -10), (5, 10), (-5, 10)}


def test_crossings_of_outlines_are_offered_and_name_both() -> None:
    design = one_piece(put("circle", diameter=20, x=0, y=0), put("line", length=40, x=0, y=6))
    crossings = [snap for snap in snaps(design.pieces[0]).points if snap.says.startswith("crossing")]
    assert sorted(round(snap.x, 2) for snap in crossings) == [-8, 8]
    assert all({snap.part, snap.other} == {"a2", "a3"} for snap in crossings)
    ends = {snap.says for snap in snaps(design.pieces[0]).points if snap.part == "a3"}
    assert {"left end of Line", "right end of Line"} <= {
        says.replace("upper ", "").replace("lower ", "") for says in ends
    }


def test_words_offer_the_ends_of_their_baseline() -> None:
    design = one_piece(put("words", text="ORRIN", cap_height=8, x=50, y=20))
    ends = [snap for snap in snaps(design.pieces[0]).points if "baseline" in snap.says]
    assert [snap.y for snap in ends] == [24, 24]


@given(st.sampled_from(["star", "heart", "arch", "drop", "sector", "polygon", "ellipse"]), st.floats(-180, 180))
def test_every_edge_offered_lies_on_the_outline(kind: str, turn: float) -> None:
    design = edited(one_piece(put(kind)), {"do": "change", "of": "part a2", "values": {"rotation": turn}})
    found = snaps(design.pieces[0])
    edges = [tuple(point) for _, chain in found.edges for point in chain]
    corners: list[Snap] = [snap for snap in found.points if "corner" in snap.says]
    for corner in corners:
        assert min(math.dist((corner.x, corner.y), edge) for edge in edges) < 1e-3


def test_hidden_parts_offer_nothing() -> None:
    design = one_piece(put("rectangle"), put("circle"))
    hidden = edited(design, {"do": "mark-parts", "piece": "p1", "parts": ["a3"], "hidden": True})
    assert all(snap.part == "a2" for snap in snaps(hidden.pieces[0]).points)


def test_the_gap_between_two_parts_is_the_shortest_way_between_their_edges() -> None:
    design = one_piece(
        put("circle", diameter=10, x=0, y=0), put("circle", diameter=6, x=30, y=40), put("line", x=0, y=20)
    )
    one, two, line = design.pieces[0].parts
    assert gap_between(one, two) == pytest.approx(50 - 5 - 3, abs=0.01)
    assert gap_between(one, line) == pytest.approx(15, abs=0.01)


def test_a_dimension_is_typed_and_the_piece_follows() -> None:
    design = one_piece(put("rectangle", width=72, height=30), put("hole", width=4, height=4, x=10, y=10))
    wide = edited(design, {"do": "size-piece", "piece": "p1", "width": "4in"})
    assert wide.pieces[0].parts[0].shape.width == pytest.approx(101.6)  # type: ignore[union-attr]
    apart = {"do": "set-distance", "piece": "p1", "parts": ["a3"], "from": [0, 10], "to": [8, 10], "distance": "5"}
    assert edited(design, apart).pieces[0].parts[1].x == pytest.approx(7)
    with pytest.raises(Refused, match="one place"):
        edited(design, {**apart, "to": [0, 10]})
    two = one_piece(put("circle", diameter=10, x=0, y=0), put("circle", diameter=10, x=20, y=0))
    size = {"do": "size-piece", "piece": "p1", "width": 60}
    assert resolve(edited(two, size).pieces[0]).bounds == pytest.approx((-20, -10, 40, 10))  # the whole of it
    with pytest.raises(Refused, match="No single part"):
        edited(two, {**size, "how": "plate"})


def test_an_instance_is_aligned_with_the_sheet() -> None:
    design = one_piece(put("rectangle", width=72, height=30), copies=2)
    align = {"do": "align-instance", "piece": "p1", "number": 2, "x": 9, "y": 9}
    middle = lay_out(edited(design, {**align, "across": "middle", "down": "far"})).instances[1]
    assert middle.bounds[:2] == (114, 200 - 4 - 30)
    assert lay_out(edited(design, {**align, "down": "near"})).instances[1].bounds[:2] == (9, 4)


def test_what_is_hidden_or_open_is_found_by_the_checks() -> None:
    design = one_piece(put("rectangle", width=60, height=40), put("line", role="adds", x=30, y=20), put("circle"))
    design = edited(design, {"do": "mark-parts", "piece": "p1", "parts": ["a4"], "hidden": True})
    titles = [finding.title for finding in check(plan(design))]
    assert "Line adds no material" in titles
    assert "A part is hidden on Guide tag" in titles


@pytest.mark.parametrize(
    ("inches", "says"),
    [
        (1.375, "1 3/8 in"),
        (0.5, "1/2 in"),
        (3, "3 in"),
        (0, "0 in"),
        (-2.25, "-2 1/4 in"),
        (1 / 64, "1/64 in"),
        (0.3, "~19/64 in"),
    ],
)
def test_fractions_of_an_inch_are_shown_to_sixty_fourths(inches: float, says: str) -> None:
    assert format_length(inches * 25.4, "fraction") == says


@given(st.integers(-2000, 2000))
def test_a_shown_fraction_reads_back_exactly(sixty_fourths: int) -> None:
    length = sixty_fourths * 25.4 / 64
    assert parse_length(format_length(length, "fraction"), "fraction") == pytest.approx(length, abs=1e-5)
    assert parse_length(format_length(length, "fraction", with_unit=False), "fraction") == pytest.approx(
        length, abs=1e-5
    )
