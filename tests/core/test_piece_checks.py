"""What a piece's checks find, where, and that one press mends it."""

from typing import Any

import pytest
import shapely

from foliant.core.checks import Finding
from foliant.core.design import Design, apply, resolve
from foliant.core.paths import combine, join
from foliant.core.paths.shapes import circle, rectangle
from foliant.core.paths.thin import thin_openings, thin_places
from tests.making import check_piece, edited, one_piece, put

PLATE = put("rectangle", width=60, height=30, x=30, y=15)


def found(design: Design, name: str) -> list[Finding]:
    return [finding for finding in check_piece(design, design.pieces[0]) if finding.check == name]


def mended(design: Design, finding: Finding, fix: int = 0) -> Design:
    return apply(design, finding.fixes[fix].edit)


def says(finding: Finding) -> list[str]:
    return [fix.says for fix in finding.fixes]


def test_loose_bodies_are_joined_or_dropped_in_one_press() -> None:
    design = one_piece(put("circle", diameter=20, x=10, y=10), put("circle", diameter=10, x=40, y=10))
    (finding,) = found(design, "bodies_hold_together")
    assert says(finding) == ["Join with a 3 mm bridge here", "Drop it"]
    joined = mended(design, finding)
    assert len(resolve(joined.pieces[0]).outline.bodies) == 1
    assert joined.pieces[0].parts[-1].shape.summary("mm") == "18 × 3"  # 15 mm apart, and 1.5 mm into each
    assert len(resolve(mended(design, finding, 1).pieces[0]).outline.bodies) == 1


def test_the_insides_of_cut_letters_are_all_joined_at_once() -> None:
    design = one_piece(PLATE, put("words", role="cuts", text="BOARD", cap_height=14, x=30, y=15))
    (finding,) = found(design, "bodies_hold_together")
    assert says(finding)[1] == "Join with a 3 mm bridge each"
    assert len(resolve(mended(design, finding).pieces[0]).outline.bodies) == 1


