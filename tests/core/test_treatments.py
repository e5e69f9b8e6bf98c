"""Treatments, surrounds, slots, tabs and kept holes: live, true to their numbers, and said where they cannot be."""

import math
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design, Part, read_design, resolve
from foliant.core.design.idle import idle_parts
from foliant.core.design.placing import part_bounds, part_paths
from foliant.core.design.shapes import Tabs
from foliant.core.errors import Refused
from foliant.core.paths import Path, combine
from foliant.core.paths.corners import corners_of, largest_corner, with_corners
from foliant.core.paths.flatten import flatten
from foliant.core.paths.shapes import circle, heart, rectangle, regular_polygon, star
from tests.making import edited, one_piece, put, tag

HERE: dict[str, Any] = {"piece": "p1"}


def area(design: Design, piece: int = 0) -> float:
    return resolve(design.pieces[piece]).outline.path.area


def plate(width: float = 40, height: float = 20) -> Design:
    return one_piece(put("rectangle", width=width, height=height, x=width / 2, y=height / 2))


def treated(design: Design, treatment: str, part: str = "a2", **values: Any) -> Design:
    return edited(design, {"do": "treat-parts", **HERE, "parts": [part], "treatment": treatment, "values": values})


# Corners


@pytest.mark.parametrize(
    ("style", "loss"), [("rounded", 4 - math.pi), ("scooped", math.pi), ("cut", 2.0)], ids=["rounded", "scooped", "cut"]
)
def test_corners_take_what_their_style_takes(style: str, loss: float) -> None:
    assert area(treated(plate(), "cornered", style=style, size=5)) == pytest.approx(800 - loss * 25, abs=0.01)


@given(st.integers(3, 9), st.floats(0.05, 0.9))
def test_a_rounding_touches_both_edges(sides: int, share: float) -> None:
    path = regular_polygon(sides, 40)
    radius = largest_corner(path, "rounded") * share
    rounded = with_corners(path, "rounded", radius)
    assert len(rounded) in (2 * sides, 2 * sides + 1)
    assert len(corners_of(rounded).index) == 0  # it runs smoothly into both
    turn = math.pi / sides
    loss = sides * radius**2 * (math.tan(turn) - turn)
    assert rounded.area == pytest.approx(path.area - loss, abs=0.02)


def test_corners_between_curves_are_rounded_too() -> None:
    outline = combine([circle(20), rectangle(8, 40)]).path
    rounded = with_corners(outline, "rounded", 1.5)
    assert len(corners_of(rounded).index) == 0
    assert len(corners_of(with_corners(heart(44, 40, 9), "rounded", 2)).index) == 0


def test_the_largest_size_that_fits_is_said_and_does_fit() -> None:
    with pytest.raises(Refused, match="the largest that fits is 10 mm"):
        treated(plate(), "cornered", size=12)
    assert area(treated(plate(), "cornered", size=10)) == pytest.approx(800 - (4 - math.pi) * 100, abs=0.01)


def test_chosen_corners_only_and_one_by_one() -> None:
    design = treated(plate(), "cornered", size=5)
    one_left = edited(design, {"do": "turn-corner", **HERE, "parts": ["a2"], "corner": 1})
    assert area(one_left) == pytest.approx(800 - 0.75 * (4 - math.pi) * 25, abs=0.01)
    again = edited(one_left, {"do": "turn-corner", **HERE, "parts": ["a2"], "corner": 1})
    assert area(again) == pytest.approx(area(design))
    with pytest.raises(Refused, match="no longer there"):
        edited(design, {"do": "turn-corner", **HERE, "parts": ["a2"], "corner": 44})


def test_corners_shrink_to_fit_when_the_part_is_made_smaller() -> None:
    small = edited(treated(plate(), "cornered", size=8), {"do": "change", "of": "part a2", "values": {"height": "10"}})
    assert area(small) == pytest.approx(400 - (4 - math.pi) * 25, abs=0.05)
    assert small.pieces[0].parts[0].treatments.cornered is not None


# Grow, hollow, half, widen


