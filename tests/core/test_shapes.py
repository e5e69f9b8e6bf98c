"""The kinds of part: true to their own numbers, whole, and resizable by them."""

import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design.edits.adding import KINDS
from foliant.core.design.shapes import Shape
from foliant.core.errors import Refused
from foliant.core.motifs import MOTIFS, outline
from foliant.core.paths import combine, join
from foliant.core.paths.flatten import flatten
from foliant.core.quantities import build, with_values

SOLID = (
    "rectangle",
    "circle",
    "ellipse",
    "polygon",
    "star",
    "ring",
    "sector",
    "arch",
    "drop",
    "heart",
    "triangle",
    "spike",
    "swallowtail",
    "wave",
)


def made(kind: str, **values: object) -> Shape:
    return with_values(build(KINDS[kind], {}), values, "mm")


def area(shape: Shape) -> float:
    return combine(shape.paths()).path.area


@pytest.mark.parametrize("kind", SOLID)
def test_every_shape_is_one_body_that_turns_clockwise(kind: str) -> None:
    region = combine(made(kind).paths())
    assert len(region.bodies) == 1
    assert region.path.area > 100


def test_areas_are_those_of_geometry() -> None:
    assert area(made("ellipse", width=60, height=20)) == pytest.approx(math.pi * 30 * 10, rel=1e-5)
    assert area(made("polygon", sides=6, size=40)) == pytest.approx(3 * math.sqrt(3) / 2 * 400)
    assert area(made("sector", diameter=60, angle=90, inner=20)) == pytest.approx(math.pi / 4 * (900 - 100))
    assert area(made("triangle", base=40, height=30)) == pytest.approx(600)
    assert area(made("spike", length=60, width=6, point=12)) == pytest.approx(6 * 48 + 6 * 12 / 2)
    assert area(made("swallowtail", width=50, height=70, notch=20)) == pytest.approx(50 * 70 - 50 * 20 / 2)
    assert area(made("wave", width=40, height=100, depth=6)) == pytest.approx(40 * (100 - 3), rel=1e-4)
    assert area(made("wave", width=40, height=100, depth=6, edges="both")) == pytest.approx(40 * (100 - 6), rel=1e-4)
    assert area(made("arch", width=40, height=60, rise=20)) == pytest.approx(40 * 40 + math.pi * 200)
    inner, outer = 9.0, 20.0
    assert area(made("star", points=5, diameter=40, depth=55)) == pytest.approx(
        5 * inner * outer * math.sin(math.pi / 5), rel=1e-5
    )


@pytest.mark.parametrize(
    ("measured", "wide"), [("corners", 40 * math.sqrt(3) / 2), ("flats", 40), ("side", 40 * math.sqrt(3))]
)
def test_a_hexagon_is_measured_as_the_maker_knows_it(measured: str, wide: float) -> None:
    left, _, right, _ = join(made("polygon", sides=6, size=40, measured=measured).paths()).bounds
    assert right - left == pytest.approx(wide)


@given(
    kind=st.sampled_from(["rectangle", "ellipse", "arch", "drop", "heart"]),
    width=st.floats(5, 60),
    height=st.floats(70, 120),
)
def test_the_box_is_as_wide_and_tall_as_was_typed(kind: str, width: float, height: float) -> None:
    values = {"rise": 2} if kind == "arch" else {}
    left, top, right, bottom = join(made(kind, height=height, **values).resized(1, 1).sized(width=width).paths()).bounds
    assert (right - left, bottom - top) == pytest.approx((width, height), abs=1e-4)


def test_a_drop_runs_smoothly_from_its_sides_into_its_round() -> None:
    path = made("drop", width=30, height=46).paths()[0]
    side = path.points[0, 3] - path.points[0, 0]
    centre = (0.0, 46 / 2 - 15)
    spoke = path.points[0, 3] - centre
    assert abs(side @ spoke) < 1e-6  # the side is a tangent


@pytest.mark.parametrize("kind", [*SOLID, "motif", "words", "hole", "line", "flap"])
@given(factor=st.floats(0.5, 3))
def test_scaling_scales_the_box(kind: str, factor: float) -> None:
    shape = made(kind)
    before, after = join(shape.paths()).bounds, join(shape.resized(factor, factor).paths()).bounds
    assert after[2] - after[0] == pytest.approx((before[2] - before[0]) * factor, rel=1e-4)


def test_a_circle_pulled_one_way_becomes_an_ellipse_and_a_star_stays_a_star() -> None:
    assert made("circle", diameter=40).resized(1.5, 1).summary("mm") == "60 × 40"
    star = made("star", diameter=40).resized(1.5, 1)
    assert (star.kind, star.diameter) == ("star", 60)


