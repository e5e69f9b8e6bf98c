"""Edits, revisions, undo and redo."""

from typing import Any

import pytest

from foliant.workshop.models import Project
from tests.making import one_piece, put, tag
from tests.workshop.conftest import Maker


def widths(project: Project) -> list[Any]:
    return [part.shape.model_dump().get("width") for part in Project.objects.get(pk=project.pk).design.pieces[0].parts]


def widen(width: object) -> dict[str, Any]:
    return {"do": "change", "of": "part a2", "values": {"width": width}}


def test_an_edit_answers_with_what_changed(maker: Maker) -> None:
    project = maker.project(one_piece(put("rectangle")).model_copy())
    maker.edit(project, 1, do="add-piece", name="Orbit ring")
    answer = maker.edit(project, 2, **widen("3in")).json()
    assert answer["revision"] == 3
    assert list(answer["scenes"]) == ["p1"]
    assert answer["order"] == ["p1", "p3"]
    assert answer["scenes"]["p1"]["size"] == "76.2 × 30 mm"
    assert answer["undo"] == "change width"


def test_a_stale_edit_gets_409_with_the_present_state_and_changes_nothing(maker: Maker) -> None:
    project = maker.project()
    assert maker.edit(project, 1, **widen(80)).status_code == 200
    stale = maker.edit(project, 1, **widen(60))
    assert stale.status_code == 409
    assert stale.json()["state"]["revision"] == 2
    assert "another window" in stale.json()["message"]
    assert widths(project)[0] == 80


def test_the_same_edit_sent_twice_is_done_once(maker: Maker) -> None:
    project = maker.project()
    move = {"do": "move-parts", "piece": "p1", "parts": ["a4"], "dx": 5, "dy": 0}
    codes = [maker.edit(project, 1, **move).status_code for _ in range(2)]
    assert codes == [200, 409]
    assert Project.objects.get(pk=project.pk).design.pieces[0].parts[2].x == 45


def test_undo_and_redo_walk_stored_revisions(maker: Maker) -> None:
    project = maker.project()
    for revision, width in enumerate((80, 90, 100), start=1):
        maker.edit(project, revision, **widen(width))
    assert maker.post(f"projects/{project.pk}/undo", revision=4).json()["undo"] == "change width"
    assert maker.post(f"projects/{project.pk}/undo", revision=3).json()["redo"] == "change width"
    assert widths(project)[0] == 80
    assert maker.post(f"projects/{project.pk}/redo", revision=2).json()["revision"] == 3
    assert widths(project)[0] == 90


def test_undo_is_there_after_everything_was_closed(maker: Maker) -> None:
    project = maker.project()
    maker.edit(project, 1, **widen(80))
    maker.client.cookies.clear()
    maker.client.force_login(maker.user)
    state = maker.get(f"projects/{project.pk}").json()
    assert state["undo"] == "change width"
    assert maker.post(f"projects/{project.pk}/undo", revision=2).status_code == 200
    assert widths(project)[0] == 72


def test_a_new_edit_after_undo_leads_elsewhere(maker: Maker) -> None:
    project = maker.project()
    maker.edit(project, 1, **widen(80))
    maker.post(f"projects/{project.pk}/undo", revision=2)
    answer = maker.edit(project, 1, **widen(50)).json()
    assert answer["redo"] is None
    assert answer["revision"] == 3  # numbers are never used twice
    assert maker.edit(project, 2, **widen(10)).status_code == 409


def test_the_ends_of_history_say_so(maker: Maker) -> None:
    project = maker.project()
    for way in ("undo", "redo"):
        response = maker.post(f"projects/{project.pk}/{way}", revision=1)
        assert (response.status_code, response.json()["message"]) == (422, f"There is nothing to {way}.")


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (widen("12 parsecs"), "“parsecs” is not a unit"),
        (widen("0"), "more than nothing"),
        (widen("-5 mm"), "more than nothing"),
        ({"do": "change", "of": "part a4", "values": {"text": "M" * 10_000}}, "10,000"),
        ({"do": "change", "of": "part a4", "values": {"text": "\u0007"}}, "letter|control"),
        ({"do": "make-tea"}, "cannot be read"),
        ({}, "cannot be read"),
    ],
)
def test_bad_input_is_answered_with_a_sentence_and_nothing_is_lost(
    maker: Maker, edit: dict[str, Any], says: str
) -> None:
    project = maker.project()
    before = Project.objects.get(pk=project.pk).design
    response = maker.edit(project, 1, **edit)
    assert response.status_code == 422
    assert any(word in response.json()["message"] for word in says.split("|"))
    assert Project.objects.get(pk=project.pk).design == before
    assert project.revisions.count() == 1


