"""The eye through the pages: a lens learnt and kept, the sheet found, and what is said where nothing is to be seen."""

from collections.abc import Iterator

import pytest
from django.test import override_settings

from foliant.core.equipment import SHIPPED
from foliant.core.machine.camera import Camera
from foliant.workshop.models import Project, shop_of
from tests.core.test_eye import cameras
from tests.making import tag
from tests.workshop.conftest import Maker


@pytest.fixture(name="port")
def _port() -> Iterator[int]:
    with cameras() as port, override_settings(SIMULATED_PORT=port - 2 * len(SHIPPED.machines)):
        yield port


def test_a_lens_is_learnt_once_and_the_sheet_is_found_where_it_lies(maker: Maker, port: int) -> None:
    project = maker.project(tag(copies=4))
    eye = f"projects/{project.pk}/eye"
    unknown = maker.post(f"{eye}/look")
    assert (unknown.status_code, "learn its lens first" in unknown.json()["message"]) == (422, True)
    assert maker.post(f"{eye}/lay", what="marks").status_code == 200
    assert maker.post(f"{eye}/learn").json()["known"]
    assert shop_of(maker.user.pk).machine("bench-laser").lens

    stock = project.design.stock
    there = {"width": stock.width, "height": stock.height, "thickness": stock.actual, "lie": (50, 60, 9)}
    Camera("127.0.0.1", port, "/bench-laser").lay(there)
    seen = maker.post(f"{eye}/look").json()
    assert (seen["lie"]["x"], seen["lie"]["y"], seen["lie"]["turn"]) == pytest.approx((50, 60, 9), abs=0.3)
    assert seen["picture"].startswith("data:image/jpeg;base64,")
    assert seen["found"]["size"] is None
    closer = maker.client.get(f"/api/{eye}/closer.jpg?x=60&y=70")
    assert (closer.headers["Content-Type"], closer.content[:2]) == ("image/jpeg", b"\xff\xd8")
    laid = maker.post(f"projects/{project.pk}/machine/lie", lie=seen["lie"]).json()
    assert laid["liesSays"].startswith("Its near left corner lies at")

    Camera("127.0.0.1", port, "/bench-laser").lay({**there, "width": 250, "height": 180})
    other = maker.post(f"{eye}/look").json()
    assert other["found"]["size"] == pytest.approx([250, 180], abs=0.5)
    assert "on one of another size" in other["says"]
    assert maker.post(f"{eye}/lay", what="nothing").status_code == 200
    empty = maker.post(f"{eye}/look").json()
    assert (empty["found"], "No sheet is found" in empty["says"]) == (None, True)


def test_a_sheet_comes_to_lie_anyhow_on_a_simulated_bed_and_only_there(maker: Maker, port: int) -> None:
    project = maker.project()
    assert maker.post(f"projects/{project.pk}/eye/lay", what="sheet").status_code == 200
    maker.shop(
        {"do": "change", "of": "machine bench-laser", "values": {"camera": "192.168.1.41:80/bed.jpg"}}, revision=0
    )
    answer = maker.post(f"projects/{project.pk}/eye/lay", what="sheet")
    assert (answer.status_code, "lay it there by hand" in answer.json()["message"]) == (422, True)


@pytest.mark.parametrize(
    ("camera", "status", "says"),
    [
        ("", 424, "no camera over Bench laser"),
        ("127.0.0.1:1/bed.jpg", 424, "does not connect"),
        ("http://192.0.2.1:80/bed.jpg", 424, "does not connect"),
    ],
)
def test_cameras_are_asked_only_where_they_may_stand(maker: Maker, camera: str, status: int, says: str) -> None:
    project: Project = maker.project()
    changed = maker.shop({"do": "change", "of": "machine bench-laser", "values": {"camera": camera}}, revision=0)
    assert changed.status_code == 200, changed.json()
    answer = maker.post(f"projects/{project.pk}/eye/learn")
    assert (answer.status_code, says in answer.json()["message"]) == (status, True), answer.json()
    bad = maker.shop({"do": "change", "of": "machine bench-laser", "values": {"camera": "the one above"}}, revision=2)
    assert bad.status_code == 422


def test_the_sheet_of_marks_is_begun_for_a_machine(maker: Maker) -> None:
    answer = maker.post("shop/cards", machine="bench-laser", material="birch-ply", work="marks")
    design = Project.objects.get(pk=answer.json()["id"]).design
    assert (design.name, design.stock.width, design.stock.height) == ("Marks for Bench laser", 400, 400)
