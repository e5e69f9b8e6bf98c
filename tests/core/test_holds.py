"""Aligning, spreading, and holds: alignments that are kept whatever changes."""

from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design, apply, read_design, read_edit
from foliant.core.design.holds import ANCHORS, Hold
from foliant.core.design.placing import part_bounds, placing_box
from foliant.core.errors import Refused
from foliant.core.quantities import build
from tests.making import edited, one_piece, put

HERE = {"piece": "p1"}


def bounds(design: Design, part: str) -> tuple[float, ...]:
    return part_bounds(design.pieces[0].part(part))


def middle(design: Design, part: str) -> tuple[float, float]:
    left, top, right, bottom = bounds(design, part)
    return (left + right) / 2, (top + bottom) / 2


def change(design: Design, of: str, **values: Any) -> Design:
    return edited(design, {"do": "change", "of": of, "values": values})


def tag_with_hole() -> Design:
    return one_piece(
        put("rectangle", width=72, height=30),  # the first: it keeps its corner
        put("hole", width=4, height=4, x=7, y=15),
        put("words", text="ORRIN", x=40, y=20, cap_height=6),
    )


def hold(*parts: str, **more: Any) -> dict[str, Any]:
    return {"do": "hold-parts", **HERE, "parts": list(parts), **more}


def test_a_held_hole_stays_level_and_5_mm_from_the_edge_when_the_tag_grows() -> None:
    design = edited(tag_with_hole(), hold("a3"))
    part = design.pieces[0].part("a3")
    assert part.across
    assert part.down
    assert (part.across.anchor, part.across.gap) == ("near", 5)
    assert (part.down.anchor, part.down.gap) == ("middle", 0)
    longer = change(design, "part a2", reference="bottom-right")
    longer = change(longer, "part a2", width=100, height=44)
    assert bounds(longer, "a2") == pytest.approx((-28, -14, 72, 30))
    assert bounds(longer, "a3") == pytest.approx((-23, 6, -19, 10))


def test_a_hold_survives_other_words() -> None:
    design = edited(tag_with_hole(), hold("a4", across="far", down="far"))
    right, bottom = bounds(design, "a4")[2:]
    other = change(design, "part a4", text="Ysolde Quenby", cap_height=4)
    assert bounds(other, "a4")[2] == pytest.approx(right, abs=1e-5)
    assert bottom < bounds(other, "a4")[3] < bottom + 2  # the descenders hang below the line the words stand on
    assert other.pieces[0].part("a4").y + 2 == pytest.approx(design.pieces[0].part("a4").y + 3)


def test_a_part_can_be_held_to_another_that_is_held() -> None:
    design = edited(tag_with_hole(), hold("a3"), put("circle", role="scores", diameter=8, x=7, y=15))
    design = edited(design, hold("a5", to="a3"))
    moved = change(change(design, "across a3", gap=11), "part a2", height=50)
    assert middle(moved, "a3") == pytest.approx((13, 25))
    assert middle(moved, "a5") == pytest.approx((13, 25))


def test_moving_a_held_part_keeps_the_hold_at_its_new_distance() -> None:
    design = edited(tag_with_hole(), hold("a3"), {"do": "move-parts", **HERE, "parts": ["a3"], "dx": 2, "dy": 3})
    part = design.pieces[0].part("a3")
    assert part.across
    assert part.down
    assert (part.across.gap, part.down.gap) == (7, 3)
    assert middle(change(design, "part a2", height=40), "a3") == pytest.approx((9, 23))


@pytest.mark.parametrize(
    ("gap", "across", "down"),
    [
        (3.0, "right of the middle", "below the middle"),
        (-3.0, "left of the middle", "above the middle"),
        (0.0, "in line with the middle", "level with the middle"),
    ],
)
def test_what_lies_left_or_above_is_said_so_and_never_by_less_than_nothing(gap: float, across: str, down: str) -> None:
    for anchor in ("middle", "middle-before"):
        sign = 1 if anchor == "middle" else -1
        hold = build(Hold, {"anchor": anchor, "gap": sign * gap})
        assert (hold.says("across"), hold.says("down"), hold.gap) == (across, down, abs(gap))
        assert hold.target(20.0) == 20.0 + gap
        assert hold.at_gap(14.0, 20.0).says("across") == "left of the middle"


def test_letting_go_leaves_the_part_where_it_is() -> None:
    design = edited(tag_with_hole(), hold("a3"))
    free = edited(design, {"do": "release-parts", **HERE, "parts": ["a3"]})
    assert bounds(free, "a3") == bounds(design, "a3")
    assert bounds(change(free, "part a2", height=60), "a3") == bounds(design, "a3")


def test_a_hold_to_what_is_deleted_is_let_go() -> None:
    design = edited(tag_with_hole(), hold("a4", to="a3"), {"do": "remove-parts", **HERE, "parts": ["a3"]})
    assert design.pieces[0].part("a4").across is None