def test_a_preview_keeps_nothing(maker: Maker) -> None:
    project = maker.project()
    answer = maker.post(f"projects/{project.pk}/preview", revision=1, edit=widen(90)).json()
    assert answer["scenes"]["p1"]["size"] == "90 × 30 mm"
    assert widths(project)[0] == 72
    assert project.revisions.count() == 1


def test_a_name_given_in_the_project_is_the_name_on_the_card(maker: Maker) -> None:
    project = maker.project()
    maker.edit(project, 1, do="rename", name="  Dome   badges ")
    assert "Dome badges" in maker.client.get("/").content.decode()
    maker.post(f"projects/{project.pk}/undo", revision=2)
    assert "Dome badges" not in maker.client.get("/").content.decode()
    maker.post(f"projects/{project.pk}/redo", revision=1)
    assert "Dome badges" in maker.client.get("/").content.decode()


def test_duplicate_projects_go_their_own_ways(maker: Maker) -> None:
    project = maker.project()
    maker.client.post(f"/projects/{project.pk}/duplicate/")
    copy = Project.objects.exclude(pk=project.pk).get()
    assert copy.name == "Open-night tags (copy)"
    maker.edit(copy, 1, **widen(99))
    assert (widths(copy)[0], widths(project)[0]) == (99, 72)


def test_the_spec_sentence_says_every_value_and_where_it_belongs(maker: Maker) -> None:
    project = maker.project()
    parts = maker.get(f"projects/{project.pk}").json()["scenes"]["p1"]["parts"]
    said = ["".join(bit["text"] for bit in part["spec"]) for part in parts]
    assert said[0] == (
        "Rectangle 72 mm × 30 mm, corners cut off 6 mm, adds to Guide tag; "
        "its middle 36 mm across and 15 mm down, turned 0°."
    )
    assert said[1].startswith("Long hole 3.5 mm × 14 mm, cuts away from Guide tag")
    assert said[2].startswith("Words ORRIN in Playfair Display bold, capitals 7.5 mm tall, tracking 0 %, engraves")
    for part in parts:
        for bit in part["spec"]:
            assert bit.get("of", f"part {part['id']}") == f"part {part['id']}"


def test_inches_are_shown_in_inches(maker: Maker) -> None:
    project = maker.project()
    answer = maker.edit(project, 1, do="set-unit", unit="in").json()
    assert answer["scenes"]["p1"]["size"] == "2.835 × 1.181 in"


def test_every_download_has_a_name_and_the_right_content(maker: Maker) -> None:
    project = maker.project(tag(copies=2))
    for ending, begins in (("svg", b"<?xml"), ("gcode", b"; Open-night"), ("json", b"{")):
        response = maker.get(f"projects/{project.pk}/export/{ending}")
        assert response.content.startswith(begins)
        assert response.headers["Content-Disposition"] == f'attachment; filename="open-night-tags.{ending}"'
    assert maker.get(f"projects/{project.pk}/export/exe").status_code == 404


def test_rows_of_a_roster_are_on_the_sheet_each_with_its_own_drawing(maker: Maker) -> None:
    project = maker.project(one_piece(put("rectangle", width=72, height=30), put("words", text="{name}", cap_height=5)))
    table = {"do": "take-table", "heading": ["name"], "rows": [["Ysolde"], ["Orrin"], ["  "]], "tie": True}
    assert maker.edit(project, 1, **table).status_code == 200
    sheet = maker.get(f"projects/{project.pk}/stations/sheet").json()["sheet"]
    rows = [(instance["label"], instance["drawn"]) for instance in sheet["instances"]]
    assert [label for label, _ in rows] == ["Guide tag “Ysolde”", "Guide tag “Orrin”", "Guide tag “row 3”"]
    assert len({sheet["pieces"][drawn]["engraved"] for _, drawn in rows}) == 3
    first = sheet["instances"][0]
    moved = {"do": "place", "piece": "p1", "row": first["row"], "number": 1, "x": 150, "y": 90}
    assert maker.edit(project, 2, **moved).status_code == 200
    again = maker.get(f"projects/{project.pk}/stations/sheet").json()["sheet"]["instances"][0]
    assert (again["bounds"][:2], again["put"]) == ([150, 90], True)
    for station in ("shape", "ticket", "check"):
        assert maker.get(f"projects/{project.pk}/stations/{station}").status_code == 200
    refused = maker.edit(project, 3, do="tie", of="part a9 text", text="{name}")
    assert refused.status_code == 422
