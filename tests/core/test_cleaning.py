"""Clean-up: each fault of lines that others drew is found, counted, and mended without touching the rest."""

import json
import math
import random
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.cleaning import FAULTS, TOLD, cleaned, found_in
from foliant.core.cleaning.gaps import joined
from foliant.core.design import resolve
from foliant.core.design.edits.cleaning import counted
from foliant.core.design.steps import next_steps
from foliant.core.errors import Refused
from foliant.core.formats import write_design
from foliant.core.formats.design_file import read_design_file
from foliant.core.motifs import outline
from foliant.core.paths import ARC, CUBIC, LINE, join
from foliant.core.paths.data import path_data, path_from
from foliant.core.paths.fitting import fitted
from foliant.core.paths.flatten import flatten
from foliant.core.paths.offset import widened
from tests.core.test_bringing import drawn, taken
from tests.core.test_cli import foliant
from tests.making import edited, one_piece, put

pytestmark = pytest.mark.usefixtures("read_here")


def lines(*data: str):
    return tuple(path_from(one) for one in data)


def counts(*data: str) -> dict[str, int]:
    return {key: found.count for key, found in found_in(lines(*data)).items()}


def test_what_is_clean_has_no_fault() -> None:
    clean = (
        "M0 0L20 0L20 10L0 10Z",
        "M5 5A2 2 0 0 1 9 5A2 2 0 0 1 5 5Z",
        "M0 20L30 25",
        "M0 20L0 40",
        "M50 0C60 0 60 9 50 9Z",
    )
    assert counts(*clean) == {}
    assert cleaned(lines(*clean))[0] == lines(*clean) or not cleaned(lines(*clean))[1]


def test_doubles_are_found_whichever_way_they_run_and_however_nearly_they_lie() -> None:
    square = "M0 0L20 0L20 10L0 10Z"
    alike = (
        square,
        "M20 10L0 10L0 0L20 0Z",
        "M0.02 0.01L20 0L20 10.02L0 10Z",
        "M5 5L9 9",
        "M9 9L5 5",
        "M0 0L20 0L20 10L0 10.4Z",
    )
    paths, mended = cleaned(lines(*alike), ["doubles"])
    assert mended == {"doubles": 3}
    assert len(paths) == 3


@pytest.mark.parametrize("motif", ["heart", "star", "moon", "cloud"])
def test_a_stroke_that_is_drawn_along_both_its_sides_is_one_line(motif: str) -> None:
    shape = outline(motif).transformed((40, 0, 0, 40, 0, 0))
    drawn_at = abs(shape.area)
    stroke = widened(shape, 0.4, joins="sharp").path
    paths = (stroke, path_from("M3 3L4 3L4 4Z"))
    middle, outer = (abs(cleaned(paths, [key])[0][0].area) for key in ("middles", "strokes"))
    assert middle == pytest.approx(drawn_at, abs=0.02 * shape.length)
    assert outer == pytest.approx(drawn_at + 0.2 * shape.length, rel=0.01)
    assert len(cleaned(paths)[0]) == 2
    both = f'<path d="{path_data(stroke)}" stroke="red" stroke-width="0.1" fill="none"/>'
    (part,) = taken(drawn(both)).pieces[0].parts
    assert part.plays("adds")


def test_rings_and_letters_are_no_strokes_and_what_is_engraved_is_an_area() -> None:
    ring = "M0 0A20 20 0 0 1 40 0A20 20 0 0 1 0 0ZM2 0A18 18 0 0 1 38 0A18 18 0 0 1 2 0Z"
    letter = "M0 0A3 4 0 0 1 6 0A3 4 0 0 1 0 0ZM0.6 0A2.4 3.4 0 0 1 5.4 0A2.4 3.4 0 0 1 0.6 0Z"
    assert not {"strokes", "middles"} & set(found_in(lines(ring, letter), FAULTS))
    frame = '<path fill-rule="evenodd" d="M0 0H60V40H0ZM.4 .4H59.6V39.6H.4Z"/>'
    engraved = taken(drawn(frame), one_piece(put("rectangle", width=90, height=50)))
    assert not counted(engraved.pieces[0].parts)


@pytest.mark.parametrize("ends", ["round", "flat", "square"])
@pytest.mark.parametrize("width", [0.1, 0.3, 0.8])
def test_a_thin_outline_round_an_open_line_is_that_line_where_it_is_asked_for(width: float, ends: str) -> None:
    """Straight, bent at corners, round, and curved both ways; with true corners, and as long as it was."""
    was = lines("M0 0L30 10", "M40 0L60 0L65 15L90 5", "M0 40A20 20 0 0 1 40 40", "M50 40C70 10 80 70 110 40")
    outlines = tuple(widened(one, width, ends, "sharp").path for one in was)  # type: ignore[arg-type]
    assert "ribbons" not in cleaned(outlines)[1]
    found, mended = cleaned(outlines, ["ribbons"])
    assert mended == {"ribbons": 4}
    for one, line in zip(found, was, strict=True):
        assert not one.closed.any()
        assert len(one) <= 10
        room = 0.04 + (width / 2 if ends == "square" else 0)  # nothing tells a square end from a longer line
        flat = [shapely.linestrings([*flatten(path).points, flatten(path).ends[-1]]) for path in (one, line)]
        assert shapely.hausdorff_distance(*flat, densify=0.01) < room


