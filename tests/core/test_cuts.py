"""The width of the cut made up for, bridges that hold, perforations and kiss cuts."""

import json
from pathlib import Path as FilePath
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.checks import check
from foliant.core.cli import main
from foliant.core.design import Design, read_design
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.formats.gcode import write_gcode
from foliant.core.formats.svg import write_svg
from foliant.core.paths import Path, curves
from foliant.core.paths.flatten import flatten
from foliant.core.paths.shapes import rectangle
from foliant.core.proof import write_ticket
from foliant.core.starters import STARTERS
from foliant.core.ticket import Job
from foliant.core.ticket.only import choices, only
from foliant.core.ticket.taking import takes
from foliant.core.works.blade import dragged
from foliant.core.works.dashes import perforated, with_bridges
from foliant.core.works.work import Moves, as_moves
from tests.examples import examples
from tests.making import edited, one_piece, plan, put

ON = {"do": "change", "of": "ticket", "values": {"kerf": "on"}}


def wide(kerf: str) -> list[dict[str, Any]]:
    return [{"do": "change", "of": f"operation {side}", "values": {"kerf": kerf}} for side in ("inner", "outer")]


def cut_rings(design: Design, side: str) -> list[shapely.Polygon]:
    """What each closed cut of an operation goes round, on the sheet."""
    job = plan(design)
    index = next(number for number, line in enumerate(job.lines) if line.id == side)
    rings = []
    for place in np.flatnonzero(job.program.operation == index):
        moves = job.program.blocks[job.program.block[place]].moves
        path = Path(moves.kinds, moves.points, np.zeros(1, np.int64), np.ones(1, np.bool_))
        points = flatten(path, 0.0005).points + job.program.shift[place]
        rings.append(shapely.Polygon(points))
    return rings


@examples(15)
@given(st.floats(0.05, 0.6), st.floats(12, 60), st.floats(12, 40), st.floats(2, 5), st.sampled_from(["cut", "rounded"]))
def test_cuts_run_half_their_width_beside_the_edges(
    kerf: float, width: float, height: float, hole: float, corners: str
) -> None:
    plate = put("rectangle", width=width, height=height, corners=corners, corner=3, x=width / 2, y=height / 2)
    bare = one_piece(plate, put("hole", width=hole, height=hole, x=width / 2, y=height / 2))
    design = edited(bare, ON, *wide(f"{kerf} mm"))
    for side, way in (("outer", 1), ("inner", -1)):
        drawn, cut = cut_rings(bare, side), cut_rings(design, side)
        assert len(drawn) == len(cut) == 1
        away = [drawn[0].exterior.distance(shapely.Point(point)) for point in cut[0].exterior.coords]
        assert max(away) == pytest.approx(kerf / 2, abs=0.0055)
        assert min(away) == pytest.approx(kerf / 2, abs=0.0055)
        assert (cut[0].area > drawn[0].area) is (way > 0)


def test_a_plug_fits_its_hole() -> None:
    """What falls out of a hole that is 20 mm wide and a plug of 20 mm, each as the beam leaves it."""
    plate = one_piece(put("circle", diameter=40, x=20, y=20), put("hole", width=20, height=20, x=20, y=20))
    plug = one_piece(put("circle", diameter=20, x=10, y=10))
    kerf = 0.18
    (hole,) = cut_rings(edited(plate, ON, *wide(str(kerf))), "inner")
    (disc,) = cut_rings(edited(plug, ON, *wide(str(kerf))), "outer")
    opening, left = hole.buffer(kerf / 2, quad_segs=64), disc.buffer(-kerf / 2, quad_segs=64)
    sizes = [one.bounds[2] - one.bounds[0] for one in (opening, left)]
    assert sizes[0] - sizes[1] == pytest.approx(0, abs=0.02)


