"""Packing: close together, never nearer than the gap, and never on what is gone."""

import json
import re
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.checks import check
from foliant.core.design import Design, resolve
from foliant.core.design.edits.sheet import PutPacked
from foliant.core.errors import Refused
from foliant.core.layout import filled, fit_on_a_sheet, lay_out, more_of, packings, room_left
from foliant.core.packing import Bed, Packed, Put, Stamp, Task, Way, array, fill, improving
from foliant.core.packing.room import largest_rectangle
from foliant.core.packing.strip import bundles_of, unbundled
from foliant.core.packing.task import lying
from tests.core.test_cli import foliant
from tests.making import edited, one_piece, plan, put, tag

QUARTERS = (0.0, 90.0, 180.0, 270.0)


def disc(radius: float, x: float = 0.0, y: float = 0.0) -> shapely.Geometry:
    return shapely.Point(x, y).buffer(radius, 24)


def stirrer() -> shapely.Geometry:
    return shapely.union_all([shapely.box(-2.5, 0, 2.5, 160), disc(10, 0, 10), disc(7, 0, 28), disc(5, 0, 42)])


def task(*shapes: shapely.Geometry, copies: int = 1, bed: Bed | None = None, **how: Any) -> Task:
    turns = how.pop("turns", QUARTERS)
    stamps = tuple(Stamp(shape, turns) for shape in shapes)
    return Task(bed or Bed(300, 200, 4), stamps, tuple(range(len(shapes))) * copies, **how)


def assert_clear(packed: Packed) -> None:
    """Nothing nearer than the gap, nothing off the bed, nothing on what is taken: by exact geometry."""
    bed, gap = packed.task.bed, packed.task.gap
    shapes = [*lying(packed.task, packed.puts), *bed.taken]
    inner = shapely.box(*bed.inner).buffer(1e-5)
    assert all(inner.covers(shape) for shape in shapes[: len(packed.puts)])
    first, second = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=gap)
    near = [(a, b) for a, b in zip(first.tolist(), second.tolist(), strict=True) if a < b and a < len(packed.puts)]
    assert all(shapes[a].distance(shapes[b]) >= gap - 1e-5 for a, b in near)
    assert all(shapes[a].intersection(shapes[b]).area < 2e-3 for a, b in near)


sizes = st.floats(6, 60)
shapes = st.one_of(
    st.tuples(sizes, sizes).map(lambda size: shapely.box(0, 0, *size)),
    sizes.map(lambda size: disc(size / 2)),
    sizes.map(lambda size: disc(size / 2).difference(disc(size / 3))),
    st.tuples(sizes, sizes).map(
        lambda s: shapely.Polygon([(0, 0), (s[0], 0), (s[0], 4), (4, 4), (4, s[1]), (0, s[1])])
    ),
)


@given(
    st.lists(shapes, min_size=1, max_size=6), st.integers(1, 4), st.floats(0, 8), st.booleans(),
    st.sampled_from([(0.0,), (0.0, 180.0), QUARTERS, tuple(15.0 * i for i in range(24))]),
    st.lists(st.tuples(st.floats(0, 250), st.floats(0, 150), st.floats(10, 60)), max_size=2),
)  # fmt: skip
def test_nothing_lies_nearer_than_the_gap_nor_off_the_sheet_nor_on_what_is_gone(
    found: list[shapely.Geometry], copies: int, gap: float, inside: bool, turns: tuple[float, ...],
    gone: list[tuple[float, float, float]],
) -> None:  # fmt: skip
    taken = tuple(shapely.box(x, y, x + size, y + size) for x, y, size in gone)
    packed = fill(task(*found, copies=copies, bed=Bed(300, 200, 4, taken), gap=gap, inside=inside, turns=turns))
    assert_clear(packed)


def test_head_to_tail_takes_more_than_rows() -> None:
    packed = fill(task(stirrer(), copies=17, bed=Bed(300, 200, 4)))
    assert packed.left_over == 0
    assert_clear(packed)


def test_small_ones_lie_inside_large_ones_only_where_that_is_wanted() -> None:
    ring, small = disc(40).difference(disc(30)), disc(10)
    inside = fill(task(ring, small, bed=Bed(300, 90, 4)))
    assert inside.reach == pytest.approx(80, abs=0.1)
    outside = fill(task(ring, small, bed=Bed(300, 90, 4), inside=False))
    assert outside.reach > 90


