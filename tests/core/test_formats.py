"""What is written can be read by others, and says the same."""

import io
import json
import re

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from svgelements import SVG
from svgelements import Path as OtherPath

from foliant.core.design import Design
from foliant.core.errors import Refused
from foliant.core.formats import WRITERS, write_design, write_gcode, write_svg
from foliant.core.formats.design_file import read_design_file
from foliant.core.formats.hpgl import UNITS, write_hpgl
from foliant.core.layout import lay_out
from foliant.core.machine.interpreter import Finish, Interpreter, Move
from foliant.core.paths import curves
from tests.examples import examples
from tests.making import edited, one_piece, plan, put, tag


def rings(path: OtherPath, step: float = 0.1) -> list[list[tuple[float, float]]]:
    """The contours of a path that another library has read, finely sampled."""
    found = []
    for part in path.as_subpaths():
        sub = OtherPath(part)
        points = []
        for segment in sub:
            count = (
                max(1, int((segment.length(error=1e-3) or 0) / step)) if type(segment).__name__ not in ("Move",) else 0
            )
            points += [segment.point(i / count) for i in range(count)]
        found.append([(p.x, p.y) for p in points])
    return [ring for ring in found if len(ring) > 2]


@examples(6)
@given(
    st.sampled_from(["square", "rounded", "cut", "scooped"]), st.floats(30, 90), st.floats(20, 60), st.floats(1, 9.9),
)  # fmt: skip
def test_svg_read_back_by_another_library_is_the_outline(
    corners: str, width: float, height: float, corner: float
) -> None:
    design = one_piece(
        put("rectangle", width=width, height=height, corners=corners, corner=corner),
        put("circle", diameter=12, x=width, y=height / 2),
        put("hole", width=3, height=7),
    )
    svg = SVG.parse(io.StringIO(write_svg(plan(design))), ppi=25.4)
    read = [ring for element in svg.elements() if isinstance(element, OtherPath) for ring in rings(element)]
    instance = lay_out(design).instances[0]
    outline = instance.shape_on_sheet()
    assert len(read) == 2
    # Both ways: no point of one lies farther than 0.01 mm from the other.
    ours = shapely.union_all([shapely.LinearRing(ring) for ring in read])
    assert shapely.hausdorff_distance(outline.boundary, ours, densify=0.02) < 0.01


def test_svg_is_true_size_with_one_group_for_each_operation() -> None:
    text = write_svg(plan(tag(copies=2)))
    assert 'width="300mm" height="200mm" viewBox="0 0 300 200"' in text
    assert re.findall(r'<g id="(\w+)"', text) == ["engrave", "inner", "outer"]
    off = edited(tag(), {"do": "switch-operation", "operation": "engrave", "on": False})
    assert re.findall(r'<g id="(\w+)"', write_svg(plan(off))) == ["inner", "outer"]


def test_a_circle_in_svg_is_two_arcs() -> None:
    text = write_svg(plan(one_piece(put("circle", diameter=40))))
    assert len(re.findall(r"A20 20", text)) == 2
    assert "C" not in text.split("<path", 1)[1].split('d="')[1].split('"')[0]


def test_gcode_of_a_circle_is_arcs_not_a_polyline() -> None:
    design = edited(
        one_piece(put("circle", diameter=40)), {"do": "change", "of": "operation outer", "values": {"passes": 1}}
    )
    lines = write_gcode(plan(design)).splitlines()
    arcs = [line for line in lines if line.startswith(("G2 ", "G3 "))]
    assert len(arcs) in (2, 3)  # one may be begun amid
    assert not any(line.startswith("G1") for line in lines)
    assert "F360" in arcs[0]  # 6 mm/s
    assert "S850" in arcs[0]  # 85 %


def interpreted(design: Design) -> list[Move]:
    """The job as an independent reading of its G-code sees it, on a large bed."""
    reader = Interpreter(2000, 2000, 100)
    moves: list[Move] = []
    ended = False
    for line in write_gcode(plan(design)).splitlines():
        for item in reader.read(line):
            assert not ended
            ended = isinstance(item, Finish)
            if isinstance(item, Move):
                moves.append(item)
    assert ended
    return moves