def test_many_loose_bodies_become_one() -> None:
    design = one_piece(*(put("circle", diameter=6, x=11 * (i % 4), y=13 * (i // 4)) for i in range(12)))
    (finding,) = found(design, "bodies_hold_together")
    assert len(resolve(mended(design, finding).pieces[0]).outline.bodies) == 1


@pytest.mark.parametrize("width", [0.4, 0.9, 1.5])
def test_a_neck_is_measured(width: float) -> None:
    dumbbell = combine([circle(20), circle(20).moved(40, 0), rectangle(40, width).moved(20, 0)])
    (neck,) = thin_places(dumbbell, 2.0)
    assert neck.width == pytest.approx(width, abs=0.01)
    assert 9.5 < neck.at[0] < 30.5
    assert not thin_places(dumbbell, width * 0.9)


def test_corners_are_not_thin_and_a_thin_stroke_is() -> None:
    assert not thin_places(combine([rectangle(20, 10)]), 3)
    (stroke,) = thin_places(combine([rectangle(20, 20), rectangle(30, 0.8).moved(15, 0)]), 1.5)
    assert stroke.width == pytest.approx(0.8, abs=0.08)


def test_an_opening_narrower_than_the_cut_is_found() -> None:
    region = combine([rectangle(40, 20)], [rectangle(20, 0.1), circle(5).moved(0, 6)])
    (slit,) = thin_openings(region, 0.2)
    assert slit.shape.bounds[2] - slit.shape.bounds[0] > 18
    design = edited(one_piece(PLATE), put("rectangle", width=30, height=0.1, x=30, y=15, role="cuts"))
    (finding,) = found(design, "openings_can_be_cut")
    assert "narrower than 0.12 mm" in finding.sentence


def test_thin_strokes_are_grown_by_what_they_lack() -> None:
    design = one_piece(put("words", role="adds", text="i", font="bebas-neue", cap_height=30, x=0, y=0))
    design = edited(design, {"do": "change", "of": "stock", "values": {"thinnest": "6"}})
    (finding,) = found(design, "material_is_not_too_thin")
    assert finding.fixes[0].says.startswith("Grow the strokes of i by")
    assert not found(mended(design, finding), "material_is_not_too_thin")


def test_the_limit_is_the_materials_until_the_maker_says_another() -> None:
    design = one_piece(
        put("circle", diameter=20, x=0, y=0), put("circle", diameter=20, x=30, y=0),
        put("rectangle", width=30, height=1, x=15, y=0),
    )  # fmt: skip
    (finding,) = found(design, "material_is_not_too_thin")
    assert "thinner than 1.2 mm" in finding.sentence
    assert "1 mm at its narrowest" in finding.title
    finer = edited(design, {"do": "change", "of": "stock", "values": {"thinnest": "0.8"}})
    assert not found(finer, "material_is_not_too_thin")


def test_marks_beyond_the_outline_are_found_and_those_beside_it_dropped() -> None:
    over = edited(one_piece(PLATE), put("words", text="ORRIN", x=58, y=15))
    (finding,) = found(over, "marks_lie_on_the_piece")
    assert "reaches beyond" in finding.title
    assert not finding.fixes
    beside = edited(one_piece(PLATE), put("line", length=10, x=90, y=15))
    (finding,) = found(beside, "marks_lie_on_the_piece")
    assert not found(mended(beside, finding), "marks_lie_on_the_piece")


def test_what_lies_twice_is_kept_once() -> None:
    ring = put("circle", diameter=10, x=30, y=15, role="scores")
    design = one_piece(PLATE, ring, ring, ring)
    copies = found(design, "nothing_lies_twice")
    assert any("3 times in one place" in finding.title for finding in copies)
    once = mended(design, next(finding for finding in copies if "3 times" in finding.title))
    assert not found(once, "nothing_lies_twice")


def test_a_line_scored_along_the_cut_edge_is_found() -> None:
    design = one_piece(PLATE, put("line", length=40, x=30, y=0))
    (finding,) = found(design, "nothing_lies_twice")
    assert "scored along another edge" in finding.title
    assert len(mended(design, finding).pieces[0].parts) == 1


def test_an_open_line_that_should_cut_is_widened() -> None:
    design = one_piece(PLATE, put("line", length=20, x=30, y=15, role="cuts"))
    (finding,) = found(design, "lines_are_closed")
    assert not found(mended(design, finding), "lines_are_closed")


def test_parts_that_do_nothing_are_findings_that_can_be_dropped() -> None:
    design = one_piece(PLATE, put("hole", width=4, height=4, x=90, y=15))
    (finding,) = found(design, "parts_do_something")
    assert finding.title == "Round hole cuts nothing"
    assert len(mended(design, finding).pieces[0].parts) == 1


def test_bad_places_and_one_body_are_answered_by_sentences() -> None:
    from foliant.core.errors import Refused

    design = one_piece(PLATE)
    refusals: list[tuple[dict[str, Any], str]] = [
        ({"do": "join-bodies", "piece": "p1"}, "one body already"),
        ({"do": "drop-body", "piece": "p1", "x": 1, "y": 1}, "would leave nothing"),
        ({"do": "combine-parts", "piece": "p1", "parts": ["a2"], "how": "weld"}, "at least two"),
        ({"do": "take-apart", "piece": "p1", "parts": ["a2"]}, "not made from other parts"),
        ({"do": "split-bodies", "piece": "p1", "parts": ["a2"]}, "one body"),
        ({"do": "turn-face", "piece": "p1", "parts": ["a2"], "x": 1, "y": 1}, "not divided"),
        ({"do": "add-part", "piece": "p1", "kind": "surround"}, "made from other parts"),
        ({"do": "cross-lap", "piece": "p1", "other": "p1"}, "Two pieces cross"),
    ]
    for edit, sentence in refusals:
        with pytest.raises(Refused, match=sentence):
            edited(design, edit)


def test_the_marks_of_a_finding_lie_on_what_it_is_about() -> None:
    design = one_piece(put("circle", diameter=20, x=10, y=10), put("circle", diameter=10, x=40, y=10))
    (finding,) = found(design, "bodies_hold_together")
    left, _, right, _ = join([finding.spot]).bounds
    assert (left, right) == pytest.approx((35, 45), abs=0.02)
    assert shapely.box(*(finding.place or ())).contains(shapely.Point(40, 10))