def test_grown_shrunk_and_hollow() -> None:
    assert area(treated(plate(), "grown", distance=2)) == pytest.approx(44 * 24 - (4 - math.pi) * 4, abs=0.01)
    assert area(treated(plate(), "grown", distance=-2)) == pytest.approx(36 * 16, abs=0.01)
    assert area(treated(plate(), "hollowed", width=3)) == pytest.approx(800 - 34 * 14, abs=0.01)
    assert area(treated(plate(), "hollowed", width=11)) == pytest.approx(800)


def test_what_would_vanish_is_said_and_nothing_is_lost() -> None:
    design = treated(plate(), "grown", distance=-2)
    with pytest.raises(Refused, match="nothing is left of Rectangle; by less than 10 mm something is"):
        edited(design, {"do": "change", "of": "grown a2", "values": {"distance": "-10.2"}})
    with pytest.raises(Refused, match="finite"):
        edited(design, {"do": "change", "of": "grown a2", "values": {"distance": math.nan}})


def test_a_half_is_mirrored() -> None:
    design = one_piece(put("sector", diameter=40, angle=90, x=0, y=0))
    half = treated(design, "halved", half="left")
    path = part_paths(half.pieces[0].parts[0])[0]
    mirrored = shapely.transform(combine([path]).shape, lambda points: points * (-1, 1))
    assert shapely.symmetric_difference(combine([path]).shape, mirrored).area < 0.05


def test_treatments_follow_each_other_and_end_one_by_one() -> None:
    design = treated(treated(plate(), "cornered", size=5), "hollowed", width=2)
    whole = 800 - (4 - math.pi) * 25
    inner = 36 * 16 - (4 - math.pi) * 9
    assert area(design) == pytest.approx(whole - inner, abs=0.02)
    ended = edited(design, {"do": "untreat-parts", **HERE, "parts": ["a2"], "treatment": "hollowed"})
    assert area(ended) == pytest.approx(whole, abs=0.01)
    assert read_design(design.model_dump(mode="json")) == design


def test_a_treated_part_is_sized_by_what_is_seen() -> None:
    design = treated(plate(), "grown", distance=2)
    wide = edited(design, {"do": "resize-parts", **HERE, "parts": ["a2"], "width": "60"})
    left, _, right, _ = part_bounds(wide.pieces[0].parts[0])
    assert right - left == pytest.approx(60, abs=0.001)


def test_an_open_line_cuts_with_a_width() -> None:
    design = edited(plate(), put("line", length=20, x=20, y=10, role="cuts"))
    assert area(design) == pytest.approx(800)
    slit = treated(design, "widened", "a3", width=1.5, ends="flat")
    assert area(slit) == pytest.approx(800 - 30, abs=0.01)
    assert area(edited(slit, {"do": "change", "of": "widened a3", "values": {"ends": "round"}})) == pytest.approx(
        800 - 30 - math.pi * 0.5625, abs=0.01
    )


# Surround


def surrounded(*parts: dict[str, Any], role: str = "adds", **values: Any) -> Design:
    design = one_piece(*parts)
    ids = [part.id for part in design.pieces[0].parts]
    return edited(design, {"do": "surround-parts", **HERE, "parts": ids, "role": role, "values": values})


def outline_of(design: Design) -> Part:
    return next(part for part in design.pieces[0].parts if part.shape.kind == "surround")


def distances(path: Path, source: shapely.Geometry) -> np.ndarray:
    flat = flatten(path, 0.0005)
    return shapely.distance(shapely.points(np.concatenate([flat.points, (flat.points + flat.ends) / 2])), source)


def test_a_surround_of_five_mm_is_five_mm_away_and_follows() -> None:
    design = surrounded(put("words", text="Moth", cap_height=14, x=0, y=0, role="adds"), distance=5, closes=0)
    words = combine(part_paths(design.pieces[0].parts[1])).shape
    (path,) = part_paths(outline_of(design))
    found = distances(path, words)
    assert found.min() > 4.995  # the words are measured by edges within 0.005 mm of their curves
    assert found.max() < 5.012
    longer = edited(design, {"do": "change", "of": "part a2", "values": {"text": "Mothwing"}})
    assert part_bounds(outline_of(longer))[2] > part_bounds(outline_of(design))[2] + 10
    moved = edited(design, {"do": "move-parts", **HERE, "parts": ["a2"], "dx": 9, "dy": 0})
    assert part_bounds(outline_of(moved))[0] == pytest.approx(part_bounds(outline_of(design))[0] + 9, abs=1e-3)


