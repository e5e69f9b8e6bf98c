"""What is written is read by others: the same areas, bounds and order, in each format."""

import io
from collections.abc import Callable

import ezdxf
import numpy as np
import pypdfium2
import pytest
import shapely
from ezdxf.addons.hpgl2 import api as hpgl
from ezdxf.document import Drawing
from svgelements import SVG
from svgelements import Path as OtherPath

from foliant.core.formats import written
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
            if np.hypot(*np.subtract(last, points[-1])) < 0.05:
                points = points[::-1]
            if np.hypot(*np.subtract(last, points[0])) < 0.05:
                lines[-1].extend(points[1:])
            else:
                lines.append(points)
    return {layer: [shapely.Polygon(line) for line in lines if len(line) > 3] for layer, lines in found.items()}


def as_designed() -> list[float]:
    """The areas of what is scored, cut inside and cut out, mm²."""
    heart = next(part for part in JOB.design.pieces[0].parts if part.shape.label() == "Heart")
    return [
        36 * np.pi,
        9 * np.pi + abs(heart.shape.paths()[0].area),
        80 * 50 - (4 - np.pi) * 100,
    ]


@pytest.mark.parametrize("read", [svg, dxf, plt])
def test_others_read_the_same_areas_and_bounds_in_the_same_order(read: Callable[[], Rings]) -> None:
    found = list(read().values())
    areas = [sum(ring.area for ring in one) for one in found]
    # HPGL knows fortieths of a millimetre and no finer.
    assert areas == pytest.approx(as_designed(), rel=1e-4 if read is not plt else 4e-3)
    whole = shapely.union_all([ring for one in found for ring in one]).bounds
    left, top, right, bottom = JOB.layout.bounds
    if read is plt:  # its reader lays a drawing in the corner of a page
        assert whole == pytest.approx((0, 0, right - left, bottom - top), abs=0.0126)
    else:
        assert whole == pytest.approx((left, HIGH - bottom, right, HIGH - top), abs=0.01)


def test_a_page_is_measured_in_true_size() -> None:
    scale = 20 * 25.4 / 72  # 20 dots to the mm
    page = pypdfium2.PdfDocument(content("pdf"))[0]
    dark = np.asarray(page.render(scale=scale).to_pil().convert("L")) < 128
    rows, columns = np.flatnonzero(dark.any(axis=1)), np.flatnonzero(dark.any(axis=0))
    left, top, right, bottom = JOB.layout.bounds
    assert (columns[-1] - columns[0] + 1) / 20 == pytest.approx(right - left, abs=0.2)
    middle = (columns[0] + columns[-1] + 1) / 40, (rows[0] + rows[-1] + 1) / 40
    assert middle == pytest.approx(((left + right) / 2, (top + bottom) / 2), abs=0.05)