def test_what_is_wide_short_or_forked_is_no_ribbon() -> None:
    fork = shapely.union_all([shapely.LineString(way).buffer(0.2) for way in ([(0, 0), (40, 0)], [(20, 0), (20, 30)])])
    tee = "M" + "L".join(f"{x} {y}" for x, y in fork.exterior.coords[:-1]) + "Z"
    others = lines(tee, "M0 50L30 50L30 52L0 52Z", "M0 60L3 60L3 60.5L0 60.5Z", "M0 70L30 70L0 71Z")
    assert not found_in(others, ["ribbons"])
    # Engraved, it is the area that it bounds; scored, it is told and not mended with the rest.
    thin = '<path fill="none" stroke="red" d="M10 10H40V10.4H10Z"/><path d="M0 0H60V30H0Z" fill="none" stroke="red"/>'
    brought = taken(drawn(thin))
    part = next(part for part in brought.pieces[0].parts if "ribbons" in counted([part], TOLD))
    assert not any(step.says.startswith("Clean up") for step in next_steps(brought.pieces[0], [part.id]))
    engraved = edited(brought, {"do": "set-role", "piece": "p1", "parts": [part.id], "role": "engraves"})
    assert not counted([engraved.piece("p1").part(part.id)], TOLD)
    ask = {"do": "clean-parts", "piece": "p1", "parts": [part.id], "faults": ["ribbons"]}
    slit = edited(brought, ask).piece("p1")
    assert slit.part(part.id).roles == ("cuts",)
    assert resolve(slit).slits.length == pytest.approx(30, abs=0.02)
    # What added material, and bounds nothing any more, is scored.
    alone = taken(drawn('<path d="M10 10H40V10.4H10Z" fill="none" stroke="red" stroke-width="0.05"/>'))
    (lone,) = alone.pieces[0].parts
    assert lone.roles == ("adds",)
    alone = edited(alone, {**ask, "parts": [lone.id]})
    assert alone.piece("p1").part(lone.id).roles == ("scores",)


def test_lines_over_lines_are_drawn_once() -> None:
    over = ("M0 0L20 0", "M5 0L9 0", "M15 0L30 0", "M0 5L10 5L10 10L0 10Z", "M2 5L30 5", "M0 -5L5 5")
    paths, mended = cleaned(lines(*over), ["overdrawn"])
    assert mended["overdrawn"] >= 3
    whole = shapely.union_all([shapely.LineString(p[[0, 3]]) for path in paths for p in path.points])
    assert join(paths).length == pytest.approx(whole.length)
    before = shapely.union_all([shapely.LineString(p[[0, 3]]) for path in lines(*over) for p in path.points])
    assert whole.symmetric_difference(before.buffer(0.01)).difference(before.buffer(0.02)).is_empty
    assert whole.length == pytest.approx(before.length, abs=0.1)


def test_gaps_are_closed_where_that_closes_an_outline_and_nowhere_else() -> None:
    sides = ("M0 0L10 0", "M10 0.2L10 10", "M9.9 10L0 10", "M0 0L0 10")
    paths, mended = cleaned(lines(*sides), ["gaps"])
    assert mended == {"gaps": 2}
    (square,) = paths
    assert square.closed.all()
    assert abs(square.area) == pytest.approx(99.5, abs=1)
    dashes = ("M0 0L4 0", "M4.4 0L8 0", "M8.4 0L12 0")
    assert counts(*dashes) == {}
    crossing = ("M0 0L5 5", "M5 5L9 0", "M5 5L5 9")
    assert len(joined(lines(*crossing))) == 3  # three meet there: none is the other's end


def test_lines_whose_ends_meet_are_one_outline_without_being_asked() -> None:
    sides = "".join(
        f'<path d="{one}" stroke="red" stroke-width="0.1"/>'
        for one in ("M10 10H50", "M50 10V40", "M10 40H50", "M10 10V40")
    )
    design = taken(drawn(sides))
    (part,) = design.pieces[0].parts
    assert part.roles == ("adds",)
    assert abs(join(part.shape.paths()).area) == pytest.approx(1200)


def test_specks_bits_and_crossings() -> None:
    assert counts("M0 0L20 0L20 10L0 10Z", "M5 5L5.1 5L5.1 5.1Z") == {"specks": 1}
    assert counts("M0 0L20 0L20.001 0L20 10L0 10Z") == {"bits": 1}
    bow, mended = cleaned(lines("M0 0L10 10L10 0L0 10Z"))
    assert mended == {"crossings": 1}
    assert bow[0].area == pytest.approx(50)
    only = lines("M5 5L5.1 5L5.1 5.1Z")
    assert not found_in(only)  # what is all of it is meant


