"""What is written is read by others: the same areas, bounds and order, in each format."""

import io
import subprocess
from collections.abc import Callable
from pathlib import Path

import ezdxf
import numpy as np
import pytest
import resvg_py
import shapely
from ezdxf.addons.hpgl2 import api as hpgl
from ezdxf.document import Drawing
from gcodeparser import parse_gcode_lines
from PIL import Image
from svgelements import SVG
from svgelements import Path as OtherPath

from foliant.core.formats import written
from foliant.core.formats.dialects import read_dialect
from foliant.core.formats.gcode import write_gcode
from foliant.core.formats.hpgl import UNITS
from foliant.core.ticket import Job
from tests.core.test_formats import rings
from tests.making import edited, one_piece, plan, put

Rings = dict[str, list[shapely.Polygon]]
"""The closed lines of each operation, in the order in which they are met; y away from the maker."""

JOB: Job = plan(
    edited(
        one_piece(
            put("rectangle", width=80, height=50, corners="rounded", corner=10, x=40, y=25),
            put("hole", width=6, height=6, x=15, y=25),
            put("heart", width=20, height=20, x=60, y=25, role="cuts"),
            put("circle", diameter=12, x=35, y=25, role="scores"),
        ),
        {"do": "change", "of": "ticket", "values": {"kerf": "off"}},
        *({"do": "change", "of": f"operation {one}", "values": {"passes": 1}} for one in ("score", "inner", "outer")),
    )
)
HIGH = JOB.design.stock.height


def content(ending: str) -> bytes:
    return written(JOB.design, JOB.shop, ending)


def svg() -> Rings:
    document = SVG.parse(io.StringIO(content("svg").decode()), ppi=25.4)
    found: Rings = {}
    for group in document:
        if group.id in ("score", "inner", "outer"):
            drawn = [ring for one in group.select() if isinstance(one, OtherPath) for ring in rings(one, 0.02)]
            found[group.id] = [shapely.Polygon([(x, HIGH - y) for x, y in ring]) for ring in drawn]
    return found


def dxf() -> Rings:
    document = ezdxf.read(io.StringIO(content("dxf").decode()))
    assert not document.audit().errors
    return joined(document, 1.0)


def plt() -> Rings:
    return joined(hpgl.to_dxf(b"\x1b%-1B" + content("plt")), UNITS)


def joined(document: Drawing, units: float) -> Rings:
    """The lines of each layer, one that begins where the last has ended with that; `units` are a millimetre."""
    found: dict[str, list[list[tuple[float, float]]]] = {}
    for entity in document.modelspace():
        if entity.dxftype() == "SOLID":
            continue
        # Arcs as they are: a path of them would be cubics that come near.
        for part in entity.virtual_entities() if entity.dxftype() == "LWPOLYLINE" else [entity]:
            fine = part.flattening(0.00005 * units) if part.dxftype() in ("ARC", "SPLINE") else None
            points = [(at.x / units, at.y / units) for at in fine or (part.dxf.start, part.dxf.end)]
            lines = found.setdefault(entity.dxf.layer, [])
            last = lines[-1][-1] if lines else (np.inf, np.inf)
            if np.hypot(*np.subtract(last, points[-1])) < 0.002:
                points = points[::-1]
            if np.hypot(*np.subtract(last, points[0])) < 0.002:
                lines[-1].extend(points[1:])
            else:
                lines.append(points)
    return {layer: [shapely.Polygon(line) for line in lines if len(line) > 3] for layer, lines in found.items()}


def gcode(dialect: str = "") -> Rings:
    """What is burnt, by the titles that the operations have in comments; arcs round their centres as I and J say."""
    found: dict[str, list[list[complex]]] = {}
    at, power, title = 0j, 0.0, ""
    for line in parse_gcode_lines(write_gcode(JOB, read_dialect(dialect)), include_comments=True):
        if line.command[0] == ";":
            title = line.comment
        there = complex(line.get_param("X", default=at.real), line.get_param("Y", default=at.imag))
        power = line.get_param("S", default=power)
        if line.command == ("G", 0):
            found.setdefault(title, []).append([there])
        elif line.command[0] == "G" and 1 <= line.command[1] <= 3:
            assert power
            arc = line.command[1] - 2
            found[title][-1] += [there] if arc < 0 else round_about(at, there, line.params, arc == 1)
        at = there
    return {
        title: [shapely.Polygon([(z.real, z.imag) for z in line]) for line in lines if len(line) > 3]
        for title, lines in found.items()
    }