def test_better_answers_come_as_long_as_they_are_let_and_stopping_keeps_the_best() -> None:
    wanted = task(stirrer(), disc(12), shapely.box(0, 0, 40, 15), copies=6, bed=Bed(900, 200, 0))
    found = list(improving(wanted, 4))
    assert all(later.beats(earlier) for earlier, later in pairwise(found))
    assert_clear(found[-1])
    calls = iter([False] * 3)
    assert len(list(improving(wanted, 60, lambda: next(calls, True)))) <= 2


def test_what_lies_in_an_opening_goes_along_with_it() -> None:
    ring, small = disc(40).difference(disc(30)), disc(10)
    wanted = task(ring, small)
    packed = Packed(wanted, (Put(0, 90.0, 100.0, 100.0), Put(1, 180.0, 105.0, 92.0)))
    (bundle,) = bundles_of(packed)
    assert unbundled(bundle, 90.0, 100.0, 100.0) == [
        packed.puts[0], Put(1, 180.0, pytest.approx(105), pytest.approx(92))
    ]  # fmt: skip
    turned = lying(wanted, unbundled(bundle, 270.0, 60.0, 70.0))
    assert turned[0].distance(turned[1]) == pytest.approx(shapely.distance(*lying(wanted, packed.puts)), abs=1e-6)


def test_the_largest_rectangle_that_is_left_lies_where_nothing_is() -> None:
    taken = [shapely.box(0, 0, 120, 200), shapely.box(120, 0, 300, 40)]
    left, top, right, bottom = largest_rectangle(300, 200, taken)
    assert (right - left) * (bottom - top) > 0.9 * 180 * 160
    assert all(shapely.box(left, top, right, bottom).intersection(shape).area == 0 for shape in taken)
    assert largest_rectangle(300, 200, [shapely.box(0, 0, 300, 200)]) == (0, 0, 0, 0)


def packed_once(design: Design, seconds: float = 0.1) -> PutPacked:
    *_, best = packings(design, seconds)
    return best.edit


def apart(design: Design) -> None:
    """Every two instances keep the gap, and lie on the sheet."""
    layout = lay_out(design)
    found = [laid.shape_on_sheet() for laid in layout.instances]
    assert not layout.left_over
    assert all(a.distance(b) >= design.sheet.gap - 1e-4 for i, a in enumerate(found) for b in found[:i])
    assert all(shapely.box(0, 0, layout.width, layout.height).covers(shape) for shape in found)


def test_packing_is_one_edit_and_leaves_what_is_locked() -> None:
    lock = {"do": "lock-instance", "piece": "p1", "number": 3, "x": 150, "y": 90, "locked": True}
    design = edited(tag(copies=16), lock)
    after = packed_once(design).apply(design)
    apart(after)
    still = next(laid for laid in lay_out(after).instances if laid.number == 3)
    assert (still.locked, still.bounds[:2]) == (True, (150, 90))
    rows = edited(after, {"do": "arrange-in-rows"})
    assert [place.number for place in rows.sheet.places] == [3]


def test_packing_survives_an_edit_made_meanwhile() -> None:
    design = edited(tag(copies=6), {"do": "add-piece", "name": "Token"}, put("circle", piece="p5", diameter=40))
    design = edited(design, {"do": "change", "of": "piece p5", "values": {"copies": 4}})
    edit = packed_once(design)
    meanwhile = edited(
        design, {"do": "change", "of": "piece p1", "values": {"copies": 5}},
        {"do": "change", "of": f"part {design.piece('p5').parts[0].id}", "values": {"diameter": 44}},
    )  # fmt: skip
    after = edit.apply(meanwhile)
    assert {place.piece for place in after.sheet.places} == {"p1"}
    assert len(after.sheet.places) == 5
    apart(after)


def test_a_packed_piece_that_changed_keeps_its_place_and_packing_again_is_offered() -> None:
    design = tag(copies=4)
    after = packed_once(design).apply(design)
    plate = next(part.id for part in after.pieces[0].parts if part.shape.kind == "rectangle")
    grown = edited(after, {"do": "change", "of": f"part {plate}", "values": {"width": 74}})
    assert all(laid.outdated for laid in lay_out(grown).instances)
    assert [place.x for place in grown.sheet.places] == [place.x for place in after.sheet.places]
    assert "packed_pieces_are_as_they_were" in {finding.check for finding in check(plan(grown))}
    assert "packed_pieces_are_as_they_were" not in {finding.check for finding in check(plan(after))}


