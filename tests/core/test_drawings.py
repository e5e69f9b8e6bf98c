"""Drawings of other programs: read as they are meant, whatever they are called, and never harmful."""

import gzip
import io
import math
import pathlib
import signal
import subprocess
from typing import Any

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf import path as dxf_paths
from ezdxf.enums import TextEntityAlignment
from reportlab.lib.pdfencrypt import StandardEncryption
from reportlab.pdfgen import canvas

from foliant.core.drawings import Drawing, Item, packed, unpacked
from foliant.core.drawings.areas import filled, painted
from foliant.core.drawings.dxf import read_dxf
from foliant.core.drawings.intake import format_of, take_drawing
from foliant.core.drawings.pdf import read_pdf
from foliant.core.drawings.svg import read_svg
from foliant.core.errors import Refused
from foliant.core.paths import ARC, Path, join
from foliant.core.paths.data import path_data, path_from
from foliant.core.paths.flatten import flatten
from tests.drawings import ICONS, icons, overlap, svg

pytestmark = pytest.mark.usefixtures("read_here")

RECT = '<rect width="10" height="6"/>'


def only(drawing: Drawing) -> Item:
    (item,) = drawing.items
    return item


def area(drawing: Drawing) -> float:
    return sum(path.area for item in drawing.items for path in painted(item))


# Path data


def test_half_turns_written_and_read_keep_their_bow() -> None:
    drawn = '<path d="M10 20 A7.123457 7.123457 0 1 1 24.246914 20 A7.123457 7.123457 0 1 1 10 20Z"/>'
    path = only(read_svg(svg(drawn))).path
    again = path_from(path_data(path))
    assert set(again.kinds) == {ARC}
    assert again.area == pytest.approx(math.pi * 7.123457**2, rel=1e-5)
    other = only(read_svg(svg(f'<path d="{path_data(path)}"/>'))).path
    assert other.area == pytest.approx(again.area, rel=1e-5)


@pytest.mark.parametrize("data", ["M0 0L1 nan", "m0 0l1 1", "L1 1", "M0 0L1", "M0 0Q1 1 2 2", "M0 0 1 1", "M0 0L9e9 1"])
def test_path_data_of_other_kinds_is_refused(data: str) -> None:
    with pytest.raises(Refused, match="path data"):
        path_from(data)
    assert not len(path_from(""))


# SVG


@pytest.mark.parametrize(
    ("size", "wide", "unit"),
    [
        ('width="100mm" height="60mm" viewBox="0 0 100 60"', 10, "mm"),
        ('width="10cm" height="6cm" viewBox="0 0 100 60"', 10, "cm"),
        ('width="2in" height="1.2in" viewBox="0 0 100 60"', 5.08, "in"),
        ('width="72pt" viewBox="0 0 72 72"', 25.4 / 72 * 10, "pt"),
        ('viewBox="0 0 96 96"', 25.4 / 96 * 10, ""),
        ('width="100%" height="100%" viewBox="0 0 96 96"', 25.4 / 96 * 10, ""),
        ('width="192" height="192" viewBox="0 0 96 96"', 2 * 25.4 / 96 * 10, ""),
        ("", 25.4 / 96 * 10, ""),
        ('width="200mm" height="60mm" viewBox="0 0 100 60"', 10, "mm"),
        ('width="200mm" height="60mm" viewBox="0 0 100 60" preserveAspectRatio="none"', 20, "mm"),
    ],
)
def test_sizes_are_true_and_the_unit_is_known_or_asked(size: str, wide: float, unit: str) -> None:
    drawing = read_svg(svg(RECT, size))
    left, _, right, _ = drawing.bounds
    assert right - left == pytest.approx(wide, abs=1e-6)
    assert drawing.unit == unit
    assert bool(drawing.meanings) is (unit == "")
    if drawing.meanings:
        assert drawing.meanings[0][1] == 1
        assert dict(drawing.meanings)["72 to the inch"] == pytest.approx(4 / 3)


