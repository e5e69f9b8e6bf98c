"""A project of several materials through the pages: sheets of each, packed, run and marked taken on its own."""

from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from foliant.core.design.benches import every_bench
from foliant.core.layout import lay_out
from foliant.workshop.models import Project, unpack
from foliant.workshop.packer import pack_sheet
from tests.core.test_benches import acrylic, sign
from tests.core.test_layout import CIRCLES, drawn_tray
from tests.drawings import svg
from tests.making import edited, one_piece, put, tag
from tests.workshop.conftest import Maker


def station(maker: Maker, project: Project, name: str, sheet: int) -> Any:
    return maker.get(f"projects/{project.pk}/stations/{name}?sheet={sheet}").json()


def test_each_sheet_is_shown_with_its_own_material_and_pieces(maker: Maker) -> None:
    project = maker.project(sign())
    first, second = (station(maker, project, "sheet", number) for number in (1, 2))
    assert [one["sheet"]["bench"] for one in (first, second)] == ["", "s5"]
    assert [one["name"] for one in second["sheet"]["sheets"]] == ["3 mm birch ply", "3 mm slate acrylic"]
    assert [[row["name"] for row in one["words"]["rows"]] for one in (first, second)] == [["Bay sign"], ["Letter"]]
    assert second["sheet"]["material"]["name"] == "3 mm slate acrylic"
    told = maker.get(f"projects/{project.pk}/costs?sheet=2").json()
    assert told["costs"]["total"][0] == "4 pieces"
    assert station(maker, project, "sheet", 9)["sheet"]["number"] == 2


def test_a_piece_is_cut_from_another_material_by_what_its_sentence_offers(maker: Maker) -> None:
    project = maker.project(one_piece(put("rectangle", width=60, height=30)))
    state = maker.get(f"projects/{project.pk}").json()
    offered = {says: edit for edit, says in state["cuts"]}
    says = next(one for one in offered if one.startswith("3 mm slate acrylic"))
    answer = maker.edit(project, 1, **offered[says], pieces=["p1"]).json()
    assert next(iter(answer["materials"].values()))["name"] == "3 mm slate acrylic"
    assert maker.post(f"projects/{project.pk}/undo", revision=2).json()["materials"][""]["name"] == "3 mm birch ply"


def test_an_edit_of_a_sheet_reaches_the_bench_that_it_names(maker: Maker) -> None:
    project = maker.project(sign())
    gap = {"do": "change", "of": "sheet", "values": {"gap": "6"}}
    assert maker.edit(project, 1, **gap, bench="s5").status_code == 200
    project.refresh_from_db()
    assert (project.design.sheet.gap, project.design.benches[0].sheet.gap) == (2.0, 6.0)
    kept = maker.post(f"projects/{project.pk}/operations/outer/recipe?bench=s5")
    assert kept.status_code == 200
    recipe = project.shop.recipe("bench-laser", str(acrylic()["material"]), 3.0, "cut")
    assert recipe
    assert dict(recipe.values)["power"] == 90
    assert recipe.origin.startswith("kept from Open-night tags on ")


def test_one_bench_is_packed_and_filled_and_the_other_stays(maker: Maker) -> None:
    project = maker.project(sign())
    assert maker.post(f"projects/{project.pk}/packing", seconds=1, bench="s5").status_code == 200
    pack_sheet.call(project.packings.first().pk)
    assert maker.post(f"projects/{project.pk}/packing/take", revision=1).status_code == 200
    project.refresh_from_db()
    design = project.design
    assert (len(design.sheet.places), len(design.benches[0].sheet.places)) == (0, 3)
    room = maker.get(f"projects/{project.pk}/filling?sheet=2").json()["more"]
    assert [one["name"] for one in room] == ["Letter"]
    assert room[0]["whole"] >= room[0]["more"] > 0
    assert room[0]["next"]["d"]
    more = maker.post(f"projects/{project.pk}/filling", revision=2, piece="p3", sheet=2, most=1)
    assert more.status_code == 200
    project.refresh_from_db()
    assert project.design.piece("p3").copies == 4
    wrong = maker.post(f"projects/{project.pk}/filling", revision=3, piece="p3", sheet=1)
    assert wrong.json()["message"] == "Letter is cut from another material."


