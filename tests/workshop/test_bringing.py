"""Bringing in through the page's calls: whatever a file is, what it holds, and what becomes of it."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from foliant.core.errors import Refused
from foliant.core.formats import write_design
from foliant.core.remembering import forget
from foliant.workshop.models import Brought, DrawingFile, Project
from foliant.workshop.reading import being_read
from tests.core.test_bringing import TAG
from tests.drawings import svg
from tests.pictures import encoded, waves
from tests.workshop.conftest import Maker

pytestmark = pytest.mark.usefixtures("read_here")


def brought(maker: Maker, data: bytes, name: str = "moon_gate.svg"):
    return maker.client.post("/api/brought", {"file": SimpleUploadedFile(name, data)})


def said(maker: Maker, project: Project, key: str, **answers: object):
    return maker.post(f"projects/{project.pk}/brought/{key}", piece="p1", **answers)


def take(maker: Maker, project: Project, key: str, revision: int, **answers: object):
    return maker.post(f"projects/{project.pk}/brought/{key}/taken", piece="p1", revision=revision, **answers)


@pytest.mark.parametrize(
    ("data", "name", "kind"),
    [
        (svg(TAG), "moon_gate.svg", "drawing"),
        (svg(TAG), "photo.png", "drawing"),
        (encoded(waves()), "drawing.svg", "picture"),
    ],
)
def test_a_file_is_what_it_holds_whatever_it_is_called(maker: Maker, data: bytes, name: str, kind: str) -> None:
    assert brought(maker, data, name).json()["kind"] == kind


def test_how_far_a_file_is_read_is_told_to_its_maker_who_may_give_it_up(maker: Maker, other: Maker) -> None:
    with being_read(maker.user.pk) as watch:
        watch(0.4)
        assert maker.get("computing").json() == {"seconds": 0.0, "read": 0.4}
        assert other.get("computing").json()["read"] == 0
        assert other.client.delete("/api/computing").json() == {"stopped": 0}
        watch(0.5)
        assert maker.client.delete("/api/computing").json() == {"stopped": 1}
        with pytest.raises(Refused, match="given up"):
            watch(0.6)
    assert maker.get("computing").json()["read"] == 0


def test_a_design_gives_its_pieces(maker: Maker) -> None:
    project = maker.project()
    found = brought(maker, write_design(project.design).encode(), "tags.json").json()
    assert found["kind"] == "design"
    assert maker.edit(project, 1, do="add-pieces", text=found["text"]).status_code == 200
    project.refresh_from_db()
    assert len(project.design.pieces) == 2


def test_what_came_in_is_shown_as_it_is_said_and_taken_so(maker: Maker) -> None:
    project = maker.project()
    key = brought(maker, svg(TAG)).json()["key"]
    view = said(maker, project, key).json()
    assert (view["width"], view["size"]) == ("90 mm", "× 60 mm, as the file says in mm")
    roles = {group["title"]: group["role"] for group in view["groups"]}
    assert roles["1 area in black"] == "engraves"
    assert view["words"] == [{"text": "Ysolde", "font": "in Lora bold"}]
    chosen = {group["key"]: group["role"] for group in view["groups"]}
    guides = next(group["key"] for group in view["groups"] if group["role"] == "guides")
    view = said(maker, project, key, width="45", roles={**chosen, guides: "left"}, into="piece").json()
    assert (view["width"], view["factor"]) == ("45 mm", 0.5)
    answer = take(maker, project, key, 1, factor=0.5, roles={**chosen, guides: "left"}, into="piece")
    assert answer.status_code == 200, answer.content
    project.refresh_from_db()
    assert project.design.pieces[-1].name == "moon gate"
    assert {role for part in project.design.pieces[-1].parts for role in part.roles} == {
        "adds",
        "cuts",
        "engraves",
        "scores",
    }
    # The next time it is asked as it was answered; also once it has changed.
    changed = brought(maker, svg(TAG.replace("6", "7", 1))).json()["key"]
    again = said(maker, project, changed, again=True).json()
    assert (again["before"], again["factor"], again["into"]) == (True, 0.5, "anew")
    assert again["there"] == "in place of 4 parts"
    assert [group["role"] for group in again["groups"] if group["key"] == guides] == ["left"]
    assert Brought.objects.get().drawing.key == key
    parts = len(project.design.pieces[-1].parts)
    answer = take(maker, project, changed, 2, factor=0.5, roles={guides: "left"}, into="anew")
    assert answer.status_code == 200, answer.content
    project.refresh_from_db()
    assert [len(piece.parts) for piece in project.design.pieces[1:]] == [parts]
    maker.post(f"projects/{project.pk}/undo", revision=3)
    assert said(maker, project, changed, again=True).json()["into"] == "anew"
    maker.post(f"projects/{project.pk}/undo", revision=2)
    assert said(maker, project, changed, again=True).json()["into"] == "parts"  # nothing is there to be exchanged


def test_bad_files_and_bad_answers_are_sentences_and_nothing_is_kept(maker: Maker) -> None:
    project = maker.project()
    for data, says in (
        (b"PK\x03\x04" + bytes(99), "design|ZIP"),
        (b"", "no drawing"),
        (svg("<g/>"), "Nothing"),
        (b"{", "JSON"),
    ):
        answer = brought(maker, data)
        assert answer.status_code == 422
        assert any(one in answer.json()["message"] for one in says.split("|")), answer.json()
    assert not DrawingFile.objects.exists()
    key = brought(maker, svg(TAG)).json()["key"]
    for bad in ({"width": "wide"}, {"width": "0"}, {"factor": 0}, {"into": "melt"}, {"roles": {"x": "y"}}):
        answer = said(maker, project, key, **bad)
        assert answer.status_code in (200, 422)
        assert bad == {"roles": {"x": "y"}} or answer.status_code == 422, bad
    group = said(maker, project, key).json()["groups"][0]["key"]
    assert take(maker, project, key, 1, roles={group: "melts"}).status_code == 422
    assert take(maker, project, "nothing", 1).status_code == 404
    assert take(maker, project, key, 7).status_code == 409
    project.refresh_from_db()
    assert project.current == 1


def test_a_drawing_is_its_makers_alone_and_one_that_is_gone_is_a_sentence(maker: Maker, other: Maker) -> None:
    key = brought(maker, svg(TAG)).json()["key"]
    assert said(other, other.project(), key).status_code == 404
    drawing = DrawingFile.objects.get()
    drawing.read.storage.delete(drawing.read.name)
    forget()
    answer = said(maker, maker.project(), key)
    assert answer.status_code == 422
    assert "once more" in answer.json()["message"]


def test_no_script_of_a_file_is_in_anything_that_is_written(maker: Maker) -> None:
    project = maker.project()
    evil = '<script>alert(1)</script><g id="&quot;&gt;&lt;script&gt;alert(2)">'
    evil += '<rect width="5" height="5" onload="alert(3)"/></g>'
    key = brought(maker, svg(evil)).json()["key"]
    shown = json.dumps(said(maker, project, key).json())
    assert "alert(1)" not in shown
    assert "alert(3)" not in shown
    assert take(maker, project, key, 1).status_code == 200
    for ending in ("svg", "json"):
        written = maker.client.get(f"/api/projects/{project.pk}/export/{ending}")
        assert written.status_code == 200
        text = written.content.decode()
        assert "alert(1)" not in text
        assert "alert(3)" not in text
        assert ending == "json" or "<script" not in text