def test_a_circle_of_holds_is_refused_with_a_sentence() -> None:
    design = edited(tag_with_hole(), hold("a3", to="a4"))
    with pytest.raises(Refused, match=r"would hold each other in a circle: .*Round hole.*ORRIN"):
        edited(design, hold("a4", to="a3"))
    with pytest.raises(Refused, match="itself"):
        edited(design, hold("a4", to="a4"))
    # Held across to it and down by it is no circle.
    edited(tag_with_hole(), hold("a3", to="a4", down=None), hold("a4", to="a3", across=None))


def test_what_is_held_to_the_piece_does_not_make_the_piece() -> None:
    design = edited(tag_with_hole(), put("circle", diameter=10, x=72, y=15), hold("a5", across="on-far", down="middle"))
    wider = change(design, "part a2", width=90)
    assert middle(wider, "a5") == pytest.approx((90, 15))


def test_holding_to_an_empty_piece_is_refused() -> None:
    with pytest.raises(Refused, match="nothing else on the piece"):
        edited(one_piece(put("rectangle")), hold("a2"))


@given(
    width=st.floats(20, 200),
    height=st.floats(20, 200),
    text=st.sampled_from(["Io", "Quillmoor Observatory", "æ ñ"]),
    anchor=st.sampled_from(["middle", "near", "far", "after", "before", "on-near", "on-far", "visual"]),
)
def test_every_hold_is_kept_to_a_thousandth_and_read_back(width: float, height: float, text: str, anchor: str) -> None:
    design = edited(tag_with_hole(), hold("a4", across=anchor, down=anchor))
    gaps = {axis: getattr(design.pieces[0].part("a4"), axis).gap for axis in ("across", "down")}
    after = change(change(design, "part a2", width=width, height=height), "part a4", text=text)
    again = edited(after, hold("a4", across=anchor, down=anchor))
    for axis, gap in gaps.items():
        assert getattr(again.pieces[0].part("a4"), axis).gap == pytest.approx(gap, abs=1e-3)
    assert read_design(after.model_dump(mode="json")) == after


def test_duplicates_and_pastes_take_their_holds_along() -> None:
    import json

    design = edited(tag_with_hole(), hold("a4", to="a3"))
    both = edited(design, {"do": "duplicate-parts", **HERE, "parts": ["a3", "a4"]})
    copy = both.pieces[0].part("a6")
    assert copy.across
    assert copy.across.to == "a5"
    parts = [part.model_dump(mode="json") for part in design.pieces[0].parts[1:]]
    text = json.dumps({"format": "foliant-parts", "parts": parts})
    pasted = edited(one_piece(put("rectangle")), {"do": "paste-parts", **HERE, "text": text})
    assert pasted.pieces[0].parts[2].across.to == pasted.pieces[0].parts[1].id  # type: ignore[union-attr]


@pytest.mark.parametrize(
    "text", ["", "hello", "[]", "{}", '{"format": "foliant-parts", "parts": [{"id": 3}]}', "[" * 100_000, "9" * 5000]
)
def test_a_foreign_clipboard_is_answered(text: str) -> None:
    with pytest.raises(Refused, match="clipboard"):
        edited(one_piece(put("rectangle")), {"do": "paste-parts", **HERE, "text": text})


def letters(word: str = "QUILLMOOR") -> Design:
    board = one_piece(put("rectangle", width=40, height=200), put("words", text=word, cap_height=12))
    return edited(board, {"do": "split-words", **HERE, "parts": ["a3"]})


def test_words_split_into_letters_stay_where_they_were() -> None:
    whole = one_piece(put("rectangle", width=200, height=40), put("words", text="QUILL MOOR", cap_height=12))
    split = edited(whole, {"do": "split-words", **HERE, "parts": ["a3"]})
    parts = split.pieces[0].parts[1:]
    assert [part.shape.text for part in parts] == list("QUILLMOOR")  # type: ignore[union-attr]
    assert part_bounds(parts[0])[0] == pytest.approx(bounds(whole, "a3")[0], abs=1e-3)
    assert part_bounds(parts[-1])[2] == pytest.approx(bounds(whole, "a3")[2], abs=1e-3)


def test_a_column_of_nine_letters_is_spread_evenly_within_the_board() -> None:
    design = letters()
    ids = [part.id for part in design.pieces[0].parts[1:]]
    design = edited(
        design,
        {"do": "align-parts", **HERE, "parts": ids, "across": "middle"},
        {"do": "spread-parts", **HERE, "parts": ids, "axis": "down", "within": "piece", "margin": 5},
    )
    baselines = sorted(design.pieces[0].part(key).y + 6 for key in ids)
    steps = [below - above for above, below in pairwise(baselines)]
    assert steps == pytest.approx([steps[0]] * 8, abs=1e-4)
    assert (baselines[0] - 12, baselines[-1]) == pytest.approx((5, 195), abs=1e-4)
    assert [middle(design, key)[0] for key in ids] == pytest.approx([20] * 9, abs=1e-4)