def test_old_designs_are_cut_along_the_line_and_new_ones_beside_it() -> None:
    old = json.loads(one_piece(put("circle", diameter=20)).model_dump_json())
    del old["ticket"]["kerf"]
    assert read_design(old).ticket.kerf == "off"
    assert STARTERS[0].design().ticket.kerf == "on"


def test_slots_that_come_out_wider_than_their_fit_are_told_and_one_press_mends_it() -> None:
    plate = one_piece(put("rectangle", width=60, height=30, x=30, y=15), put("slot", length=20, x=30, y=15))
    found = next(one for one in check(plan(plate)) if one.check == "fits_are_true")
    assert "0.15 mm wider than the material comes out 0.27 mm wider" in found.sentence
    mended = found.fixes[0].edit.done(plate)
    assert not [one for one in check(plan(mended)) if one.check == "fits_are_true"]
    tight = edited(mended, *wide("1"), {"do": "change", "of": "sheet", "values": {"gap": "0.2"}},
                   {"do": "change", "of": "piece p1", "values": {"copies": 3}})  # fmt: skip
    assert "cuts_leave_room" in {one.check for one in check(plan(tight))}


def test_an_opening_that_the_cut_closes_is_told_and_not_cut() -> None:
    narrow = one_piece(put("rectangle", width=60, height=30, x=30, y=15), put("hole", width=0.8, height=10, x=30, y=15))
    design = edited(narrow, ON, *wide("1"))
    assert not cut_rings(design, "inner")
    assert "openings_can_be_cut" in {one.check for one in check(plan(design))}


def square(size: float) -> Path:
    return rectangle(size, size)


def test_bridges_hold_away_from_corners_and_are_never_cut() -> None:
    kinds, points = as_moves(square(40))
    found, at, working = with_bridges(kinds, points, 4, 0.8)
    lengths = curves.lengths(found, at)
    assert lengths[~working].sum() == pytest.approx(4 * 0.8)
    assert lengths.sum() == pytest.approx(160)
    middles = at[~working].mean(axis=1)
    corners = points[:, 0]
    assert min(np.hypot(*(middles[:, None] - corners).reshape(-1, 2).T)) > 5
    assert with_bridges(kinds, points, 60, 10)[2].sum() < 10  # no more than there is room for
    held = edited(
        one_piece(put("circle", diameter=30), copies=2),
        {"do": "change", "of": "operation outer", "values": {"bridges": "3", "bridge": "1"}},
    )
    job = plan(held)
    flat = job.program.toolpath()
    cut = flat.working & (flat.power > 0)
    assert curves.lengths(flat.kinds[cut], flat.points[cut]).sum() == pytest.approx(2 * 2 * (np.pi * 30 - 3), rel=1e-3)
    assert write_gcode(job).count("G0 ") >= 2 * 2 * 3


@given(st.floats(5, 300), st.floats(0.5, 10), st.floats(0.2, 5))
def test_perforations_leave_gaps_of_the_length_that_is_said(size: float, dash: float, gap: float) -> None:
    kinds, points = as_moves(square(size))
    found, at, working = perforated(kinds, points, dash, gap)
    lengths = curves.lengths(found, at)
    assert lengths.sum() == pytest.approx(4 * size, rel=1e-6)
    left = lengths[~working].sum()
    count = left / gap
    assert count == pytest.approx(round(count), abs=1e-6)
    assert working[0]
    assert working[-1]


def test_a_kiss_cut_lets_nothing_fall_and_takes_nothing_from_the_shelf() -> None:
    label = one_piece(put("circle", diameter=30))
    kiss = {"do": "add-operation", "work": "kiss", "piece": "p1", "mark": "outer"}
    settings_of_it = {"do": "change", "of": "operation o4", "values": {"power": 20, "speed": 50}}
    design = edited(label, kiss)
    own = design.ticket.operations[-1].id
    design = edited(design, {**settings_of_it, "of": f"operation {own}"})
    assert takes(plan(label))
    assert not takes(plan(design))
    assert [line.work.key for line in plan(design).lines] == ["kiss"]


