"""Makers' own pictures: added, shown as they will be burnt, and nobody else's."""

import io
import json

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from foliant.core.formats import write_design
from foliant.core.remembering import forget
from foliant.workshop.actions import OpenDesign
from foliant.workshop.models import PictureFile, Project
from foliant.workshop.presenters.checks import rehearsal_of
from tests.pictures import encoded, waves
from tests.workshop.conftest import Maker

pytestmark = pytest.mark.usefixtures("read_here")


def add(maker: Maker, data: bytes, name: str = "harbour_lights.png"):
    return maker.client.post("/api/brought", {"file": SimpleUploadedFile(name, data)})


@pytest.fixture(name="pictured")
def _pictured(maker: Maker) -> tuple[Project, str]:
    """A project whose tag bears a picture, and the key of that."""
    found = add(maker, encoded(waves())).json()
    assert found["name"] == "harbour lights"
    project = maker.project()
    put = {"kind": "picture", "values": {"picture": found["key"], "name": found["name"], "width": 24}}
    assert maker.edit(project, 1, do="add-part", piece="p1", **put).status_code == 200
    return Project.objects.get(pk=project.pk), found["key"]


def test_a_picture_is_shown_as_it_will_be_burnt_on_its_material(maker: Maker, pictured: tuple[Project, str]) -> None:
    project, key = pictured
    state = maker.get(f"projects/{project.pk}").json()
    (view,) = state["scenes"]["p1"]["pictures"]
    stuff = state["materials"][""]
    answer = maker.client.get(f"{view['href']}&{stuff['burns']}")
    assert (answer.status_code, answer["Content-Type"]) == (200, "image/png")
    assert "immutable" in answer["Cache-Control"]
    shown = np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGBA"))
    assert shown.shape[:2] == (180, 240)
    assert set(np.unique(shown[..., 3])) == {0, 255}  # in dots, as the ticket says
    assert "#%02x%02x%02x" % tuple(shown[0, 0, :3]) == stuff["mark"]  # noqa: UP031
    greys = maker.client.get(f"{view['href']}&interval=0.2&tone=grey&ink=%23000000")
    assert len(np.unique(np.asarray(Image.open(io.BytesIO(greys.content)).convert("RGBA"))[..., 3])) > 40
    assert maker.client.get(f"/api/pictures/{key}/burnt.png?whole_width=0&whole_height=3").status_code == 422
    assert maker.client.get("/api/pictures/picture-nobody/burnt.png?whole_width=9&whole_height=9").status_code == 404


def test_a_picture_is_its_makers_alone(maker: Maker, other: Maker, pictured: tuple[Project, str]) -> None:
    project, key = pictured
    address = f"/api/pictures/{key}/burnt.png?whole_width=20&whole_height=15"
    assert maker.client.get(address).status_code == 200
    assert other.client.get(address).status_code == 404
    theirs = OpenDesign(other.user, write_design(project.design).encode()).execute()
    scene = other.get(f"projects/{theirs.pk}").json()["scenes"]["p1"]
    assert scene["pictures"][0]["href"] == ""
    assert "is not here" in json.dumps(other.get(f"projects/{theirs.pk}/pieces/p1/findings").json())
    assert add(other, encoded(waves())).status_code == 200  # the same file: now it is theirs too
    (view,) = other.get(f"projects/{theirs.pk}").json()["scenes"]["p1"]["pictures"]
    assert other.client.get(view["href"]).status_code == 200
    assert key not in view["href"]
    assert PictureFile.objects.count() == 2


@pytest.mark.parametrize("data", [b"", b"no picture", encoded(waves())[:400], b"\x89PNG\r\n\x1a\n" + bytes(90)])
def test_what_is_no_picture_is_refused_and_nothing_is_kept(maker: Maker, data: bytes) -> None:
    answer = add(maker, data)
    assert answer.status_code == 422
    assert answer.json()["message"].endswith(".")
    assert not PictureFile.objects.exists()


def test_a_picture_whose_file_is_lost_is_an_empty_frame_and_no_fault(
    maker: Maker, pictured: tuple[Project, str]
) -> None:
    project, _ = pictured
    (stored,) = PictureFile.objects.all()
    stored.file.storage.delete(stored.file.name)
    forget()
    assert maker.get(f"projects/{project.pk}").json()["scenes"]["p1"]["pictures"][0]["href"] == ""
    assert "is not here" in json.dumps(maker.get(f"projects/{project.pk}/pieces/p1/findings").json())


def test_a_rehearsal_tells_a_row_of_dots_as_one_step(pictured: tuple[Project, str]) -> None:
    project, _ = pictured
    rows = np.frombuffer(rehearsal_of(project.design, project.shop), "<f4").reshape(-1, 4)
    steps = rows[rows[:, 3] == 1]  # after the engraving
    assert 179 <= len(steps) <= 181
    assert (np.diff(rows[:, 2]) >= 0).all()


def test_a_project_goes_to_another_maker_with_its_pictures(maker: Maker, other: Maker, pictured) -> None:
    project, _ = pictured
    bundle = maker.client.get(f"/api/projects/{project.pk}/export/zip")
    assert bundle["Content-Type"] == "application/zip"
    file = SimpleUploadedFile("tags.zip", bundle.content)
    answer = other.client.post("/api/designs", {"file": file}).json()
    (view,) = other.get(f"projects/{answer['id']}").json()["scenes"]["p1"]["pictures"]
    assert other.client.get(view["href"]).status_code == 200
    spoilt = SimpleUploadedFile("tags.zip", bundle.content[:2000])
    assert other.client.post("/api/designs", {"file": spoilt}).status_code == 422
    assert "with its pictures" in maker.client.get(f"/projects/{project.pk}/ticket/").content.decode()
    plain = maker.project()
    assert "with its pictures" not in maker.client.get(f"/projects/{plain.pk}/ticket/").content.decode()
