"""A project of several materials: each piece on the bench of its own, with its own sheets, ticket and price."""

import json

import pytest

from foliant.core.checks import check
from foliant.core.cli import main
from foliant.core.design import Design, Piece, read_design, resolve
from foliant.core.design.benches import every_bench, on_bench
from foliant.core.design.edits.benches import from_shelf
from foliant.core.design.shapes.fits import Fitted
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.layout import all_sheets, at_sheet, lay_sheets, packings
from foliant.core.pricing import price_of_all, prices_by_piece
from foliant.core.ticket import plan, plan_all
from tests.making import edited, one_piece, put


def acrylic() -> dict[str, object]:
    """Stock of acrylic, as an edit names it."""
    sheet = next(one for one in SHIPPED.shelf if "acrylic" in one.material)
    return from_shelf(sheet).model_dump(mode="json")


def sign(*more: dict[str, object]) -> Design:
    """A plate of birch, and three letters of acrylic to be glued on it."""
    plate = one_piece(put("rectangle", width=90, height=40, x=45, y=20), name="Bay sign")
    letters = [
        {"do": "add-piece", "name": "Letter"},
        put("circle", "p3", diameter=20, x=10, y=10),
        {"do": "change", "of": "piece p3", "values": {"copies": 3}},
        {"do": "cut-from", "pieces": ["p3"], "stock": acrylic()},
    ]
    return edited(plate, *letters, *more)


def power_of(operation: str, design: Design, sheet: int) -> float:
    """The power that an operation runs at on a sheet, %."""
    line = next(line for line in plan(design, SHIPPED, sheet).lines if line.id == operation)
    assert line.settings
    return line.settings.power


def test_a_piece_of_another_material_lies_on_sheets_of_its_own() -> None:
    design = sign()
    sheets = all_sheets(design)
    assert [(there.stock.material == "birch-ply", len(layout.instances)) for there, layout in sheets] == [
        (True, 1),
        (False, 3),
    ]
    there, number = at_sheet(design, 2)
    assert (there.bench, number) == (design.benches[0].id, 1)
    assert at_sheet(design, 9)[0].bench == there.bench


def test_each_bench_has_its_own_sizes_settings_and_places() -> None:
    bench = sign().benches[0].id
    lies = {"piece": "p3", "number": 2, "x": 60, "y": 50}
    design = sign(
        {"do": "change", "of": "sheet", "values": {"gap": 7}, "bench": bench},
        {"do": "change", "of": "operation outer", "values": {"power": 42}, "bench": bench},
        {"do": "place", **lies},
    )
    first, second = every_bench(design)
    assert (first.sheet.gap, second.sheet.gap) == (2.0, 7.0)
    assert not first.sheet.places
    assert second.sheet.places[0].number == 2
    assert [power_of("outer", design, number) == 42 for number in (1, 2)] == [False, True]
    assert read_design(json.loads(design.model_dump_json())) == design
    assert on_bench(second) == design


def test_the_price_and_the_times_are_those_of_all_materials() -> None:
    design = sign()
    jobs = plan_all(design, SHIPPED)
    assert [job.design.stock.material == "birch-ply" for job in jobs] == [True, False]
    prices = dict(prices_by_piece(jobs))
    assert prices["Letter"].pieces == 3
    both = sum(price.total for price in prices.values())
    assert price_of_all(jobs).total == pytest.approx(both)
    area = 3 * 3.14159 * 100
    stock = design.benches[0].stock
    assert prices["Letter"].material == pytest.approx(stock.price * area / (stock.width * stock.height), rel=1e-3)


def test_every_bench_is_packed_for_itself() -> None:
    design = sign()
    for there in every_bench(design):
        *_, best = packings(there, 0.2)
        design = best.edit.done(design)
    assert [len(there.sheet.places) for there in every_bench(design)] == [1, 3]
    assert all(lay_sheets(there)[0].instances[0].place for there in every_bench(design))


