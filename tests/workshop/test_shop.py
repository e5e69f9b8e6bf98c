"""The Workshop page's calls: whose shop it is, its history, and what projects take from it."""

from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from foliant.core.checks import check
from foliant.core.equipment import SHIPPED
from foliant.core.formats.shop_file import read_shop_file, write_shop
from foliant.core.ticket import plan
from foliant.core.ticket.taking import takes
from foliant.workshop.actions import Asked, CreateProject, MarkTaken, StartRun
from foliant.workshop.actions.projects import first_design
from foliant.workshop.models import Project, Run, ShopState, Workshop, shop_of
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
    bare = maker.project(edited(tag(), {"do": "change", "of": "stock", "values": {"thickness": 20}}))
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


def ran(maker: Maker, project: Project) -> Run:
    """A job that has cut everything out, as the worker leaves it."""
    run = StartRun(project, Asked("job")).execute()
    Run.objects.filter(pk=run.pk).update(state=Run.State.DONE)
    MarkTaken(run).execute()
    return Run.objects.get(pk=run.pk)


def test_what_a_run_cut_out_is_gone_and_the_rest_stands_on_the_shelf(maker: Maker) -> None:
    project = CreateProject(maker.user, edited(first_design(shop_of(maker.user.pk)), *made_tags(4))).execute()
    before = shop_of(maker.user.pk).shelf
    run = ran(maker, project)
    begun, whole = shop_of(maker.user.pk).shelf[:2]
    assert (begun.count, whole.count) == (1, before[0].count - 1)
    assert len(begun.used) == 4
    assert begun.left == pytest.approx(1 - 4 * 40 * 30 / (before[0].width * before[0].height), abs=0.001)
    told = maker.get("shop").json()["materials"][0]["sheets"][0]["begun"]["says"]
    assert "is left, with a free rectangle of" in told
    # The next project goes on with it, round what is gone; then that is gone too.
    second = CreateProject(maker.user, edited(first_design(shop_of(maker.user.pk)), *made_tags(2))).execute()
    assert len(second.design.stock.used) == 4
    later = ran(maker, second)
    assert len(shop_of(maker.user.pk).shelf[0].used) == 6
    assert not [one for one in check(plan(second.design, shop_of(maker.user.pk))) if one.level == "stop"]
    third = CreateProject(maker.user, edited(second.design, {"do": "rename", "name": "Others"})).execute()
    moved = edited(third.design, {"do": "place", "piece": "p1", "number": 1, "x": 150, "y": 120})
    assert "More of this sheet is gone" in {one.title for one in check(plan(moved, shop_of(maker.user.pk)))}
    whole = maker.shop(
        {"do": "change", "of": "rates", "values": {"first": "whole"}}, maker.get("shop").json()["revision"]
    )
    assert (whole.status_code, first_design(shop_of(maker.user.pk)).stock.used) == (200, ())
    # One press says that it is not so.
    answer = maker.post(f"projects/{project.pk}/runs/{run.pk}/give-back")
    assert (answer.status_code, answer.json()["took"]) == (200, False)
    assert len(shop_of(maker.user.pk).shelf[0].used) == 2  # what the other run took of it is gone all the same
    assert maker.post(f"projects/{second.pk}/runs/{later.pk}/give-back").status_code == 200
    assert shop_of(maker.user.pk).shelf[0].count == before[0].count
    assert maker.post(f"projects/{project.pk}/runs/{run.pk}/give-back").status_code == 422


def made_tags(copies: int) -> list[dict[str, Any]]:
    return [
        {"do": "add-part", "piece": "p1", "kind": "rectangle", "values": {"width": 40, "height": 30}, "x": 20, "y": 15},
        {"do": "change", "of": "piece p1", "values": {"copies": copies}},
    ]


def test_what_is_not_cut_through_takes_nothing_from_the_shelf(maker: Maker) -> None:
    project = CreateProject(maker.user, edited(first_design(shop_of(maker.user.pk)), *made_tags(1))).execute()
    off = {"do": "change", "of": "operation outer", "values": {"on": False}}
    engraved = {"do": "add-part", "piece": "p1", "kind": "circle", "x": 20, "y": 15, "role": "engraves"}
    assert not takes(plan(edited(project.design, engraved, off), SHIPPED))


def test_what_a_run_that_went_well_was_done_with_becomes_the_recipes(maker: Maker) -> None:
    thick = {"do": "change", "of": "stock", "values": {"thickness": 5}}
    gentle = {"do": "change", "of": "operation engrave", "values": {"power": "27"}}
    project = CreateProject(maker.user, edited(tag(), thick, gentle)).execute()
    run = StartRun(project, Asked("job")).execute()
    address = f"projects/{project.pk}/runs/{run.pk}/recipes"
    assert maker.post(address).status_code == 422  # it is not done yet
    Run.objects.filter(pk=run.pk).update(state=Run.State.DONE)
    assert maker.get(f"projects/{project.pk}/runs/newest").json()["run"]["tried"]
    answer = maker.post(address).json()
    assert (answer["kept"], answer["tried"]) == (2, False)
    shop = shop_of(maker.user.pk)
    engraving = shop.recipe("bench-laser", "birch-ply", 5, "engrave")
    assert engraving is not None
    assert dict(engraving.values)["power"] == 27
    assert engraving.origin.startswith("a run that went well, ")
    assert not [one for one in check(plan(project.design, shop)) if one.check == "recipes_are_tested"]
    assert maker.post(address).status_code == 422  # once


def test_speeds_are_told_and_typed_in_the_makers_own_unit(maker: Maker) -> None:
    state = maker.shop({"do": "change", "of": "rates", "values": {"speeds": "mm/min"}}, 0).json()
    machine = next(one for one in state["machines"] if one["key"] == "bench-laser")
    assert "15000 mm/min" in "".join(bit["text"] for bit in machine["specs"][0]).replace(",", "").replace("\u202f", "")
    project = CreateProject(maker.user, tag()).execute()
    assert maker.edit(project, 1, do="change", of="operation engrave", values={"speed": "3000"}).status_code == 200
    project = Project.objects.get(pk=project.pk)
    assert project.design.ticket.operation("engrave").own == {"speed": 50}
    line = maker.get(f"projects/{project.pk}/stations/ticket").json()["words"]["lines"][0]
    assert "at 3000 mm/min" in "".join(bit["text"] for bit in line["spec"])
    assert "5400 mm/min" in line["recipe"]
    assert maker.edit(project, 2, do="change", of="operation engrave", values={"speed": "2 in/s"}).status_code == 200
    assert Project.objects.get(pk=project.pk).design.ticket.operation("engrave").own == {"speed": 50.8}
    recipe = next(one.key for one in shop_of(maker.user.pk).recipes if one.work == "cut")
    edit = {"do": "change", "of": f"recipe {recipe}", "values": {"speed": "480"}}
    assert maker.shop(edit, state["revision"]).status_code == 200
    assert next(one for one in shop_of(maker.user.pk).recipes if one.key == recipe).settings.pace == 8
