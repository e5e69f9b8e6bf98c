"""Overlays of what is hard: a bounded share of `make fuzz`, and a case of each class that once raised or lied."""

import math
from random import Random
from typing import Any

import numpy as np
import pytest
import shapely

from foliant.core.design import resolve
from foliant.core.errors import Refused
from foliant.core.paths import ARC, Path, combine, curves, exclude, intersect, subtract
from foliant.core.paths import overlay as overlays
from foliant.core.paths.corners import largest_corner, with_corners
from foliant.core.paths.shapes import arch, circle, outline_of, rectangle, sector, slot
from tests.making import check_piece, edited, glyphs, one_piece, put
from tests.mixes import STYLES, mix, smooth_loop
from tests.oracle import fine_edges, wrong_region

INCH = 25.4


@pytest.mark.parametrize("style", STYLES, ids=lambda style: style.__name__)
@pytest.mark.parametrize("seed", [0, 3])
def test_a_mix_of_every_style_is_as_the_judge_has_it(style: Any, seed: int) -> None:
    adds, cuts = mix(style, seed)
    result = combine(adds, cuts)
    assert wrong_region(result.path, adds, cuts).is_empty


def test_a_chain_of_operations_stays_true() -> None:
    random = Random("chain")
    region = combine([rectangle(60, 40)])
    for step in range(12):
        adds, cuts = mix(random.choice(STYLES[:6] + STYLES[7:]), step)
        other = combine([path.moved(random.uniform(-20, 20), random.uniform(-20, 20)) for path in [*adds, *cuts]])
        if not len(other.path):
            continue
        how = random.choice(("weld", "weld", "subtract"))
        sides = ([region.path, other.path], []) if how == "weld" else ([region.path], [other.path])
        result = combine(*sides)
        assert wrong_region(result.path, *sides).is_empty, (step, how)
        region = result if len(result.path) else region


@pytest.mark.parametrize("step", [0.0001, 0.0002, 0.0003, 0.0005])
@pytest.mark.parametrize("turn", [0, 33.3])
def test_a_plate_and_its_copy_a_breath_beside_it_are_one(step: float, turn: float) -> None:
    from foliant.core.paths import similarity

    first = rectangle(72, 30, "cut", 6).moved(36, 15)
    paths = [path.transformed(similarity(turn)) for path in (first, first.moved(step, step))]
    welded = combine(paths)
    assert welded.path.area == pytest.approx(first.area, abs=0.15)
    assert len(welded.path) <= 10
    assert not len(welded.rough)


@pytest.mark.parametrize("sixty_fourths", range(1, 64, 7))
def test_fractions_of_an_inch_repeated_and_typed_anew_to_three_decimals_are_one_plate(sixty_fourths: int) -> None:
    wide = (1 + sixty_fourths / 64) * INCH
    first = rectangle(wide, INCH / 3).moved(wide / 2, INCH / 6)
    again = rectangle(round(wide, 3), round(INCH / 3, 3)).moved(round(wide / 2, 3), round(INCH / 6, 3))
    row = [first.moved(i * wide, 0) for i in range(3)]
    welded = combine([*row, *(again.moved(i * round(wide, 3), 0) for i in range(3))])
    assert len(welded.bodies) == 1
    assert welded.path.area == pytest.approx(3 * first.area, rel=1e-3)


@pytest.mark.parametrize("seed", range(15))
def test_a_closed_smooth_line_that_crosses_itself_bounds_what_it_goes_round(seed: int) -> None:
    random = Random(f"loop {seed}")
    loop = smooth_loop(random, random.randint(2, 4), 15)
    assert wrong_region(combine([loop]).path, [loop], []).is_empty


def test_a_bow_tie_is_two_triangles_alone_and_as_a_cut() -> None:
    tie = outline_of([(0, 0), (10, 10), (10, 0), (0, 10)])
    assert combine([tie]).path.area == pytest.approx(50)
    assert combine([rectangle(40, 40)], [tie]).path.area == pytest.approx(1550)
    eight = combine([tie, circle(2).moved(30, 30)])
    assert eight.path.area == pytest.approx(50 + math.pi, abs=1e-6)


@pytest.mark.parametrize("angle", range(45, 121, 15))
@pytest.mark.parametrize("size", [0.5, 5.0])
def test_the_corners_of_a_slice_are_rounded_by_true_tangent_circles(angle: int, size: float) -> None:
    shape = sector(60, angle)
    rounded = with_corners(shape, "rounded", size)
    # What a disc of that size reaches of the slice: the slice shrunk and grown again.
    disc = shapely.Polygon(fine_edges(shape)[0]).buffer(-size, quad_segs=256).buffer(size, quad_segs=256)
    ours = shapely.Polygon(fine_edges(rounded)[0])
    assert ours.symmetric_difference(disc).buffer(-0.005).is_empty
    _, radius, _, _ = curves.circles(rounded.points[rounded.kinds == ARC])
    assert (np.abs(radius - size) < 0.02).sum() == 3
    assert combine([rounded]).path.area == pytest.approx(rounded.area, abs=0.01)