def test_what_a_turned_piece_comes_to_is_what_it_is_turned() -> None:
    design = edited(tag(), {"do": "turn-instance", "piece": "p1", "number": 1, "x": 4, "y": 4, "by": 90})
    (laid,) = lay_out(design).instances
    straight = resolve(design.pieces[0])
    assert laid.bounds == pytest.approx((25, -17, 55, 55), abs=1e-6)  # about its middle
    assert laid.resolved.engraved.path.area == pytest.approx(straight.engraved.path.area)
    assert laid.on_sheet(straight.outline.path).bounds == pytest.approx(laid.bounds)
    here = edited(design, {"do": "place", "piece": "p1", "number": 1, "x": 100, "y": 20})
    job, plain = plan(here), plan(tag())
    assert lay_out(here).instances[0].bounds == pytest.approx((100, 20, 130, 92))
    cut = next(i for i, line in enumerate(job.lines) if line.id == "outer")
    path, other = job.program.toolpath(), plain.program.toolpath()
    lengths = [
        float(np.hypot(*(p.points[:, 3] - p.points[:, 0]).T)[p.working & (p.operation == cut)].sum())
        for p in (path, other)
    ]
    assert lengths[0] == pytest.approx(lengths[1], rel=1e-6)


def test_keys_that_come_faster_than_the_page_follows_go_on_from_where_the_piece_lies() -> None:
    stale = {"piece": "p1", "number": 1, "x": 4, "y": 4}  # as the page has it all the while
    push = {"do": "push-instance", **stale, "dx": 1, "dy": 10}
    assert lay_out(edited(tag(), push, push, push)).instances[0].bounds[:2] == pytest.approx((7, 34))
    turn = {"do": "turn-instance", **stale, "by": 90}
    assert lay_out(edited(tag(), *[turn] * 4)).instances[0].bounds == pytest.approx((4, 4, 76, 34))
    locked = edited(tag(), push, {"do": "lock-instance", **stale, "locked": True})
    assert lay_out(locked).instances[0].bounds[:2] == pytest.approx((5, 14))


def test_what_is_left_of_a_sheet_is_filled_with_more_of_one_piece() -> None:
    design = tag(copies=4)
    more = len(more_of(design, design.pieces[0]).puts)
    after = filled(design, "p1").apply(design)
    assert after.pieces[0].copies == 4 + more >= 18
    apart(after)
    assert [laid.bounds for laid in lay_out(after).instances[:4]] == [laid.bounds for laid in lay_out(design).instances]
    with pytest.raises(Refused, match="No more of"):
        filled(after, "p1")
    assert fit_on_a_sheet(design, design.pieces[0]) >= 18


def begun(copies: int, *used: list[list[float]]) -> Design:
    design = tag(copies=copies)
    return design.model_copy(update={"stock": type(design.stock).model_validate({**dict(design.stock), "used": used})})


def test_a_begun_sheet_is_used_round_what_is_gone() -> None:
    design = begun(8, [[0, 0], [120, 0], [120, 90], [0, 90]])
    layout = lay_out(design)
    gone = shapely.box(0, 0, 120, 90)
    assert not layout.left_over
    assert all(laid.shape_on_sheet().distance(gone) >= 2 - 1e-4 for laid in layout.instances)
    assert layout.area == pytest.approx(300 * 200 - 120 * 90)
    after = packed_once(design).apply(design)
    apart(after)
    assert all(laid.shape_on_sheet().distance(gone) >= 2 - 1e-4 for laid in lay_out(after).instances)
    width, height = room_left(lay_out(after))
    assert width * height > 8000


@pytest.mark.parametrize(
    ("design", "says"),
    [
        (one_piece(), "nothing to pack"),
        (edited(tag(), {"do": "change", "of": "sheet", "values": {"margin": 120}}), "margin leaves nothing"),
        (one_piece(put("rectangle", width=320, height=230)), "Nothing finds a place"),
    ],
)
def test_what_cannot_be_packed_is_said(design: Design, says: str) -> None:
    with pytest.raises(Refused, match=says):
        list(packings(design, 0.1))


