"""The history of the design file: what was saved by every version opens, and comes to the same."""

import json
from pathlib import Path

import numpy as np
import pytest

from foliant.core.design import Design, read_design, resolve
from foliant.core.design.binding import bound_row
from foliant.core.design.edits.clipboard import parts_in
from foliant.core.design.placing import reference_point
from foliant.core.errors import Refused
from foliant.core.formats import write_design
from foliant.core.formats.design_file import read_design_file
from foliant.core.formats.schema import design_schema, shop_schema
from foliant.core.layout import lay_out
from foliant.core.paths import curves
from tests.making import edited, one_piece, plan, put

V1 = Path(__file__).parents[1] / "data" / "v1"
V2 = Path(__file__).parents[1] / "data" / "v2"
EXPECTED = json.loads((V1 / "expected.json").read_text())
LAID = json.loads((V2 / "expected.json").read_text())


def burnt(design: Design) -> dict[str, float]:
    """How many mm each operation works."""
    job = plan(design)
    path = job.program.toolpath()
    lengths = curves.lengths(path.kinds, path.points) * path.working
    return {line.id: float(lengths[path.operation == i].sum()) for i, line in enumerate(job.lines)}


@pytest.mark.parametrize("name", EXPECTED)
def test_a_file_of_version_1_opens_to_the_same_outlines_and_the_same_burnt_length(name: str) -> None:
    design = read_design_file((V1 / f"{name}.json").read_bytes())
    assert design.version == 4
    areas = {piece.name: resolve(piece).outline.path.area for piece in design.pieces}
    assert areas == pytest.approx(EXPECTED[name]["areas"], abs=0.002)
    found, before = burnt(design), dict(EXPECTED[name]["burnt"])
    # Rows reach a little farther at slanting edges than they did, so that nothing is left bare there.
    was, now = before.pop("engrave", 0.0), found.pop("engrave", 0.0)
    assert was <= now <= 1.1 * was
    assert found == pytest.approx(before, rel=2e-4)  # how curves are followed has become better since
    assert read_design_file(write_design(design).encode()) == design


@pytest.mark.parametrize("name", LAID)
def test_what_lay_somewhere_by_its_left_and_top_in_version_2_lies_there_still(name: str) -> None:
    design = read_design_file((V2 / f"{name}.json").read_bytes())
    assert {laid.label: list(laid.bounds) for laid in lay_out(design).instances} == {
        label: pytest.approx(bounds, abs=0.001) for label, bounds in LAID[name].items()
    }
    assert read_design_file(write_design(design).encode()) == design


def test_words_that_version_3_held_by_their_capitals_stay_where_they_lie() -> None:
    held = {"do": "align-parts", "piece": "p1", "parts": ["a3"], "across": "middle", "down": "capitals", "hold": True}
    plate = one_piece(put("rectangle", width=70, height=30, x=35, y=15), put("words", text="gypsy", cap_height=8))
    row = {"do": "for-row", "row": "r1", "edit": {"do": "move-parts", "piece": "p1", "parts": ["a4"], "dx": 0, "dy": 2}}
    free = edited(plate, held, put("words", text="Opal jug", cap_height=4, x=35, y=25))
    table = {"do": "take-table", "heading": ["Name"], "rows": [["Opal jug"], ["Ivy"]]}
    new = edited(free, table, {"do": "tie", "of": "part a4 text", "text": "{Name}"})
    row["row"] = new.roster.rows[0].id
    new = edited(new, row)
    old = json.loads(write_design(new))
    old["version"] = 3
    old["pieces"][0]["parts"][1]["down"]["anchor"] = "middle"
    by_ink = dict(new.roster.rows[0].own)["part a4 y"]
    part = bound_row(new, new.pieces[0], row["row"]).piece.part("a4")
    was = reference_point(part, "middle")[1]
    assert was != pytest.approx(float(by_ink.removesuffix(" mm")), abs=0.3)
    old["roster"]["rows"][0]["own"] = [["part a4 y", f"{was} mm"]]
    found = read_design(old)
    assert found.pieces == new.pieces
    assert bound_row(found, found.pieces[0], row["row"]).piece.part("a4").y == pytest.approx(part.y, abs=1e-5)


def test_what_a_maker_had_changed_in_the_ticket_of_version_1_is_kept() -> None:
    design = read_design_file((V1 / "torch-tokens.json").read_bytes())
    assert design.ticket.operation("score").own == {"power": 21, "passes": 2}
    assert not design.ticket.operation("inner").on


def test_parts_copied_from_version_1_can_be_pasted() -> None:
    data = json.loads((V1 / "first-light.json").read_text())
    parts = parts_in(json.dumps({"format": "foliant-parts", "parts": data["pieces"][0]["parts"][:1]}))
    assert parts[0].roles == (data["pieces"][0]["parts"][0]["role"],)


@pytest.mark.parametrize("version", [0, 5, "2", None, True])
def test_a_version_that_is_not_known_is_said(version: object) -> None:
    data = {"format": "foliant-design", "version": version}
    with pytest.raises(Refused, match="reads versions 1 to 4"):
        read_design(data)


def test_what_is_damaged_in_an_old_file_is_said_as_in_a_new_one() -> None:
    for pieces in (3, [3], [{"parts": 3}], [{"id": "p1", "name": "A", "parts": [3]}]):
        with pytest.raises(Refused):
            read_design({"format": "foliant-design", "version": 1, "pieces": pieces, "ticket": {"operations": [7]}})


def test_working_time_is_that_of_the_moves() -> None:
    program = plan(read_design_file((V1 / "first-light.json").read_bytes())).program
    path = program.toolpath()
    assert len(path) == len(program)
    assert program.seconds == pytest.approx(float(path.durations.sum()) + program.home_seconds)
    gaps = np.hypot(*(path.points[1:, 0] - path.points[:-1, 3]).T)
    assert gaps.max() < 1e-6  # every move begins where the last has ended


def test_the_shop_file_is_specified_too() -> None:
    text = (Path(__file__).parents[2] / "docs" / "shop-file.md").read_text()
    models = [shop_schema(), *shop_schema()["$defs"].values()]
    fields = {field for model in models for field in model.get("properties", {})}
    assert {field for field in fields if f"`{field}`" not in text} == set()


def test_the_specification_names_everything_that_the_schema_names() -> None:
    schema = design_schema()
    text = (Path(__file__).parents[2] / "docs" / "design-file.md").read_text()
    fields = {field for model in [schema, *schema["$defs"].values()] for field in model.get("properties", {})}
    assert {field for field in fields if f"`{field}`" not in text} == set()
    kinds = {
        model["properties"]["kind"].get("const") for model in schema["$defs"].values() if "kind" in model["properties"]
    }
    assert {kind for kind in kinds - {None} if f"`{kind}`" not in text} == set()
    assert f"version {schema['properties']['version']['const']}" in text
