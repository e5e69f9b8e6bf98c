"""Designs and the edits that change them."""

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design, read_design, resolve
from foliant.core.design.edits.putting import Address
from foliant.core.design.edits.putting import put as put_value
from foliant.core.design.placing import part_bounds
from foliant.core.errors import Refused
from tests.making import edited, one_piece, put, tag


def area(design: Design, index: int = 0) -> float:
    return resolve(design.pieces[index]).outline.path.area


def test_the_outline_is_what_adds_minus_what_cuts_away_in_any_order() -> None:
    plate, hole = put("rectangle", width=72, height=30, x=36, y=15), put("hole", width=4, height=4, x=5, y=15)
    assert area(one_piece(plate, hole)) == pytest.approx(area(one_piece(hole, plate)))
    assert area(one_piece(plate, hole)) == pytest.approx(72 * 30 - 3.14159 * 4, abs=0.01)


def test_marks_and_guides_leave_the_outline_alone() -> None:
    plain = one_piece(put("rectangle", width=72, height=30))
    marked = edited(
        plain, put("words", text="ORRIN"), put("circle", role="scores", diameter=20), put("ring", role="guides")
    )
    assert area(marked) == pytest.approx(area(plain))
    resolved = resolve(marked.pieces[0])
    assert len(resolved.engraved.path) > 20
    assert len(resolved.scored) == 2
    assert len(resolved.guides) == 4


def test_a_move_carries_the_weld_along() -> None:
    design = one_piece(put("rectangle", width=72, height=30), put("circle", diameter=20))
    moved = edited(design, {"do": "move-parts", "piece": "p1", "parts": ["a3"], "dx": 36, "dy": 0})
    assert area(design) == pytest.approx(72 * 30)
    assert area(moved) == pytest.approx(72 * 30 + 3.14159 * 50, abs=0.01)
    assert area(edited(moved, {"do": "move-parts", "piece": "p1", "parts": ["a3"], "dx": -36, "dy": 0})) == area(design)


def test_the_first_shape_lies_at_the_corner_and_stays_there_when_it_is_sized() -> None:
    design = one_piece(put("rectangle"))
    sized = edited(design, {"do": "change", "of": "part a2", "values": {"width": "3in", "height": "32"}})
    assert resolve(sized.pieces[0]).bounds == pytest.approx((0, 0, 76.2, 32))


def test_words_come_small_enough_for_their_piece() -> None:
    design = one_piece(put("rectangle", width=40, height=20), put("words", text="Quillmoor Observatory"))
    left, _, right, _ = part_bounds(design.pieces[0].parts[1])
    assert left >= 0
    assert right <= 40


def test_centring_is_by_the_rest_of_the_piece() -> None:
    design = edited(tag(), {"do": "align-parts", "piece": "p1", "parts": ["a4"], "across": "middle", "down": "middle"})
    left, top, right, bottom = part_bounds(design.pieces[0].part("a4"))
    assert (left + right) / 2 == pytest.approx(36)
    assert (top + bottom) / 2 == pytest.approx(15)


def test_centring_on_nothing_is_refused() -> None:
    with pytest.raises(Refused, match="nothing else"):
        edited(one_piece(put("circle")), {"do": "align-parts", "piece": "p1", "parts": ["a2"], "across": "middle"})


def test_several_parts_are_one_when_they_are_centred() -> None:
    design = one_piece(put("rectangle", width=72, height=30), put("hole", x=10, y=5), put("hole", x=20, y=5))
    design = edited(
        design, {"do": "align-parts", "piece": "p1", "parts": ["a3", "a4"], "across": "middle", "as_one": True}
    )
    assert [part.x for part in design.pieces[0].parts[1:]] == pytest.approx([31, 41])
    assert [part.y for part in design.pieces[0].parts[1:]] == [5, 5]