@pytest.mark.parametrize(
    ("kind", "values", "words"),
    [
        ("sector", {"inner": 60}, "leaves nothing"),
        ("spike", {"point": 61}, "does not fit"),
        ("swallowtail", {"notch": 70}, "leaves nothing"),
        ("wave", {"depth": 140}, "leave nothing"),
        ("flap", {"width": 60}, "round tip"),
        ("arch", {"rise": 21}, "the most is 20 mm"),
        ("drop", {"height": 30}, "taller than it is wide"),
        ("heart", {"dip": 30}, "would split"),
        ("star", {"points": 2}, "the least is 3"),
        ("polygon", {"sides": "4.5"}, "whole number"),
        ("line", {"length": 0}, "more than nothing"),
    ],
)
def test_what_cannot_be_is_said_in_a_sentence(kind: str, values: dict[str, object], words: str) -> None:
    with pytest.raises(Refused, match=words):
        made(kind, **values)


def test_there_are_at_least_800_motifs_with_words_to_find_them_by() -> None:
    assert len(MOTIFS) >= 800
    assert all(motif.words for motif in MOTIFS.values())
    assert {"planet", "rocket", "fish", "dog", "coffee", "anchor", "mountains", "bicycle"} <= set(MOTIFS)
    signs = {key for key, motif in MOTIFS.items() if "pictogram" in motif.words}
    assert {"door", "stairs", "elevator", "toilet", "arrow-fat-left", "prohibit"} <= signs
    assert len(signs) >= 30


EVERYDAY = """
anchor angel apple banana bear bee beer bell bicycle bird boat book bread butterfly cactus cake candle car carrot
castle cat cherry chisel church clock coffee cookie cow crab cross crown deer dinosaur dog dolphin door dove dragon
drum duck eagle elephant feather fern fire fish flag flower fox frog ghost gift goat grapes guitar hammer harp hat
heart hedgehog horse house key kite ladybird lamb leaf lemon lion lock mermaid monkey moon mountain mouse mushroom
needle oak octopus orange otter owl palm panda paw peacock pear pencil penguin piano pig pineapple pizza planet
poppy pretzel pumpkin rabbit rain rainbow ring robot rocket rooster rosary rose sailboat saw scissors seahorse shark
sheep ship shoe skull snail snake snowflake snowman spider squirrel star strawberry sun sunflower swan sword teapot
tent tiger tomato train tractor tree trumpet tulip turtle umbrella unicorn violin wedding whale wine wolf wrench
"""


def test_what_most_everyday_words_stand_for_is_there_and_no_firm() -> None:
    words = EVERYDAY.split()
    called = {
        form
        for motif in MOTIFS.values()
        for word in (*motif.words, *motif.key.split("-"))
        for form in (word, word.removesuffix("s"))
    }
    missing = [word for word in words if word not in called]
    assert len(missing) <= len(words) / 20, missing
    assert not {"google", "android", "safari", "lego", "uber", "excel"} & called


def test_every_motif_is_solid_and_most_can_add_material() -> None:
    bodies = {}
    for key in MOTIFS:
        path = outline(key)
        region = combine([path])
        left, top, right, bottom = path.bounds
        assert bottom - top == pytest.approx(1), key
        assert region.shape.area > 0.12 * (right - left) * (bottom - top), key
        assert not shapely.is_empty(region.shape.buffer(-0.01)), key
        assert len(flatten(path).points) > 4, key
        bodies[key] = len(region.bodies)
    assert {key for key, count in bodies.items() if not 1 <= count <= 50} == set()
    assert sum(count == 1 for count in bodies.values()) >= 500


def test_any_size_can_be_typed_first_and_the_other_measures_follow_until_they_are_typed() -> None:
    for kind in KINDS.values():
        if kind.first not in ("width", "length", "diameter") or any(
            field.is_required() for field in kind.model_fields.values()
        ):
            continue
        for times in (0.3, 0.5, 2, 4):
            plain = build(kind, {})
            plain.typed({kind.first: str(getattr(plain, kind.first) * times)}, "mm")
    pennant = build(KINDS["swallowtail"], {}).typed({"width": "100"}, "mm").typed({"height": "140"}, "mm")
    assert pennant.notch == 36
    assert pennant.typed({"notch": "20"}, "mm").typed({"height": "70"}, "mm").notch == 20
    assert build(KINDS["arch"], {}).typed({"width": "90"}, "mm").rise == 45
    assert build(KINDS["spike"], {}).typed({"width": "9"}, "mm").typed({"length": "20"}, "mm").point == 16