@pytest.mark.parametrize("shape", [sector(60, 75), sector(50, 200, 20), arch(40, 30, 12), slot(8, 30), rectangle(9, 4)])
def test_the_largest_corner_that_is_said_to_fit_does(shape: Path) -> None:
    most = largest_corner(shape, "rounded")
    if not most:
        return
    assert with_corners(shape, "rounded", most).area < shape.area - 0.01
    asked = with_corners(shape, "rounded", most + 5)  # too large: all take the largest
    assert asked.area == pytest.approx(with_corners(shape, "rounded", most).area)


@pytest.mark.parametrize("half", ["left", "right", "upper", "lower"])
@pytest.mark.parametrize(("words", "font"), [("Quoin", "pacifico"), ("MAG 8", "bebas-neue"), ("&afg", "lobster")])
def test_a_half_that_is_mirrored_meets_its_image(half: str, words: str, font: str) -> None:
    plain = one_piece(put("words", text=words, font=font, cap_height=12.7, role="adds"))
    treated = {"do": "treat-parts", "piece": "p1", "parts": ["a2"], "treatment": "halved", "values": {"half": half}}
    whole, outline = resolve(plain.pieces[0]).outline, resolve(edited(plain, treated).pieces[0]).outline
    left, top, right, bottom = whole.path.bounds
    middle = ((left + right) / 2, (top + bottom) / 2)
    side = shapely.box(
        left if half != "right" else middle[0],
        top if half != "lower" else middle[1],
        right if half != "left" else middle[0],
        bottom if half != "upper" else middle[1],
    )
    assert outline.shape.intersection(side).symmetric_difference(whole.shape.intersection(side)).buffer(-0.02).is_empty
    flip = np.array([-1, 1]) if half in ("left", "right") else np.array([1, -1])
    mirrored = shapely.transform(outline.shape, lambda points: (points - middle) * flip + middle)
    assert outline.shape.symmetric_difference(mirrored).buffer(-0.02).is_empty


def test_a_circle_made_plain_is_still_cut_in_arcs() -> None:
    plain = edited(one_piece(put("circle", diameter=40)), {"do": "make-plain", "piece": "p1", "parts": ["a2"]})
    path = resolve(plain.pieces[0]).outline.path
    assert set(path.kinds.tolist()) == {ARC}
    assert path.area == pytest.approx(400 * math.pi, abs=0.01)


def test_an_answer_of_geos_that_cannot_be_true_is_asked_for_in_another_way(monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[float | None] = []
    true = shapely.union_all

    def lying(shapes: Any) -> Any:
        asked.append(None)
        return true(shapes).buffer(1)  # more area than went in

    monkeypatch.setattr(overlays.shapely, "disjoint_subset_union_all", lying)
    plates = [rectangle(10, 10), rectangle(10, 10).moved(5, 5)]
    assert combine(plates).path.area == pytest.approx(175, abs=0.01)
    assert asked == [None]
    monkeypatch.setattr(overlays.shapely, "union_all", lambda *_, **__: true(np.array([shapely.box(0, 0, 99, 99)])))
    with pytest.raises(Refused, match="move one of them by a hundredth"):
        combine(plates)


def test_where_curves_are_lost_the_edges_stand_and_a_finding_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    from foliant.core.paths import assemble
    from foliant.core.remembering import forget

    def astray(edges: Any, *_: Any) -> Any:
        return np.ones(int(edges.ring[-1]) + 1, bool)

    design = one_piece(put("circle", diameter=20), put("circle", diameter=20, x=8))
    forget()
    monkeypatch.setattr(assemble, "_astray", astray)
    outline = resolve(design.pieces[0]).outline
    findings = check_piece(design, design.pieces[0])
    forget()
    assert len(outline.rough) == len(outline.path) > 50
    assert outline.path.area == pytest.approx(outline.shape.area)
    assert [finding.check for finding in findings] == ["curves_are_kept"]


def test_other_operations_are_bounded_by_their_inputs_too() -> None:
    one, two = list(glyphs("R", "lobster", 20)), list(glyphs("8", "pacifico", 20))
    both, common, odd = combine([*one, *two]), intersect([one, two]), exclude([one, two])
    assert both.path.area == pytest.approx(odd.path.area + common.path.area, abs=0.05)
    assert subtract(one, [two]).path.area == pytest.approx(combine(one).path.area - common.path.area, abs=0.05)


def test_what_is_thin_on_the_whole_and_not_at_its_end_keeps_the_end() -> None:
    plate = rectangle(100, 10)
    cuts = [rectangle(96, 10).moved(-2, 0.003), rectangle(6, 10).moved(49, 0.1)]
    left = combine([plate], cuts)
    assert left.shape.area == pytest.approx(4 * 0.1, rel=0.1)
    assert combine([plate], [rectangle(110, 10).moved(0, 0.003)]).shape.area == 0
