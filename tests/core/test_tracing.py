"""Tracing: pictures as shapes in true curves, held against what they were rendered from."""

import io
from functools import cache
from pathlib import Path

import numpy as np
import pytest
import resvg_py
import shapely
from PIL import Image

from foliant.core.design import Design, read_edit, resolve
from foliant.core.errors import Refused
from foliant.core.formats.design_file import read_design_file
from foliant.core.motifs import outline
from foliant.core.paths import combine
from foliant.core.paths.data import path_data
from foliant.core.seeing.tracing import is_photograph, usual_darkness
from tests.core.test_cli import foliant
from tests.drawings import svg
from tests.making import edited, glyphs, one_piece, put
from tests.pictures import encoded, kept, waves

pytestmark = pytest.mark.usefixtures("read_here")

WIDE = 66.0


@cache
def rendered(data: str, box: tuple[float, float, float, float], pixels: int, stroke: float = 0) -> np.ndarray:
    left, top, wide, high = box
    look = f'fill="none" stroke="#000" stroke-width="{stroke}" stroke-linecap="round"' if stroke else ""
    inside = f'<rect x="{left}" y="{top}" width="{wide}" height="{high}" fill="#fff"/><path d="{data}" {look}/>'
    size = f'width="{pixels}" height="{pixels * high / wide}" viewBox="{left} {top} {wide} {high}"'
    picture = resvg_py.svg_to_bytes(svg_string=svg(inside, size).decode())
    return np.asarray(Image.open(io.BytesIO(bytes(picture))).convert("L"))


def pictured(pixels: np.ndarray, wide: float = WIDE) -> Design:
    size = {"whole_width": wide, "whole_height": wide * pixels.shape[0] / pixels.shape[1]}
    return one_piece(put("picture", picture=kept(pixels), **size))


def trace(design: Design, **how: object) -> Design:
    return edited(design, {"do": "trace-pictures", "piece": "p1", "parts": [design.pieces[0].parts[0].id], **how})


def motif(key: str, pixels: int = 300):
    """A motif 60 mm wide, and a picture of it with 3 mm about it."""
    plain = outline(key)
    left, top, right, bottom = plain.bounds
    scale = 60 / (right - left)
    large = plain.transformed((scale, 0, 0, scale, 0, 0))
    left, top, right, bottom = large.bounds
    box = (left - 3, top - 3, 66.0, bottom - top + 6)
    return large.moved(-(left + right) / 2, -(top + bottom) / 2), rendered(path_data(large), box, pixels)


def about_its_middle(shape: shapely.Geometry) -> shapely.Geometry:
    middle = shapely.get_coordinates(shapely.box(*shape.bounds).centroid)
    return shapely.transform(shape, lambda points: points - middle)


def traced_motif(key: str) -> tuple[float, float]:
    """How far, mm, what is traced of a motif 60 mm wide lies off at most, and how many times as many nodes it has."""
    plain, pixels = motif(key)
    (part,) = trace(pictured(pixels)).pieces[0].parts
    assert part.roles == ("engraves",)
    paths = part.shape.paths()
    ours, theirs = (about_its_middle(combine(some).shape) for some in (paths, [plain]))
    assert ours.symmetric_difference(theirs).area < 0.03 * theirs.area
    away = shapely.hausdorff_distance(ours.boundary, theirs.boundary, densify=0.05)
    return float(away), sum(map(len, paths)) / len(combine([plain]).path)


@pytest.mark.parametrize("key", ["star", "heart", "moon-stars", "rocket", "boot", "trophy", "cat", "volleyball"])
def test_a_motif_rendered_at_300_pixels_is_traced_within_fifteen_hundredths_with_few_nodes(key: str) -> None:
    away, nodes = traced_motif(key)
    assert away < 0.15
    assert nodes <= 2


def test_tracing_weighs_what_its_dots_and_tones_come_to() -> None:
    """So that what takes long is worked out beside the pages."""
    small, large = pictured(np.full((30, 30), 255, np.uint8)), pictured(np.full((4000, 4000), 255, np.uint8))

    def weighs(design: Design, **how: object) -> int:
        part = design.pieces[0].parts[0].id
        return read_edit({"do": "trace-pictures", "piece": "p1", "parts": [part], **how}).effort(design)

    assert weighs(small) < 100
    assert weighs(large) == pytest.approx(120_000, rel=0.01)  # of so many no more are looked at
    assert weighs(large, tones=3) == 3 * weighs(large)


