"""What the Shape station asks for besides edits: selections, snaps, motifs; and what it must never take."""

import json

from tests.making import edited, one_piece, put, tag
from tests.workshop.conftest import Maker


def test_several_parts_are_said_with_their_size_and_the_way_between_two(maker: Maker) -> None:
    project = maker.project()
    answer = maker.post(f"projects/{project.pk}/selection", piece="p1", parts=["a2", "a3"]).json()
    says = "".join(bit["text"] for bit in answer["sentence"])
    assert says.startswith("2 parts of Guide tag, together 72 mm × 30 mm; their middle 36 mm across and 15 mm down")
    assert [bit["field"] for bit in answer["sentence"] if "field" in bit] == ["width", "height", "x", "y"]
    gone = maker.post(f"projects/{project.pk}/selection", piece="p1", parts=["a99"])
    assert gone.status_code == 422
    assert "no longer" in gone.json()["message"]


def test_a_node_is_said_with_its_place(maker: Maker) -> None:
    plain = edited(tag(), {"do": "make-plain", "piece": "p1", "parts": ["a2"]})
    project = maker.project(plain)
    answer = maker.post(f"projects/{project.pk}/selection", piece="p1", parts=["a2"], node=[0, 0]).json()
    says = "".join(bit["text"] for bit in answer["sentence"])
    assert says == "Node 1 of Drawn shape, a corner; it lies 6 mm across and 0 mm down; rounded by nothing."
    assert maker.post(f"projects/{project.pk}/selection", piece="p1", parts=["a2"], node=[9, 9]).status_code == 422


def test_snaps_come_with_words_and_edges(maker: Maker) -> None:
    project = maker.project()
    found = maker.get(f"projects/{project.pk}/pieces/p1/snaps").json()
    assert [36, 15, "middle of Rectangle", "a2", ""] in found["points"]
    assert {edge[0] for edge in found["edges"]} == {"a2", "a3"}
    assert maker.get(f"projects/{project.pk}/pieces/p9/snaps").status_code == 422


def test_an_edit_tells_only_of_the_parts_it_changed(maker: Maker) -> None:
    project = maker.project()
    answer = maker.edit(project, 1, do="move-parts", piece="p1", parts=["a4"], dx=1, dy=0).json()
    assert [part["id"] for part in answer["scenes"]["p1"]["parts"]] == ["a4"]
    assert answer["scenes"]["p1"]["ids"] == ["a2", "a3", "a4"]
    # What is held is told again, as what it is held to may have moved.
    maker.edit(project, 2, do="hold-parts", piece="p1", parts=["a3"])
    answer = maker.edit(project, 3, do="change", of="part a2", values={"width": 90}).json()
    assert [part["id"] for part in answer["scenes"]["p1"]["parts"]] == ["a2", "a3"]


def test_a_held_part_says_what_it_is_held_to(maker: Maker) -> None:
    held = edited(tag(), {"do": "hold-parts", "piece": "p1", "parts": ["a3"]})
    scene = maker.get(f"projects/{maker.project(held).pk}").json()["scenes"]["p1"]
    hole = scene["parts"][1]
    says = "".join(bit["text"] for bit in hole["spec"])
    assert "held 5 mm inside the left edge and level with the middle of Guide tag" in says
    assert [(hold["axis"], hold["theirs"], hold["says"]) for hold in hole["holds"]] == [
        ("across", 0, "5"),
        ("down", 15, ""),
    ]


def test_five_thousand_parts_are_answered_with_a_sentence(maker: Maker) -> None:
    project = maker.project(one_piece(put("rectangle")))
    part = {"role": "adds", "shape": {"kind": "circle", "diameter": 3}}
    text = json.dumps({"format": "foliant-parts", "parts": [{"id": f"a{i}", **part} for i in range(1, 5001)]})
    answer = maker.edit(project, 1, do="paste-parts", piece="p1", text=text)
    assert answer.status_code == 422
    assert answer.json()["message"] == "A project holds at most 2,000 parts, and this would make 5,001."


def test_more_than_a_request_may_hold_is_answered_too(maker: Maker) -> None:
    project = maker.project(one_piece(put("rectangle")))
    answer = maker.edit(project, 1, do="paste-parts", piece="p1", text="x" * 12_000_000)
    assert answer.status_code == 422
    assert "clipboard" in answer.json()["message"] or "large" in answer.json()["message"]


def test_the_motifs_are_told_with_their_words(maker: Maker) -> None:
    motifs = maker.client.get("/motifs.json").json()["motifs"]
    assert len(motifs) >= 120
    planet = next(motif for motif in motifs if motif[0] == "planet")
    assert "space" in planet[2] or "astronomy" in planet[2]


def test_units_take_the_nudge_along_unless_it_is_the_makers_own(maker: Maker) -> None:
    project = maker.project()
    assert maker.edit(project, 1, do="set-unit", unit="fraction").json()["nudgeSays"] == "1/64 in"
    assert maker.edit(project, 2, do="set-unit", unit="mm").json()["nudgeSays"] == "0.5 mm"
    assert maker.edit(project, 3, do="change", of="project", values={"nudge": "2"}).json()["nudge"] == 2
    assert maker.edit(project, 4, do="set-unit", unit="in").json()["nudge"] == 2
