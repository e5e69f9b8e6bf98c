"""Placing by a reference point, resizing, rotating, flipping."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design, resolve
from foliant.core.design.placing import part_bounds, part_paths, reference_point, shape_bounds, visual_centre
from foliant.core.design.references import union
from foliant.core.errors import Refused
from foliant.core.paths import combine
from foliant.core.starters import find_starter
from tests.making import edited, one_piece, put

HERE = {"piece": "p1"}


def bounds(design: Design, part: str = "a2") -> tuple[float, ...]:
    return part_bounds(design.pieces[0].part(part))


def change(design: Design, part: str, **values: Any) -> Design:
    return edited(design, {"do": "change", "of": f"part {part}", "values": values})


def test_a_part_is_placed_and_sized_by_its_reference_point() -> None:
    design = change(one_piece(put("rectangle", width=40, height=20, x=50, y=50)), "a2", reference="top-right")
    design = change(design, "a2", x=100, y=10)
    assert bounds(design) == pytest.approx((60, 10, 100, 30))
    assert bounds(change(design, "a2", width=10)) == pytest.approx((90, 10, 100, 30))
    assert bounds(change(design, "a2", height="1in")) == pytest.approx((60, 10, 100, 35.4))


def test_the_visual_centre_of_a_heart_lies_above_the_middle_of_its_box() -> None:
    design = one_piece(put("rectangle", width=100, height=100, x=50, y=50), put("heart", role="cuts"))
    by_box = edited(design, {"do": "align-parts", **HERE, "parts": ["a3"], "across": "middle", "down": "middle"})
    by_eye = edited(design, {"do": "align-parts", **HERE, "parts": ["a3"], "across": "visual", "down": "visual"})
    assert visual_centre(by_box.pieces[0].part("a3"))[1] < 49
    assert visual_centre(by_eye.pieces[0].part("a3")) == pytest.approx((50, 50), abs=0.01)


def test_proportions_are_kept_when_they_are_locked() -> None:
    design = one_piece(put("rectangle", width=40, height=20, x=50, y=50))
    locked = edited(design, {"do": "mark-parts", **HERE, "parts": ["a2"], "proportional": True})
    assert bounds(change(locked, "a2", width=60)) == pytest.approx((20, 35, 80, 65))
    assert bounds(change(design, "a2", width=60)) == pytest.approx((20, 40, 80, 60))


def test_resizing_about_the_opposite_side_or_the_middle() -> None:
    design = one_piece(put("rectangle", width=40, height=20, x=20, y=10))
    pull = {"do": "resize-parts", **HERE, "parts": ["a2"], "width": 60}
    assert bounds(edited(design, {**pull, "about": "left"})) == pytest.approx((0, 0, 60, 20))
    assert bounds(edited(design, {**pull, "about": "right"})) == pytest.approx((-20, 0, 40, 20))
    assert bounds(edited(design, {**pull, "about": "middle"})) == pytest.approx((-10, 0, 50, 20))
    assert bounds(edited(design, {**pull, "about": "left", "proportional": True})) == pytest.approx((0, -5, 60, 25))


@given(turn=st.floats(0, 360), about=st.sampled_from(["left", "top-left", "bottom", "middle"]), flip=st.booleans())
def test_a_turned_part_is_sized_along_its_own_sides_and_the_point_stays(turn: float, about: str, flip: bool) -> None:
    from foliant.core.design.edits.sizing import own_point

    design = change(one_piece(put("rectangle", width=40, height=20, x=20, y=10)), "a2", rotation=turn)
    if flip:
        design = edited(design, {"do": "flip-parts", **HERE, "parts": ["a2"], "axis": "across"})
    sized = edited(design, {"do": "resize-parts", **HERE, "parts": ["a2"], "width": 55, "height": 12, "about": about})
    assert shape_bounds(sized.pieces[0].parts[0].shape) == pytest.approx((-27.5, -6, 27.5, 6))
    before, after = design.pieces[0].parts[0], sized.pieces[0].parts[0]
    assert own_point(before, about) == pytest.approx(own_point(after, about), abs=1e-4)  # type: ignore[arg-type]


def test_several_are_resized_as_one_or_each() -> None:
    two = one_piece(put("rectangle", width=10, height=10, x=5, y=5), put("circle", diameter=10, x=25, y=5))
    one = edited(
        two, {"do": "resize-parts", **HERE, "parts": ["a2", "a3"], "width": 60, "about": "left", "proportional": True}
    )
    assert bounds(one, "a2") == pytest.approx((0, -5, 20, 15))
    assert bounds(one, "a3") == pytest.approx((40, -5, 60, 15))
    each = edited(
        two, {"do": "resize-parts", **HERE, "parts": ["a2", "a3"], "width": 16, "proportional": True, "each": True}
    )
    assert bounds(each, "a2") == pytest.approx((-3, -3, 13, 13))
    assert bounds(each, "a3") == pytest.approx((17, -3, 33, 13))


def test_four_quarter_turns_come_back_exactly() -> None:
    design = one_piece(put("drop", x=10, y=20), put("heart", x=50, y=5))
    turned = design
    for _ in range(4):
        turned = edited(turned, {"do": "rotate-parts", **HERE, "parts": ["a2", "a3"], "by": 90})
    assert bounds(turned, "a2") == pytest.approx(bounds(design, "a2"), abs=1e-5)
    assert turned.pieces[0].parts[0].rotation == 0


@given(turn=st.floats(-180, 180), axis=st.sampled_from(["across", "down"]))
def test_flipping_mirrors_and_flipping_again_brings_back(turn: float, axis: str) -> None:
    design = change(one_piece(put("sector", angle=70, x=20, y=10)), "a2", rotation=turn)
    flip = {"do": "flip-parts", **HERE, "parts": ["a2"], "axis": axis}
    once = edited(design, flip)
    middle = 0 if axis == "across" else 1
    box = bounds(design)
    centre = visual_centre(design.pieces[0].parts[0])[middle]
    mirrored = visual_centre(once.pieces[0].parts[0])[middle]
    assert mirrored == pytest.approx(box[middle] + box[middle + 2] - centre, abs=1e-3)
    assert bounds(edited(once, flip)) == pytest.approx(box, abs=1e-4)


@pytest.mark.parametrize("raw", ["NaN", "inf", "1/0", "ten", ""])
def test_a_rotation_that_is_no_number_is_refused(raw: str) -> None:
    design = one_piece(put("rectangle"))
    with pytest.raises(Refused):
        change(design, "a2", rotation=raw)
    with pytest.raises(Refused):
        edited(design, {"do": "rotate-parts", **HERE, "parts": ["a2"], "by": float("nan")})


def test_a_locked_part_stays_until_it_is_unlocked() -> None:
    design = edited(one_piece(put("rectangle")), {"do": "mark-parts", **HERE, "parts": ["a2"], "locked": True})
    for edit in (
        {"do": "move-parts", **HERE, "parts": ["a2"], "dx": 1, "dy": 0},
        {"do": "remove-parts", **HERE, "parts": ["a2"]},
        {"do": "change", "of": "part a2", "values": {"width": 10}},
    ):
        with pytest.raises(Refused, match="locked"):
            edited(design, edit)
    free = edited(design, {"do": "mark-parts", **HERE, "parts": ["a2"], "locked": False})
    assert edited(free, {"do": "remove-parts", **HERE, "parts": ["a2"]}).pieces[0].parts == ()


def test_a_hidden_part_is_not_made() -> None:
    from foliant.core.design import resolve

    design = one_piece(put("rectangle", width=40, height=20), put("hole", width=4, height=4, x=20, y=10))
    hidden = edited(design, {"do": "mark-parts", **HERE, "parts": ["a3"], "hidden": True})
    assert resolve(hidden.pieces[0]).outline.path.area == pytest.approx(800)


def test_making_plain_changes_nothing_that_is_made() -> None:
    design = change(one_piece(put("star", x=20, y=10), put("circle", x=60, y=10)), "a2", rotation=33)
    design = edited(design, {"do": "repeat-parts", **HERE, "parts": ["a2"], "kind": "rows"})
    plain = edited(design, {"do": "make-plain", **HERE, "parts": ["a2", "a3"]})
    for part in ("a2", "a3"):
        before = combine(part_paths(design.pieces[0].part(part)))
        after = combine(part_paths(plain.pieces[0].part(part)))
        assert after.path.area == pytest.approx(before.path.area, rel=1e-4)
        assert bounds(plain, part) == pytest.approx(bounds(design, part), abs=1e-3)
        assert plain.pieces[0].part(part).shape.kind == "drawn"


@pytest.mark.parametrize("reference", ["left", "top-left", "bottom-right", "middle"])
def test_a_typed_width_keeps_the_point_that_words_are_placed_by(reference: str) -> None:
    plate = put("rectangle", width=120, height=60)
    design = one_piece(plate, put("words", text="Higgle"))
    design = edited(design, {"do": "change", "of": "part a3", "values": {"reference": reference}})
    wide = edited(design, {"do": "resize-parts", "piece": "p1", "parts": ["a3"], "width": 60})
    before, after = (reference_point(found.pieces[0].part("a3"), reference) for found in (design, wide))  # type: ignore[arg-type]
    assert after == pytest.approx(before, abs=1e-5)


@pytest.mark.parametrize("width", [52, 70, 140])
@pytest.mark.parametrize("chosen", [["a2", "a3", "a4", "a5"], ["a2", "a3", "a5"], []])
def test_what_is_sized_as_one_is_as_wide_as_typed_and_fits_of_its_own_stay(width: float, chosen: list[str]) -> None:
    """A plate round words and a motif, with an eye: by its parts, or by its own width."""
    plate = find_starter("keyring-plate").design(["Maximiliana"])
    how = {"do": "resize-parts", "parts": chosen, "proportional": True} if chosen else {"do": "size-piece"}
    sized = edited(plate, {**how, "piece": "p1", "width": width}).pieces[0]
    before = plate.pieces[0]
    parts = [part for part in sized.parts if part.id in chosen or not chosen]
    left, _, right, _ = union([part_bounds(part) for part in parts])
    assert right - left == pytest.approx(width, abs=0.01)
    assert len(resolve(sized).outline.bodies) == len(resolve(before).outline.bodies) == 1
    assert sized.part("a4").shape.distance == before.part("a4").shape.distance  # type: ignore[union-attr]
    assert sized.part("a5").shape == before.part("a5").shape


def test_holes_stay_as_wide_as_they_are_unless_they_alone_are_sized() -> None:
    tag = find_starter("key-tag").design(["Orrin"])
    wide = edited(tag, {"do": "resize-parts", **HERE, "parts": ["a2", "a3", "a4"], "width": 90, "proportional": True})
    assert bounds(wide, "a2")[2] - bounds(wide, "a2")[0] == pytest.approx(90)
    left, _, right, _ = bounds(wide, "a3")
    assert (left - bounds(wide, "a2")[0], right - left) == pytest.approx((3, 5))  # as near to its edge as before
    hole = edited(tag, {"do": "resize-parts", **HERE, "parts": ["a3"], "width": 6, "proportional": True})
    assert bounds(hole, "a3")[2] - bounds(hole, "a3")[0] == pytest.approx(6)
