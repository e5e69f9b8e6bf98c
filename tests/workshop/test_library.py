"""Starters and what a maker keeps: begun, kept, renamed, put away and brought back."""

import json
from typing import Any

from foliant.core.design import Design, resolve
from foliant.workshop.models import Project
from tests.making import edited, one_piece, put, tag
from tests.workshop.conftest import Maker


def bits(answer: Any) -> dict[str, Any]:
    return {bit["label"]: bit for bit in answer.json()["sentence"] if "label" in bit}


def test_a_project_begins_with_a_starter_on_the_makers_own_stock(maker: Maker) -> None:
    shown = maker.client.get("/").content.decode()
    assert "Ring ornament" in shown
    assert "80 × 87 mm" in shown
    assert maker.client.get("/starters/ring-ornament.svg").content.startswith(b"<svg")
    asked = maker.post("starters/slotted-stand", values=["Open night", "4 in", "80"])
    assert asked.json()["size"].startswith("101.6 × 80")
    assert (bits(asked)["The width"]["text"], bits(asked)["The words"]["raw"]) == ("101.6 mm", "Open night")
    begun = maker.post("starters/slotted-stand/projects", values=["Dome", "120"]).json()
    stand = Project.objects.get(pk=begun["id"]).design
    assert (stand.name, len(stand.pieces), begun["words"]) == ("Slotted stand", 2, ["a3"])
    left, _, right, _ = resolve(stand.pieces[0]).bounds
    assert round(right - left, 3) == 120
    for key in ("nothing", "own-1", "own-99999999999999999999"):
        assert maker.client.get(f"/starters/{key}.svg").status_code == 404
        assert maker.post(f"starters/{key}", values=[]).status_code == 422
    for values in (["x", "wide"], ["x"] * 9, ["x", "-3"], ["x" * 3000]):
        refused = maker.post("starters/slotted-stand/projects", values=values)
        assert refused.status_code == 422
        assert refused.json()["message"].endswith(".")


def test_a_kept_piece_is_a_starter_until_it_is_put_away(maker: Maker, other: Maker) -> None:
    project = maker.project(tag())
    kept = maker.post(f"projects/{project.pk}/pieces/p1/keep", name="Gate tag", asks=["part a2 width", "part a4 text"])
    key = f"own-{kept.json()['id']}"
    assert maker.get("starters").json()["starters"][0]["key"] == key
    assert key not in {one["key"] for one in other.get("starters").json()["starters"]}
    asked = maker.post(f"starters/{key}", values=["Maud", "90"])
    assert list(bits(asked)) == ["The words", "The width"]  # words first
    begun = Project.objects.get(pk=maker.post(f"starters/{key}/projects", values=["Maud", "90"]).json()["id"])
    (piece,) = begun.design.pieces
    left, _, right, _ = resolve(piece).bounds
    assert ([part.shape.label() for part in piece.parts][2], round(right - left, 3)) == ("Maud", 90)
    assert maker.post(f"library/{kept.json()['id']}/name", name="  Dome   tag ").json()["name"] == "Dome tag"
    assert maker.post(f"library/{kept.json()['id']}/name", name=" ").status_code == 422
    assert maker.client.delete(f"/api/library/{kept.json()['id']}").json()["away"]
    assert maker.post(f"starters/{key}", values=[]).status_code == 422
    assert maker.get(f"projects/{begun.pk}").status_code == 200  # what was taken from it stays whole
    assert not maker.post(f"library/{kept.json()['id']}/restore").json()["away"]
    assert maker.post(f"starters/{key}", values=[]).status_code == 200
    for asks in (["part a99 text"], ["zz"], ["part a4 text"] * 20, ["a b c d"]):
        assert maker.post(f"projects/{project.pk}/pieces/p1/keep", name="x", asks=asks).status_code == 422
    heavy = maker.project(one_piece(put("rectangle", width=900, height=90), put("words", text="Quill " * 60)))
    assert "too much" in maker.post(f"projects/{heavy.pk}/pieces/p1/keep", name="x").json()["message"]
    empty = maker.project(edited(Design(), {"do": "add-piece"}))
    assert "no material" in maker.post(f"projects/{empty.pk}/pieces/p1/keep", name="x").json()["message"]


def test_a_shape_kept_as_a_motif_is_put_on_as_it_was(maker: Maker) -> None:
    project = maker.project(one_piece(put("rectangle", width=60, height=40), put("heart", width=18, x=20, y=20)))
    kept = maker.post(f"projects/{project.pk}/pieces/p1/motif", parts=["a3"], name="Our heart").json()
    assert maker.get("library").json()["kept"] == [kept]
    added = {"do": "add-part", "piece": "p1", "kind": "drawn", "role": "engraves", "x": 30, "y": 20}
    answer = maker.edit(project, 1, **added, contours=kept["contours"])
    (part,) = (part for part in answer.json()["scenes"]["p1"]["parts"] if part["id"] == "a4")
    left, top, right, bottom = part["bounds"]
    assert (round((left + right) / 2, 3), round((top + bottom) / 2, 3), round(right - left, 2)) == (30, 20, 18)
    assert maker.post(f"projects/{project.pk}/pieces/p1/motif", parts=["a9"]).status_code == 422


def test_a_piece_is_copied_into_another_project_with_its_columns(maker: Maker, other: Maker) -> None:
    rows = {"do": "take-table", "heading": ["name"], "rows": [["Orrin"]], "words": ["a4"]}
    source = maker.project(edited(tag(), rows))
    target = maker.project(edited(tag(), {"do": "add-column", "name": "post"}, {"do": "add-column", "name": "Name"}))
    text = maker.get(f"projects/{source.pk}/pieces/p1/copy").json()["text"]
    answer = maker.edit(target, 1, do="add-pieces", text=text).json()
    assert len(answer["order"]) == 2
    design = Project.objects.get(pk=target.pk).design
    assert [column.name for column in design.roster.columns] == ["post", "Name"]
    (tie,) = design.pieces[1].all_ties()
    assert tie[1] == f"{{{design.roster.columns[1].id}}}"
    assert other.get(f"projects/{source.pk}/pieces/p1/copy").status_code == 404
    part = json.loads(text)["pieces"][0]["parts"][0]
    for bad in ("", "[]", "{}", '{"format": "foliant-pieces", "pieces": [{}]}', text.replace("rectangle", "hologram")):
        assert maker.edit(target, 2, do="add-pieces", text=bad).status_code == 422
    twice = json.dumps({"format": "foliant-pieces", "pieces": [{"id": "p1", "name": "x", "parts": [part, part]}]})
    assert maker.edit(target, 2, do="add-pieces", text=twice).status_code == 422
