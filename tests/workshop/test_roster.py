"""The roster as the page has it: rows shown, changes for one of them, tables that are read, files that are written."""

import io
import json
from typing import Any

import openpyxl
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from foliant.core.design import Design, apply, read_edit, resolve
from foliant.core.design.binding import with_row
from foliant.core.making import make
from foliant.workshop.models import Project
from tests.making import edited, tag
from tests.workshop.conftest import Maker

NAMES = ("Orrin", "Ysolde", "Petronella Quillmoor-Hollis the Second")


def tags(*names: str) -> Design:
    rows = [[name, "north gate"] for name in names]
    return edited(tag(), {"do": "take-table", "heading": ["name", "post"], "rows": rows, "words": ["a4"]})


def value(answer: Any, part: str, field: str) -> dict[str, Any]:
    """A value of the sentence of a part."""
    parts = {one["id"]: one for one in answer["scenes"]["p1"]["parts"]}
    return next(bit for bit in parts[part]["spec"] if bit.get("field") == field)


def test_a_row_is_shown_with_its_values_and_a_change_reaches_all_or_it_alone(maker: Maker) -> None:
    project = maker.project(tags(*NAMES))
    state = maker.get(f"projects/{project.pk}").json()
    first, second, _ = state["roster"]["order"]
    assert state["row"] is None
    assert value(state, "a4", "text")["tie"] == {"says": "{name}", "name": "name"}
    shown = maker.get(f"projects/{project.pk}/rows?row={second}").json()
    text = value(shown, "a4", "text")
    assert (text["text"], text["raw"], text["tie"]["row"]) == ("Ysolde", "Ysolde", second)
    assert shown["scenes"]["p1"]["tied"]

    address = f"projects/{project.pk}/edits?row={second}"
    cell = {"do": "put-cells", "row": second, "column": text["tie"]["column"], "cells": [["Ysolda"]]}
    answer = maker.post(address, revision=1, edit=cell).json()
    assert value(answer, "a4", "text")["text"] == "Ysolda"
    assert list(answer["roster"]["rows"]) == [second]  # only what changed is sent
    assert answer["roster"]["touched"] == []

    own = {"do": "for-row", "row": second, "edit": {"do": "change", "of": "part a2", "values": {"width": "80"}}}
    answer = maker.post(address, revision=2, edit=own).json()
    assert value(answer, "a2", "width")["mine"]
    assert answer["row"]["own"] == [{"of": "part a2 width", "says": "The width of Rectangle", "text": "80 mm"}]
    everyone = {"do": "change", "of": "part a4", "values": {"font": "pacifico"}}
    answer = maker.post(address, revision=3, edit=everyone).json()
    assert value(answer, "a4", "font")["text"] == "Pacifico"
    assert answer["roster"]["touched"] == ["p1"]
    widths = {row: maker.get(f"projects/{project.pk}/rows?row={row}").json() for row in (first, second)}
    assert [value(widths[row], "a2", "width")["raw"] for row in (first, second)] == ["72 mm", "80 mm"]
    back = maker.post(address, revision=4, edit={"do": "revert-row", "row": second}).json()
    assert back["row"]["own"] == []

    gone = maker.post(address, revision=5, edit={"do": "remove-rows", "rows": [second]}).json()
    assert gone["row"] is None
    for strange in ("zz", "r99", "%00", second):
        assert maker.get(f"projects/{project.pk}/rows?row={strange}").json()["row"] is None
        assert maker.get(f"projects/{project.pk}/pieces/p1/findings?row={strange}").status_code == 200


def test_every_row_has_a_true_picture_and_what_there_is_to_look_at(maker: Maker) -> None:
    design = apply(tags(*NAMES), read_edit({"do": "change", "of": "part a4", "values": {"at_most": ""}}))
    project = maker.project(design)
    order = maker.get(f"projects/{project.pk}").json()["roster"]["order"]
    answer = maker.post(f"projects/{project.pk}/pieces/p1/rows", rows=[*order, "r99"]).json()
    assert list(answer["pictures"]) == order
    pictures = [answer["pictures"][row] for row in order]
    assert [picture["called"] for picture in pictures] == list(NAMES)
    assert [len(picture["looks"]) for picture in pictures] == [0, 0, 1]
    for row, picture in zip(order, pictures, strict=True):
        made = resolve(with_row(design, row).pieces[0])
        assert picture["bounds"] == list(made.bounds)
    found = maker.get(f"projects/{project.pk}/pieces/p1/findings?row={order[2]}").json()["findings"]
    (fix,) = found[0]["fixes"]
    assert fix["says"].startswith("Keep it within")
    maker.post(f"projects/{project.pk}/edits", revision=1, edit={"do": "for-row", "row": order[2], "edit": fix["edit"]})
    mended = maker.post(f"projects/{project.pk}/pieces/p1/rows", rows=order).json()["pictures"]
    assert [len(mended[row]["looks"]) for row in order] == [0, 0, 0]
    assert Project.objects.get(pk=project.pk).design.pieces == design.pieces  # it is that row's alone


def workbook(rows: list[list[str]]) -> bytes:
    book, out = openpyxl.Workbook(), io.BytesIO()
    for row in rows:
        book.active.append(row)
    book.save(out)
    return out.getvalue()


