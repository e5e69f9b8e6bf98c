"""The ticket and its recipes through the pages: fills compared, only some of it sent, test cards, recipes as lists."""

from django.core.files.uploadedfile import SimpleUploadedFile

from foliant.workshop.models import Project, shop_of
from tests.making import one_piece, put, tag
from tests.workshop.conftest import Maker


def test_ways_to_fill_are_compared_and_each_is_an_edit(maker: Maker) -> None:
    project = maker.project(tag(copies=3))
    ways = maker.get(f"projects/{project.pk}/operations/engrave/fills").json()["ways"]
    assert [way["fastest"] for way in ways].count(True) == 1
    assert all(way["d"] for way in ways)
    assert maker.edit(project, 1, **ways[-1]["edit"]).status_code == 200
    again = maker.get(f"projects/{project.pk}/operations/engrave/fills").json()["ways"]
    assert next(way for way in again if way["now"])["says"] == ways[-1]["says"]
    assert maker.get(f"projects/{project.pk}/operations/outer/fills").status_code == 422
    assert maker.get(f"projects/{project.pk}/operations/moon/fills").status_code == 422


def test_one_operation_is_sent_and_saved_alone_and_the_ticket_comes_on_a_page(maker: Maker) -> None:
    project = maker.project(tag())
    some = maker.get(f"projects/{project.pk}/stations/run").json()["machine"]["some"]
    assert [one[1] for one in some] == ["everything", "Engraving", "Holes and inner edges", "Outer edges"]
    text = maker.get(f"projects/{project.pk}/export/gcode?only=operation outer").content.decode()
    assert "; Outer edges" in text
    assert "; Engraving" not in text
    assert maker.get(f"projects/{project.pk}/ticket.pdf").content[:5] == b"%PDF-"
    assert maker.post(f"projects/{project.pk}/runs", kind="job", only="operation engrave").status_code == 200
    run = project.runs.first()
    assert run is not None
    assert (run.only, bytes(run.takes)) == ("operation engrave", b"")  # nothing of it goes through
    assert maker.post(f"projects/{project.pk}/runs", kind="job", only="piece p9").status_code == 422


def test_an_operation_drills_the_small_holes_and_the_rest_stay_cut(maker: Maker) -> None:
    holes = [put("circle", role="cuts", diameter=size, x=6 + 12 * n, y=6) for n, size in enumerate((1, 5))]
    project = maker.project(one_piece(put("rectangle", width=60, height=30, x=30, y=15), *holes))
    assert maker.edit(project, 1, do="add-operation", work="drill").status_code == 200
    own = Project.objects.get(pk=project.pk).design.ticket.operations[0].id
    assert maker.edit(project, 2, do="change", of=f"operation {own}", values={"holes": "2 mm"}).status_code == 200
    lines = maker.get(f"projects/{project.pk}/stations/ticket").json()["words"]["lines"]
    assert [(line["title"], line["pieces"], len(line["takes"])) for line in lines] == [
        ("Drilling", "1 piece", 0), ("Holes and inner edges", "1 piece", 1), ("Outer edges", "1 piece", 1)
    ]  # fmt: skip
    assert "every hole of up to 2 mm across" in "".join(bit["text"] for bit in lines[0]["spec"])


def test_a_test_card_is_begun_and_its_best_field_becomes_the_recipe(maker: Maker) -> None:
    asked = {"machine": "bench-laser", "material": "cork-sheet", "work": "engrave"}
    project = Project.objects.get(pk=maker.post("shop/cards", **asked).json()["id"])
    words = maker.get(f"projects/{project.pk}/stations/ticket").json()["words"]
    assert [len(row["fields"]) for row in words["card"]["rows"]] == [5] * 5
    assert [line["title"] for line in words["lines"]] == ["Labels", "Outer edges"]
    assert maker.post(f"projects/{project.pk}/card/2/3").status_code == 200
    card = project.design.card
    assert card
    recipe = shop_of(maker.user.pk).recipe("bench-laser", "cork-sheet", 2.0, "engrave")
    assert recipe
    assert dict(recipe.values)["power"] == card.columns[3]
    assert dict(recipe.values)["speed"] == card.rows[2]
    assert recipe.origin.startswith("tested on ")
    assert maker.post(f"projects/{project.pk}/card/9/9").status_code == 422
    assert maker.post("shop/cards", **{**asked, "work": "dig"}).status_code == 422
    assert maker.post("shop/cards", **{**asked, "material": "moon"}).status_code == 422


def test_recipes_are_found_copied_and_exchanged_as_lists(maker: Maker) -> None:
    found = maker.get("shop/recipes?words=leather score").json()["found"]
    assert {(one["material"], one["origin"]) for one in found} == {("tan-leather", "shipped")}
    assert "cork-sheet" in maker.get("shop/recipes.csv").content.decode()
    text = "machine,material,thickness,work,origin,power,speed\nbench-laser,cork-sheet,2,cut,mine,66,9\n"
    sent = maker.client.post("/api/shop/recipes.csv", {"file": SimpleUploadedFile("recipes.csv", text.encode())})
    assert sent.status_code == 200
    recipe = shop_of(maker.user.pk).recipe("bench-laser", "cork-sheet", 2.0, "cut")
    assert recipe
    assert (dict(recipe.values)["power"], recipe.origin) == (66, "mine")
    bad = maker.client.post("/api/shop/recipes.csv", {"file": SimpleUploadedFile("x.csv", b"\x00\x01")})
    assert bad.status_code == 422
    copy = {"do": "copy-recipes", "machine": "bench-laser", "material": "birch-ply", "onto": "desk-cutter"}
    assert maker.shop(copy, maker.get("shop").json()["revision"]).status_code == 200


def test_a_thickness_without_a_recipe_is_guessed_and_kept_by_one_press(maker: Maker) -> None:
    project = maker.project(one_piece(put("circle", diameter=30)))
    maker.edit(project, 1, do="change", of="stock", values={"thickness": "6"})
    line = maker.get(f"projects/{project.pk}/stations/ticket").json()["words"]["lines"][-1]
    assert (line["guessed"], line["origin"]) == (True, "a guess from 4 mm")
    assert maker.post(f"projects/{project.pk}/operations/outer/recipe").status_code == 200
    line = maker.get(f"projects/{project.pk}/stations/ticket").json()["words"]["lines"][-1]
    assert not line["guessed"]
    assert line["origin"].startswith("kept from")