def test_moved_back_a_piece_leaves_its_sheet_and_the_bench_goes() -> None:
    design = sign({"do": "place", "piece": "p3", "number": 1, "x": 60, "y": 50})
    back = edited(design, {"do": "cut-from", "pieces": ["p3"], "onto": ""})
    assert (back.benches, back.sheet.places) == ((), ())
    assert [len(layout.instances) for _, layout in all_sheets(back)] == [4]
    assert not edited(design, {"do": "remove-piece", "piece": "p3"}).benches


def test_where_nothing_is_left_of_the_first_material_the_next_moves_up() -> None:
    design = edited(sign(), {"do": "remove-piece", "piece": "p1"})
    assert (design.benches, design.stock.material) == ((), acrylic()["material"])
    assert (design.piece("p3").bench, len(all_sheets(design))) == ("", 1)


def thickness(piece: Piece) -> float:
    """What the last slot of a piece is made for, mm."""
    shape = piece.parts[-1].shape
    assert isinstance(shape, Fitted)
    return shape.thickness


def test_a_slot_is_as_wide_as_what_goes_through_it_is_thick() -> None:
    """A lap of birch and acrylic: each is as wide as the other is thick; any other slot as its own stock is."""
    plates = one_piece(put("rectangle", width=60, height=40, x=30, y=20))
    crossed = edited(plates, {"do": "cross-lap", "piece": "p1"})
    other = crossed.pieces[1].id
    thick = {**acrylic(), "measured": 5.2}
    design = edited(crossed, {"do": "cut-from", "pieces": [other], "stock": thick})
    assert [thickness(piece) for piece in design.pieces] == [5.2, 3.0]
    assert thickness(edited(design, put("slot", other, length=20, x=30, y=10)).piece(other)) == 5.2
    assert all(not resolve(piece).trouble for piece in design.pieces)


def test_findings_are_told_on_the_sheet_they_are_of_and_mend_that() -> None:
    design = edited(sign(), {"do": "cut-from", "pieces": ["p3"], "stock": {**acrylic(), "material": "moon-cheese"}})
    assert not [one for one in check(plan(design, SHIPPED)) if one.check == "materials_are_here"]
    found = next(one for one in check(plan(design, SHIPPED, 2)) if one.check == "materials_are_here")
    mended = found.fixes[0].edit.done(design)
    assert SHIPPED.has_material(mended.benches[0].stock.material)
    assert mended.stock == design.stock


def test_what_cannot_be_is_said() -> None:
    with pytest.raises(Refused, match="no longer in the project"):
        edited(sign(), {"do": "cut-from", "pieces": ["p1"], "onto": "s99"})
    with pytest.raises(Refused, match="does not have"):
        read_design({**json.loads(sign().model_dump_json()), "benches": []})
    many = sign()
    for number in range(11):
        many = edited(many, {"do": "add-piece"})
        many = edited(many, {"do": "cut-from", "pieces": [many.pieces[-1].id], "stock": {**acrylic(), "price": number}})
    with pytest.raises(Refused, match="at most 13 materials"):
        edited(many, {"do": "cut-from", "pieces": ["p1"], "stock": acrylic()})


def test_the_command_line_packs_and_prices_all_of_them(tmp_path, capsys) -> None:  # type: ignore[no-untyped-def]
    file = tmp_path / "sign.json"
    file.write_text(sign().model_dump_json())
    assert main(["pack", str(file), "--seconds", "0.4", "--to", str(tmp_path / "packed.json"), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)["benches"]
    assert [one["placed"] for one in told] == [1, 3]
    assert len(read_design(json.loads((tmp_path / "packed.json").read_text())).benches[0].sheet.places) == 3
    assert main(["price", str(file), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["pieces"] == 4
    assert main(["export", str(file), "--sheet", "2", "--to", str(tmp_path / "letters.svg")]) == 0
    assert main(["check", str(file), "--sheet", "3"]) == 2
