"""The shop: what is in it, what can be changed, and what becomes of designs that name what is not there."""

import json
from pathlib import Path
from typing import Any

import pytest

from foliant.core.checks import check
from foliant.core.cli import main
from foliant.core.design import Design, read_design
from foliant.core.design.edits.sheet import TakeStock
from foliant.core.equipment import SHIPPED, Shop, read_shop_edit
from foliant.core.errors import Refused
from foliant.core.formats.design_file import write_design
from foliant.core.formats.shop_file import read_shop_file, write_shop
from foliant.core.pricing import price
from tests.making import check_piece, edited, one_piece, plan, put, tag

WALNUT = {"do": "add-material", "name": "Walnut ply", "like": "birch-ply"}


def changed(shop: Shop, *edits: dict[str, Any]) -> Shop:
    for edit in edits:
        shop = read_shop_edit(edit).apply(shop)
    return shop


def change(of: str, **values: Any) -> dict[str, Any]:
    return {"do": "change", "of": of, "values": values}


def named(design: Design, **names: str) -> Design:
    """The design as if it came from another workshop."""
    data = design.model_dump(mode="json")
    data["stock"]["material"] = names.get("material", data["stock"]["material"])
    data["ticket"]["machine"] = names.get("machine", data["ticket"]["machine"])
    if "motif" in names:
        data["pieces"][0]["parts"][1]["shape"]["motif"] = names["motif"]
    return read_design(data)


def test_a_shop_reads_back_as_it_was_written() -> None:
    mine = changed(SHIPPED, WALNUT, {"do": "add-machine", "name": "Loft laser"}, change("rates", setup="7 min"))
    assert read_shop_file(write_shop(mine).encode()) == mine
    assert mine.machine("loft-laser").link == ""


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"\xff\xfe", "not text"),
        (b"{", "not valid JSON near line 1"),
        (b"[]", "not a Foliant shop file"),
        (b'{"format": "foliant-shop", "version": 9}', "version 9"),
        (b'{"format": "foliant-shop", "version": 1, "materials": [], "machines": []}', "materials"),
        (write_shop(SHIPPED).replace('"work": "cut"', '"work": "whittle"', 1).encode(), "whittle"),
        (write_shop(SHIPPED).replace('"cork-sheet"', '"birch-ply"').encode(), "same key"),
        (write_shop(SHIPPED).replace('"#e6cb98"', '"red"').encode(), "face"),
        (write_shop(SHIPPED).replace('"simulated"', '"javascript:alert(1)"').encode(), "neither"),
    ],
)
def test_a_bad_shop_file_is_refused_with_a_sentence(content: bytes, says: str) -> None:
    with pytest.raises(Refused, match=says):
        read_shop_file(content)


def test_things_are_added_changed_and_taken_out() -> None:
    mine = changed(SHIPPED, WALNUT, change("material walnut-ply", thicknesses="3, 1/4in and 4", thinnest="1.4"))
    assert mine.material("walnut-ply").thicknesses == (3.0, 4.0, 6.35)
    mine = changed(
        mine, {"do": "add-sheet", "material": "walnut-ply"}, change("sheet walnut-ply", price="4.2", count=2)
    )
    (sheet,) = [sheet for sheet in mine.shelf if sheet.material == "walnut-ply"]
    assert (sheet.price, sheet.count, sheet.width) == (4.2, 2, 300)
    add = {"do": "add-recipe", "machine": "bench-laser", "material": "walnut-ply", "work": "cut"}
    mine = changed(mine, add, add, add)
    assert [one.thickness for one in mine.recipes_for("bench-laser", "walnut-ply")] == [3.0, 4.0, 6.35]
    with pytest.raises(Refused, match="every thickness"):
        changed(mine, add)
    mine = changed(mine, {"do": "remove", "of": "material walnut-ply"})
    assert mine == SHIPPED  # its sheets and recipes went with it


def test_a_machine_that_becomes_one_of_another_kind_starts_from_what_is_usual_there() -> None:
    router = changed(SHIPPED, change("machine bench-laser", kind="turning", kerf="6")).machine("bench-laser")
    assert (router.kerf, router.rise, router.lift) == (6, 10, 3)
    blade = changed(SHIPPED, change("machine bench-laser", kind="blade")).machine("bench-laser")
    assert blade.trail > 0
    assert blade.bed_width == SHIPPED.machine("bench-laser").bed_width


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (change("material moonstone", name="x"), "no longer in the workshop"),
        (change("material birch-ply", thicknesses=""), "one to 12"),
        (change("material birch-ply", thicknesses="0"), "too small|more than nothing"),
        (change("material birch-ply", face="red"), "#e6cb98"),
        (change("machine bench-laser", kind="plough"), "laser, blade"),
        (change("machine bench-laser", link="over there"), "neither"),
        (change("machine bench-laser", acceleration="1200 mm/s"), "not a value Foliant can read"),
        (change("machine bench-laser", key="x"), "no value"),
        (change("sheet birch-ply-3", material="moonstone"), "no material"),
        (change("recipe bench-birch-ply-3-cut", power=0), "Power"),
        (change("recipe bench-birch-ply-3-cut", dwell=1), "no value"),
        (change("rates", machine_hour="-1"), "hour"),
        ({"do": "add-material", "name": "  "}, "at least one letter"),
        ({"do": "add-recipe", "machine": "plough", "material": "birch-ply", "work": "cut"}, "no machine"),
        ({"do": "add-recipe", "machine": "bench-laser", "material": "birch-ply", "work": "whittle"}, "whittle"),
        ({"do": "remove", "of": "rates"}, "no longer"),
        ({"do": "explode"}, "do"),
    ],
)
def test_bad_edits_of_a_shop_are_refused_with_a_sentence(edit: dict[str, Any], says: str) -> None:
    with pytest.raises(Refused) as refusal:
        changed(SHIPPED, edit)
    assert any(words in str(refusal.value) for words in says.split("|")), refusal.value