def test_gaps_are_closed_only_where_they_are_narrower_than_the_width() -> None:
    two = [put("circle", diameter=20, x=0, y=0), put("circle", diameter=20, x=29, y=0)]
    assert len(resolve(surrounded(*two, distance=3, closes=0).pieces[0]).outline.bodies) == 2
    assert len(resolve(surrounded(*two, distance=3, closes=4).pieces[0]).outline.bodies) == 1
    closed = surrounded(*two, distance=3, closes=4)
    (path,) = part_paths(outline_of(closed))
    sources = [combine(part_paths(part)).shape for part in closed.pieces[0].parts if part.shape.kind == "circle"]
    found = distances(path, shapely.union_all(sources))
    assert found.min() > 2.995
    left, top, right, bottom = path.bounds
    assert (left, top, right, bottom) == pytest.approx((-13, -13, 42, 13), abs=0.002)


def test_a_moat_cuts_round_a_name_and_leaves_it() -> None:
    design = one_piece(
        put("rectangle", width=60, height=30, x=30, y=15), put("rectangle", width=20, height=8, x=30, y=15)
    )
    moat = edited(design, {"do": "surround-parts", **HERE, "parts": ["a3"], "role": "cuts", "values": {"distance": 2}})
    assert outline_of(moat).shape.body == "band"  # type: ignore[union-attr]
    assert area(moat) == pytest.approx(1800 - (24 * 12 - (4 - math.pi) * 4 - 160), abs=0.02)
    assert len(resolve(moat.pieces[0]).outline.bodies) == 2
    joined = edited(moat, {"do": "join-bodies", **HERE, "width": 3})
    assert len(resolve(joined.pieces[0]).outline.bodies) == 1  # nothing cuts a bridge away
    solid = edited(moat, {"do": "set-role", **HERE, "parts": [outline_of(moat).id], "role": "adds"})
    assert outline_of(solid).shape.body == "solid"  # type: ignore[union-attr]


def test_an_inner_surround_keeps_off_the_edge_and_says_when_nothing_is_left() -> None:
    inside = surrounded(put("rectangle", width=40, height=20, x=0, y=0), role="scores", distance=3, side="inside")
    assert part_bounds(outline_of(inside)) == pytest.approx((-17, -7, 17, 7))
    gone = edited(inside, {"do": "change", "of": f"part {outline_of(inside).id}", "values": {"distance": "11"}})
    assert idle_parts(gone.pieces[0]) == {outline_of(gone).id: "nothing is left of it"}


def test_moving_a_surround_moves_what_it_goes_round_once() -> None:
    design = surrounded(put("circle", diameter=20, x=0, y=0))
    ids = [part.id for part in design.pieces[0].parts]
    for chosen in ([outline_of(design).id], ids):
        moved = edited(design, {"do": "move-parts", **HERE, "parts": chosen, "dx": 5, "dy": 1})
        disc = next(part for part in moved.pieces[0].parts if part.shape.kind == "circle")
        assert (disc.x, disc.y) == (5, 1)
        assert part_bounds(outline_of(moved)) == pytest.approx((-8, -12, 18, 14), abs=1e-3)


def test_a_surround_of_what_is_deleted_goes_with_it_and_circles_are_refused() -> None:
    design = surrounded(put("circle", diameter=20, x=0, y=0))
    assert edited(design, {"do": "remove-parts", **HERE, "parts": ["a2"]}).pieces[0].parts == ()
    with pytest.raises(Refused, match="in a circle"):
        edited(design, {"do": "hold-parts", **HERE, "parts": ["a2"], "to": outline_of(design).id})


# Slots, laps, tabs and holes