def test_transforms_uses_symbols_and_nested_drawings_lie_where_they_should() -> None:
    inside = """
    <defs><symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol>
    <rect id="r" width="4" height="2"/></defs>
    <g transform="translate(10 5) scale(2)"><g transform="rotate(90)"><use href="#r"/></g></g>
    <use href="#s" x="40" y="10" width="20" height="20"/>
    <svg x="70" y="10" width="10" height="10" viewBox="0 0 100 100">
    <rect width="50" height="50" transform="skewX(0)"/></svg>
    """
    boxes = [item.path.bounds for item in read_svg(svg(inside)).items]
    assert boxes[0] == pytest.approx((6, 5, 10, 13))
    assert boxes[1] == pytest.approx((40, 10, 60, 30))
    assert boxes[2] == pytest.approx((70, 10, 75, 15))


def test_style_sheets_classes_and_inheritance_say_what_is_painted() -> None:
    inside = """
    <style>@import url(http://127.0.0.1:9/never.css); .cut { fill: none; stroke: rgb(255, 0, 0) }
    #b { stroke: #00f !important }
    g > rect:first-child { fill: lime } @media print { rect { display: none } }</style>
    <rect class="cut" width="5" height="5"/><rect id="b" class="cut" width="5" height="5" style="stroke: green"/>
    <g fill="hsl(0 100% 50%)" color="teal"><rect width="2" height="2"/>
    <path d="M0 0h5v5z" fill="currentColor"/><path d="M0 0h5v5z"/></g>
    <g display="none"><rect width="9" height="9"/></g><rect width="3" height="3" opacity="0"/>
    <rect width="3" height="3" fill="none"/>
    """
    drawing = read_svg(svg(inside))
    assert [(item.fill, item.stroke) for item in drawing.items] == [
        ("", "#ff0000"),
        ("", "#0000ff"),
        ("#00ff00", ""),
        ("#008080", ""),
        ("#ff0000", ""),
    ]
    assert dict(drawing.unread) == {"hidden things": 2, "things without colour": 1}


def test_fill_rules_open_paths_and_crossing_ones_cover_what_a_renderer_fills() -> None:
    star = "M50 5L79 90L2 35H98L21 90Z"
    nonzero, odd = (area(read_svg(svg(f'<path d="{star}" fill-rule="{rule}"/>'))) for rule in ("nonzero", "evenodd"))
    assert odd < 0.8 * nonzero
    ring = 'd="M0 0H20V20H0ZM5 5H15V15H5Z"'
    assert area(read_svg(svg(f"<path {ring}/>"))) == pytest.approx(400 + 100)  # both run one way: welded, it is 400
    assert area(read_svg(svg(f'<path {ring} fill-rule="evenodd"/>'))) == pytest.approx(300)
    assert area(read_svg(svg('<path d="M0 0H10V10"/>'))) == pytest.approx(50)
    nested = "M0 0H30V30H0ZM5 5H25V25H5ZM10 10H20V20H10Z"
    assert area(read_svg(svg(f'<path d="{nested}" fill-rule="evenodd"/>'))) == pytest.approx(900 - 400 + 100)


def test_lines_have_their_width_their_ends_and_their_dashes() -> None:
    line = '<path d="M10 10H50" stroke="#000" stroke-width="4" {}/>'
    round_, square, flat = (
        area(read_svg(svg(line.format(f'stroke-linecap="{ends}"')))) for ends in ("round", "square", "butt")
    )
    assert flat == pytest.approx(160, rel=1e-3)
    assert square == pytest.approx(176, rel=1e-3)
    assert round_ == pytest.approx(160 + math.pi * 4, rel=1e-3)
    dashed = only(read_svg(svg(line.format('stroke-dasharray="6 4"'))))
    assert len(dashed.path.starts) == 4
    assert dashed.path.length == pytest.approx(24)
    assert len(read_svg(svg('<path d="M5 5z" stroke="#000" stroke-linecap="round" stroke-width="3"/>')).items) == 1
    stretched = read_svg(svg('<g transform="scale(1 3)"><path d="M0 0H10" stroke="#000" stroke-width="1"/></g>'))
    assert area(stretched) == pytest.approx(30, rel=1e-3)


