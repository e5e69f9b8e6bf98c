"""Words that nobody could read, and marks laid over marks: found, and mended by what is offered."""

import pytest

from foliant.core.checks import Finding, check
from foliant.core.design import Design, apply
from foliant.core.starters import find_starter
from tests.making import edited, one_piece, plan, put

PLATE = put("rectangle", width=60, height=24, x=30, y=12)


def found(design: Design, name: str) -> list[Finding]:
    return [finding for finding in check(plan(design)) if finding.check == name]


@pytest.mark.parametrize("font", ["playfair-display", "pacifico", "line-plain"])
@pytest.mark.parametrize("tall", [0.55, 0.75, 1.2])
def test_capitals_too_small_to_read_are_found_and_mended_by_a_press(font: str, tall: float) -> None:
    design = one_piece(PLATE, put("words", text="Maud Hollis", font=font, cap_height=tall, x=30, y=12))
    (finding,) = found(design, "letters_can_be_read")
    assert "tall on Guide tag" in finding.sentence
    assert finding.fixes
    for fix in finding.fixes:
        assert not check(plan(apply(design, fix.edit)))


def test_words_squeezed_by_their_limit_are_given_room_another_font_or_two_lines() -> None:
    words = put("words", text="Please dim your torch", cap_height=7.5, at_most=14, x=30, y=12)
    (finding,) = found(one_piece(PLATE, words), "letters_can_be_read")
    assert [fix.says for fix in finding.fixes][:1] == ["Let it be 54 mm wide"] or len(finding.fixes) > 1
    assert not found(one_piece(PLATE, put("words", text="Maud", cap_height=2, x=30, y=12)), "letters_can_be_read")


@pytest.mark.parametrize(("name", "read"), [("Zoë", True), ("Ysolde", True), ("Maximiliana", False)])
def test_a_name_pressed_into_a_ring_is_read_or_said(name: str, read: bool) -> None:
    ring = find_starter("ring-ornament").design([name])
    assert bool(found(ring, "letters_can_be_read")) != read


@pytest.mark.parametrize(
    "other",
    [
        put("words", text="gate", cap_height=6, x=33, y=13),
        put("circle", diameter=12, x=30, y=12, role="scores"),
        put("star", x=30, y=12, role="engraves"),
    ],
)
def test_words_under_another_mark_are_found(other: dict[str, object]) -> None:
    design = one_piece(PLATE, put("words", text="Orrin", cap_height=6, x=30, y=12), other)
    (finding,) = found(design, "nothing_is_marked_twice")
    assert "marked over each other on Guide tag" in finding.sentence
    apart = edited(design, {"do": "move-parts", "piece": "p1", "parts": ["a4"], "dx": 0, "dy": -60})
    assert not found(apart, "nothing_is_marked_twice")
