"""The Workshop page's calls: whose shop it is, its history, and what projects take from it."""

from django.core.files.uploadedfile import SimpleUploadedFile

from foliant.core.equipment import SHIPPED
from foliant.core.formats.shop_file import read_shop_file, write_shop
from foliant.workshop.models import Project, ShopState, Workshop, shop_of
from tests.making import edited, tag
from tests.workshop.conftest import Maker

INCH = {"do": "set-unit", "unit": "in"}


def test_a_shop_is_its_makers_alone_and_nothing_is_stored_by_looking(maker: Maker, other: Maker) -> None:
    assert maker.get("shop").json()["revision"] == 0
    assert not Workshop.objects.exists()
    assert maker.shop({"do": "add-material", "name": "Walnut ply"}, 0).status_code == 200
    assert shop_of(maker.user.pk).has_material("walnut-ply")
    assert shop_of(other.user.pk) == SHIPPED


def test_every_change_can_be_undone_and_an_old_window_is_told(maker: Maker) -> None:
    state = maker.shop({"do": "change", "of": "material birch-ply", "values": {"thinnest": "2"}}, 0).json()
    assert (state["revision"], state["undo"]) == (2, "change thinnest of birch ply")
    stale = maker.shop(INCH, 0)
    assert stale.status_code == 409
    assert "The workshop was changed in another window" in stale.json()["message"]
    assert stale.json()["state"]["revision"] == 2
    back = maker.post("shop/undo", revision=2).json()
    assert (back["undo"], back["redo"]) == (None, "change thinnest of birch ply")
    assert shop_of(maker.user.pk) == SHIPPED
    assert maker.post("shop/undo", revision=1).json()["message"] == "There is nothing to undo."
    assert maker.post("shop/redo", revision=1).json()["revision"] == 2
    refused = maker.shop({"do": "change", "of": "rates", "values": {"setup": "a while"}}, 2)
    assert refused.status_code == 422
    assert ShopState.objects.count() == 2


def test_a_shop_goes_out_and_comes_in_as_a_file(maker: Maker, other: Maker) -> None:
    maker.shop({"do": "add-machine", "name": "Loft laser"}, 0)
    content = maker.get("shop/file").content
    assert read_shop_file(content).has_machine("loft-laser")
    opened = other.client.post("/api/shop/file", {"file": SimpleUploadedFile("shop.json", content)})
    assert [machine["key"] for machine in opened.json()["machines"]][-1] == "loft-laser"
    assert other.post("shop/undo", revision=2).json()["machines"][-1]["key"] == "desk-cutter"
    bad = other.client.post("/api/shop/file", {"file": SimpleUploadedFile("shop.json", b"{}")})
    assert (bad.status_code, "not a Foliant shop file" in bad.json()["message"]) == (422, True)


def test_a_new_project_lies_on_the_first_sheet_for_the_first_machine(maker: Maker) -> None:
    only = SHIPPED.model_copy(update={"machines": SHIPPED.machines[1:], "shelf": SHIPPED.shelf[2:], "unit": "in"})
    maker.client.post("/api/shop/file", {"file": SimpleUploadedFile("shop.json", write_shop(only).encode())})
    maker.client.post("/projects/new/")
    design = Project.objects.get().design
    assert (design.ticket.machine, design.stock.material, design.stock.price) == ("cabin-laser", "slate-acrylic", 6.5)
    assert design.unit == "in"


def test_settings_that_worked_are_kept_as_the_recipe(maker: Maker) -> None:
    own = {"do": "change", "of": "operation outer", "values": {"power": 72, "speed": 5}}
    project = maker.project(edited(tag(), own))
    kept = maker.post(f"projects/{project.pk}/operations/outer/recipe")
    assert kept.json() == {"kept": "keep a recipe to cut birch ply"}
    recipe = shop_of(maker.user.pk).recipe("bench-laser", "birch-ply", 3.0, "cut")
    assert recipe is not None
    assert dict(recipe.values)["power"] == 72
    bare = maker.project(edited(tag(), {"do": "change", "of": "stock", "values": {"thickness": 9}}))
    refused = maker.post(f"projects/{bare.pk}/operations/outer/recipe")
    assert (refused.status_code, "no power and speed yet" in refused.json()["message"]) == (422, True)


def test_a_material_or_machine_that_is_taken_out_stops_no_project_from_opening(maker: Maker) -> None:
    project = maker.project()
    maker.shop({"do": "remove", "of": "material birch-ply"}, 0)
    maker.shop({"do": "remove", "of": "machine bench-laser"}, 2)
    for station in ("shape", "sheet", "ticket", "check", "run"):
        assert maker.client.get(f"/projects/{project.pk}/{station}/").status_code == 200
    found = maker.get(f"projects/{project.pk}/stations/check").json()["findings"]
    titles = [finding["title"] for finding in found]
    assert "No material “birch-ply” here" in titles
    assert "No machine “bench-laser” here" in titles
    for address in ("runs", "machine/connect", "machine/panel"):  # not on the nearest either
        refused = maker.post(f"projects/{project.pk}/{address}", kind="trace", button="start")
        assert refused.status_code == 422
        assert "no machine “bench-laser” in your workshop" in refused.json()["message"]
    answer = maker.edit(project, 1, do="change", of="ticket", values={"machine": "plough"})
    assert answer.json()["message"] == "There is no machine “plough” in the workshop."
