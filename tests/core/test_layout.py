"""Pieces on the sheet."""

from typing import Any

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.checks import check
from foliant.core.design import Design
from foliant.core.drawings.svg import read_svg
from foliant.core.equipment import SHIPPED, read_shop_edit
from foliant.core.equipment.edits import AddJig
from foliant.core.errors import Refused
from foliant.core.layout import Layout, lay_out, lay_sheets
from foliant.core.layout.jigs import jig_of_drawing, jig_of_piece
from foliant.core.making import make
from tests.drawings import svg
from tests.making import edited, one_piece, plan, put, tag


def test_rows_keep_the_margin_and_the_gap() -> None:
    layout = lay_out(tag(copies=4))
    assert [instance.bounds[:2] for instance in layout.instances] == [(4, 4), (78, 4), (152, 4), (4, 36)]


def test_as_many_sheets_are_opened_as_the_pieces_take() -> None:
    first, second = lay_sheets(tag(copies=20))
    assert (len(first.instances), len(second.instances)) == (18, 2)
    assert [laid.bounds[:2] for laid in second.instances] == [(4, 4), (78, 4)]
    assert lay_out(tag(copies=20), 2) is second
    assert lay_out(tag(copies=20), 7) is second  # there are fewer by now


def test_what_is_larger_than_a_sheet_finds_no_room() -> None:
    (layout,) = lay_sheets(one_piece(put("rectangle", width=310, height=60), copies=2))
    assert [(piece.name, count) for piece, count in layout.left_over] == [("Guide tag", 2)]


@pytest.mark.parametrize(("wide", "tall", "turn"), [(180, 280, 90), (280, 180, 0), (60, 196, 90), (150, 150, 0)])
def test_what_fits_only_turned_lies_turned_in_its_row(wide: float, tall: float, turn: float) -> None:
    design = one_piece(put("rectangle", width=wide, height=tall))
    (laid,) = lay_out(design).instances
    left, top, right, bottom = laid.bounds
    assert laid.turn == turn
    assert min(left, top, 300 - right, 200 - bottom) >= 4 - 1e-6
    never = edited(design, {"do": "change", "of": "sheet", "values": {"turning": "none"}})
    assert bool(lay_out(never).left_over) is (turn == 90)


def test_an_instance_is_put_on_another_sheet_and_the_others_stay() -> None:
    design = edited(tag(copies=20), {"do": "place", "piece": "p1", "number": 1, "sheet": 2, "x": 200, "y": 100})
    first, second = lay_sheets(design)
    assert [laid.number for laid in second.instances] == [1, 19, 20]
    assert (len(first.instances), first.instances[0].bounds[:2]) == (17, (78, 4))
    far = edited(design, {"do": "place", "piece": "p1", "number": 2, "sheet": 4, "x": 4, "y": 4})
    assert [len(layout.instances) for layout in lay_sheets(far)] == [16, 3, 0, 1]


def test_the_share_used_is_the_area_of_the_outlines() -> None:
    layout = lay_out(one_piece(put("rectangle", width=100, height=60), copies=2))
    assert layout.used == pytest.approx(2 * 6000 / 60000)


def test_a_piece_put_by_hand_stays_and_the_others_do_not_shift() -> None:
    before = lay_out(tag(copies=4))
    design = edited(tag(copies=4), {"do": "place", "piece": "p1", "number": 2, "x": 100, "y": 120})
    after = lay_out(design)
    moved = next(instance for instance in after.instances if instance.number == 2)
    assert moved.bounds == pytest.approx((100, 120, 172, 150))
    rest = [(i.number, i.bounds) for i in after.instances if i.number != 2]
    assert rest == [(i.number, i.bounds) for i in before.instances if i.number != 2]
    again = lay_out(edited(design, {"do": "arrange-in-rows"}))
    assert [i.bounds for i in again.instances] == [i.bounds for i in before.instances]


def test_an_empty_piece_takes_no_room() -> None:
    assert lay_out(one_piece()).instances == ()


@given(
    st.floats(5, 120), st.floats(5, 120), st.integers(1, 30), st.floats(0, 10), st.floats(0, 20),
)  # fmt: skip
def test_rows_never_overlap_or_leave_the_margin(
    width: float, height: float, copies: int, gap: float, margin: float
) -> None:
    design = edited(
        one_piece(put("rectangle", width=width, height=height), copies=copies),
        {"do": "change", "of": "sheet", "values": {"gap": gap, "margin": margin}},
    )
    sheets = lay_sheets(design)
    assert sum(len(layout.instances) for layout in sheets) == copies
    inside = shapely.box(margin, margin, 300 - margin, 200 - margin).buffer(1e-6)
    for layout in sheets:
        boxes = [shapely.box(*instance.bounds) for instance in layout.instances]
        assert all(inside.contains(box) for box in boxes)
        assert all(a.distance(b) >= gap - 1e-4 for i, a in enumerate(boxes) for b in boxes[:i])


