"""What the stations say, from the demo world."""

import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from foliant.core.checks import check
from foliant.core.pricing import price_of_all
from foliant.core.ticket import plan_all
from foliant.workshop.demo import bay_signs, load_demo, open_night_tags, torch_tokens
from foliant.workshop.models import PictureFile, Project
from foliant.workshop.presenters.checks import rehearsal_points
from tests.making import edited, one_piece, plan, put, tag
from tests.workshop.conftest import Maker


@pytest.mark.parametrize("design", [open_night_tags(), bay_signs(), torch_tokens()], ids=lambda design: design.name)
def test_the_demo_is_ready_to_run(design) -> None:
    assert check(plan(design)) == ()
    assert plan(design).program.seconds > 60


def test_loading_the_demo_twice_doubles_nothing(db: None) -> None:
    load_demo()
    load_demo()
    assert Project.objects.count() == 7
    assert PictureFile.objects.count() == 1


def test_the_standing_says_what_is_missing_at_each_station(maker: Maker) -> None:
    sound = maker.get(f"projects/{maker.project(tag(copies=6)).pk}/standing").json()
    assert sound["sheet"].startswith("6 laid out")
    assert sound["check"] == "nothing to look at"
    assert sound["run"] == "Bench laser, not run yet"
    assert sound["alert"] == ""
    spoilt = edited(tag(), {"do": "change", "of": "part a4", "values": {"text": "☄"}})
    bad = maker.get(f"projects/{maker.project(spoilt).pk}/standing").json()
    assert (bad["check"], bad["alert"]) == ("1 thing to look at", "stop")


def test_the_ticket_marks_what_is_the_makers_own_and_says_what_the_recipe_was(maker: Maker) -> None:
    project = maker.project()
    maker.edit(project, 1, do="change", of="operation outer", values={"power": "100 %"})
    lines = maker.get(f"projects/{project.pk}/stations/ticket").json()["words"]["lines"]
    outer = lines[-1]
    assert outer["changed"] == ["power"]
    assert outer["recipe"] == "recipe: 85 % at 6 mm/s, 2 passes"
    assert outer["hot"]
    assert [bit["own"] for bit in outer["spec"] if "own" in bit] == [True, *[False] * 6]


def test_an_operation_without_a_recipe_asks_for_settings(maker: Maker) -> None:
    project = maker.project(edited(tag(), {"do": "change", "of": "stock", "values": {"thickness": "20"}}))
    line = maker.get(f"projects/{project.pk}/stations/ticket").json()["words"]["lines"][-1]
    assert line["missing"]
    assert "No recipe to cut 20 mm birch ply" in line["spec"][0]["text"]


def test_the_sheet_says_what_fits(maker: Maker) -> None:
    project = maker.project(tag(copies=20))
    first = maker.get(f"projects/{project.pk}/stations/sheet").json()
    assert (first["words"]["placed"], first["words"]["leftOver"]) == (18, 0)
    assert [one["says"] for one in first["sheet"]["sheets"]] == ["18 pieces, 61\u00a0% used", "2 pieces, 7\u00a0% used"]
    second = maker.get(f"projects/{project.pk}/stations/sheet?sheet=2").json()
    assert (second["sheet"]["number"], len(second["sheet"]["instances"])) == (2, 2)
    standing = maker.get(f"projects/{project.pk}/standing?sheet=2").json()
    assert standing["sheet"] == "20 laid out on 2 sheets"
    assert costs_of(maker, project)["total"][0] == "20 pieces"
    assert standing["ticket"] != maker.get(f"projects/{project.pk}/standing").json()["ticket"]
    for station in ("sheet", "ticket", "check", "run"):
        assert maker.client.get(f"/projects/{project.pk}/{station}/?sheet=2").status_code == 200
    assert maker.client.get(f"/projects/{project.pk}/run/?sheet=x").status_code == 200
    assert maker.get(f"projects/{project.pk}/standing?sheet=0").status_code == 422
    large = maker.project(one_piece(put("rectangle", width=310, height=60)))
    words = maker.get(f"projects/{large.pk}/stations/sheet").json()["words"]
    assert words["rows"][0]["says"] == "1 without room"


def costs_of(maker: Maker, project: Project) -> Any:
    return maker.get(f"projects/{project.pk}/costs").json()["costs"]


@pytest.mark.parametrize(("copies", "sheets", "about"), [(100, 6, ""), (250, 14, "about ")])
def test_what_many_sheets_cost_is_said_by_their_tickets(maker: Maker, copies: int, sheets: int, about: str) -> None:
    """Of more than twelve sheets the others are reckoned from those."""
    project = maker.project(tag(copies=copies))  # 18 on a sheet
    told = maker.get(f"projects/{project.pk}/standing").json()
    assert told["sheet"] == f"{copies} laid out on {sheets} sheets"
    costs = costs_of(maker, project)
    assert costs["rows"][1][0].startswith("about ") == bool(about)
    exact = price_of_all(plan_all(project.design, project.shop))
    assert float(costs["total"][2]) == pytest.approx(exact.total, rel=0.02 if about else 1e-3)
    assert costs["total"][0] == f"{copies} pieces"


def test_the_rehearsal_follows_the_toolpath_with_its_clock() -> None:
    program = plan(tag()).program
    path = program.toolpath()
    rows = np.frombuffer(rehearsal_points(program), "<f4").reshape(-1, 4)
    assert rows[-1, :2] == pytest.approx(path.points[-1, 3], abs=1e-3)
    assert rows[-1, 2] == pytest.approx(program.seconds - program.home_seconds, rel=1e-5)
    assert (np.diff(rows[:, 2]) >= 0).all()
    assert set(rows[:, 3].astype(int)) == {-1, 0, 1, 2}
    # Arcs are followed closely enough to look round.
    steps = np.hypot(*np.diff(rows[:, :2], axis=0).T)
    assert steps[rows[1:, 3] == 1].max() < 11


def test_every_key_of_the_shape_station_has_one_meaning() -> None:
    scripts = (Path(__file__).parents[2] / "foliant" / "workshop" / "static" / "workshop" / "js" / "shape").glob("*.js")
    text = "\n".join(script.read_text() for script in scripts)
    listed = re.findall(r"keys: \[([^\]]+)\]|treat\(.*, \[([^\]]+)\]\)", text)
    keys = [key for found in listed for key in re.findall(r'"([^"]+)"', "".join(found))]
    assert len(keys) > 50
    assert {key for key in keys if keys.count(key) > 1} == set()
    assert not {"[", "]", "?", "Ctrl+z", "Ctrl+y", "Ctrl+Shift+z"} & set(keys)  # those of every station