@given(st.integers(60, 400), st.floats(3, 40), st.floats(3, 40), st.floats(0, 0.3), st.floats(0, 6))
def test_outlines_of_many_nodes_are_told_by_few_that_lie_where_they_did(
    count: int, wide: float, high: float, wave: float, turn: float
) -> None:
    angle = np.linspace(0, 2 * np.pi, count, endpoint=False) + turn
    reach = 1 + wave * np.cos(3 * angle)
    points = np.stack([wide * reach * np.cos(angle), high * reach * np.sin(angle)], axis=1)
    traced = path_from("M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in points) + "Z")
    fewer = fitted(traced, 0.05)
    assert len(fewer) < 0.6 * len(traced)
    away = shapely.hausdorff_distance(ring(fewer), ring(traced), densify=0.05)
    chords = np.hypot(*(points - np.roll(points, 1, axis=0)).T).max()
    assert away < 0.15 + chords**2 / (4 * min(wide, high)), away


def ring(path) -> shapely.Geometry:
    flat = flatten(path, 0.002)
    return shapely.LineString(np.concatenate([flat.points, flat.ends[-1:]]))


def test_what_is_fitted_keeps_its_corners_its_circles_and_its_straight_edges() -> None:
    steps = np.linspace(0, 2 * np.pi, 300, endpoint=False)
    circle = path_from("M" + "L".join(f"{20 * math.cos(a):.4f} {20 * math.sin(a):.4f}" for a in steps) + "Z")
    assert set(fitted(circle, 0.02).kinds) <= {ARC, CUBIC}
    assert len(fitted(circle, 0.02)) <= 5
    edge = [(x / 10, 0.0) for x in range(100)] + [(10.0, y / 10) for y in range(100)]
    edge += [(10 - x / 10, 10.0) for x in range(100)] + [(0.0, 10 - y / 10) for y in range(100)]
    square = fitted(path_from("M" + "L".join(f"{x} {y}" for x, y in edge) + "Z"), 0.02)
    assert (square.kinds == LINE).all()
    assert (len(square), square.area) == (4, pytest.approx(100))


def test_five_thousand_doubled_lines_are_found_one_by_one() -> None:
    dice = random.Random(3)
    data = []
    for _ in range(5000):
        x, y, way, length = dice.random() * 300, dice.random() * 300, dice.random() * 6, 3 + dice.random() * 9
        a, b = f"{x:.4f} {y:.4f}", f"{x + length * math.cos(way):.4f} {y + length * math.sin(way):.4f}"
        data += [f"M{a}L{b}", f"M{b}L{a}"]
    _, mended = cleaned(lines(*data), ["doubles", "overdrawn"])
    assert mended["doubles"] == 5000


def test_parts_are_cleaned_in_place_by_one_step_and_one_fault_at_a_time() -> None:
    inside = '<path d="M10 10H60V40H10Z" stroke="red" fill="none" stroke-width="0.1"/>'
    twice = inside + '<path d="M60 40H10V10H60Z" stroke="red" fill="none" stroke-width="0.1"/>'
    speck = '<path d="M20 20h.2v.2z" stroke="red" fill="none" stroke-width="0.1"/>'
    design = taken(drawn(twice + speck))
    ids = [part.id for part in design.pieces[0].parts]
    step = next(step for step in next_steps(design.pieces[0], ids) if step.says.startswith("Clean up"))
    clean = edited(design, step.edit)
    assert "doubled line" in step.says or "speck" in step.says
    (plate,) = [part for part in clean.pieces[0].parts if part.plays("adds")]
    assert (plate.shape.width, plate.shape.height) == pytest.approx((50, 30))
    assert not [one for one in next_steps(clean.pieces[0], [plate.id]) if one.says.startswith("Clean up")]
    with pytest.raises(Refused, match="nothing to clean"):
        edited(clean, {"do": "clean-parts", "piece": "p1", "parts": [plate.id]})
    with pytest.raises(Refused, match="no fault"):
        edited(design, {"do": "clean-parts", "piece": "p1", "parts": ids, "faults": ["rust"]})


def test_the_command_line_says_the_faults_and_mends_them(tmp_path: Path) -> None:
    file, out = tmp_path / "design.json", tmp_path / "clean.json"
    twice = '<path d="M10 10H60" stroke="red" stroke-width="0.1"/>' * 2
    file.write_text(write_design(taken(drawn(twice))))
    said = foliant("clean", str(file), "--to", str(out))
    assert said.returncode == 0, said.stderr
    assert "1 doubled line" in said.stdout
    (part,) = read_design_file(out.read_bytes()).pieces[0].parts
    assert len(part.shape.data) == 1
    assert json.loads(foliant("clean", str(out), "--json").stdout) == []
    assert foliant("clean", str(file), "--only", "rust").returncode == 2
    assert set(FAULTS) >= {"doubles", "gaps", "specks", "nodes"}
    assert path_data(path_from("M0 0L1 1")) == "M0 0L1 1"


def test_nothing_has_no_faults() -> None:
    assert cleaned((), FAULTS) == ((), {})