def test_a_workshop_keeps_one_machine_and_one_material() -> None:
    only = changed(SHIPPED, *({"do": "remove", "of": f"machine {key}"} for key in ("cabin-laser", "desk-cutter")))
    with pytest.raises(Refused, match="at least one machine"):
        changed(only, {"do": "remove", "of": "machine bench-laser"})


def test_a_design_that_names_what_is_not_here_opens_says_so_and_is_mended_by_its_fixes() -> None:
    star = one_piece(
        put("rectangle", width=60, height=40, x=30, y=20), put("motif", motif="star", height=15, x=30, y=20)
    )
    odd = named(star, material="birch-plywood", machine="bench-laser-2", motif="stars-four")
    findings = {finding.check: finding for finding in check(plan(odd))}
    assert set(findings) == {"materials_are_here", "machines_are_here", "what_parts_are_made_of_is_here"} | {
        name for name in findings if name == "operations_have_settings"
    }
    assert "“birch-plywood”" in findings["materials_are_here"].sentence
    assert "Bench laser, the nearest" in findings["machines_are_here"].sentence
    for name in ("materials_are_here", "machines_are_here", "what_parts_are_made_of_is_here"):
        assert findings[name].level == "stop"
        odd = findings[name].fixes[0].edit.apply(odd)
    assert check(plan(odd)) == ()
    assert (odd.stock.material, odd.ticket.machine) == ("birch-ply", "bench-laser")


def test_a_sheet_from_the_shelf_keeps_its_values_until_the_maker_takes_the_newer_ones() -> None:
    sheet = SHIPPED.shelf[0]
    design = edited(tag(), TakeStock.of(sheet).model_dump())
    assert (design.stock.price, design.stock.source) == (sheet.price, sheet.key)
    assert check(plan(design)) == ()
    measured = changed(SHIPPED, change(f"sheet {sheet.key}", measured="2.9", price="3.50"))
    (finding,) = check(plan(design, measured))
    assert "measured and price changed" in finding.sentence
    newer = finding.fixes[0].edit.apply(design)
    assert (newer.stock.measured, newer.stock.price) == (2.9, 3.5)
    assert check(plan(newer, measured)) == ()
    other = edited(newer, change("stock", width=250))
    assert (other.stock.source, other.stock.price) == ("", 3.5)


def test_a_thin_limit_a_kerf_and_a_recipe_come_from_the_shop() -> None:
    bar = one_piece(put("rectangle", width=40, height=1.3, x=20, y=2))
    piece = bar.pieces[0]
    assert not check_piece(bar, piece)
    brittle = changed(SHIPPED, change("material birch-ply", thinnest=2))
    assert [found.check for found in check_piece(bar, piece, brittle)] == ["material_is_not_too_thin"]
    hotter = changed(SHIPPED, change("recipe bench-birch-ply-3-cut", power="95 %", passes=1))
    assert plan(tag(), hotter).lines[-1].settings != plan(tag()).lines[-1].settings
    assert plan(tag(), hotter).program.seconds < plan(tag()).program.seconds
    kept = {"machine": "bench-laser", "material": "birch-ply", "thickness": 3.05, "work": "cut"}
    kept = changed(SHIPPED, {"do": "keep-recipe", **kept, "values": {"power": 70, "speed": 5, "passes": 3}})
    assert len(kept.recipes) == len(SHIPPED.recipes)
    assert dict(plan(tag(), kept).lines[-1].settings or ())["power"] == 70


def test_a_price_is_what_its_parts_come_to() -> None:
    design = edited(tag(copies=4), change("stock", price="10"))
    found = price(plan(design))
    area = sum(laid.resolved.outline.path.area for laid in plan(design).layout.instances) / (300 * 200)
    assert found.material == pytest.approx(10 * area)
    assert found.machine == pytest.approx(12 * plan(design).program.seconds / 3600)
    assert found.maker == pytest.approx(24 * 5 / 60)
    assert found.each * 4 == pytest.approx(found.total)
    assert price(plan(one_piece())).total == 0


def test_commands_read_the_shop_they_are_given(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["shop"]) == 0
    mine = changed(
        read_shop_file(capsys.readouterr().out.encode()), WALNUT, {"do": "add-machine", "name": "Loft laser"}
    )
    (tmp_path / "shop.json").write_text(write_shop(mine))
    design = named(tag(), material="walnut-ply", machine="loft-laser")
    (tmp_path / "tag.json").write_text(write_design(design))
    file, shop = str(tmp_path / "tag.json"), ["--shop", str(tmp_path / "shop.json")]
    assert main(["check", file]) == 1
    assert "“walnut-ply”" in capsys.readouterr().out
    assert main(["check", file, *shop]) == 1
    assert "There is no recipe to cut 3 mm Walnut ply on Loft laser" in capsys.readouterr().out
    assert main(["price", file, "--json", *shop]) == 0
    assert json.loads(capsys.readouterr().out)["maker"] == 2
    assert main(["estimate", file, "--shop", str(tmp_path / "nowhere.json")]) == 2
    assert "cannot be read" in capsys.readouterr().err
    assert main(["machine", "--profile", "plough", *shop]) == 2
    assert "loft-laser" in capsys.readouterr().err