def round_about(start: complex, end: complex, words: dict[str, float], left: bool) -> list[complex]:
    centre = start + complex(words["I"], words["J"])
    turn = np.angle((end - centre) / (start - centre))
    turn += 2 * np.pi * (left - (not left)) if (turn > 0) != left else 0
    return [centre + (start - centre) * np.exp(1j * turn * share) for share in np.linspace(0, 1, 361)[1:]]


def as_designed() -> list[float]:
    """The areas of what is scored, cut inside and cut out, mm²."""
    heart = next(part for part in JOB.design.pieces[0].parts if part.shape.label() == "Heart")
    return [
        36 * np.pi,
        9 * np.pi + abs(heart.shape.paths()[0].area),
        80 * 50 - (4 - np.pi) * 100,
    ]


@pytest.mark.parametrize("read", [svg, dxf, plt, gcode])
def test_others_read_the_same_areas_and_bounds_in_the_same_order(read: Callable[[], Rings]) -> None:
    found = [rings for rings in read().values() if rings]
    areas = [sum(ring.area for ring in one) for one in found]
    assert areas == pytest.approx(as_designed(), rel=1e-4)
    whole = shapely.union_all([ring for one in found for ring in one]).bounds
    left, top, right, bottom = JOB.layout.bounds
    if read is plt:  # its reader lays a drawing in the corner of a page
        left, top, right, bottom = 0, HIGH - (bottom - top), right - left, HIGH
    assert whole == pytest.approx((left, HIGH - bottom, right, HIGH - top), abs=0.01)


def test_short_lines_go_round_as_much_as_the_arcs_that_they_stand_for() -> None:
    areas = [sum(ring.area for ring in one) for one in gcode("lines").values() if one]
    assert areas == pytest.approx(as_designed(), rel=1e-4)


def test_a_drawing_is_filled_by_others_as_it_is_here() -> None:
    dots, wide = 20, JOB.design.stock.width  # to the mm
    for layer, area in zip(("score", "inner", "outer"), as_designed(), strict=True):
        filled = content("svg").decode().replace(' fill="none" stroke="', ' fill="none" data-stroke="')
        style = f"#{layer} path {{ fill: #000 }}"
        drawn = resvg_py.svg_to_bytes(svg_string=filled, width=int(wide * dots), dpi=96, style_sheet=style)
        dark = np.asarray(Image.open(io.BytesIO(bytes(drawn))))[..., 3] > 127
        assert np.count_nonzero(dark) / dots**2 == pytest.approx(area, rel=3e-4)
    rows, columns = np.flatnonzero(dark.any(axis=1)), np.flatnonzero(dark.any(axis=0))
    found = columns[0] / dots, rows[0] / dots, (columns[-1] + 1) / dots, (rows[-1] + 1) / dots
    assert found == pytest.approx(JOB.layout.bounds, abs=0.01)


def test_a_page_is_measured_in_true_size(tmp_path: Path) -> None:
    (tmp_path / "sheet.pdf").write_bytes(content("pdf"))
    page = subprocess.run(
        ["pdftocairo", "-svg", "-noshrink", "-nocenter", "sheet.pdf", "-"],
        cwd=tmp_path,
        capture_output=True,
        check=True,
    )
    point = 25.4 / 72
    drawn = SVG.parse(io.StringIO(page.stdout.decode().replace('pt"', '"')), reify=True)
    boxes = [one.bbox() for one in drawn.elements() if isinstance(one, OtherPath)]
    left, top, right, bottom = np.array(boxes).T * point
    assert (left.min(), top.min(), right.max(), bottom.max()) == pytest.approx(JOB.layout.bounds, abs=0.01)
