"""Offsets: true distances, true curves, and few nodes."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from foliant.core.motifs import MOTIFS, outline
from foliant.core.paths import ARC, LINE, Path, PathPen, Region, combine, offset, widened
from foliant.core.paths.flatten import flatten
from foliant.core.paths.shapes import circle, rectangle, ring
from tests.core.test_paths import blob, fine_polygon, shapes
from tests.making import drawn, glyphs


def away(grown: Region, source: Region) -> np.ndarray:
    """How far points all along one outline lie from the other outline, mm."""
    flat = flatten(grown.path, 0.0005)
    points = np.concatenate([flat.points, (flat.points + flat.ends) / 2])
    return shapely.distance(shapely.points(points), fine_polygon(source.path).boundary)


def test_straight_and_round_edges_move_exactly() -> None:
    plate = combine([rectangle(72, 30, "rounded", 6)])
    grown = offset(plate, 5)
    assert grown.path.bounds == pytest.approx((-41, -20, 41, 20))
    assert sorted(grown.path.kinds.tolist()) == [LINE] * 4 + [ARC] * 4
    assert grown.path.area == pytest.approx(82 * 40 - (4 - math.pi) * 121, abs=0.01)
    assert offset(plate, -5).path.area == pytest.approx(62 * 20 - (4 - math.pi) * 1, abs=0.01)


def test_joins_are_round_sharp_or_bevelled() -> None:
    plate = combine([rectangle(20, 10)])
    assert offset(plate, 2, "round").path.area == pytest.approx(24 * 14 - (4 - math.pi) * 4, abs=0.01)
    assert offset(plate, 2, "sharp").path.area == pytest.approx(24 * 14, abs=0.01)
    assert offset(plate, 2, "bevelled").path.area == pytest.approx(24 * 14 - 4 * 2, abs=0.02)
    assert len(offset(plate, 2, "sharp").path) == 4


def test_what_is_shrunk_by_more_than_it_is_wide_is_gone() -> None:
    assert not len(offset(combine([rectangle(20, 10)]), -5.01).path)
    assert not len(offset(combine([ring(40, 5)]), -2.6).path)


@given(st.lists(shapes, min_size=1, max_size=3), st.sampled_from([0.3, 1.0, 2.5, 5.0, 9.0]))
def test_a_surround_keeps_its_distance(paths: list[Path], distance: float) -> None:
    source = combine(paths)
    grown = offset(source, distance)
    found = away(grown, source)
    assert found.min() > distance - 0.002  # less the grid, and the edges that it is measured by
    assert found.max() < distance + 0.01
    expected = fine_polygon(source.path).buffer(distance, quad_segs=128)
    assert grown.path.area == pytest.approx(expected.area, abs=0.01 * expected.length)
    assert len(grown.bodies) == len(shapely.get_parts(expected))


@pytest.mark.parametrize("font", ["pacifico", "playfair-display", "alegreya-sans", "bebas-neue"])
@pytest.mark.parametrize("distance", [5.0, 2.0])
def test_a_surround_of_words_is_between_five_and_five_and_a_hundredth(font: str, distance: float) -> None:
    source = combine(glyphs("Quillmoor", font, 12))
    grown = offset(source, distance)
    found = away(grown, source)
    assert distance - 0.0015 < found.min() <= found.max() <= distance + 0.01
    assert len(grown.path) <= 3 * len(source.path)


@given(st.sampled_from(sorted(MOTIFS)), st.sampled_from([-1.0, 0.5, 3.0]))
def test_every_motif_can_be_grown_and_shrunk(key: str, distance: float) -> None:
    path = outline(key)
    left, _, right, _ = path.bounds
    source = combine([path.transformed((40 / (right - left), 0, 0, 40 / (right - left), 0, 0))])
    moved = offset(source, distance)
    expected = fine_polygon(source.path).buffer(distance, quad_segs=64)
    assume(expected.area > 1)
    assert moved.path.area == pytest.approx(expected.area, abs=0.012 * expected.length)
    assert len(moved.path) <= 3 * len(source.path) + 6


@given(shapes, st.floats(0.2, 4))
def test_out_and_in_again_holds_the_source(path: Path, distance: float) -> None:
    source = combine([path])
    back = offset(offset(source, distance), -distance)
    assert fine_polygon(back.path).buffer(0.02).contains(fine_polygon(source.path))


def test_a_line_is_widened_with_round_or_flat_ends() -> None:
    pen = PathPen()
    pen.moveTo((0, 0))
    pen.lineTo((30, 0))
    pen.endPath()
    assert widened(pen.path(), 2, "flat").path.area == pytest.approx(60, abs=0.001)
    round_ends = widened(pen.path(), 2, "round").path
    assert round_ends.area == pytest.approx(60 + math.pi, abs=0.001)
    assert sorted(round_ends.kinds.tolist()) == [LINE, LINE, ARC, ARC]


def test_a_closed_line_is_widened_to_a_ring() -> None:
    assert widened(circle(20), 2).path.area == pytest.approx(math.pi * (11**2 - 9**2), abs=0.01)


def test_a_scribble_of_many_points_is_widened() -> None:
    def scribble(pen: PathPen) -> None:
        pen.moveTo((0, 0))
        for i in range(1, 150):
            pen.lineTo((40 * math.sin(i * 1.7) + 0.01 * i, 30 * math.cos(i * 2.3)))
        pen.endPath()

    line = drawn(scribble)
    area = widened(line, 0.4).path.area
    flat = flatten(line)
    reference = shapely.LineString([*flat.points, flat.ends[-1]]).buffer(0.2, quad_segs=32)
    assert area == pytest.approx(reference.area, abs=0.002 * reference.length)


def test_offsets_of_offsets_do_not_wear() -> None:
    source = combine([blob(0, 0, 12, 0.2)])
    region = source
    for _ in range(5):
        region = offset(offset(region, 1.5), -1.5)
    worn = shapely.hausdorff_distance(fine_polygon(region.path).boundary, fine_polygon(source.path).boundary)
    assert worn < 0.05


@pytest.mark.parametrize("words", ["Orrin", "Vega"])
def test_out_and_in_twenty_times_stays_where_it_was_after_the_first(words: str) -> None:
    once = region = offset(offset(combine(glyphs(words, "pacifico", 12)), 2), -2)
    for _ in range(20):
        region = offset(offset(region, 2), -2)
    assert len(region.path) <= 3 * len(once.path)
    assert not len(region.rough)
    assert region.shape.symmetric_difference(once.shape).buffer(-0.05).is_empty
