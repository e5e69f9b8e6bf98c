"""Filling areas: every way covers them, takes the time it says, and they are compared."""

import json
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.cli import main
from foliant.core.design import Design, resolve
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.ticket.fills import compared
from foliant.core.works import Moves
from foliant.core.works.fill import crossed, dots, inwards, rows, stages
from tests.making import edited, one_piece, plan, put, tag


def burnt(moves: Moves, spot: float) -> shapely.Geometry:
    """What a round spot so wide leaves."""
    ends = np.stack([moves.points[moves.working][:, 0], moves.points[moves.working][:, 3]], axis=1)
    return shapely.union_all(shapely.buffer(shapely.linestrings(ends), spot / 2, quad_segs=8))


def word(text: str = "ORRIN", **how: object) -> shapely.Geometry:
    return resolve(one_piece(put("words", text=text, cap_height=7.5, **how)).pieces[0]).engraved.shape


@pytest.mark.parametrize("shape", [word(), word("Quill", font="pacifico"), shapely.Point(0, 0).buffer(6, 64)])
@pytest.mark.parametrize("way", ["rows", "slanting", "crossed", "inwards"])
def test_less_than_a_thousandth_is_left_uncovered(shape: shapely.Geometry, way: str) -> None:
    moves = {
        "rows": lambda: rows(shape, 0.1),
        "slanting": lambda: rows(shape, 0.1, 37),
        "crossed": lambda: crossed(shape, 0.1, 0, False, 0),
        "inwards": lambda: inwards(shape, 0.1),
    }[way]()
    there = burnt(moves, 0.1)
    assert shapely.difference(shape, there).area < 0.001 * shape.area
    assert shapely.difference(there, shapely.buffer(shape, 0.12)).area < 1e-6


@given(st.floats(3, 30), st.floats(3, 30), st.floats(-180, 180), st.floats(0.05, 0.6), st.booleans())
def test_rows_at_any_angle_cover_a_turned_box(
    width: float, height: float, angle: float, interval: float, one: bool
) -> None:
    box = shapely.affinity.rotate(shapely.box(0, 0, width, height), angle / 3)
    there = burnt(rows(box, interval, angle, one), interval)
    assert shapely.difference(box, there).area < 0.002 * box.area + 0.05 * interval**2


def test_one_way_is_one_way_and_goes_on_past_the_edges() -> None:
    moves = rows(shapely.box(0, 0, 20, 2), 0.5, one_way=True, beyond=3)
    ways = moves.points[moves.working][:, 3, 0] - moves.points[moves.working][:, 0, 0]
    assert (ways > 0).all()
    assert moves.points[..., 0].min() == pytest.approx(-3)
    assert moves.points[..., 0].max() == pytest.approx(23)
    assert moves.working.sum() == 4


def test_dots_stand_on_a_grid_for_as_long_as_is_said() -> None:
    moves = dots(shapely.box(0, 0, 10, 5), 1.0, 0.02)
    assert moves.working.sum() == 50
    assert moves.dwell.sum() == pytest.approx(50 * 0.02)
    assert len({tuple(spot) for spot in moves.points[moves.working][:, 3].round(4).tolist()}) == 50


def ways_of(design: Design) -> dict[str, float]:
    return {way.says: way.seconds for way in compared(design, SHIPPED)}


def test_every_way_is_compared_with_its_time_and_one_press_takes_the_fastest() -> None:
    design = tag(copies=4)
    ways = compared(design, SHIPPED)
    assert len(ways) >= 7
    assert [way.seconds for way in ways] == sorted(way.seconds for way in ways)
    assert [way.fastest for way in ways].count(True) == 1
    assert next(way for way in ways if way.now).says == "in rows, there and back"
    for way in ways:
        taken = edited(design, {"do": "change", "of": "operation engrave", "values": dict(way.values)})
        job = plan(taken)
        index = next(number for number, line in enumerate(job.lines) if line.id == "engrave")
        assert job.program.seconds_of(index) == pytest.approx(way.seconds)
        assert next(one for one in compared(taken, SHIPPED) if one.now).values == way.values
    with pytest.raises(Refused, match="fills no area"):
        compared(one_piece(put("circle", diameter=20)), SHIPPED)


def test_a_way_of_too_many_moves_is_not_offered_as_the_fastest() -> None:
    inside = put("rectangle", width=276, height=176, x=140, y=90, role="engraves")
    found = compared(one_piece(put("rectangle", width=280, height=180, x=140, y=90), inside), SHIPPED)
    assert "following the outline inwards" not in {way.says for way in found}
    assert found[0].fastest
    assert min(way.seconds for way in found) > 1000