def test_packing_and_its_price_on_the_command_line(tmp_path: Path) -> None:
    made = foliant("starters", "stirrer").stdout
    data = json.loads(made)
    data["pieces"][0]["copies"] = 20
    data["stock"]["price"] = 4.5
    (tmp_path / "design.json").write_text(json.dumps(data))
    found = foliant("pack", str(tmp_path / "design.json"), "--seconds", "3", "--to", str(tmp_path / "packed.json"))
    assert re.match("(1 sheet|2 sheets), 20 placed; ", found.stdout)  # as few as there was time to find
    prices = json.loads(foliant("price", str(tmp_path / "packed.json"), "--json").stdout)
    assert prices["pieces"] == 20
    assert prices["total"] == pytest.approx(sum(one["total"] for one in prices["by_piece"]), abs=0.001)
    many = {one["count"]: one for one in prices["quantities"]}
    assert many[100]["material"] == pytest.approx(5 * prices["material"], abs=0.001)
    assert many[100]["each"] <= many[1]["each"]
    assert "at most" in foliant("pack", str(tmp_path / "design.json"), "--seconds", "0").stderr


@pytest.mark.parametrize("way", ["straight", "staggered", "turned"])
@pytest.mark.parametrize("shape", [stirrer(), disc(20), shapely.box(0, 0, 40, 15)], ids=["stirrer", "disc", "box"])
def test_an_array_is_as_close_as_the_gap_allows_and_no_closer(way: Way, shape: shapely.Geometry) -> None:
    opposite = shapely.affinity.rotate(shape, 180)
    found = array(shape, opposite, 4, 3, way, 2.0)
    lies = [
        shapely.affinity.translate(one, x - one.bounds[0], y - one.bounds[1])
        for x, y, odd in found
        for one in [opposite if odd else shape]
    ]
    nearest = min(a.distance(b) for i, a in enumerate(lies) for b in lies[:i])
    assert 2.0 - 1e-4 <= nearest <= 2.02
    assert len(found) == 12


def test_head_to_tail_and_staggered_save_room() -> None:
    opposite = shapely.affinity.rotate(stirrer(), 180)
    wide = {way: max(x for x, _, _ in array(stirrer(), opposite, 8, 1, way, 2.0)) for way in ("straight", "turned")}
    assert wide["turned"] < 0.8 * wide["straight"]
    tall = {way: max(y for _, y, _ in array(disc(20), disc(20), 3, 5, way, 2.0)) for way in ("straight", "staggered")}
    assert tall["staggered"] == pytest.approx(4 * 42 * np.sqrt(3) / 2, abs=0.05)
    assert tall["straight"] == pytest.approx(4 * 42, abs=0.05)


def test_an_array_is_laid_from_the_chosen_instance_and_asks_for_as_many_as_it_takes() -> None:
    design = one_piece(put("rectangle", width=40, height=20, x=20, y=10), copies=2)
    asked = {"do": "array-instances", "piece": "p1", "number": 2, "x": 60, "y": 70, "columns": "3", "rows": 2}
    laid = edited(design, asked)
    assert laid.piece("p1").copies == 7
    boxes = {one.number: one.bounds for one in lay_out(laid).instances}
    assert boxes[2][:2] == pytest.approx((60, 70))
    assert boxes[7][:2] == pytest.approx((144, 92), abs=0.01)
    assert not check(plan(laid))
    with pytest.raises(Refused, match="number across must be a whole number"):
        edited(design, {**asked, "columns": "2.5"})
    with pytest.raises(Refused, match="the most is 500"):
        edited(design, {**asked, "columns": 90, "rows": 90})


def test_an_array_of_rows_of_the_roster_takes_those_that_follow_as_wide_as_the_widest() -> None:
    table = {
        "do": "take-table",
        "heading": ["name"],
        "rows": [["Ivo"], ["Ottoline Marchetti"], ["Bo"]],
        "words": ["a4"],
    }
    design = edited(tag(), table)
    row = design.roster.rows[1].id
    asked = {"do": "array-instances", "piece": "p1", "row": row, "number": 1, "x": 20, "y": 30, "columns": 4}
    laid = edited(design, asked)
    assert [place.row for place in laid.sheet.places] == [row, design.roster.rows[2].id]
    assert not [one for one in check(plan(laid)) if one.station == "sheet"]


def test_a_place_and_a_turn_are_typed() -> None:
    design = one_piece(put("rectangle", width=40, height=20, x=20, y=10))
    at = {"piece": "p1", "number": 1}
    laid = edited(
        design, {"do": "place", **at, "x": "1 in", "y": 30}, {"do": "turn-instance", **at, "x": 0, "y": 0, "to": "90°"}
    )
    assert lay_out(laid).instances[0].bounds == pytest.approx((35.4, 20, 55.4, 60))
    with pytest.raises(Refused, match="not a unit"):
        edited(design, {"do": "place", **at, "x": "here", "y": 30})