@pytest.mark.parametrize("values", [{"kerf": "26"}, {"bridges": "2.5"}, {"bridges": "99"}, {"bridge": "0"}])
def test_what_no_cut_can_be_is_a_sentence(values: dict[str, str]) -> None:
    with pytest.raises(Refused):
        edited(one_piece(put("circle", diameter=30)), {"do": "change", "of": "operation outer", "values": values})
    assert SHIPPED.machines[0].kerf == 0.12


def with_a_ring() -> Design:
    """Two pieces on a sheet: one engraved, one plain."""
    ring = [{"do": "add-piece", "name": "Ring"}, put("circle", "p4", diameter=30, x=15, y=15)]
    return edited(one_piece(put("rectangle", width=60, height=30), put("words", text="Maud", cap_height=8)), *ring)


def test_one_operation_or_one_piece_is_done_alone_with_its_own_time() -> None:
    job = plan(with_a_ring())
    assert [key for key, _ in choices(job)] == ["operation engrave", "operation outer", "piece p1", "piece p4"]
    parts = {key: only(job, key) for key, _ in choices(job)}
    assert {len(one.program.toolpath()) > 0 for one in parts.values()} == {True}
    outer = parts["operation outer"].program
    assert outer.seconds < job.program.seconds
    assert set(outer.operation.tolist()) == {1}
    assert {line.id for line in parts["operation outer"].lines if line.runs} == {"outer"}
    ring = parts["piece p4"]
    assert set(ring.program.instance.tolist()) == {1}
    assert len(takes(ring)) == 1
    assert not takes(parts["operation engrave"])
    assert only(job, "") is job
    text = write_gcode(parts["operation outer"])
    assert "; Outer edges" in text
    assert "; Engraving" not in text
    with pytest.raises(Refused, match="not on this sheet any more"):
        only(job, "operation score")


def test_the_ticket_is_written_on_one_page_and_only_some_of_it_as_a_file(tmp_path: FilePath) -> None:
    notes = {
        "do": "change",
        "of": "ticket",
        "values": {"before": "mask the face", "after": "paint, then peel the mask"},
    }
    file = tmp_path / "tags.json"
    file.write_text(edited(with_a_ring(), notes).model_dump_json())
    assert main(["ticket", str(file), "--to", str(tmp_path / "ticket.pdf")]) == 0
    content = (tmp_path / "ticket.pdf").read_bytes()
    assert content.count(b"/Type /Page\n") == 1
    assert main(["export", str(file), "--only", "operation outer", "--to", str(tmp_path / "outer.gcode")]) == 0
    assert main(["export", str(file), "--only", "operation moon", "--to", str(tmp_path / "no.gcode")]) == 2
    with pytest.raises(Refused, match="at most 400"):
        edited(with_a_ring(), {**notes, "values": {"before": "mask " * 100}})
    with pytest.raises(Refused, match="nothing on the ticket"):
        write_ticket(plan(Design()))


def tip_of(pivot: Moves, trail: float) -> np.ndarray:
    """Where the point of a blade goes that trails behind its pivot, in small steps, once it has swung round."""
    steps = [
        curves.evaluate(pivot.kinds[[i] * 400], pivot.points[[i] * 400], np.linspace(0, 1, 400))
        for i in range(len(pivot))
    ]
    way = np.concatenate(steps)
    first = way[1] - way[0]
    tip = way[0] - trail * first / np.hypot(*first)
    found = []
    for at in way:
        back = tip - at
        tip = at + trail * back / max(np.hypot(*back), 1e-12)
        found.append(tip)
    return np.array(found)