def test_what_is_clipped_is_cut_off_and_masks_are_told_of() -> None:
    clipped = read_svg(
        svg(
            '<clipPath id="c"><rect x="5" width="90" height="60"/></clipPath>'
            '<g clip-path="url(#c)"><rect width="10" height="6"/>'
            '<path d="M0 20H50" stroke="red" stroke-width="0.1" fill="none"/></g>'
            '<rect mask="url(#m)" width="2" height="2"/>'
        )
    )
    assert clipped.items[0].path.area == pytest.approx(30)
    assert clipped.items[1].path.bounds == pytest.approx((5, 20, 50, 20))
    assert ("masks", 1) in clipped.unread


def test_words_are_kept_as_words_with_their_place_and_look() -> None:
    inside = (
        '<text transform="rotate(30 50 30)" x="50" y="30" style="font: x; font-family: \'Lora\', serif; font-size: 8px"'
        ' font-weight="700" text-anchor="middle">Ysolde <tspan font-style="italic">Harrow</tspan>'
        '<tspan x="50" dy="9">Guide</tspan></text>'
    )
    first, second = read_svg(svg(inside)).texts
    assert (first.text, first.family, first.bold, first.anchor) == ("Ysolde Harrow", "Lora", True, "middle")
    assert (first.x, first.y, first.size, first.rotation) == pytest.approx((50, 30, 8, 30))
    assert second.text == "Guide"
    assert math.hypot(second.x - 50, second.y - 30) == pytest.approx(9)


def test_what_cannot_be_read_is_listed_and_nothing_of_it_is_kept() -> None:
    inside = (
        "<script>alert(1)</script><foreignObject/><image href='http://127.0.0.1:9/x.png' width='4' height='4'/>"
        "<rect width='5' height='5' "
        "onclick='x()' fill='url(#p)'/><pattern id='p'/><path d='M0 0L5 5L oops'/><blob/><use href='#none'/>"
    )
    drawing = read_svg(svg(inside))
    assert set(dict(drawing.unread)) == {
        "scripts",
        "pieces of other formats",
        "embedded pictures",
        "patterns, read as plain areas",
        "damaged paths, read up to the damage",
        "“blob” elements",
        "uses of what is not in the file",
    }
    assert b"alert" not in packed(drawing)


@pytest.mark.parametrize("package", ICONS)
def test_icons_cover_what_a_renderer_paints(package: str) -> None:
    found = icons(package)
    side = 16 if package.startswith("bootstrap") else 24
    shares = [overlap(found[name], side, 40 * side) for name in sorted(found)[::120]]
    assert np.mean(np.array(shares) >= 0.995) >= 0.95, shares


def test_a_drawing_packed_and_unpacked_is_the_same() -> None:
    drawing = read_svg(svg(f'<g id="cut">{RECT}<circle r="4" fill="none" stroke="red"/></g><text y="9">Io</text>'))
    again = unpacked(packed(drawing))
    assert [(item.fill, item.stroke, item.layer) for item in again.items] == [
        (item.fill, item.stroke, item.layer) for item in drawing.items
    ]
    assert again.bounds == drawing.bounds
    assert (again.texts, again.unit, again.meanings) == (drawing.texts, drawing.unit, drawing.meanings)


# DXF


def dxf(draw, version: str = "R2010", units: int = 4) -> bytes:
    document = ezdxf.new(version, setup=True)
    document.header["$INSUNITS"] = units
    draw(document)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def every_line(document) -> None:
    model = document.modelspace()
    model.add_line((0, 0), (10, 5))
    model.add_arc((20, 20), 8, 30, 290)
    model.add_circle((40, 40), 7)
    model.add_circle((40, 60), 7, dxfattribs={"extrusion": (0, 0, -1)})
    model.add_polyline2d([(100, 0, 0.3), (120, 0, 0), (110, 20, 1)], format="xyb", close=True)
    model.add_polyline3d([(0, 70, 0), (5, 75, 9), (9, 70, 0)])
    if document.dxfversion > "AC1009":
        model.add_ellipse((60, 10), (9, 3), 0.4, 0.3, 5)
        model.add_spline([(0, 50), (10, 60), (25, 40), (40, 55)])
        model.add_open_spline([(0, 80), (5, 90), (20, 70), (30, 85), (40, 80)], degree=4)
        model.add_rational_spline([(0, 100), (5, 110), (20, 90), (30, 105)], [1, 2, 3, 1], degree=3)
        model.add_lwpolyline([(70, 0, 0, 0, 0.5), (90, 0, 0, 0, -1.7), (90, 20, 0, 0, 0)], close=True)


