"""What would be too much is told before it is worked out, with what to lessen; what is stored always opens."""

import json
from importlib import import_module
from typing import Any

import pytest

from foliant.core.checks import check
from foliant.core.design import Design, proved, read_design, read_edit, read_stored, resolve
from foliant.core.design.budget import MOST_OF_A_PIECE, check_budget, weight
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.formats import written
from foliant.core.layout import lay_out
from foliant.core.machine import script_of
from foliant.core.remembering import remembered
from foliant.core.remembering import weight as bytes_of
from foliant.core.ticket import MOST_MOVES
from tests.making import check_piece, edited, one_piece, plan, put, tag

LONG = "Quillmoor Observatory opens tonight " * 28


def repeated(part: str, columns: int, rows: int) -> list[dict[str, Any]]:
    values = {"columns": columns, "rows": rows}
    return [
        {"do": "repeat-parts", "piece": "p1", "parts": [part], "kind": "rows"},
        {"do": "change", "of": f"repeat {part}", "values": values},
    ]


def test_a_thousand_letters_a_thousand_times_is_refused_before_it_is_worked_out(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    repeat, more = repeated("a2", 40, 25)
    words = edited(one_piece(put("words", text=LONG[:1000].replace(" ", "o"), cap_height=4, role="adds")), repeat)
    monkeypatch.setattr(import_module("foliant.core.design.resolve"), "combine", lambda *_: pytest.fail("worked out"))
    with pytest.raises(Refused, match=r"lessen its 1,000 copies or its 1,000 characters"):
        edited(words, more)


def test_treatments_and_parts_made_of_parts_count_for_what_they_cost() -> None:
    plain = one_piece(put("words", text="ORRIN", role="adds"))
    grown = edited(plain, {"do": "treat-parts", "piece": "p1", "parts": ["a2"], "treatment": "grown"})
    around = edited(plain, {"do": "surround-parts", "piece": "p1", "parts": ["a2"]})
    one, two, three = (weight(design.pieces[0]) for design in (plain, grown, around))
    assert one < two
    assert one < three < MOST_OF_A_PIECE


def test_a_project_asks_for_so_many_pieces_in_all() -> None:
    design = tag(copies=500)
    for number in range(19):
        design = edited(design, {"do": "add-piece", "name": f"Tag {number}"})
        copies = {"do": "change", "of": f"piece {design.pieces[-1].id}", "values": {"copies": 500}}
        design = edited(design, copies)
    with pytest.raises(Refused, match="at most 10,000"):
        edited(design, {"do": "change", "of": "piece p1", "values": {"copies": 500}}, {"do": "add-piece"})
    check_budget(design)


def test_an_engraving_of_millions_of_lines_is_left_out_and_said() -> None:
    plate = one_piece(
        put("rectangle", width=2900, height=2900, x=1450, y=1450),
        put("rectangle", width=2800, height=2800, x=1450, y=1450, role="engraves"),
    )
    endless = edited(
        plate,
        {"do": "change", "of": "stock", "values": {"width": 3000, "height": 3000}},
        {"do": "change", "of": "operation engrave", "values": {"interval": 0.02, "passes": 50}},
    )
    job = plan(endless)
    assert [line.excess for line in job.lines if line.excess] == [pytest.approx(7_000_000, rel=0.01)]
    assert 0 < len(job.program) < MOST_MOVES
    assert "operations_are_not_endless" in {finding.check for finding in check(job)}


def test_chains_of_holds_of_any_length_are_followed() -> None:
    document = json.loads(one_piece(put("rectangle", width=5, height=5)).model_dump_json())
    first = document["pieces"][0]["parts"][0]
    document["pieces"][0]["parts"] = [
        {**first, "id": f"b{i}", "across": {"to": f"b{i - 1}", "gap": 1.0} if i else None} for i in range(1100)
    ]
    moved = edited(read_design(document), {"do": "move-parts", "piece": "p1", "parts": ["b0"], "dx": 5, "dy": 0})
    xs = [part.x for part in moved.pieces[0].parts]
    assert xs[1099] - xs[0] == pytest.approx(1099)


def test_parts_made_of_each_other_too_deep_are_refused() -> None:
    design = one_piece(put("circle", diameter=5))
    around = [{"do": "surround-parts", "piece": "p1", "parts": [f"a{2 + level}"]} for level in range(80)]
    with pytest.raises(Refused, match="60 deep"):
        edited(design, *around)


def two_pieces() -> Design:
    design = edited(tag(), {"do": "add-piece", "name": "Star"})
    return edited(design, put("star", piece=design.pieces[1].id, points=5))


def test_a_piece_that_cannot_be_worked_out_is_drawn_from_its_parts_and_everything_else_goes_on(broken: None) -> None:
    design = two_pieces()
    sound, star = design.pieces
    assert resolve(star).trouble
    assert len(resolve(star).outline.path) == 10
    assert resolve(star).outline.shape.is_empty
    assert not resolve(sound).trouble
    (finding,) = check_piece(design, star)
    assert (finding.check, finding.level) == ("piece_can_be_worked_out", "stop")
    assert [instance.piece.id for instance in lay_out(design).instances] == [sound.id]
    assert written(design, SHIPPED, "svg")
    assert written(design, SHIPPED, "gcode").count(b"\nG1") > 10
    gone = edited(design, {"do": "remove-piece", "piece": star.id})
    assert script_of(gone, SHIPPED, "job").moves > 10


def test_an_edit_that_brings_a_piece_into_trouble_is_refused_and_one_that_mends_it_is_not(broken: None) -> None:
    with pytest.raises(Refused, match="Nothing was changed"):
        proved(tag(), read_edit(put("star", points=5)))
    design = two_pieces()
    star = design.pieces[1]
    part = star.parts[0].id
    more = proved(design, read_edit({"do": "move-parts", "piece": star.id, "parts": [part], "dx": 1, "dy": 0}))
    mended = proved(more, read_edit({"do": "change", "of": f"part {part}", "values": {"points": 6}}))
    assert not resolve(mended.pieces[1]).trouble


def test_a_stored_piece_that_this_version_cannot_read_is_kept_until_one_can() -> None:
    document = json.loads(two_pieces().model_dump_json())
    document["pieces"][1]["parts"][0]["shape"]["kind"] = "hologram"
    with pytest.raises(Refused):
        read_design(document)
    opened = read_stored(document)
    assert opened.pieces[1].name == "Star"
    assert "cannot be read" in resolve(opened.pieces[1]).trouble
    again = json.loads(edited(opened, {"do": "rename", "name": "Kept"}).model_dump_json())
    assert "hologram" in again["pieces"][1]["unread"]
    again["pieces"][1]["unread"] = again["pieces"][1]["unread"].replace("hologram", "star")
    assert read_stored(again).pieces[1].parts[0].shape.kind == "star"


def test_results_are_kept_by_bytes_and_never_more_than_fit() -> None:
    asked = []

    @remembered
    def made(size: int) -> bytes:
        asked.append(size)
        return bytes(size)

    for size in (1000, 1000, 2000, 400_000_000, 400_000_000):
        made(size)
    assert asked == [1000, 2000, 400_000_000, 400_000_000]
    assert bytes_of(bytes(10_000)) > 10_000
    assert bytes_of([b"x" * 100] * 1000) == pytest.approx(172_000, rel=0.1)