def test_outer_outlines_tones_and_light_are_traced_as_they_are_asked_for() -> None:
    ring = "M0 0A20 20 0 0 1 40 0A20 20 0 0 1 0 0ZM10 0A10 10 0 0 0 30 0A10 10 0 0 0 10 0Z"
    pixels = rendered(ring, (-5, -25, 50, 50), 300)
    areas = trace(pictured(pixels, 50)).pieces[0].parts[0]
    outer = trace(pictured(pixels, 50), what="outer").pieces[0].parts[0]
    assert sum(path.area for path in areas.shape.paths()) == pytest.approx(np.pi * 300, rel=0.01)
    assert (outer.roles, sum(path.area for path in outer.shape.paths())) == (
        ("adds",),
        pytest.approx(np.pi * 400, rel=0.01),
    )
    light = trace(pictured(pixels, 50), inverted=True).pieces[0].parts[0]
    assert sum(path.area for path in light.shape.paths()) == pytest.approx(2500 - np.pi * 300, rel=0.01)
    steps = np.repeat(np.array([255, 180, 100, 20], np.uint8), 60)[None].repeat(120, 0)
    tones = trace(pictured(steps, 40), dark=20.0, tones=3).pieces[0].parts
    assert [round(part.shape.width) for part in tones] == [30, 20, 10]
    assert [part.shape.label()[-6:] for part in tones] == ["tone 1", "tone 2", "tone 3"]


def test_what_becomes_of_the_picture_is_said() -> None:
    design = pictured(motif("star")[1])
    for picture, roles in (
        ("goes", ["engraves"]),
        ("guides", ["guides", "engraves"]),
        ("stays", ["engraves", "engraves"]),
    ):
        assert [part.roles[0] for part in trace(design, picture=picture).pieces[0].parts] == roles
    guided = resolve(trace(design, picture="guides").pieces[0])
    assert (len(guided.guiding), len(guided.pictures)) == (1, 0)
    assert trace(design, role="adds").pieces[0].parts[0].roles == ("adds",)


def test_the_middle_of_an_inked_alphabet_is_one_body_a_letter() -> None:
    for letter in "AGKQRX":
        strokes = glyphs(letter, "line-plain", 40)[0]
        left, top, right, bottom = strokes.bounds
        box = (left - 5, top - 5, right - left + 10, bottom - top + 10)
        design = trace(pictured(rendered(path_data(strokes), box, 300, 3.0), box[2]), what="middle")
        (part,) = design.pieces[0].parts
        assert part.roles == ("scores",)
        pieces = shapely.union_all(
            [shapely.LineString(segment[[0, 3]]) for path in part.shape.paths() for segment in path.points]
        )
        bodies = shapely.get_num_geometries(shapely.union_all(shapely.buffer(pieces, 0.3)))
        assert bodies == 1, letter
        length = sum(path.length for path in part.shape.paths())
        assert length == pytest.approx(strokes.length, rel=0.15, abs=4), letter


def test_what_cannot_be_traced_is_a_sentence() -> None:
    white = np.full((50, 50), 255, np.uint8)
    with pytest.raises(Refused, match="dark enough"):
        trace(pictured(white))
    noise = np.random.default_rng(1).integers(0, 255, (900, 900), dtype=np.uint8)
    with pytest.raises(Refused, match="outlines"):
        trace(pictured(noise, 200), speck=0.0)
    design = one_piece(put("circle", diameter=20))
    with pytest.raises(Refused, match="Choose a picture"):
        edited(design, {"do": "trace-pictures", "piece": "p1", "parts": ["a2"]})
    gone = one_piece(put("picture", picture="gone.png"))
    with pytest.raises(Refused, match="not here"):
        trace(gone)


def test_photographs_are_told_from_drawings() -> None:
    drawn = 255 - motif("rocket")[1]
    assert not is_photograph(drawn)
    assert is_photograph(255 - waves())
    assert 30 < usual_darkness(drawn) < 70
    assert usual_darkness(np.zeros((9, 9), np.uint8)) > 0


def test_the_command_line_traces_a_picture(tmp_path: Path) -> None:
    file, out = tmp_path / "star.png", tmp_path / "star.json"
    file.write_bytes(encoded(motif("star")[1]))
    said = foliant("trace", str(file), "--to", str(out), "--width", "66", "--what", "outer")
    assert said.returncode == 0, said.stderr
    (part,) = read_design_file(out.read_bytes()).pieces[0].parts
    assert part.shape.width == pytest.approx(60, abs=0.2)
    file.write_bytes(b"no picture")
    assert foliant("trace", str(file), "--to", str(out)).returncode == 2