@pytest.mark.parametrize("version", ["R12", "R2000", "R2007", "R2018"])
def test_every_line_of_a_dxf_lies_where_its_own_library_flattens_it(version: str) -> None:
    content = dxf(every_line, version)
    drawing = read_dxf(content)
    model = ezdxf.read(io.StringIO(content.decode())).modelspace()
    assert len(drawing.items) == len(model)
    assert sum((item.path.kinds == ARC).sum() for item in drawing.items) >= 6
    for item, entity in zip(drawing.items, model, strict=True):
        points = [(point.x, -point.y) for point in dxf_paths.make_path(entity, segments=16, level=7).flattening(0.001)]
        flat = flatten(item.path, 0.001)
        ours = shapely.linestrings(np.concatenate([flat.points, flat.ends[-1:]]))
        assert shapely.hausdorff_distance(ours, shapely.linestrings(points), densify=0.05) < 0.01, entity.dxftype()
        assert ours.length == pytest.approx(shapely.linestrings(points).length, rel=2e-4)


def test_hatches_are_areas_blocks_are_inserted_and_words_stand_where_they_are_put() -> None:
    def draw(document) -> None:
        model = document.modelspace()
        document.layers.add("Engrave", color=5)
        document.layers.add("Off", color=1).off()
        hatch = model.add_hatch(color=256, dxfattribs={"layer": "Engrave"})
        hatch.paths.add_polyline_path([(0, 0), (20, 0), (20, 20), (0, 20)], is_closed=True)
        hatch.paths.add_polyline_path([(5, 5, 1), (10, 5, 1)], is_closed=True)
        edges = model.add_hatch(color=3).paths.add_edge_path()
        edges.add_arc((50, 50), 10, 0, 180)
        edges.add_line((40, 50), (60, 50))
        block = document.blocks.new("PIN")
        block.add_circle((0, 0), 2)
        model.add_blockref("PIN", (100, 0), dxfattribs={"xscale": 2, "yscale": 2})
        model.add_blockref("PIN", (120, 0), dxfattribs={"xscale": 3, "yscale": 1})
        model.add_line((0, 0), (1, 1), dxfattribs={"layer": "Off"})
        model.add_text("Dome", height=5).set_placement((5, 150), align=TextEntityAlignment.MIDDLE_CENTER)
        model.add_mtext("One\nTwo", dxfattribs={"char_height": 4, "insert": (50, 150)})
        model.add_solid([(0, 200), (10, 200), (0, 210), (10, 210)])
        model.add_point((1, 1))

    drawing = read_dxf(dxf(draw))
    areas = [sum(path.area for path in painted(item)) for item in drawing.items if item.fill]
    assert areas == pytest.approx([400 - math.pi * 2.5**2, math.pi * 50, 100], rel=1e-3)
    assert (drawing.items[0].layer, drawing.items[0].fill) == ("Engrave", "#0000ff")
    pins = [item.path.bounds for item in drawing.items if item.stroke]
    assert [right - left for left, _, right, _ in pins] == pytest.approx([8, 12], rel=1e-4)
    assert dict(drawing.unread) == {"things on layers that are off": 1, "single points": 1}
    assert [(text.text, text.anchor) for text in drawing.texts] == [
        ("Dome", "middle"),
        ("One", "start"),
        ("Two", "start"),
    ]
    assert drawing.texts[1].y < drawing.texts[2].y


@pytest.mark.parametrize(("units", "wide", "unit"), [(1, 254, "in"), (4, 10, "mm"), (5, 100, "cm"), (0, 10, "")])
def test_units_of_a_dxf(units: int, wide: float, unit: str) -> None:
    drawing = read_dxf(dxf(lambda document: document.modelspace().add_line((0, 0), (10, 0)), units=units))
    assert drawing.bounds[2] == pytest.approx(wide)
    assert drawing.unit == unit


