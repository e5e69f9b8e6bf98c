"""Recipes: found by words, guessed for near thicknesses, remembering where they came from, read and written as CSV."""

import pytest

from foliant.core.checks import check
from foliant.core.design import Design, Ticket
from foliant.core.equipment import SHIPPED, read_shop_edit
from foliant.core.equipment.finding import found_recipes
from foliant.core.equipment.guessing import guess
from foliant.core.errors import Refused
from foliant.core.formats.recipes_csv import read_recipes, write_recipes
from foliant.core.pricing import price
from tests.making import edited, plan, tag


def birch(thickness: float) -> Design:
    return edited(tag(), {"do": "change", "of": "stock", "values": {"thickness": thickness}})


@pytest.mark.parametrize(
    ("words", "fits"),
    [("leather score", {("tan-leather", "score")}), ("acrylic 3 cut", {("slate-acrylic", "cut")}),
     ("birch 4 mm engrav", {("birch-ply", "engrave")}), ("moon", set())],
)  # fmt: skip
def test_recipes_are_found_by_words_in_any_order(words: str, fits: set[tuple[str, str]]) -> None:
    assert {(one.material, one.work) for one in found_recipes(SHIPPED, words)} == fits
    assert {(one.material, one.work) for one in found_recipes(SHIPPED, " ".join(reversed(words.split(" "))))} >= (
        set() if "mm" in words else fits
    )
    assert not found_recipes(SHIPPED, "  ")


def test_six_millimetres_of_birch_need_no_typing_but_say_that_they_are_guessed() -> None:
    job = plan(birch(6))
    assert {line.id for line in job.lines if line.runs} == {"engrave", "inner", "outer"}
    (cut,) = (line for line in job.lines if line.id == "outer")
    assert cut.recipe
    assert cut.recipe.origin == "a guess from 4 mm"
    four = SHIPPED.recipe("bench-laser", "birch-ply", 4, "cut")
    assert four
    per_depth = [dict(one.values)["passes"] / dict(one.values)["speed"] / one.thickness for one in (four, cut.recipe)]
    assert per_depth[1] == pytest.approx(per_depth[0], rel=0.06)
    found = [one for one in check(job) if one.check == "recipes_are_tested"]
    assert len(found) == 1
    assert "Test them on a scrap" in found[0].sentence
    assert not [one for one in check(plan(birch(3))) if one.check == "recipes_are_tested"]


def test_nothing_is_guessed_from_what_is_too_different() -> None:
    assert guess(SHIPPED, "bench-laser", "birch-ply", 20, "cut") is None
    assert guess(SHIPPED, "desk-cutter", "birch-ply", 3, "cut") is None
    kiss = guess(SHIPPED, "desk-cutter", "ivory-card", 0.4, "kiss")
    assert kiss
    assert dict(kiss.values)["power"] == 17.5
    drilled = guess(SHIPPED, "bench-laser", "birch-ply", 6, "drill")
    assert drilled
    assert dict(drilled.values)["dwell"] == pytest.approx(1.05)


def test_a_recipe_remembers_where_it_came_from() -> None:
    key = SHIPPED.recipes[0].key
    assert SHIPPED.recipes[0].origin == "shipped"
    changed = read_shop_edit({"do": "change", "of": f"recipe {key}", "values": {"power": "30"}}).apply(SHIPPED)
    assert changed.recipes[0].origin == "changed by you"
    kept = {"do": "keep-recipe", "machine": "bench-laser", "material": "birch-ply", "thickness": 6, "work": "cut"}
    shop = read_shop_edit({**kept, "values": {"power": 90, "speed": 3, "passes": 3}, "origin": "tested"}).apply(SHIPPED)
    found = shop.recipe("bench-laser", "birch-ply", 6, "cut")
    assert found
    assert (found.origin, found.guessed) == ("tested", False)


def test_recipes_are_copied_to_another_machine_but_for_those_it_has() -> None:
    copy = {"do": "copy-recipes", "machine": "bench-laser", "material": "birch-ply", "onto": "desk-cutter"}
    shop = read_shop_edit(copy).apply(SHIPPED)
    found = shop.recipes_for("desk-cutter", "birch-ply")
    assert len(found) == len(SHIPPED.recipes_for("bench-laser", "birch-ply"))
    assert {one.origin for one in found} == {"copied from Bench laser, to be tested"}
    with pytest.raises(Refused, match="all of that already"):
        read_shop_edit(copy).apply(shop)


def test_recipes_go_out_and_come_in_as_csv() -> None:
    text = write_recipes(SHIPPED)
    bare = SHIPPED.model_copy(update={"recipes": ()})
    back = read_recipes(text.encode(), bare).apply(bare)
    assert [(one.machine, one.material, one.thickness, one.work, one.values) for one in back.recipes] == [
        (one.machine, one.material, one.thickness, one.work, one.values) for one in SHIPPED.recipes
    ]
    inches = "machine;material;thickness;work;power;speed\nbench-laser;birch-ply;1/4 in;cut;80;12 in/min\n"
    (own,) = read_recipes(inches.encode(), SHIPPED).recipes
    assert own.thickness == pytest.approx(6.35)
    assert dict(own.values)["speed"] == pytest.approx(5.08)
    near = "machine,material,thickness,work,power,speed\nbench-laser,birch-ply,3.1,cut,80,5\n"
    shop = read_recipes(near.encode(), SHIPPED).apply(SHIPPED)
    assert {one.thickness for one in shop.recipes_for("bench-laser", "birch-ply") if one.work == "cut"} == {3, 3.1, 4}


@pytest.mark.parametrize(
    ("text", "says"),
    [("power,speed\n1,2\n", "names its columns"),
     ("machine,material,thickness,work,power,speed\nbench-laser,cheese,3,cut,80,5\n", "Line 2.*no material “cheese”"),
     ("machine,material,thickness,work,power,speed\nbench-laser,birch-ply,3,dig,80,5\n", "no work “dig”"),
     ("machine,material,thickness,work,power,speed\nbench-laser,birch-ply,3,cut,800,5\n", "Power is too large"),
     ("machine,material,thickness,work,power,speed" + 2 * "\nbench-laser,birch-ply,3,cut,80,5", "Line 3.*for the same"),
     ("", "nothing in this table")],
)  # fmt: skip
def test_a_list_that_cannot_be_read_names_the_line(text: str, says: str) -> None:
    with pytest.raises(Refused, match=says):
        read_recipes(text.encode(), SHIPPED)


def test_recipes_for_a_laser_of_another_power_are_as_much_faster() -> None:
    add = {"do": "add-machine", "name": "Loft laser", "like": "bench-laser"}
    watts = {"do": "change", "of": "machine loft-laser", "values": {"watts": "20", "hour": "30"}}
    copy = {"do": "copy-recipes", "machine": "bench-laser", "material": "birch-ply", "onto": "loft-laser"}
    shop = SHIPPED
    for edit in (add, watts, copy):
        shop = read_shop_edit(edit).apply(shop)
    one, other = (shop.recipe(key, "birch-ply", 3, "cut") for key in ("bench-laser", "loft-laser"))
    assert one
    assert other
    assert (dict(one.values)["speed"], dict(other.values)["speed"]) == (6, 12)
    design = birch(3).model_copy(update={"ticket": Ticket(machine="loft-laser")})
    job = plan(design, shop)
    assert price(job).machine == pytest.approx(30 * job.program.seconds / 3600)