@pytest.mark.parametrize(("fit", "wide"), [("loose", 4.5), ("sliding", 4.35), ("snug", 4.25), ("press", 4.15)])
def test_a_slot_is_as_wide_as_the_measured_stock_and_the_fit(fit: str, wide: float) -> None:
    design = edited(plate(), put("slot", length=10, fit=fit, x=20, y=10))
    measured = edited(design, {"do": "change", "of": "stock", "values": {"measured": "4.2"}})
    assert area(measured) == pytest.approx(800 - 10 * wide, abs=0.001)
    other = edited(measured, {"do": "change", "of": "stock", "values": {"thickness": "3"}})
    assert other.stock.measured is None  # other stock has not been measured
    assert area(other) == pytest.approx(800 - 10 * (wide - 1.2), abs=0.001)


@given(st.integers(20, 80), st.integers(20, 80), st.integers(5, 15))
def test_cross_lap_slots_meet_whatever_the_heights(one: int, two: int, depth: int) -> None:
    design = edited(plate(60, one), {"do": "add-piece"}, put("rectangle", "p3", width=60, height=two, x=30, y=two / 2))
    design = edited(design, {"do": "cross-lap", "piece": "p1", "other": "p3"})
    upper, lower = (piece.parts[-1] for piece in design.pieces)
    design = edited(design, {"do": "change", "of": f"part {upper.id}", "values": {"depth": str(depth)}})
    assert lap_depths(design) == (depth, one - depth)
    design = edited(design, {"do": "change", "of": f"part {lower.id}", "values": {"depth": "4"}})
    assert lap_depths(design) == (one - 4, 4)
    assert area(design) == pytest.approx(60 * one - 3.15 * (one - 4), abs=0.001)


def lap_depths(design: Design) -> tuple[float, float]:
    return tuple(piece.parts[-1].shape.depth for piece in design.pieces)  # type: ignore[union-attr, return-value]


def test_tabs_bridge_an_inner_shape_to_its_frame() -> None:
    design = one_piece(put("ring", diameter=80, x=0, y=0), put("star", diameter=40, x=3, y=-2))
    assert len(resolve(design.pieces[0]).outline.bodies) == 2
    for count in (1, 4, 7):
        tabbed = edited(design, {"do": "tab-parts", **HERE, "parts": ["a2", "a3"], "values": {"count": count}})
        assert len(resolve(tabbed.pieces[0]).outline.bodies) == 1
        openings = sum(len(body.interiors) for body in resolve(tabbed.pieces[0]).outline.bodies)
        assert openings == count
    with pytest.raises(Refused, match="lies inside a frame"):
        edited(design, {"do": "tab-parts", **HERE, "parts": ["a2"]})


@pytest.mark.parametrize("chosen", [["a3"], ["a3", "a4"], ["a2", "a3", "a4"], ["a4", "a5"]])
def test_tabs_hold_what_is_chosen_in_the_frame_round_it_never_in_each_other(chosen: list[str]) -> None:
    hearts = (put("heart", width=14, height=13, dip=3, x=x, y=2) for x in (-14, 14))
    design = one_piece(put("ring", diameter=90, x=0, y=0), *hearts, put("circle", diameter=6, x=0, y=-20))
    tabbed = edited(design, {"do": "tab-parts", **HERE, "parts": chosen, "values": {"count": 3}})
    held = [part for part in chosen if part != "a2"]
    bars = [part.shape for part in tabbed.pieces[0].parts if isinstance(part.shape, Tabs)]
    assert sorted(bar.of for bar in bars) == [(part, "a2") for part in held]
    assert len(resolve(tabbed.pieces[0]).outline.bodies) == 4 - len(held)