@pytest.mark.parametrize("layered", [False, True])
def test_broken_lines_of_a_dxf_are_dashes_and_binary_ones_are_read_alike(tmp_path: pathlib.Path, layered: bool) -> None:
    def draw(document) -> None:
        document.header["$LTSCALE"] = 2.0
        document.layers.add("Fold", linetype="DASHED")
        how = {"layer": "Fold"} if layered else {"linetype": "DASHED"}
        document.modelspace().add_line((0, 0), (30, 0), dxfattribs=how)
        document.modelspace().add_circle((50, 50), 5, dxfattribs={"linetype": "DOT"})

    plain = dxf(draw)
    line, ring = read_dxf(plain).items
    assert line.path.length == pytest.approx(10 * 2 * 1.27)
    assert len(ring.path.starts) > 10
    document = ezdxf.read(io.StringIO(plain.decode()))
    document.saveas(tmp_path / "binary", fmt="bin")
    binary = take_drawing((tmp_path / "binary").read_bytes())
    assert [item.path.length for item in binary.items] == pytest.approx([line.path.length, ring.path.length])


# PDF


def pdf(draw, **options: object) -> bytes:
    out = io.BytesIO()
    page = canvas.Canvas(out, pagesize=(283.4646, 141.732), **options)
    draw(page)
    page.save()
    return out.getvalue()


def test_a_page_gives_its_curves_and_its_words_in_true_size() -> None:
    def draw(page) -> None:
        page.circle(100, 70, 30, fill=0)
        page.setFillColorRGB(1, 0, 0)
        page.rect(10, 10, 50, 20, fill=1, stroke=0)
        page.setFont("Helvetica-Bold", 14)
        page.drawString(150, 50, "Ysolde Harrow")
        page.setDash(3, 2)
        page.line(0, 100, 100, 100)
        page.showPage()
        page.circle(50, 50, 10)

    drawing = read_pdf(pdf(draw))
    point = 25.4 / 72
    circle, rect, dashes, further = drawing.items
    assert circle.path.bounds[2] - circle.path.bounds[0] == pytest.approx(60 * point, abs=1e-3)
    assert rect.fill == "#ff0000"
    assert rect.path.bounds == pytest.approx((10 * point, 50 - 30 * point, 60 * point, 50 - 10 * point), abs=1e-2)
    assert len(dashes.path.starts) == 20
    assert (circle.layer, further.layer) == ("page 1", "page 2")
    (words,) = drawing.texts
    assert (words.text, words.family, words.bold) == ("Ysolde Harrow", "Helvetica-Bold", True)
    assert (words.x, words.y, words.size) == pytest.approx((150 * point, 50 - 50 * point, 14 * point), abs=1e-2)


def test_what_a_page_clips_is_not_there() -> None:
    def draw(page) -> None:
        page.saveState()
        shape = page.beginPath()
        shape.circle(100, 70, 30)
        page.clipPath(shape, stroke=0)
        page.translate(70, 40)  # which moves what is drawn, and not what it is seen through
        page.rect(0, 0, 60, 30, fill=1, stroke=0)  # the upper half of the circle is above it
        page.rect(100, 0, 20, 20, fill=1, stroke=0)
        page.rect(20, 20, 10, 10, fill=1, stroke=0)
        page.restoreState()
        page.rect(200, 40, 20, 20, fill=1, stroke=0)

    half, inner, free = read_pdf(pdf(draw)).items
    point = 25.4 / 72
    areas = [abs(item.path.area) / point**2 for item in (half, inner, free)]
    assert areas == pytest.approx([math.pi * 450, 100, 400], rel=2e-3)


# What harms