ROWS = [["name", "post"], ["Jürgen", "north gate"], ["Zoë, the elder", "dome"], ["Åsa", ""]]
CSV = 'name,post\r\nJürgen,north gate\r\n"Zoë, the elder",dome\r\nÅsa,\r\n'
FILES = {
    "utf-8": CSV.encode(),
    "with mark": CSV.encode("utf-8-sig"),
    "windows": CSV.encode("cp1252"),
    "utf-16": CSV.encode("utf-16"),
    "semicolons": "\n".join(";".join(row) for row in ROWS).encode(),
    "pasted": "\n".join("\t".join(row) for row in ROWS).encode(),
    "workbook": workbook(ROWS),
}


def read(maker: Maker, content: bytes, query: str = "") -> Any:
    return maker.client.post(f"/api/tables{query}", {"file": SimpleUploadedFile("list", content)})


def test_the_same_rows_give_the_same_instances_however_they_come(maker: Maker) -> None:
    made = set()
    for content in FILES.values():
        found = read(maker, content).json()
        assert (found["heading"], found["headed"]) == (["name", "post"], True)
        edit = {"do": "take-table", "heading": found["heading"], "rows": found["rows"], "words": ["a4"]}
        design = edited(tag(), edit)
        made.add(json.dumps([resolve(one.piece).engraved.path.bounds for one in make(design)]))
    assert len(made) == 1
    assert read(maker, b"Orrin\nMaud").json()["heading"] == ["name"]
    assert len(read(maker, b"Orrin\nMaud", "?headed=true").json()["rows"]) == 1
    assert read(maker, b"gate\nMaud", "?named=gate").json()["headed"]


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"\n\n \n",
        b"x" * 6_000_000,
        ("x," * 300 + "\n").encode() * 3,
        b"a\n" * 3000,
        b"\xd0\xcf\x11\xe0" + b"0" * 100,
        b"PK\x03\x04 broken",
        workbook([["x" * 2000]]),
        b"\xff\xfe\x00",
        bytes(range(256)),
    ],
    ids=["nothing", "blank", "large", "wide", "long", "old", "broken", "cell", "half", "noise"],
)
def test_a_table_that_cannot_be_taken_is_said_so_in_a_sentence(maker: Maker, content: bytes) -> None:
    answer = read(maker, content)
    assert answer.status_code == 422
    assert answer.json()["message"].endswith(".")


def test_strange_names_are_taken_as_they_are(maker: Maker) -> None:
    names = ["=SUM(A1)", "ما\u064e\u062d", "Z\u0301o\u0308e", "x" * 200, "a\x07b", "<b>&\u2028"]
    found = read(maker, "\n".join(["name", *names]).encode()).json()["rows"]
    assert found[0] == ["=SUM(A1)"]
    assert found[2] == ["Źöe"]
    project = maker.project(tag())
    taken = maker.edit(project, 1, do="take-table", heading=["name"], rows=found, words=["a4"])
    assert taken.status_code == 200
    order = taken.json()["roster"]["order"]
    assert len(maker.post(f"projects/{project.pk}/pieces/p1/rows", rows=order).json()["pictures"]) == len(order)
    again = read(maker, maker.get(f"projects/{project.pk}/roster.csv").content).json()
    assert again["rows"] == found  # written back as it was read


def test_the_proof_shows_every_row_as_a_file(maker: Maker) -> None:
    project = maker.project(tags(*NAMES))
    pdf = maker.get(f"projects/{project.pk}/proof/pdf?true_size=true")
    assert pdf.content.startswith(b"%PDF")
    assert "proof.pdf" in pdf.headers["Content-Disposition"]
    assert maker.get(f"projects/{project.pk}/proof/png").content.startswith(b"\x89PNG")
    assert maker.get(f"projects/{project.pk}/proof/doc").status_code == 404
    empty = maker.project(edited(Design(), {"do": "add-piece"}))
    assert "nothing to show" in maker.get(f"projects/{empty.pk}/proof/pdf").json()["message"]


def test_a_column_that_goes_says_which_values_came_from_it(maker: Maker) -> None:
    project = maker.project(tags(*NAMES))
    column, _ = Project.objects.get(pk=project.pk).design.roster.columns
    answer = maker.edit(project, 1, do="remove-column", column=column.id).json()
    assert answer["undo"] == "delete the column name; ORRIN keep what they show"
    assert value(answer, "a4", "text")["text"] == "Orrin"


def test_a_part_says_in_which_rows_it_is_shown_until_it_is_in_all(maker: Maker) -> None:
    project = maker.project(tags(*NAMES))
    maker.edit(project, 1, do="change", of="part a3", values={"shown": "{post}"})
    state = maker.get(f"projects/{project.pk}").json()
    assert value(state, "a3", "shown")["text"] == "post"
    answer = maker.edit(project, 2, do="change", of="part a3", values={"shown": "yes"}).json()
    (part,) = (one for one in answer["scenes"]["p1"]["parts"] if one["id"] == "a3")
    assert not [bit for bit in part["spec"] if bit.get("field") == "shown"]
    assert not part["data"].get("hidden")