def test_duplicates_and_deletions() -> None:
    design = edited(tag(), {"do": "duplicate-parts", "piece": "p1", "parts": ["a3", "a4"]})
    assert len(design.pieces[0].parts) == 5
    design = edited(design, {"do": "remove-parts", "piece": "p1", "parts": ["a3"]})
    assert [part.id for part in design.pieces[0].parts] == ["a2", "a4", "a5", "a6"]
    design = edited(design, {"do": "duplicate-piece", "piece": "p1"})
    assert [piece.name for piece in design.pieces] == ["Guide tag", "Guide tag 1"]
    assert area(design, 1) == area(design, 0)
    assert len(edited(design, {"do": "remove-piece", "piece": "p1"}).pieces) == 1


def test_ids_are_never_used_twice() -> None:
    design = tag()
    gone = edited(design, {"do": "remove-parts", "piece": "p1", "parts": ["a4"]}, put("circle"))
    assert gone.pieces[0].parts[-1].id not in {part.id for part in design.pieces[0].parts}


def test_a_role_change_turns_a_mark_into_an_opening() -> None:
    design = edited(tag(), {"do": "set-role", "piece": "p1", "parts": ["a4"], "role": "cuts"})
    assert area(design) < area(tag()) - 20


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        ({"do": "change", "of": "part a2", "values": {"width": "12 parsecs"}}, "not a unit"),
        ({"do": "change", "of": "part a2", "values": {"width": "0"}}, "more than nothing"),
        ({"do": "change", "of": "part a2", "values": {"width": "-3"}}, "more than nothing"),
        ({"do": "change", "of": "part a2", "values": {"width": "4 m"}}, "too large"),
        ({"do": "change", "of": "part a2", "values": {"corner": "20"}}, "largest that fits is 15 mm"),
        ({"do": "change", "of": "part a2", "values": {"corners": "wavy"}}, "wavy"),
        ({"do": "change", "of": "part a2", "values": {"colour": "red"}}, "colour"),
        ({"do": "change", "of": "part a2", "values": {"width": None}}, "width"),
        ({"do": "change", "of": "part a2", "values": {"width": [1]}}, "width"),
        ({"do": "change", "of": "part a2", "values": {"rotation": "nan"}}, "not a value"),
        ({"do": "change", "of": "part a4", "values": {"text": "x" * 10_000}}, "10,000"),
        ({"do": "change", "of": "part a99", "values": {"width": "1"}}, "no longer"),
        ({"do": "change", "of": "moon", "values": {}}, "moon"),
        ({"do": "change", "of": "piece p1", "values": {"copies": "2.5"}}, "whole number"),
        ({"do": "change", "of": "piece p1", "values": {"copies": "-1"}}, "too small"),
        ({"do": "change", "of": "piece p1", "values": {"name": "  "}}, "at least one letter"),
        ({"do": "change", "of": "operation engrave", "values": {"power": "120"}}, "too large"),
        ({"do": "change", "of": "stock", "values": {"material": "moonstone"}}, "moonstone"),
        ({"do": "add-part", "piece": "p1", "kind": "tesseract"}, "tesseract"),
        ({"do": "add-part", "piece": "p9", "kind": "circle"}, "no longer"),
        ({"do": "move-parts", "piece": "p1", "parts": ["a2"], "dx": 1e12, "dy": 0}, "too large"),
        ({"do": "move-parts", "piece": "p1", "parts": ["a2"], "dx": float("nan"), "dy": 0}, "dx"),
        ({"do": "place", "piece": "p1", "number": 7, "x": 0, "y": 0}, "no longer"),
        ({"do": "make-tea"}, "do"),
        ("nonsense", "wrong"),
    ],
)  # fmt: skip
def test_bad_edits_are_refused_with_a_sentence_and_change_nothing(edit: Any, says: str) -> None:
    design = tag()
    with pytest.raises(Refused, match=says):
        edited(design, edit)
    assert design == tag()


def test_bounds_are_said_in_the_projects_unit() -> None:
    inches = edited(tag(), {"do": "set-unit", "unit": "in"})
    with pytest.raises(Refused, match="200 in was given"):
        edited(inches, {"do": "change", "of": "part a2", "values": {"width": "200"}})