def test_a_run_is_of_the_bench_of_its_sheet_and_takes_from_that_shelf(maker: Maker) -> None:
    project = maker.project(sign())
    assert maker.post(f"projects/{project.pk}/runs", kind="job", sheet=2).status_code == 200
    run = project.runs.first()
    assert run is not None
    assert (run.sheet, run.bench) == (2, "s5")
    assert unpack(bytes(run.takes))["sheet"]["material"] == acrylic()["material"]


def test_a_piece_is_kept_as_a_jig_and_one_without_slots_says_so(maker: Maker) -> None:
    project = maker.project(drawn_tray())
    assert maker.post(f"projects/{project.pk}/pieces/p1/jig").json() == {"name": "Torch tray", "slots": 4}
    assert "4 drawn slots" in str(maker.get("shop").json()["jigs"][0]["spec"])
    solid = maker.project(one_piece(put("circle", diameter=30)))
    refused = maker.post(f"projects/{solid.pk}/pieces/p1/jig")
    assert refused.status_code == 422
    assert "has no slots" in refused.json()["message"]
    assert len(maker.get("shop").json()["jigs"]) == 1
    for drawing, answer in ((b"", "no drawing"), (svg(CIRCLES), "3 drawn slots")):
        file = SimpleUploadedFile("ring tray.svg", drawing)
        assert answer in str(maker.client.post("/api/shop/jigs", {"file": file}).json())
    assert [jig["name"] for jig in maker.get("shop").json()["jigs"]] == ["Torch tray", "ring tray"]


def test_prices_stand_on_the_proof_and_by_order_in_the_file(maker: Maker) -> None:
    table = {"do": "take-table", "heading": ["name", "order"], "rows": [["Ivo", "A"], ["Bo", "B"]], "words": ["a4"]}
    project = maker.project()
    assert maker.edit(project, 1, **table).status_code == 200
    pdf = maker.get(f"projects/{project.pk}/proof/pdf?prices=true")
    plain = maker.get(f"projects/{project.pk}/proof/pdf")
    assert pdf.content[:5] == b"%PDF-"
    assert len(pdf.content) > len(plain.content)
    column = Project.objects.get(pk=project.pk).design.roster.columns[1].id
    lines = maker.get(f"projects/{project.pk}/prices.csv?by={column}").content.decode().splitlines()
    assert [line.split(",")[0] for line in lines[1:5]] == ["Guide tag", "A", "B", "all"]
    assert maker.get(f"projects/{project.pk}/prices.csv?by=nothing").status_code == 422


def test_what_is_raised_lies_packed_on_its_own_sheet_as_soon_as_it_is_there(maker: Maker) -> None:
    letters = put("words", "p1", text="VALLEY", font="archivo", cap_height=20, capitals="all")
    project = maker.project(edited(tag(copies=12), letters))
    chosen = project.design.pieces[0].parts[-1].id
    assert maker.edit(project, 1, do="raise-parts", piece="p1", parts=[chosen]).status_code == 200
    project.refresh_from_db()
    raised = every_bench(project.design)[1]
    layout = lay_out(raised)
    assert (len(layout.instances), layout.left_over) == (12, ())
    assert all(laid.place for laid in layout.instances)
    rows = lay_out(raised.model_copy(update={"sheet": raised.sheet.model_copy(update={"places": ()})}))
    assert max(laid.bounds[2] for laid in layout.instances) < max(laid.bounds[2] for laid in rows.instances)
    assert maker.post(f"projects/{project.pk}/undo", revision=2).status_code == 200