def test_gcode_says_what_the_toolpath_says() -> None:
    design = tag(copies=3)
    path = plan(design).program.toolpath()
    burnt = [move for move in interpreted(design) if move.power > 0]
    assert len(burnt) == int(path.working.sum())
    ends = path.points[path.working][:, 3]
    assert max(abs(m.end[0] - x) + abs(m.end[1] - (200 - y)) for m, (x, y) in zip(burnt, ends, strict=True)) < 0.002
    assert {round(move.power) for move in burnt} == {32, 85}
    assert {round(move.speed) for move in burnt} == {90, 6}


def test_gcode_fill_lines_alternate() -> None:
    design = one_piece(put("rectangle", width=40, height=20), put("rectangle", role="engraves", width=20, height=4))
    fills = [move for move in interpreted(design) if round(move.power) == 32]
    ways = [move.end[0] > move.start[0] for move in fills]
    assert len(fills) == 40
    assert ways == [i % 2 == 0 for i in range(40)]


def test_arcs_keep_their_side_when_the_page_is_turned_over() -> None:
    moves = [move for move in interpreted(one_piece(put("rectangle", corners="scooped", corner=6))) if move.middle]
    centre = (4 + 36, 200 - 4 - 15)
    for move in moves:  # a scooped corner bends toward the middle of the plate
        chord = ((move.start[0] + move.end[0]) / 2, (move.start[1] + move.end[1]) / 2)
        assert move.middle is not None
        assert (move.middle[0] - chord[0]) * (centre[0] - chord[0]) > 0
        assert (move.middle[1] - chord[1]) * (centre[1] - chord[1]) > 0


def test_the_design_file_round_trip_is_exact() -> None:
    design = edited(tag(copies=5), {"do": "set-unit", "unit": "in"}, {"do": "rename", "name": "Zoë’s “tags” <1>"})
    assert read_design_file(write_design(design).encode()) == design
    assert read_design_file(WRITERS["json"].write(plan(design))) == design
    assert "<title>Zoë’s “tags” &lt;1&gt;</title>" in write_svg(plan(design))


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "not valid JSON"),
        (b"{", "not valid JSON near line 1"),
        (b"\xff\xfe\x00", "not text"),
        (b"[" * 100_000, "not valid JSON"),
        (json.dumps({"format": "moon"}).encode(), "not a Foliant design file"),
        (b" " * 9_000_000, "9 MB"),
    ],
)
def test_files_that_are_no_designs_get_a_sentence(content: bytes, says: str) -> None:
    with pytest.raises(Refused, match=says):
        read_design_file(content)


def test_hpgl_works_the_same_lengths_with_a_pen_for_each_operation() -> None:
    job = plan(
        one_piece(put("circle", diameter=40), put("circle", role="scores", diameter=30), put("hole", x=20, y=30))
    )
    text = write_hpgl(job)
    assert re.findall(r"SP(\d);", text) == ["1", "2", "3", "0"]
    pen_down, here, worked = False, np.zeros(2), 0.0
    for name, numbers in re.findall(r"(PU|PD|AA)([-\d.,]*);", text):
        values = [float(found) for found in numbers.split(",") if found]
        if name == "AA":
            centre, turn = np.array(values[:2]) / UNITS, np.deg2rad(values[2])
            spoke = here - centre
            worked += np.hypot(*spoke) * abs(turn)
            cosine, sine = np.cos(turn), np.sin(turn)
            here = centre + np.array([[cosine, -sine], [sine, cosine]]) @ spoke
            continue
        pen_down = name == "PD"
        if values:
            there = np.array(values) / UNITS
            worked += np.hypot(*(there - here)) if pen_down else 0.0
            here = there
    path = job.program.toolpath()
    burnt = curves.lengths(path.kinds[path.working], path.points[path.working]).sum()
    assert worked == pytest.approx(burnt, rel=0.002)