def test_units_change_how_lengths_are_read_and_no_size() -> None:
    inches = edited(tag(), {"do": "set-unit", "unit": "in"})
    assert area(inches) == area(tag())
    wider = edited(inches, {"do": "change", "of": "part a2", "values": {"width": "3"}})
    assert wider.pieces[0].parts[0].shape.width == pytest.approx(76.2)  # type: ignore[union-attr]


def test_material_brings_a_thickness_that_is_sold() -> None:
    leather = edited(tag(), {"do": "change", "of": "stock", "values": {"material": "tan-leather"}})
    assert leather.stock.thickness == 2


@given(st.lists(st.sampled_from(["rectangle", "circle", "ring", "hole", "words"]), max_size=6))
def test_a_design_reads_back_as_it_was_written(kinds: list[str]) -> None:
    design = one_piece(*(put(kind) for kind in kinds))
    assert read_design(design.model_dump(mode="json")) == design


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (None, "not a Foliant design file"),
        ([], "not a Foliant design file"),
        ({"format": "foliant-design"}, "version None"),
        ({"format": "foliant-design", "version": 9}, "version 9"),
        ({"format": "foliant-design", "version": 1, "pieces": 3}, "pieces"),
        ({"format": "foliant-design", "version": 1, "moon": 1}, "moon"),
        ({"format": "foliant-design", "version": 1, "pieces": [{"id": "p1", "name": "A"}] * 2}, "same id"),
    ],
)
def test_a_malformed_design_is_refused_with_a_sentence(data: object, says: str) -> None:
    with pytest.raises(Refused, match=says):
        read_design(data)


@pytest.mark.parametrize(
    ("address", "raw", "found"),
    [
        ("project name", "Dome keys", lambda d: d.name == "Dome keys"),
        ("project unit", "in", lambda d: (d.unit, round(d.nudge, 4)) == ("in", 0.3969)),
        ("piece p1 copies", "12", lambda d: d.pieces[0].copies == 12),
        ("part a2 width", "3in", lambda d: d.pieces[0].part("a2").shape.width == 76.2),
        ("part a4 text", "VEGA", lambda d: d.pieces[0].part("a4").shape.text == "VEGA"),
        ("part a4 roles", "engraves and scores", lambda d: d.pieces[0].part("a4").roles == ("engraves", "scores")),
        ("part a4 hidden", "yes", lambda d: d.pieces[0].part("a4").hidden),
        ("operation outer on", False, lambda d: not d.ticket.operation("outer").on),
        ("stock measured", "2.9", lambda d: d.stock.actual == 2.9),
        ("ticket begins", "smooth", lambda d: d.ticket.begins == "smooth"),
    ],
)
def test_any_value_has_an_address_and_is_put_there(address: str, raw: object, found: Callable[[Design], bool]) -> None:
    there = Address.read(address)
    assert str(there) == address
    assert found(put_value(tag(), there.holder, {there.field: raw}))


@pytest.mark.parametrize(
    ("address", "raw", "says"),
    [
        ("moon a2 width", 3, "nothing called"),
        ("part a4 hidden", "perhaps", "yes or no"),
        ("part a4 roles", "engraves guides", "only looked at"),
        ("part a4 roles", "shines", "roles"),
        ("part a9 width", 3, "no longer on the piece"),
        ("part a4 shape", {}, "no value"),
        ("operation lunch on", True, "no longer on the ticket"),
    ],
)
def test_what_cannot_be_put_there_is_refused(address: str, raw: object, says: str) -> None:
    def tried() -> Design:
        there = Address.read(address)
        return put_value(tag(), there.holder, {there.field: raw})

    with pytest.raises(Refused, match=says):
        tried()


def test_a_project_without_a_name_is_called_after_its_first_words() -> None:
    blank = edited(Design(), {"do": "add-piece"}, put("words", text="VEGA"))
    typed = {"do": "change", "of": "part a2", "values": {"text": "Dome  keys\nfor Lyra"}}
    named = edited(blank, typed)
    assert (blank.name, named.name) == ("New project", "Dome keys")
    other = {"do": "change", "of": "part a2", "values": {"text": "Orrin"}}
    assert edited(named, other).name == "Dome keys"
    assert edited(Design(name="Mine"), {"do": "add-piece"}, put("words"), typed).name == "Mine"
