"""What a piece's checks find, where, and that one press mends it."""

import math
from typing import Any

import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from foliant.core.checks import Finding
from foliant.core.design import Design, apply, resolve
from foliant.core.paths import combine, join, similarity
from foliant.core.paths.shapes import circle, outline_of, rectangle, star
from foliant.core.paths.thin import lost_openings, thin_places
from tests.making import check_piece, edited, one_piece, plan, put

turns, places = st.floats(0, 360), st.floats(-500, 500)
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
    assert says(finding)[0] == "Hold the counters by stencil bridges"
    assert len(resolve(mended(design, finding).pieces[0]).outline.bodies) == 1
    joined = edited(design, {"do": "join-bodies", "piece": "p1", "width": 3})
    assert len(resolve(joined.pieces[0]).outline.bodies) == 1


def test_many_loose_bodies_become_one() -> None:
    design = one_piece(*(put("circle", diameter=6, x=11 * (i % 4), y=13 * (i // 4)) for i in range(12)))
    (finding,) = found(design, "bodies_hold_together")
    assert len(resolve(mended(design, finding).pieces[0]).outline.bodies) == 1


@pytest.mark.parametrize("text", ["AB", "Éloïse", "1836"])
def test_what_is_kiss_cut_stays_on_its_backing_and_what_is_cut_through_does_not(text: str) -> None:
    letters = one_piece(put("words", role="adds", text=text, font="archivo", cap_height=20, x=50, y=20))
    assert found(letters, "bodies_hold_together")
    foil = edited(letters, {"do": "add-operation", "work": "kiss", "piece": "p1", "mark": "outer"})
    assert not found(foil, "bodies_hold_together")
    (own,) = foil.ticket.operations
    through = {"do": "assign-marks", "piece": "p1", "mark": "outer", "operation": "outer"}
    assert own.work == "kiss"
    assert found(edited(foil, through), "bodies_hold_together")


@pytest.mark.parametrize(
    ("text", "font", "cap"), [("BOARD", "archivo", 14), ("Bo8", "lora", 20), ("Q", "bebas-neue", 18)]
)
def test_stencil_bridges_hold_in_one_press_and_act_only_where_letters_are_cut_through(
    text: str, font: str, cap: float
) -> None:
    words = {"text": text, "font": font, "cap_height": cap, "x": 45, "y": 20}
    design = one_piece(put("rectangle", width=90, height=40, x=45, y=20), put("words", role="cuts", **words))
    (loose,) = found(design, "bodies_hold_together")
    held = mended(design, loose)
    assert not check_piece(held, held.pieces[0])
    marked = edited(held, {"do": "set-role", "piece": "p1", "parts": ["a3"], "role": "engraves"})
    plain = one_piece(put("rectangle", width=90, height=40, x=45, y=20), put("words", role="engraves", **words))
    areas = [resolve(one.pieces[0]).engraved.path.area for one in (marked, plain)]
    assert areas[0] == pytest.approx(areas[1], abs=1e-6)


@pytest.mark.parametrize("text", ["BOARD", "Q&A", "800"])
def test_bridges_that_each_hold_something_are_not_idle(text: str) -> None:
    design = one_piece(PLATE, put("words", role="cuts", text=text, font="archivo", cap_height=14, x=30, y=15))
    assert found(design, "bodies_hold_together")
    joined = edited(design, {"do": "join-bodies", "piece": "p1", "width": 3})
    assert not found(joined, "parts_do_something")
    beside = edited(joined, put("bridge", x=3, y=3, width=3, length=2))
    assert [finding.title for finding in found(beside, "parts_do_something")] == ["Bridge adds nothing"]


@pytest.mark.parametrize("width", [0.4, 0.9, 1.5])
def test_a_neck_is_measured(width: float) -> None:
    dumbbell = combine([circle(20), circle(20).moved(40, 0), rectangle(40, width).moved(20, 0)])
    (neck,) = thin_places(dumbbell, 2.0)
    assert neck.width == pytest.approx(width, abs=0.01)
    assert 9.5 < neck.at[0] < 30.5
    assert not thin_places(dumbbell, width * 0.9)


@given(st.floats(1.2, 3), st.floats(0.5, 1.5), turns, places, places)
def test_coins_that_meet_in_less_than_the_limit_are_thin_there(
    limit: float, share: float, turn: float, x: float, y: float
) -> None:
    assume(abs(share - 1) > 0.05)
    width = limit * share
    apart = 2 * math.sqrt(16 - width * width / 4)
    coins = join([circle(8), circle(8).moved(apart, 0)]).transformed(similarity(turn)).moved(x, y)
    found = thin_places(combine([coins]), limit)
    assert bool(found) is (share < 1)
    if found:
        assert found[0].width == pytest.approx(width, rel=0.25)  # which a short line at its end makes out


def test_corners_are_not_thin_and_a_thin_stroke_is() -> None:
    assert not thin_places(combine([rectangle(20, 10)]), 3)
    (stroke,) = thin_places(combine([rectangle(20, 20), rectangle(30, 0.8).moved(15, 0)]), 1.5)
    assert stroke.width == pytest.approx(0.8, abs=0.08)


@given(st.floats(0.05, 0.4), st.floats(0.5, 1.6), turns, places, places)
def test_an_opening_is_lost_just_where_it_is_narrower_than_the_cut(
    cut: float, share: float, turn: float, x: float, y: float
) -> None:
    assume(abs(share - 1) > 0.03)
    width = cut * share
    slot = rectangle(12, width)
    # Two rooms with a way between: narrowed by the cut they are two openings.
    rooms = combine([circle(4), circle(4).moved(10, 0), rectangle(10, width).moved(5, 0)])
    # What is narrow by nature: the points of a star, a wedge, and the tips of a lens.
    spiky, wedge = star(5, 8, 3), outline_of([(0, 0), (12, 0.0), (12, 3.0)])
    for path, lost in ((slot, share < 1), (rooms.path, share < 1), (spiky, False), (wedge, False)):
        placed = path.transformed(similarity(turn)).moved(x, y)
        found = lost_openings(combine([placed]).shape, cut)
        assert bool(found) is lost
        if found:
            assert found[0].width == pytest.approx(width, rel=0.05, abs=0.01)


def test_an_opening_narrower_than_the_cut_is_widened_by_a_press() -> None:
    design = edited(one_piece(PLATE), put("rectangle", width=30, height=0.1, x=30, y=15, role="cuts"))
    (finding,) = found(design, "openings_can_be_cut")
    assert "0.12 mm" in finding.sentence
    assert finding.fixes[0].says.startswith("Widen Rectangle by")
    assert not found(mended(design, finding), "openings_can_be_cut")
    edge = edited(one_piece(PLATE), put("rectangle", width=20, height=0.1, x=0, y=15, role="cuts"))
    assert found(edge, "openings_can_be_cut")  # and one that is open to the side


@pytest.mark.parametrize("name", ["Ysolde", "Bartholomew", "Željko", "VAMPIRE"])
def test_a_joined_name_comes_clean(name: str) -> None:
    words = put("words", text=name, font="damion", cap_height=20, role="adds")
    joined = {"do": "set-letters", "piece": "p1", "parts": ["a2"], "what": "joined", "to": "on"}
    design = edited(one_piece(words), joined)
    for _ in range(3):
        findings = check_piece(design, design.pieces[0])
        if not findings:
            break
        design = mended(design, findings[0])
    assert check_piece(design, design.pieces[0]) == ()


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
    long = put("words", text="Petronella Quillmoor", cap_height=7, x=30, y=9)
    two = edited(one_piece(PLATE), long, {**long, "y": 22})
    for left in (2, 1):  # each is kept within the plate by its own press
        findings = found(two, "marks_lie_on_the_piece")
        assert len(findings) == left
        two = mended(two, findings[0])
    assert not found(two, "marks_lie_on_the_piece")
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


def test_a_slit_is_cut_and_is_no_fault_until_it_parts_the_piece() -> None:
    flap = put("flap", x=30, y=15, width=10, height=16)
    design = one_piece(PLATE, flap)
    assert not check_piece(design, design.pieces[0])
    job = plan(design)
    inner = next(line for line in job.lines if line.id == "inner")
    assert inner.lines.length == pytest.approx(2 * 11 + 5 * math.pi)
    across = one_piece(PLATE, put("line", length=60, x=30, y=15, role="cuts"))
    assert [finding.check for finding in check_piece(across, across.pieces[0])] == ["slits_part_nothing"]
    beyond = one_piece(PLATE, put("line", length=40, x=50, y=15, role="cuts"))
    (finding,) = found(beyond, "marks_lie_on_the_piece")
    assert "cut through and reaches beyond" in finding.sentence


def test_an_open_line_that_should_add_is_widened() -> None:
    design = one_piece(PLATE, put("line", length=20, x=30, y=15, role="adds"))
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


def test_what_other_parts_are_made_of_is_never_idle_and_dropping_never_changes_the_outline() -> None:
    name = put("words", text="VEGA", role="adds", cap_height=20, x=40, y=20)
    design = edited(
        one_piece(name), {"do": "surround-parts", "piece": "p1", "parts": ["a2"], "values": {"distance": 4}}
    )
    assert not found(design, "parts_do_something")  # the plate covers the words that it was made from
    idle = put("circle", diameter=5, x=30, y=15)
    held = {"do": "hold-parts", "piece": "p1", "parts": ["a4"], "to": "a3"}
    design = edited(one_piece(PLATE, idle, put("circle", diameter=4, x=32, y=15, role="cuts")), held)
    (finding,) = found(design, "parts_do_something")
    before = resolve(design.pieces[0]).outline.path.area
    for fix in range(len(finding.fixes)):
        assert resolve(mended(design, finding, fix).pieces[0]).outline.path.area == pytest.approx(before, abs=0.01)


def test_a_kept_hole_says_when_there_is_no_room_any_more_and_what_is_possible() -> None:
    hole = put("hole", width=4, height=4, near="top", margin=3, x=30, y=6, role="cuts")
    design = one_piece(put("rectangle", width=60, height=30, x=30, y=15), hole)
    assert not found(design, "holes_keep_their_margin")
    flat = edited(design, {"do": "change", "of": "part a2", "values": {"height": 9}})
    (finding,) = found(flat, "holes_keep_their_margin")
    assert "2.5 mm is possible" in finding.sentence
    assert not found(mended(flat, finding), "holes_keep_their_margin")
    lug = one_piece(put("circle", diameter=10, x=5, y=5), put("hole", width=4, height=4, near="top", margin=3))
    assert not found(lug, "holes_keep_their_margin")  # exactly as wide as the hole and its walls


def test_a_kept_hole_keeps_clear_of_what_is_marked() -> None:
    frame = put("rectangle", width=52, height=22, x=30, y=15, role="scores")
    design = one_piece(PLATE, frame, put("hole", width=4, height=4, near="top", margin=1, role="cuts"))
    hole = design.pieces[0].parts[-1]
    ring = shapely.Point(hole.x, hole.y).buffer(2)
    line = shapely.box(4, 4, 56, 26).exterior
    assert ring.distance(line) > 0.45


@pytest.mark.parametrize(
    ("parts", "press"),
    [
        ([put("circle", diameter=20, x=10, y=10), put("circle", diameter=20, x=29.98, y=10)], "Move Circle closer"),
        (
            [PLATE, *(put("rectangle", width=20, height=0.8, x=x, y=15) for x in (-8, 68))],
            "Grow 2 parts by 0.25 mm",
        ),
        ([put("star", points=5, diameter=40, depth=60, x=20, y=20)], ""),
        ([put("heart", x=20, y=20)], ""),
        ([put("drop", x=20, y=20)], ""),
    ],
)
def test_what_is_thin_is_mended_by_a_press(parts: list[dict[str, Any]], press: str) -> None:
    design = one_piece(*parts)
    thin = found(design, "material_is_not_too_thin")
    assert bool(thin) is bool(press), [finding.sentence for finding in thin]
    if press:
        assert press in says(thin[0])[0]
        for fix in range(len(thin[0].fixes)):
            assert not found(mended(design, thin[0], fix), "material_is_not_too_thin")


def test_the_tip_of_a_spike_is_meant_to_be_thin_and_a_thin_spike_is_not() -> None:
    plate = put("rectangle", width=40, height=30)
    assert not found(one_piece(plate, put("spike", length=60, width=4)), "material_is_not_too_thin")
    assert found(one_piece(plate, put("spike", length=60, width=0.8)), "material_is_not_too_thin")


def test_letters_that_touch_only_on_a_rim_are_told_and_spaced() -> None:
    disc = put("circle", diameter=40, x=20, y=20)
    tight = put("words", text="AVAMOVAM", font="playfair-display", cap_height=7, tracking=-8)
    design = one_piece(disc, tight)
    (finding,) = found(design, "letters_stand_clear")
    after = mended(design, finding)
    assert not found(after, "letters_stand_clear")
    assert after.pieces[0].parts[1].shape.tracking > -8  # type: ignore[union-attr]
    assert not found(one_piece(disc, put("words", text="Quillmoor", font="pacifico")), "letters_stand_clear")
