"""Test cards and the gauge for the width of the cut: each field done so, and the best one kept as the recipe."""

from pathlib import Path

import pytest

from foliant.core.checks import check
from foliant.core.cli import main
from foliant.core.design import Stock, resolve
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.formats.design_file import read_design_file
from foliant.core.ticket import plan
from foliant.core.ticket.cards import Axis, field_card, fields_of, kept, kerf_gauge, usual_axis

BIRCH = Stock(material="birch-ply", thickness=5)
POWERS, SPEEDS = Axis("power", (20, 30, 40)), Axis("speed", (60, 90))


@pytest.mark.parametrize("work", ["engrave", "score", "cut"])
def test_every_field_is_done_with_the_settings_that_stand_beside_it(work: str) -> None:
    design = field_card(SHIPPED, "bench-laser", BIRCH, work, POWERS, SPEEDS)
    job = plan(design, SHIPPED)
    found = {line.id: line for line in job.lines if line.id in design.card.fields}  # type: ignore[union-attr]
    assert len(found) == 6
    told = [(line.settings.power, line.settings.pace) for line in found.values() if line.settings]
    assert sorted(told) == [(power, speed) for power in (20, 30, 40) for speed in (60, 90)]
    assert all(line.runs and line.pieces == 1 for line in found.values())
    assert not [one for one in check(job) if one.level == "stop"]
    assert "outer" not in {line.id for line in job.lines if line.runs}
    texts = {getattr(part.shape, "text", "") for part in design.pieces[0].parts}
    assert {"20", "30", "40", "60", "90", f"{work} 5 mm birch ply"} <= texts
    assert not resolve(design.pieces[0]).trouble


def test_the_best_field_becomes_the_recipe() -> None:
    design = field_card(SHIPPED, "bench-laser", BIRCH, "engrave", POWERS, SPEEDS)
    assert [says for _, _, says in fields_of(design.card)][4] == "power 30, speed 90"  # type: ignore[arg-type]
    shop = kept(design, SHIPPED, 1, 1, "tested").apply(SHIPPED)
    recipe = shop.recipe("bench-laser", "birch-ply", 5, "engrave")
    assert recipe
    assert (dict(recipe.values)["power"], dict(recipe.values)["speed"], recipe.origin) == (30, 90, "tested")
    with pytest.raises(Refused, match="no such field"):
        kept(design, SHIPPED, 2, 0, "")


def test_the_gauge_measures_the_width_of_the_cut() -> None:
    design = kerf_gauge(SHIPPED, "bench-laser", Stock(material="birch-ply", thickness=3))
    assert design.ticket.kerf == "off"
    comb = design.pieces[0]
    widths = [part.shape.width for part in comb.parts if part.roles == ("cuts",)]  # type: ignore[union-attr]
    plug = 10.0
    for kerf, width in zip(design.card.columns, widths, strict=True):  # type: ignore[union-attr]
        assert width + kerf == pytest.approx(plug - kerf)  # as it is cut: the opening wider, the plug narrower
    shop = kept(design, SHIPPED, 0, 4, "measured").apply(SHIPPED)
    recipe = shop.recipe("bench-laser", "birch-ply", 3, "cut")
    assert recipe
    assert dict(recipe.values)["kerf"] == 0.16
    assert not [one for one in check(plan(design, SHIPPED)) if one.level == "stop"]


def test_usual_values_lie_round_the_recipe() -> None:
    axis = usual_axis(SHIPPED, "bench-laser", "birch-ply", 3, "engrave", "power", 5)
    assert axis.values[0] < 32 < axis.values[-1]
    assert usual_axis(SHIPPED, "bench-laser", "birch-ply", 3, "cut", "passes", 3).values == (1, 2, 3)


@pytest.mark.parametrize(
    ("work", "across", "down", "stock", "says"),
    [("drill", POWERS, SPEEDS, BIRCH, "made to engrave"), ("engrave", POWERS, POWERS, BIRCH, "two different"),
     ("engrave", Axis("power", (20, 300)), SPEEDS, BIRCH, "too large"),
     ("engrave", Axis("power", ()), SPEEDS, BIRCH, "1 to 8"),
     ("engrave", POWERS, SPEEDS, Stock(width=20, height=20), "smaller"),
     ("engrave", Axis("moon", (1,)), SPEEDS, BIRCH, "no value")],
)  # fmt: skip
def test_what_no_card_can_be_is_a_sentence(work: str, across: Axis, down: Axis, stock: Stock, says: str) -> None:
    with pytest.raises(Refused, match=says):
        field_card(SHIPPED, "bench-laser", stock, work, across, down)


def test_cards_on_the_command_line(tmp_path: Path) -> None:
    file = tmp_path / "card.json"
    assert main(["testcard", "--work", "cut", "--across", "speed=4,6,8", "--down", "passes", "--to", str(file)]) == 0
    design = read_design_file(file.read_bytes())
    assert design.card
    assert (design.card.columns, design.card.rows) == ((4, 6, 8), (1, 2, 3, 4, 5))
    assert main(["testcard", "--work", "gauge", "--to", str(file)]) == 0
    assert main(["testcard", "--sheet", "30x20", "--to", str(file)]) == 2
