"""What the page is told of treatments, combinations and surrounds, and of what the checks find on a piece."""

import json
from typing import Any

import pytest

from foliant.core.design import Design, read_design
from foliant.workshop.presenters.scene import piece_scene
from tests.making import edited, one_piece, put, tag
from tests.workshop.conftest import Maker
from tests.workshop.test_sentences import says

HERE: dict[str, Any] = {"piece": "p1"}


def plate(*more: dict[str, Any]) -> Design:
    return one_piece(put("rectangle", width=72, height=30, x=36, y=15), *more)


def scene(design: Design) -> dict[str, Any]:
    return piece_scene(design.pieces[0], "birch ply", design.unit)


def part(design: Design, part_id: str) -> dict[str, Any]:
    return next(found for found in scene(design)["parts"] if found["id"] == part_id)


@pytest.mark.parametrize(
    ("treatment", "values", "said"),
    [
        ("cornered", {"size": 4}, "; corners rounded 4 mm,"),
        ("cornered", {"size": 4, "style": "cut"}, "; corners cut off 4 mm,"),
        ("grown", {"distance": 1}, "; grown by 1 mm with round joins,"),
        ("grown", {"distance": -1, "joins": "sharp"}, "; shrunk: grown by -1 mm with sharp joins,"),
        ("hollowed", {"width": 5}, "; hollow, a frame 5 mm wide,"),
        ("halved", {"half": "upper"}, "; its upper half mirrored,"),
        ("widened", {"width": 2}, "; widened to 2 mm with round ends,"),
    ],
)
def test_every_treatment_is_said_and_every_value_of_it_can_be_typed(treatment: str, values: Any, said: str) -> None:
    design = edited(plate(), {"do": "treat-parts", **HERE, "parts": ["a2"], "treatment": treatment, "values": values})
    assert said in says(design)
    for bit in part(design, "a2")["spec"]:
        if bit.get("of") == f"{treatment} a2":
            again = edited(design, {"do": "change", "of": bit["of"], "values": {bit["field"]: bit["raw"]}})
            assert says(again) == says(design)


def test_a_surround_says_what_it_goes_round_and_a_combination_what_it_keeps() -> None:
    design = plate(put("circle", diameter=20, x=36, y=15))
    round_both = edited(design, {"do": "surround-parts", **HERE, "parts": ["a2", "a3"]})
    said = "Surround 3 mm outside Rectangle and Circle, corners round, gaps under 2 mm closed, openings filled, solid"
    assert says(round_both, "a4").startswith(f"{said}, adds to")
    less = edited(design, {"do": "combine-parts", **HERE, "parts": ["a2", "a3"], "how": "subtract"})
    assert "subtracted, 72 mm × 30 mm, keeping Rectangle, adds to" in says(less, "a4")
    assert part(less, "a4")["members"] == ["a2", "a3"]
    assert scene(less)["combined"] == ["a2", "a3"]


def test_a_slot_says_its_fit_and_where_the_stock_is_measured() -> None:
    design = edited(plate(put("slot", length=10)), {"do": "change", "of": "stock", "values": {"measured": "4.2"}})
    assert says(design, "a3").startswith("Slot 10 mm long, square ends, a sliding fit for 4.2 mm stock: 4.35 mm wide")
    bit = next(bit for bit in part(design, "a3")["spec"] if bit.get("of") == "stock")
    thinner = edited(design, {"do": "change", "of": "stock", "values": {bit["field"]: "3.1"}})
    assert "for 3.1 mm stock: 3.25 mm wide" in says(thinner, "a3")
    inches = edited(design, {"do": "set-unit", "unit": "in"})
    assert "0.165 in stock" in says(inches, "a3")


def test_the_page_is_told_of_corners_and_faces_that_can_be_pressed() -> None:
    design = edited(plate(), {"do": "treat-parts", **HERE, "parts": ["a2"], "treatment": "cornered"})
    design = edited(design, {"do": "turn-corner", **HERE, "parts": ["a2"], "corner": 2})
    corners = part(design, "a2")["corners"]
    assert [on for _, _, on in corners] == [True, True, False, True]
    assert {(abs(x), abs(y)) for x, y, _ in corners} == {(36, 15)}
    line = plate(put("line", length=90, x=36, y=15))
    divided = edited(line, {"do": "combine-parts", **HERE, "parts": ["a2", "a3"], "how": "divide"})
    faces = part(divided, "a4")["faces"]
    assert [kept for _, kept, _, _ in faces] == [True, True]
    dropped = edited(divided, {"do": "turn-face", **HERE, "parts": ["a4"], "x": faces[0][2], "y": faces[0][3]})
    assert [kept for _, kept, _, _ in part(dropped, "a4")["faces"]] == [False, True]