def test_spreading_by_pitch_between_the_outermost_and_at_a_distance() -> None:
    design = one_piece(*(put("hole", width=w, height=4, x=x, y=5) for w, x in ((2, 10), (10, 13), (4, 40))))
    chosen = {"do": "spread-parts", **HERE, "parts": ["a2", "a3", "a4"], "axis": "across", "by": "pitch"}
    assert [middle(edited(design, chosen), k)[0] for k in ("a2", "a3", "a4")] == pytest.approx([10.5, 25.25, 40], abs=1)
    spaced = edited(design, {**chosen, "distance": "12"})
    places = [middle(spaced, key)[0] for key in ("a3", "a2", "a4")]
    assert sorted(places) == pytest.approx([min(places), min(places) + 12, min(places) + 24])
    with pytest.raises(Refused, match="three"):
        edited(design, {**chosen, "parts": ["a2", "a3"]})


def test_aligning_with_a_named_part_and_with_each_other() -> None:
    design = tag_with_hole()
    to_hole = edited(design, {"do": "align-parts", **HERE, "parts": ["a4", "a3"], "to": "a3", "down": "middle"})
    assert middle(to_hole, "a4")[1] == pytest.approx(15)
    assert middle(to_hole, "a3") == middle(design, "a3")
    lined = edited(design, {"do": "align-parts", **HERE, "parts": ["a3", "a4"], "to": "chosen", "across": "near"})
    assert bounds(lined, "a4")[0] == pytest.approx(5)
    kept = edited(design, {"do": "align-parts", **HERE, "parts": ["a4"], "to": "a3", "across": "after", "hold": True})
    moved = edited(kept, {"do": "move-parts", **HERE, "parts": ["a3"], "dx": 3, "dy": 0})
    assert bounds(moved, "a4")[0] == pytest.approx(bounds(moved, "a3")[2])


def test_both_ways_are_aligned_at_once_with_the_gap_to_the_edge_alone() -> None:
    design = tag_with_hole()
    edit = {"do": "align-parts", **HERE, "parts": ["a3"], "across": "middle", "down": "far", "gap": "4", "hold": True}
    done = edited(design, edit)
    assert middle(done, "a3")[0] == pytest.approx(middle(design, "a2")[0])
    assert bounds(done, "a3")[3] == pytest.approx(bounds(design, "a2")[3] - 4)


def test_an_edit_that_fails_leaves_the_design_as_it_was() -> None:
    design = tag_with_hole()
    before = design.model_dump_json()
    with pytest.raises(Refused):
        apply(design, read_edit(hold("a3", to="a99")))
    assert design.model_dump_json() == before


@pytest.mark.parametrize(
    ("text", "font", "tall"), [("gypsy", "lobster", 8), ("Éloïse", "bebas-neue", 11), ("gap\nup", "archivo", 5)]
)
def test_the_middle_of_words_is_that_of_their_ink_and_by_capitals_that_of_their_line(
    text: str, font: str, tall: float
) -> None:
    plate = one_piece(
        put("rectangle", width=90, height=41, x=45, y=20.5), put("words", text=text, font=font, cap_height=tall)
    )

    where = {"do": "align-parts", "piece": "p1", "parts": ["a3"], "across": "middle"}
    held = edited(plate, {**where, "down": "middle", "hold": True})
    assert middle(held, "a3")[1] == pytest.approx(20.5, abs=0.001)
    typed = edited(plate, {"do": "change", "of": "part a3", "values": {"y": "20.5 mm"}})
    assert middle(typed, "a3")[1] == pytest.approx(20.5, abs=0.001)
    assert middle(edited(held, {"do": "change", "of": "part a3", "values": {"text": "Jo"}}), "a3")[1] == pytest.approx(
        20.5, abs=0.001
    )
    part = edited(plate, {**where, "down": "capitals", "hold": True}).pieces[0].part("a3")
    top, line = (placing_box(part)[at] for at in (1, 3))
    assert (top + line) / 2 == pytest.approx(20.5, abs=0.001)


@pytest.mark.parametrize("anchor", ANCHORS)
def test_whatever_a_part_is_held_by_can_be_said(anchor: str) -> None:
    plate = one_piece(put("rectangle", width=90, height=41, x=45, y=20.5), put("words", text="gap", x=45, y=20))
    held = edited(plate, {"do": "align-parts", **HERE, "parts": ["a3"], "across": anchor, "down": anchor, "hold": True})
    part = held.pieces[0].part("a3")
    assert all(hold and hold.says(axis) for axis, hold in (("across", part.across), ("down", part.down)))