BOMB = "".join(f'<!ENTITY {chr(98 + i)} "{f"&{chr(97 + i)};" * 10}">' for i in range(9))
USES = "".join(f'<g id="a{i + 1}">' + f'<use href="#a{i}"/>' * 10 + "</g>" for i in range(9))


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (f'<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">{BOMB}]>'.encode() + svg("<text>&j;</text>"), "many times its size"),
        (b'<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]>' + svg("<text>&a;</text>"), "never done"),
        (svg('<g id="a"><use href="#a"/></g>'), "made of themselves"),
        (svg(f'<defs><rect id="a0" width="1" height="1"/>{USES}</defs><use href="#a9"/>'), "more than"),
        (svg('<path d="M0 0L20000000 5L1 4z"/>'), "m large"),
        (svg("<g>" * 5000 + "</g>" * 5000), "deep"),
        (svg('<g transform="scale(0)"><rect width="5" height="5"/></g>'), "Nothing in this file"),
        (svg('<rect width="5" height="5"').replace(b"</svg>", b""), "damaged near line 1"),
        (svg(RECT, 'width="0" height="0"'), "no size"),
        (b"PK\x03\x04" + bytes(100), "ZIP"),
        (b"<html><svg/></html>", "no SVG"),
        (b"hello", "no drawing"),
        (b"", "no drawing"),
        (gzip.compress(b"<svg>" + b" " * 220_000_000), "unpacks to more"),
        (b"%PDF-1.4 garbage", "damaged"),
        (pdf(lambda page: page.circle(9, 9, 5), encrypt=StandardEncryption("locked", canPrint=0)), "password"),
        (b"  0\nSECTION\n  2\nENTITIES\n" + b"  0\nLINE\n  8\n0\n" * 60_000 + b"  0\nENDSEC\n  0\nEOF\n", "at most"),
        (b"  0\nSECTION\n  2\nHEADER\n", "Nothing in this file"),
    ],
)
def test_what_harms_or_is_no_drawing_is_a_sentence(content: bytes, says: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("foliant.core.drawings.svg.reader.MOST_ELEMENTS", 6_000)
    with pytest.raises(Refused, match=says):
        take_drawing(content)


@pytest.mark.apart
@pytest.mark.parametrize("kind", ["svg", "dxf", "pdf"])
def test_how_far_a_file_is_read_is_told_and_it_is_given_up_at_once(kind: str, monkeypatch: pytest.MonkeyPatch) -> None:
    curves = "".join(f"C{1 + i} {i % 3} {2 + i} {3 - i % 2} {2 * i % 7} {i % 5}" for i in range(10))
    if kind == "svg":
        paths = (f'<path transform="translate({i} 0)" fill="none" stroke="red" d="M0 0{curves}"/>' for i in range(3000))
        content = svg("".join(paths), 'viewBox="0 0 1000 1000"')
    elif kind == "dxf":
        document, written = ezdxf.new("R2000", units=4), io.StringIO()
        for i in range(3_500):
            document.modelspace().add_line((i % 90, 0), (i % 80, 10))
        document.write(written)
        content = written.getvalue().encode()
    else:
        file = io.BytesIO()
        page = canvas.Canvas(file, (5000, 5000))
        for i in range(3_500):
            page.bezier(i % 100, 0, i % 90, 30, 20, i % 70, 50, 50)
        page.save()
        content = file.getvalue()
    shares: list[float] = []
    take_drawing(content, shares.append)
    some = [share for share in shares if share]
    assert some == sorted(some)
    assert len(set(some)) > 2
    assert 0 < some[-1] <= 1

    def not_wanted(share: float) -> None:
        raise Refused("Given up.")

    begun: list[subprocess.Popen[bytes]] = []

    def begin(*command: Any, **options: Any) -> subprocess.Popen[bytes]:
        begun.append(true(*command, **options))
        return begun[-1]

    true = subprocess.Popen
    monkeypatch.setattr(subprocess, "Popen", begin)
    with pytest.raises(Refused, match="Given up"):
        take_drawing(content, not_wanted)
    assert [process.returncode for process in begun] == [-signal.SIGKILL]


def test_numbers_without_end_are_left_out_and_said() -> None:
    found = take_drawing(svg(f'<path d="M0 0L1e400 5L3 4z"/>{RECT}'))
    assert len(found.items) == 1
    assert found.unread


def test_a_file_is_known_by_what_it_holds() -> None:
    assert format_of(svg(RECT)) == "svg"
    assert format_of(b"\xef\xbb\xbf<?xml version='1.0'?><!-- made by hand -->" + svg(RECT)) == "svg"
    assert format_of(dxf(lambda document: None)) == "dxf"
    assert format_of(pdf(lambda page: None)) == "pdf"
    assert format_of(b"\x89PNG\r\n") == ""
    assert read_svg(gzip.compress(svg(RECT))).items


def test_filled_leaves_what_is_plain_as_it_is() -> None:
    plain = path_from("M0 0L10 0L10 10L0 10Z")
    assert isinstance(filled(plain, True), Path)
    assert filled(plain, True).area == pytest.approx(100)
    assert join([plain]).area == filled(plain, False).area