@given(st.sampled_from(["top", "left", "right", "bottom"]), st.floats(1, 4), st.floats(2, 6))
def test_a_kept_hole_has_its_margin_to_every_edge(near: str, margin: float, diameter: float) -> None:
    design = one_piece(put("star", diameter=70, points=6, x=0, y=0), put("circle", diameter=8, x=0, y=0, role="cuts"))
    hole = {"width": round(diameter, 2), "height": round(diameter, 2), "margin": round(margin, 2), "near": near}
    design = edited(design, put("hole", **hole))
    part = design.pieces[0].parts[-1]
    others = combine([path for found in design.pieces[0].parts[:1] for path in part_paths(found)], [circle(8)])
    middle = shapely.Point(part.x, part.y)
    assert others.shape.contains(middle)
    assert others.shape.boundary.distance(middle) >= hole["width"] / 2 + hole["margin"] - 0.006


def test_a_hole_without_room_is_refused_and_one_with_room_follows() -> None:
    with pytest.raises(Refused, match="finds no room on Guide tag"):
        edited(plate(20, 6), put("hole", width=4, height=4, near="top"))
    design = edited(plate(), put("hole", width=4, height=4, near="left", margin=3))
    assert (design.pieces[0].parts[-1].x, design.pieces[0].parts[-1].y) == pytest.approx((5, 10), abs=0.001)
    wider = edited(design, {"do": "size-piece", **HERE, "width": "60"})
    assert wider.pieces[0].parts[-1].x == pytest.approx(resolve(wider.pieces[0]).bounds[0] + 5, abs=0.001)


# Plain


@pytest.mark.parametrize("treatment", ["cornered", "grown", "hollowed", "halved"])
def test_made_plain_it_keeps_the_outline(treatment: str) -> None:
    design = treated(tag(), treatment)
    plain = edited(design, {"do": "make-plain", **HERE, "parts": ["a2"]})
    assert plain.pieces[0].parts[0].shape.kind == "drawn"
    assert area(plain) == pytest.approx(area(design), abs=0.01)


def test_a_star_is_made_plain_as_a_combination_with_its_parts_gone() -> None:
    design = one_piece(put("star", diameter=40, x=0, y=0), put("circle", diameter=20, x=0, y=0))
    design = edited(design, {"do": "combine-parts", **HERE, "parts": ["a2", "a3"], "how": "subtract"})
    plain = edited(design, {"do": "make-plain", **HERE, "parts": ["a4"]})
    assert [part.shape.kind for part in plain.pieces[0].parts] == ["drawn"]
    assert area(plain) == pytest.approx(area(design), abs=0.01)
    assert star(5, 40, 18).area > area(plain)


def test_a_line_scored_round_a_plate_begins_inside_it_and_round_words_outside() -> None:
    plate = put("rectangle", width=60, height=30, x=30, y=15)
    for part, side in ((plate, "inside"), (put("words", text="VEGA", role="engraves", x=30, y=15), "outside")):
        design = one_piece(plate, part)
        design = edited(design, {"do": "surround-parts", "piece": "p1", "parts": ["a3"], "role": "scores"})
        line = next(found for found in design.pieces[0].parts if found.shape.kind == "surround")
        assert line.shape.side == side  # type: ignore[union-attr]


@pytest.mark.parametrize("width", [2.0, 4.0, 12.0])
@pytest.mark.parametrize(
    "shape",
    [
        put("heart", width=150, height=140, dip=30, x=0, y=0),
        put("heart", width=60, height=100, dip=45, x=0, y=0),
        put("swallowtail", width=60, height=90, notch=35, x=0, y=0),
        put("star", diameter=90, points=7, depth=14, x=0, y=0),
        put("rectangle", width=50, height=66, x=0, y=0),
    ],
    ids=lambda shape: shape["kind"],
)
def test_a_frame_is_as_wide_as_typed_everywhere_and_no_corner_is_deeper_than_twice(
    shape: dict[str, Any], width: float
) -> None:
    whole = one_piece(shape)
    hollow = {"do": "treat-parts", "piece": "p1", "parts": ["a2"], "treatment": "hollowed", "values": {"width": width}}
    outline = resolve(whole.pieces[0]).outline.shape
    openings = outline.difference(resolve(edited(whole, hollow).pieces[0]).outline.shape)
    away = shapely.distance(shapely.boundary(outline), shapely.points(shapely.get_coordinates(openings)))
    assert away.min() > 0.98 * width
    assert away.max() < 2.01 * width
