"""Repeats: live copies that follow the first, any of which can be let go."""

import cmath
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design, read_design, resolve
from foliant.core.design.placing import own_bounds, part_bounds, part_paths, placements
from foliant.core.errors import Refused
from foliant.core.paths import join
from tests.making import edited, one_piece, put

HERE = {"piece": "p1"}


def repeat(kind: str, part: str = "a3", **more: Any) -> dict[str, Any]:
    return {"do": "repeat-parts", **HERE, "parts": [part], "kind": kind, **more}


def change(design: Design, of: str, **values: Any) -> Design:
    return edited(design, {"do": "change", "of": of, "values": values})


def disc(*more: dict[str, Any]) -> Design:
    return one_piece(put("circle", diameter=80), *more)


def test_a_ring_of_24_marks_round_the_disc_follows_the_first_and_the_disc() -> None:
    design = disc(put("line", length=6, x=40, y=5, role="scores"))
    design = change(design, "part a3", rotation=90)
    design = change(edited(design, repeat("around")), "repeat a3", count=24)
    scored = resolve(design.pieces[0]).scored
    assert len(scored) == 24
    middles = scored.points[:, [0, 3]].mean(axis=1)
    turns = sorted(math.degrees(math.atan2(y - 40, x - 40)) % 360 for x, y in middles)
    assert turns == pytest.approx([15 * i for i in range(24)], abs=1e-3)
    assert [math.hypot(x - 40, y - 40) for x, y in middles] == pytest.approx([35] * 24)
    longer = change(design, "part a3", length=10)
    assert resolve(longer.pieces[0]).scored.length == pytest.approx(240)
    moved = edited(longer, {"do": "move-parts", **HERE, "parts": ["a2"], "dx": 10, "dy": 0})
    assert moved.pieces[0].part("a3").repeat.cx == pytest.approx(50)  # type: ignore[union-attr]


@pytest.mark.parametrize(("sweep", "count"), [(90, 4), (-180, 5), (270, 2), (360, 4)])
def test_copies_over_part_of_a_circle_reach_both_of_its_ends(sweep: float, count: int) -> None:
    design = change(disc(put("line", length=6, x=40, y=5, role="scores")), "part a3", rotation=90)
    design = change(edited(design, repeat("around")), "repeat a3", count=count, sweep=sweep)
    middles = resolve(design.pieces[0]).scored.points[:, [0, 3]].mean(axis=1)
    apart = sweep / (count if sweep == 360 else count - 1)
    first, *_ = ways = [complex(x - 40, y - 40) for x, y in middles]
    turned = [way / first for way in ways]
    assert turned == pytest.approx([cmath.rect(1, math.radians(apart * number)) for number in range(count)])


def test_rows_by_gap_follow_the_size_and_by_pitch_do_not() -> None:
    design = edited(disc(put("hole", width=4, height=4, x=10, y=40)), repeat("rows"))
    assert part_bounds(design.pieces[0].part("a3"))[2] == pytest.approx(8 + 3 * 4 + 2 * 4)
    wide = change(design, "part a3", reference="left")
    wide = change(wide, "part a3", width=6)
    assert part_bounds(wide.pieces[0].part("a3"))[2] == pytest.approx(8 + 3 * 6 + 2 * 4)
    pitched = change(design, "repeat a3", by="pitch", across=10, columns=4, rows=2, down="0.5in")
    left, top, right, bottom = part_bounds(pitched.pieces[0].part("a3"))
    assert (right - left, bottom - top) == pytest.approx((34, 16.7))


def test_a_mirrored_half_meets_at_the_middle_of_the_piece() -> None:
    design = edited(disc(put("hole", width=6, height=4, x=20, y=30)), repeat("mirrored"))
    left, _, right, _ = part_bounds(design.pieces[0].part("a3"))
    assert left + right == pytest.approx(80)
    assert resolve(design.pieces[0]).outline.path.area < math.pi * 1600 - 2 * 20


@given(count=st.integers(2, 40), sweep=st.floats(-360, 360), turned=st.sampled_from(["turned", "upright"]))
def test_copies_around_keep_their_distance_and_size(count: int, sweep: float, turned: str) -> None:
    design = edited(disc(put("rectangle", role="scores", width=5, height=3, x=40, y=10)), repeat("around"))
    part = change(design, "repeat a3", count=count, sweep=sweep, turned=turned).pieces[0].part("a3")
    assert len(placements(part)) == count
    for path in part_paths(part):
        centre = path.points[:, 0].mean(axis=0)
        assert math.hypot(*(centre - 40)) == pytest.approx(30, abs=1e-6)
        assert path.area == pytest.approx(15)


@given(number=st.integers(1, 7), kind=st.sampled_from(["around", "rows", "mirrored"]), turn=st.floats(-180, 180))
def test_a_copy_that_is_let_go_stays_and_no_longer_follows(number: int, kind: str, turn: float) -> None:
    design = change(edited(disc(put("heart", role="scores", x=40, y=10)), repeat(kind)), "part a3", rotation=turn)
    if kind == "around":
        design = change(design, "repeat a3", count=8)
    before = join(part_paths(design.pieces[0].part("a3")))
    let_go = {"do": "let-go", **HERE, "parts": ["a3"], "copy_number": number}
    if number >= len(placements(design.pieces[0].part("a3"))):
        with pytest.raises(Refused, match="no longer there"):
            edited(design, let_go)
        return
    after = edited(design, let_go)
    first, free = after.pieces[0].parts[1:]
    assert len(placements(first)) == len(placements(design.pieces[0].part("a3"))) - 1
    both = join([*part_paths(first), *part_paths(free)])
    assert both.bounds == pytest.approx(before.bounds, abs=1e-4)
    assert both.length == pytest.approx(before.length, rel=1e-6)
    grown = change(after, "part a3", width=60)
    assert own_bounds(grown.pieces[0].part(free.id)) == own_bounds(free)
    assert read_design(after.model_dump(mode="json")) == after


def test_all_copies_can_be_let_go_or_dropped() -> None:
    design = edited(disc(put("hole", x=10, y=40)), repeat("rows"))
    free = edited(design, {"do": "let-go", **HERE, "parts": ["a3"]})
    assert len(free.pieces[0].parts) == 4
    assert resolve(free.pieces[0]).outline.path.area == pytest.approx(resolve(design.pieces[0]).outline.path.area)
    assert len(placements(edited(design, {"do": "end-repeat", **HERE, "parts": ["a3"]}).pieces[0].part("a3"))) == 1


def test_too_many_copies_or_parts_are_refused_with_a_sentence() -> None:
    design = edited(disc(put("hole", x=10, y=40)), repeat("rows"))
    with pytest.raises(Refused, match="more than the 1,000"):
        change(design, "repeat a3", columns=100, rows=100)
    doubled = {"do": "duplicate-parts", "dx": 4, "dy": 4, **HERE}
    many = design
    for _ in range(10):
        many = edited(many, {**doubled, "parts": [part.id for part in many.pieces[0].parts][:400]})
    with pytest.raises(Refused, match="at most 2,000 parts"):
        edited(many, {**doubled, "parts": [part.id for part in many.pieces[0].parts]})
