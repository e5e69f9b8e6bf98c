"""What would spoil a job is found, named and placed."""

from typing import Any

import pytest

from foliant.core.checks import Finding, check
from foliant.core.design import Design, apply
from foliant.core.design.edits.sheet import TakeStock
from foliant.core.equipment import SHIPPED
from tests.making import edited, one_piece, plan, put, tag


def found(design: Design, name: str) -> list[Finding]:
    return [finding for finding in check(plan(design)) if finding.check == name]


def changed(of: str, **values: Any) -> dict[str, Any]:
    return {"do": "change", "of": of, "values": values}


def test_a_sound_job_has_nothing_to_look_at() -> None:
    assert check(plan(tag(copies=6))) == ()


def test_the_inside_of_an_o_cut_through_falls_out_and_is_shown() -> None:
    design = one_piece(put("rectangle", width=80, height=40), put("words", role="cuts", text="DOME", cap_height=16))
    (finding,) = found(design, "bodies_hold_together")
    assert finding.level == "stop"
    assert "2 loose bodies" in finding.sentence
    assert "falls out" in finding.sentence
    assert len(finding.spot.starts) == 2  # the insides of D and O
    assert finding.place is not None
    assert finding.place[0] > 4


def test_a_stencil_font_cures_it() -> None:
    design = one_piece(
        put("rectangle", width=80, height=40),
        put("words", role="cuts", text="DOME", font="allerta-stencil", cap_height=14),
    )
    assert not found(design, "bodies_hold_together")


def test_parts_that_do_not_touch_are_told_apart_from_what_falls_out() -> None:
    design = one_piece(put("circle", diameter=20, x=10, y=10), put("circle", diameter=10, x=40, y=10))
    (finding,) = found(design, "bodies_hold_together")
    assert "not joined" in finding.sentence
    assert "10 mm × 10 mm" in finding.sentence


def test_a_piece_outside_the_sheet() -> None:
    (finding,) = found(
        edited(tag(copies=2), {"do": "place", "piece": "p1", "number": 2, "x": 250, "y": 20}), "nothing_sticks_out"
    )
    assert finding.title == "Guide tag 2 lies outside the sheet"
    assert "22 mm" in finding.sentence
    assert finding.place == pytest.approx((250, 20, 322, 50))


def test_marks_that_reach_over_the_sheet_count_too() -> None:
    design = edited(tag(), put("circle", role="engraves", diameter=10, x=0, y=0), changed("sheet", margin=0))
    assert found(design, "nothing_sticks_out")


def test_a_sheet_larger_than_the_bed_matters_where_pieces_lie_beyond_it() -> None:
    wide = edited(tag(), changed("stock", width=500, height=300))
    assert found(wide, "nothing_sticks_out")[0].level == "look"
    beyond = edited(wide, {"do": "place", "piece": "p1", "number": 1, "x": 420, "y": 20})
    assert found(beyond, "nothing_sticks_out")[0].level == "stop"


def test_two_pieces_over_each_other() -> None:
    by_hand = ({"do": "place", "piece": "p1", "number": number, "x": 10 * number, "y": 10} for number in (1, 2))
    design = edited(tag(copies=2), *by_hand)
    (finding,) = found(design, "nothing_overlaps")
    assert "Guide tag 1 and Guide tag 2" in finding.sentence


def test_an_operation_without_a_recipe() -> None:
    blade = edited(tag(), changed("ticket", machine="desk-cutter"))
    titles = [finding.title for finding in found(blade, "operations_have_settings")]
    assert titles == [
        "Engraving: Desk cutter cannot engrave",
        "Holes and inner edges: no recipe",
        "Outer edges: no recipe",
    ]


def test_characters_the_font_lacks() -> None:
    (finding,) = found(edited(tag(), changed("part a4", text="ORRIN ☄")), "words_can_be_set")
    assert "“☄”" in finding.sentence
    assert "Guide tag" in finding.sentence


def test_everything_switched_off() -> None:
    off = [{"do": "switch-operation", "operation": kind, "on": False} for kind in ("engrave", "inner", "outer")]
    assert found(edited(tag(), *off), "something_is_on")[0].level == "stop"
    assert not found(edited(tag(), *off[:2]), "something_is_on")


def test_full_power_and_impossible_speed_are_worth_a_look() -> None:
    hot = edited(tag(), changed("operation outer", power=100), changed("operation engrave", speed=900))
    assert [finding.level for finding in found(hot, "powers_are_gentle")] == ["look"]
    assert "250 mm/s" in found(hot, "speeds_are_real")[0].sentence