@pytest.mark.parametrize(("x", "y"), [(4, 4), (40, 10), (150, 30), (0, 60), (90, 0)])
def test_rows_run_round_what_was_put_in_their_way(x: float, y: float) -> None:
    design = edited(tag(copies=8), {"do": "place", "piece": "p1", "number": 8, "x": x, "y": y})
    layout = lay_out(design)
    shapes = [laid.shape_on_sheet() for laid in layout.instances]
    assert len(shapes) == 8
    assert all(a.distance(b) >= 2 - 1e-4 for i, a in enumerate(shapes) for b in shapes[:i])
    assert layout.instances[7].bounds[:2] == (x, y)


def test_what_is_put_into_an_opening_pushes_nothing_away() -> None:
    ring = edited(one_piece(put("ring", diameter=80, band=10)), {"do": "add-piece", "name": "Token"})
    token = ring.pieces[1].id
    disc = put("circle", piece=token, diameter=59, x=30, y=30)
    design = edited(ring, disc, {"do": "place", "piece": token, "number": 1, "x": 14.5, "y": 14.5})
    assert lay_out(design).instances[0].bounds[:2] == (4, 4)


def test_instances_keep_their_names_when_others_come_and_go() -> None:
    before = make(tag(copies=3))
    design = edited(tag(copies=5), {"do": "add-piece", "name": "First"})
    after = make(design.model_copy(update={"pieces": tuple(reversed(design.pieces))}))
    assert {one.identity for one in before} <= {one.identity for one in after}
    assert len({id(one.resolved) for one in after}) == 1


def tray(**values: object) -> dict[str, Any]:
    jig = {"key": "torch-tray", "name": "Torch tray", "width": 280, "height": 160, "slot_width": 90, **values}
    return {"do": "take-jig", "jig": {"columns": 3, "rows": 2, "across": 92, "first_x": 48, **jig}}


def middles(layout: Layout) -> list[tuple[float, float]]:
    boxes = [laid.bounds for laid in layout.instances]
    return [(round((b[0] + b[2]) / 2, 3), round((b[1] + b[3]) / 2, 3)) for b in boxes]


def test_rows_of_the_roster_go_into_the_slots_of_a_jig_load_after_load() -> None:
    rows = {"do": "take-table", "heading": ["name"], "rows": [[f"Red {i}"] for i in range(1, 9)], "words": ["a4"]}
    design = edited(tag(), rows, tray())
    first, second = lay_sheets(design)
    assert (first.width, first.height) == (280, 160)
    assert middles(first) == [(48, 40), (140, 40), (232, 40), (48, 100), (140, 100), (232, 100)]
    assert [laid.instance.called for laid in second.instances] == ["Red 7", "Red 8"]
    off = edited(design, {"do": "switch-slot", "slot": 2, "on": False})
    assert middles(lay_out(off))[1] == (232, 40)
    assert (
        lay_out(edited(off, {"do": "switch-slot", "slot": 2, "on": True})).instances[1].bounds
        == first.instances[1].bounds
    )
    again = edited(off, {"do": "take-jig"})
    assert (again.sheet.jig, len(lay_sheets(again)[0].instances)) == (None, 8)


def test_what_lies_in_a_slot_is_turned_and_the_jig_is_never_sent() -> None:
    design = edited(tag(copies=2), tray(turn=90, slot_width=40, slot_height=80))
    layout = lay_out(design)
    assert layout.instances[0].bounds == pytest.approx((33, 4, 63, 76))
    plain = plan(edited(tag(copies=2), {"do": "change", "of": "stock", "values": {"width": 280, "height": 160}}))
    turned = plan(design)
    assert len(turned.program.toolpath()) > 0
    assert [line.id for line in turned.lines] == [line.id for line in plain.lines]
    assert "pieces_lie_within_their_slots" not in {one.check for one in check(turned)}
    small = edited(design, tray(slot_width=30))
    assert "pieces_lie_within_their_slots" in {one.check for one in check(plan(small))}
    with pytest.raises(Refused, match="no longer there"):
        edited(design, {"do": "switch-slot", "slot": 99, "on": False})