def test_findings_come_with_fixes_that_can_be_posted_as_they_are(maker: Maker) -> None:
    design = one_piece(put("circle", diameter=20, x=10, y=10), put("circle", diameter=10, x=40, y=10))
    project = maker.project(design)
    found = maker.get(f"projects/{project.pk}/pieces/p1/findings").json()
    (finding,) = found["findings"]
    assert finding["level"] == "stop"
    assert finding["spot"].startswith("M")
    join, drop = finding["fixes"]
    assert (join["says"], drop["says"]) == ("Join with a 3 mm bridge here", "Drop it")
    answer = maker.edit(project, 1, **join["edit"])
    assert answer.status_code == 200
    assert answer.json()["scenes"]["p1"]["bodies"] == 1
    assert maker.get(f"projects/{project.pk}/pieces/p1/findings").json()["findings"] == []
    assert maker.get(f"projects/{project.pk}/pieces/p9/findings").status_code == 422


def test_idle_parts_say_so_and_the_thin_limit_can_be_typed(maker: Maker) -> None:
    project = maker.project(plate(put("hole", width=4, height=4, x=200, y=15)))
    found = maker.get(f"projects/{project.pk}/pieces/p1/findings").json()
    assert found["idle"] == {"a3": "cuts nothing"}
    limit = next(bit for bit in found["limit"] if "field" in bit)
    assert limit["text"] == "1.2 mm"
    assert maker.edit(project, 1, do="change", of=limit["of"], values={limit["field"]: "0.8"}).status_code == 200
    again = maker.get(f"projects/{project.pk}/pieces/p1/findings").json()
    assert next(bit for bit in again["limit"] if "field" in bit)["text"] == "0.8 mm"


def test_the_fixes_of_the_check_station_are_the_same(maker: Maker) -> None:
    project = maker.project(one_piece(put("circle", diameter=20), put("circle", diameter=10, x=40, y=10)))
    (finding,) = maker.get(f"projects/{project.pk}/stations/check").json()["findings"]
    assert [fix["says"] for fix in finding["fixes"]] == ["Join with a 3 mm bridge here", "Drop it"]


def test_a_surround_follows_in_the_answer_to_an_edit_of_its_words(maker: Maker) -> None:
    design = edited(tag(), {"do": "surround-parts", **HERE, "parts": ["a4"], "role": "scores"})
    project = maker.project(design)
    answer = maker.edit(project, 1, do="change", of="part a4", values={"text": "ORRIN VALE"}).json()
    told = {found["id"]: found for found in answer["scenes"]["p1"]["parts"]}
    assert set(told) >= {"a4", "a5"}
    before = part(design, "a5")["bounds"]
    assert told["a5"]["bounds"][2] - told["a5"]["bounds"][0] > before[2] - before[0] + 10


def test_parts_are_pasted_with_what_they_are_made_of(maker: Maker) -> None:
    design = edited(
        plate(put("circle", diameter=20, x=36, y=15)),
        {"do": "combine-parts", **HERE, "parts": ["a2", "a3"], "how": "subtract"},
    )
    data = [found["data"] for found in scene(design)["parts"]]
    assert all("sources" not in found["shape"] for found in data)
    text = json.dumps({"format": "foliant-parts", "parts": data})
    project = maker.project(one_piece(name="Empty"))
    answer = maker.edit(project, 1, do="paste-parts", piece="p1", text=text, step=5).json()
    left, top, right, bottom = answer["scenes"]["p1"]["bounds"]
    assert (round(left, 3), round(top, 3), round(right, 3), round(bottom, 3)) == (5, 5, 77, 35)
    assert answer["scenes"]["p1"]["bodies"] == 1


def test_sources_that_a_file_claims_are_not_believed() -> None:
    design = edited(plate(), {"do": "surround-parts", **HERE, "parts": ["a2"]})
    data = design.model_dump(mode="json")
    data["pieces"][0]["parts"][0]["shape"]["sources"] = [{"id": "a2", "form": "moon", "matrices": []}]
    assert read_design(data) == design


@pytest.mark.parametrize(
    ("edit", "sentence"),
    [
        ({"do": "treat-parts", "treatment": "grown", "values": {"distance": "-16"}}, "by less than 15 mm something is"),
        ({"do": "treat-parts", "treatment": "cornered", "values": {"size": "16"}}, "the largest that fits is 15 mm"),
        ({"do": "treat-parts", "treatment": "grown", "values": {"distance": "moon"}}, "moon"),
        ({"do": "treat-parts", "treatment": "hollowed", "values": {"width": "0"}}, "more than nothing"),
        ({"do": "surround-parts", "values": {"distance": "-4"}}, "more than nothing"),
        ({"do": "combine-parts", "how": "weld"}, "at least two parts"),
        ({"do": "tab-parts"}, "lies inside a frame"),
        ({"do": "turn-corner", "corner": 0}, "are not treated"),
    ],
)
def test_what_cannot_be_done_is_answered_with_a_sentence_and_nothing_is_lost(
    maker: Maker, edit: dict[str, Any], sentence: str
) -> None:
    project = maker.project(plate())
    answer = maker.edit(project, 1, **edit, **HERE, parts=["a2"])
    assert answer.status_code == 422
    assert sentence in answer.json()["message"]
    assert maker.get(f"projects/{project.pk}").json()["revision"] == 1