def test_what_fits_no_sheet_and_none_at_all() -> None:
    large = one_piece(put("rectangle", width=310, height=60), copies=3)
    assert "3 of 3" in found(large, "everything_fits")[0].sentence
    assert not found(tag(copies=20), "everything_fits")
    assert found(tag(copies=0), "sheet_is_not_empty")


def test_more_sheets_are_needed_than_the_shelf_has() -> None:
    design = edited(tag(copies=100), {"do": "take-stock", "stock": TakeStock.of(SHIPPED.shelf[0]).stock.model_dump()})
    few = SHIPPED.model_copy(update={"shelf": (SHIPPED.shelf[0].model_copy(update={"count": 2}),)})
    titles = [one.title for one in check(plan(design, few)) if one.check == "the_shelf_has_enough_sheets"]
    assert len(titles) == 1
    assert not found(tag(copies=2), "the_shelf_has_enough_sheets")


def test_a_piece_whose_material_is_all_cut_away() -> None:
    design = one_piece(put("circle", diameter=10), put("circle", role="cuts", diameter=12))
    (finding,) = found(design, "pieces_have_material")
    assert finding.level == "stop"


def test_findings_that_stop_the_job_come_first_and_are_sentences() -> None:
    design = edited(tag(copies=20), changed("part a4", text="☄☄"), changed("operation outer", power=100))
    findings = check(plan(design))
    levels = [finding.level for finding in findings]
    assert levels == sorted(levels, key=["stop", "look"].index)
    assert all(finding.sentence.endswith(".") for finding in findings)


def test_findings_speak_the_projects_unit() -> None:
    inches = edited(
        tag(copies=2),
        {"do": "set-unit", "unit": "in"},
        {"do": "place", "piece": "p1", "number": 2, "x": 253.4, "y": 20},
    )
    assert "reaches 1 in beyond" in found(inches, "nothing_sticks_out")[0].sentence


def fixed(design: Design, name: str, fix: int = 0) -> Design:
    return found(design, name)[0].fixes[fix].edit.apply(design)


def test_what_finds_no_room_gets_a_larger_sheet_if_the_machine_takes_it() -> None:
    large = edited(one_piece(put("rectangle", width=310, height=60)), changed("stock", thickness=4))
    (finding,) = found(large, "everything_fits")
    assert not [fix for fix in finding.fixes if fix.says.startswith("Take")]
    large = edited(large, changed("ticket", machine="cabin-laser"))
    (finding,) = found(large, "everything_fits")
    assert finding.fixes[0].says == "Take a sheet of 600 mm × 400 mm"
    assert not found(fixed(large, "everything_fits"), "everything_fits")


def test_a_sheet_beyond_the_bed_gets_another_machine_or_is_cut_down() -> None:
    wide = edited(tag(), changed("stock", width=500))
    (finding,) = found(wide, "nothing_sticks_out")
    assert [fix.says for fix in finding.fixes] == ["Take Cabin laser", "Cut the sheet down to the bed"]
    for fix in range(2):
        assert not found(fixed(wide, "nothing_sticks_out", fix), "nothing_sticks_out")


def test_a_cut_along_the_edge_of_the_sheet_is_said_and_moved_inward() -> None:
    design = edited(tag(), changed("sheet", margin=0))
    assert found(design, "the_sheet_is_not_cut_along_its_edge")
    assert not found(fixed(design, "the_sheet_is_not_cut_along_its_edge"), "the_sheet_is_not_cut_along_its_edge")
    by_hand = edited(tag(), {"do": "place", "piece": "p1", "number": 1, "x": 228, "y": 50})
    assert not found(fixed(by_hand, "the_sheet_is_not_cut_along_its_edge"), "the_sheet_is_not_cut_along_its_edge")


@pytest.mark.parametrize("material", ["ivory-card", "cork-sheet"])
def test_a_blade_is_not_asked_to_engrave_and_scores_round_it_by_a_press(material: str) -> None:
    stock = {"material": material, "thickness": "0.4 mm" if material == "ivory-card" else "2 mm"}
    design = edited(
        tag(),
        {"do": "change", "of": "stock", "values": stock},
        {"do": "change", "of": "ticket", "values": {"machine": "desk-cutter"}},
    )
    (finding,) = [one for one in check(plan(design)) if "cannot engrave" in one.title]
    assert finding.level == "stop"
    mended = apply(design, finding.fixes[0].edit)
    assert not [one for one in check(plan(mended)) if "cannot engrave" in one.title]
    assert any(line.id == "score" and line.runs for line in plan(mended).lines)