def test_a_jig_is_kept_in_the_workshop() -> None:
    shop = read_shop_edit({"do": "add-jig", "name": "Torch tray"}).apply(SHIPPED)
    typed = {"do": "change", "of": "jig torch-tray", "values": {"columns": "4", "rows": "2", "across": "2.5 in"}}
    jig = read_shop_edit(typed).apply(shop).jigs[0]
    assert (len(jig.slots), jig.slots[1].x - jig.slots[0].x) == (8, pytest.approx(63.5))
    assert not read_shop_edit({"do": "remove", "of": "jig torch-tray"}).apply(shop).jigs
    with pytest.raises(Refused):
        read_shop_edit({"do": "change", "of": "jig torch-tray", "values": {"columns": "0"}}).apply(shop)


def drawn_tray(*more: dict[str, Any]) -> Design:
    """A plate with three long slots: one upright, one leaning, one lying; and a round one."""
    slots = [
        put("hole", width=20, height=60, x=40, y=50),
        put("hole", width=20, height=60, x=100, y=50),
        put("hole", width=20, height=60, x=180, y=50),
        put("hole", width=40, height=40, x=60, y=130),
    ]
    turned = [
        {"do": "change", "of": "part a4", "values": {"rotation": "30"}},
        {"do": "change", "of": "part a5", "values": {"rotation": "90"}},
    ]
    return one_piece(put("rectangle", width=240, height=160, x=120, y=80), *slots, *turned, *more, name="Torch tray")


def test_a_piece_becomes_a_jig_and_its_openings_the_slots() -> None:
    jig = jig_of_piece(drawn_tray().pieces[0])
    assert (jig.width, jig.height, len(jig.slots)) == (240, 160, 4)
    assert [(round(slot.x), round(slot.y)) for slot in jig.slots] == [(40, 50), (100, 50), (180, 50), (60, 130)]
    assert [slot.turn % 180 for slot in jig.slots[:3]] == pytest.approx([0, 30, 90], abs=0.01)
    shop = AddJig(do="add-jig", name="Torch tray", jig=jig).apply(SHIPPED)
    kept = shop.jigs[0]
    assert (kept.key, kept.drawn) == ("torch-tray", jig.drawn)
    with pytest.raises(Refused, match="has no slots"):
        jig_of_piece(one_piece(put("rectangle", width=40, height=40)).pieces[0])


LINE = 'fill="none" stroke="red" stroke-width="0.1"'
CIRCLES = "".join(f'<circle cx="{x}" cy="20" r="8" {LINE}/>' for x in (15, 40, 65))


@pytest.mark.parametrize(
    ("drawing", "size"), [(f'<rect width="80" height="40" {LINE}/>{CIRCLES}', (80, 40)), (CIRCLES, (66, 16))]
)
def test_a_drawing_is_a_jig_by_what_it_holds_or_by_its_outlines(drawing: str, size: tuple[float, float]) -> None:
    jig = jig_of_drawing(read_svg(svg(drawing)), "Rings")
    assert (jig.name, jig.width, jig.height) == ("Rings", *map(pytest.approx, size))
    assert len(jig.slots) == 3
    with pytest.raises(Refused, match="has no slots"):
        jig_of_drawing(read_svg(svg(f'<rect width="80" height="40" {LINE}/>')), "Plate")


def test_what_lies_in_a_drawn_slot_is_turned_with_it_and_lies_by_the_chosen_point() -> None:
    jig = jig_of_piece(drawn_tray().pieces[0])
    handle = one_piece(put("rectangle", width=10, height=40, x=5, y=20), copies=4, name="Torch")
    layout = lay_out(edited(handle, {"do": "take-jig", "jig": jig.model_dump(mode="json")}))
    assert [at for middle in middles(layout) for at in middle] == pytest.approx(
        [40, 50, 100, 50, 180, 50, 60, 130], abs=0.01
    )
    assert layout.instances[2].bounds == pytest.approx((160, 45, 200, 55), abs=0.01)
    foot = jig.model_copy(update={"point": "foot"})
    laid = lay_out(edited(handle, {"do": "take-jig", "jig": foot.model_dump(mode="json")})).instances
    assert laid[0].bounds == pytest.approx((35, 40, 45, 80), abs=0.01)
    at = laid[2].bounds
    assert (at[1], at[3]) == pytest.approx((45, 55), abs=0.01)
    assert min(abs(at[0] - 150), abs(at[2] - 210)) < 0.02
    wide = one_piece(put("rectangle", width=30, height=40, x=5, y=20), copies=2)
    tight = edited(wide, {"do": "take-jig", "jig": jig.model_dump(mode="json")})
    assert "pieces_lie_within_their_slots" in {one.check for one in check(plan(tight))}