@given(st.floats(-175, 175), st.floats(0.1, 0.6), st.floats(5, 40))
def test_the_point_of_a_drag_blade_stays_on_the_line_round_any_corner(turn: float, trail: float, side: float) -> None:
    way = np.deg2rad(turn)
    corners = np.array([[0, 0], [side, 0], [side + side * np.cos(way), side * np.sin(way)]])
    points = np.stack([corners[:-1], corners[:-1], corners[1:], corners[1:]], axis=1)
    line = Moves.along(np.full(2, 0, np.uint8), points)
    tip = tip_of(dragged(line, trail, 0.0), trail)
    drawn = shapely.LineString(corners)
    assert max(drawn.distance(shapely.Point(at)) for at in tip[::7]) < 0.02
    assert np.hypot(*(tip[-1] - corners[-1])) < 0.02


def test_a_drag_blade_leads_round_arcs_and_goes_on_past_the_start() -> None:
    circle = plan(one_piece(put("circle", diameter=30))).program.blocks[0].moves
    half = slice(0, len(circle) // 2)  # one of its two passes
    once = Moves(circle.kinds[half], circle.points[half], circle.working[half], circle.dwell[half])
    led = dragged(once, 0.25, 2.0)
    way = (np.pi * 30 + 2.0) * np.hypot(15, 0.25) / 15
    assert curves.lengths(led.kinds, led.points).sum() == pytest.approx(way, rel=1e-3)
    centre = curves.circles(once.points[:1])[0][0]
    away = np.hypot(*(tip_of(led, 0.25) - centre).T)
    assert np.abs(away - 15).max() < 0.02


def test_a_blade_is_asked_to_engrave_in_vain_and_says_so() -> None:
    leather = {"do": "change", "of": "stock", "values": {"material": "tan-leather"}}
    design = edited(with_a_ring(), leather, {"do": "change", "of": "ticket", "values": {"machine": "desk-cutter"}})
    found = [one for one in check(plan(design)) if one.check == "operations_have_settings"]
    assert "Desk cutter has a blade, which cannot engrave" in found[0].sentence


def test_face_down_all_is_done_mirrored_in_every_format() -> None:
    design = one_piece(put("rectangle", width=60, height=30, x=30, y=15), put("hole", width=4, height=9, x=8, y=15))
    down = edited(design, {"do": "change", "of": "ticket", "values": {"face": "down"}})
    wide = design.stock.width
    up, there = (boxes(plan(one)) for one in (design, down))
    assert there == {(round(wide - right, 2), top, round(wide - left, 2), bottom) for left, top, right, bottom in up}
    assert 'transform="matrix(-1 0 0 1 300 0)"' in write_svg(plan(down))


def boxes(job: Job) -> set[tuple[float, ...]]:
    """The box on the bed of everything that is done in one go."""
    corners = [stretch.points.reshape(-1, 2) for stretch in job.program.stretches()]
    return {tuple(np.concatenate([each.min(axis=0), each.max(axis=0)]).round(2).tolist()) for each in corners}


@pytest.mark.parametrize("kerf", ["off", "on"])
def test_cuts_begin_in_the_waste_beside_their_line(kerf: str) -> None:
    bare = one_piece(put("rectangle", width=60, height=30, x=30, y=15), put("hole", width=12, height=12, x=15, y=15))
    lead = [{"do": "change", "of": f"operation {side}", "values": {"lead": "5"}} for side in ("inner", "outer")]
    two = {"do": "change", "of": "piece p1", "values": {"copies": 2}}
    design = edited(bare, *lead, {**ON, "values": {"kerf": kerf}}, two)
    job = plan(design)
    material = shapely.union_all([laid.shape_on_sheet() for laid in job.layout.instances])
    for number, block in enumerate(job.program.block):
        moves = job.program.blocks[block].moves
        begin = shapely.Point(moves.points[0, 0] + job.program.shift[number])
        away = begin.distance(material)
        inner = job.lines[job.program.operation[number]].id == "inner"
        assert away == pytest.approx(5 if inner else 1, abs=0.2)  # half of what pieces lie apart
    tiny = edited(one_piece(put("rectangle", width=60, height=30), put("hole", width=2, height=2)), *lead)
    assert max(len(block.moves) for block in plan(tiny).program.blocks)