def test_the_whole_sheet_is_one_row_after_the_other_and_its_time_is_shared() -> None:
    design = edited(tag(copies=3), {"do": "change", "of": "operation engrave", "values": {"by": "sheet"}})
    job = plan(design)
    flat = job.program.toolpath()
    engraving = flat.working & (flat.operation == 0)
    heights = flat.points[engraving][:, 0, 1]
    assert (np.diff(heights) > -1e-6).all()
    across = flat.points[engraving][..., 0]
    assert across.max() - across.min() > 140  # over all three tags
    each = job.program.seconds_by_instance(3)
    assert each.sum() + job.program.home_seconds == pytest.approx(job.program.seconds)
    alone = plan(tag(copies=3)).program.toolpath()
    burnt_there = np.abs(np.diff(flat.points[engraving][:, [0, 3], 0])).sum()
    same = alone.working & (alone.operation == 0)
    assert burnt_there == pytest.approx(np.abs(np.diff(alone.points[same][:, [0, 3], 0])).sum(), rel=0.02)


@pytest.mark.parametrize(
    ("typed", "mm"), [("254 dpi", 0.1), ("10 per mm", 0.1), ("5 lines/mm", 0.2), ("100/inch", 0.254), ("0.2", 0.2)]
)
def test_spacing_is_typed_as_lines_to_the_millimetre_or_inch(typed: str, mm: float) -> None:
    design = edited(tag(), {"do": "change", "of": "operation engrave", "values": {"interval": typed}})
    assert dict(design.ticket.operation("engrave").settings)["interval"] == pytest.approx(mm)


@pytest.mark.parametrize(("typed", "speed"), [("6000 mm/min", 100), ("2 in/s", 50.8), ("90 mm/s", 90), ("120", 120)])
def test_speeds_are_typed_as_makers_know_them(typed: str, speed: float) -> None:
    design = edited(tag(), {"do": "change", "of": "operation engrave", "values": {"speed": typed}})
    assert dict(design.ticket.operation("engrave").settings)["speed"] == pytest.approx(speed)


@pytest.mark.parametrize(
    ("values", "says"),
    [({"interval": "0.001"}, "too small"), ({"interval": "0 dpi"}, "how many lines"), ({"fill": "spiral"}, "choose"),
     ({"beyond": "80"}, "too large"), ({"speed": "fast"}, "fast")],
)  # fmt: skip
def test_what_no_fill_can_be_is_a_sentence(values: dict[str, str], says: str) -> None:
    with pytest.raises(Refused, match=says):
        edited(tag(), {"do": "change", "of": "operation engrave", "values": values})


def test_fills_on_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "tags.json"
    file.write_text(tag(copies=2).model_dump_json())
    assert main(["fills", str(file), "--json"]) == 0
    ways = json.loads(capsys.readouterr().out)["ways"]
    assert ways[0]["fastest"]
    assert ways[0]["seconds"] <= ways[-1]["seconds"]
    assert main(["fills", str(file)]) == 0
    assert "the fastest" in capsys.readouterr().out
    assert main(["fills", str(file), "--operation", "outer"]) == 2


def test_ground_in_stages_lets_round_dots_slope_and_keeps_its_edge() -> None:
    dots_of = shapely.union_all([shapely.Point(x, 3).buffer(0.75, 32) for x in (3, 6, 9)])
    ground = shapely.box(0, 0, 12, 6) - dots_of
    areas = stages(ground, 4, 0.2)
    radii = [np.sqrt((72 - area.area) / 3 / np.pi) for area in areas]
    assert radii == pytest.approx([0.15, 0.35, 0.55, 0.75], abs=0.01)
    assert {area.bounds for area in areas} == {ground.bounds}
    # What would be gone keeps the last of it: no dot is burnt away.
    assert np.sqrt((72 - stages(ground, 8, 0.2)[0].area) / 3 / np.pi) == pytest.approx(0.15, abs=0.01)

    plate, cells = put("rectangle", width=90, height=40), put("braille", text="dome", language="en", made="ground")
    sign = one_piece(plate, cells | {"role": "engraves"})
    engraving = {"do": "change", "of": "operation engrave"}
    staged = edited(sign, {**engraving, "values": {"stages": 3}})
    once, thrice = (
        sum(int(block.moves.working.sum()) for block in plan(design).program.blocks) for design in (sign, staged)
    )
    assert 2.5 < thrice / once < 3.5
