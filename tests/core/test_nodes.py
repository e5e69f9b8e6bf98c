"""Node editing: drawn shapes point by point."""

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design, read_edit, resolve
from foliant.core.design.edits.nodes import node_place
from foliant.core.design.nodes import Contour, Node, contours_of, path_of, remove_nodes
from foliant.core.design.placing import part_bounds
from foliant.core.errors import Refused
from foliant.core.paths.shapes import circle, heart
from tests.making import edited, one_piece, put


def node(op: str, *nodes: tuple[int, int], part: str = "a2", **more: Any) -> dict[str, Any]:
    return {"do": "edit-nodes", "part": part, "op": op, "nodes": list(nodes), **more}


def triangle() -> Design:
    design = one_piece(put("polygon", sides=3, size=40, x=20, y=20))
    return edited(design, {"do": "make-plain", "piece": "p1", "parts": ["a2"]})


def drawn(design: Design) -> Any:
    return design.pieces[0].parts[0].shape


def place(design: Design, *at: int) -> tuple[float, float]:
    return node_place(design.pieces[0].parts[0], (at[0], at[1]))


def area(design: Design) -> float:
    return resolve(design.pieces[0]).outline.path.area


def test_a_spike_made_from_a_triangle_is_symmetric() -> None:
    design = triangle()
    left, _, right, _ = part_bounds(design.pieces[0].parts[0])
    tip = place(design, 0, 0)
    assert tip == pytest.approx((20, 0))
    design = edited(design, {"do": "change", "of": "node a2 0 0", "values": {"y": -60}})
    assert place(design, 0, 0) == pytest.approx((20, -60))
    box = part_bounds(design.pieces[0].parts[0])
    assert (box[0], box[2]) == pytest.approx((left, right))
    assert abs((box[0] + box[2]) / 2 - place(design, 0, 0)[0]) < 0.01


def test_moving_one_node_leaves_the_others_where_they_were() -> None:
    turned = edited(triangle(), {"do": "change", "of": "part a2", "values": {"rotation": 40}})
    before = [place(turned, 0, i) for i in range(3)]
    after = edited(turned, node("move", (0, 1), dx=5, dy=-3))
    assert place(after, 0, 1) == pytest.approx((before[1][0] + 5, before[1][1] - 3), abs=1e-4)
    assert place(after, 0, 0) == pytest.approx(before[0], abs=1e-4)
    assert place(after, 0, 2) == pytest.approx(before[2], abs=1e-4)


@given(share=st.floats(0.05, 0.95), at=st.integers(0, 5))
def test_adding_a_node_keeps_the_shape_and_deleting_it_brings_it_back(share: float, at: int) -> None:
    design = one_piece(put("heart"))
    plain = edited(design, {"do": "make-plain", "piece": "p1", "parts": ["a2"]})
    more = edited(plain, node("add", (0, at), share=share))
    assert drawn(more).node_count == drawn(plain).node_count + 1
    assert area(more) == pytest.approx(area(plain), abs=0.01)
    less = edited(more, node("remove", (0, at + 1)))
    assert area(less) == pytest.approx(area(plain), abs=0.05)
    assert part_bounds(less.pieces[0].parts[0]) == pytest.approx(part_bounds(plain.pieces[0].parts[0]), abs=0.02)


def test_half_the_nodes_of_a_circle_hold_it_nearly() -> None:
    contours = remove_nodes(contours_of(circle(40)), [(0, 1), (0, 3), (0, 5), (0, 7)])
    assert len(contours[0].nodes) == 4
    assert path_of(contours).area == pytest.approx(math.pi * 400, rel=0.001)


def test_a_smooth_node_keeps_its_handles_in_line_and_a_symmetric_one_as_long() -> None:
    design = edited(triangle(), node("kind", (0, 0), kind="smooth"))
    design = edited(design, node("handle", (0, 0), side="leave", dx=8, dy=6))
    found = drawn(design).contours[0].nodes[0]
    assert found.leave == pytest.approx((8, 6))
    assert found.arrive[0] * 6 == pytest.approx(found.arrive[1] * 8)
    assert found.arrive[0] < 0
    design = edited(design, node("kind", (0, 0), kind="symmetric"), node("handle", (0, 0), side="arrive", dx=-3, dy=4))
    assert drawn(design).contours[0].nodes[0].leave == pytest.approx((3, -4))


def test_segments_become_curves_and_lines_again() -> None:
    design = edited(triangle(), node("curve", (0, 0)), node("handle", (0, 0), side="leave", dx=20, dy=0))
    assert area(design) > area(triangle()) + 10
    assert area(edited(design, node("line", (0, 0)))) == pytest.approx(area(triangle()))


def test_breaking_opens_a_shape_and_joining_closes_it_again() -> None:
    design = edited(triangle(), node("break", (0, 1)))
    assert drawn(design).is_open
    assert area(design) == 0
    assert drawn(design).label() == "Drawn line"
    closed = edited(design, node("join", (0, 0), (0, 3)))
    assert area(closed) == pytest.approx(area(triangle()))
    parted = edited(design, node("break", (0, 2)))
    assert len(drawn(parted).contours) == 2
    joined = edited(parted, node("join", (0, 2), (1, 0)))
    assert len(drawn(joined).contours) == 1
    with pytest.raises(Refused, match="cannot be broken at its end"):
        edited(design, node("break", (0, 0)))
    with pytest.raises(Refused, match="ends of open lines"):
        edited(triangle(), node("join", (0, 0), (0, 1)))


def pen(*nodes: dict[str, Any], closed: bool = True) -> dict[str, Any]:
    return {"do": "add-part", "piece": "p1", "kind": "drawn", "contours": [{"nodes": list(nodes), "closed": closed}]}


def points(*found: tuple[float, float]) -> list[dict[str, Any]]:
    return [{"x": x, "y": y} for x, y in found]


def test_a_self_crossing_shape_follows_the_nonzero_rule() -> None:
    star = [(30 + 25 * math.sin(i * 4 * math.pi / 5), 30 - 25 * math.cos(i * 4 * math.pi / 5)) for i in range(5)]
    design = one_piece(pen(*points(*star)))
    inner = 25 * math.cos(2 * math.pi / 5) / math.cos(math.pi / 5)
    assert area(design) == pytest.approx(5 * 25 * inner * math.sin(math.pi / 5), rel=1e-3)  # its heart is filled
    assert resolve(design.pieces[0]).bounds == pytest.approx(
        (min(x for x, _ in star), 5, max(x for x, _ in star), 50.225), abs=0.01
    )


def test_an_open_line_is_scored_as_it_is_and_adds_nothing() -> None:
    design = one_piece(put("rectangle", width=60, height=40), pen(*points((5, 5), (30, 25), (55, 5)), closed=False))
    part = design.pieces[0].parts[1]
    assert part.plays("scores")
    resolved = resolve(design.pieces[0])
    assert resolved.scored.length == pytest.approx(2 * math.hypot(25, 20))
    adds = edited(design, {"do": "set-role", "piece": "p1", "parts": [part.id], "role": "adds"})
    assert resolve(adds.pieces[0]).outline.path.area == pytest.approx(2400)


@pytest.mark.parametrize(
    "wrong",
    [
        pen(*points((1, 1), (1, 1))),
        pen(*points((1, 1))),
        pen(*points((1, 1), (float("nan"), 2))),
        pen(*points((1, 1), (1e9, 2))),
        pen(*points(*((i, i % 7) for i in range(5001)))),
        {"do": "add-part", "piece": "p1", "kind": "drawn", "contours": ["moon"]},
    ],
)
def test_drawing_nothing_or_nonsense_is_refused(wrong: dict[str, Any]) -> None:
    with pytest.raises(Refused):
        one_piece(wrong)


def test_a_node_that_is_gone_or_a_shape_without_nodes_is_said() -> None:
    for edit in (node("move", (0, 9), dx=1), node("remove", (3, 0)), node("add", (0, 0), part="a9")):
        with pytest.raises(Refused, match="no longer"):
            edited(triangle(), edit)
    with pytest.raises(Refused, match="make it plain first"):
        edited(one_piece(put("circle")), node("remove", (0, 0)))
    with pytest.raises(Refused, match="nothing of the shape"):
        edited(triangle(), node("remove", (0, 0), (0, 1)))


def test_nodes_of_a_path_draw_the_path() -> None:
    for path in (circle(30), heart(40, 36, 8)):
        again = path_of(contours_of(path))
        assert again.area == pytest.approx(path.area, rel=1e-5)
    open_line = (Contour(nodes=(Node(x=0, y=0, leave=(3, 0)), Node(x=9, y=4)), closed=False),)
    assert contours_of(path_of(open_line))[0].nodes[0].leave == pytest.approx((3, 0))


@pytest.mark.parametrize(("base", "tall", "radius"), [(40.0, 30.0, 3.0), (14.0, 60.0, 1.0), (90.0, 20.0, 8.0)])
def test_a_corner_is_rounded_there_by_its_radius_and_what_that_takes_off_a_spike_is_said(
    base: float, tall: float, radius: float
) -> None:
    spike = one_piece(put("triangle", base=base, height=tall, x=50, y=50))
    plain = edited(spike, {"do": "make-plain", "piece": "p1", "parts": ["a2"]})
    contours = plain.pieces[0].part("a2").shape.contours
    tip = min(range(3), key=lambda n: contours[0].nodes[n].y)
    edit = {"do": "edit-nodes", "part": "a2", "op": "round", "nodes": [[0, tip]], "radius": f"{radius} mm"}
    rounded = edited(plain, edit)
    half = math.atan(base / 2 / tall)
    off = radius / math.sin(half) - radius
    top, before = (part_bounds(design.pieces[0].part("a2"))[1] for design in (rounded, plain))
    assert top - before == pytest.approx(off, abs=0.01)
    said = read_edit(edit).says(plain)
    assert said.startswith("round a corner")
    assert (f"{off:.1f} mm off the tip" in said) == (off >= radius)
    typed = edited(plain, {"do": "change", "of": f"node a2 0 {tip}", "values": {"radius": f"{radius} mm"}})
    assert typed.pieces == rounded.pieces
    with pytest.raises(Refused, match="does not fit between the next nodes: the most there is"):
        edited(plain, {**edit, "radius": "900 mm"})


@pytest.mark.parametrize(("base", "tall"), [(14.0, 40.0), (6.0, 60.0), (50.0, 50.0)])
def test_a_spike_made_smooth_is_no_wider_than_it_was(base: float, tall: float) -> None:
    spike = one_piece(put("triangle", base=base, height=tall, x=50, y=50))
    plain = edited(spike, {"do": "make-plain", "piece": "p1", "parts": ["a2"]})
    nodes = plain.pieces[0].part("a2").shape.contours[0].nodes
    tip = min(range(3), key=lambda n: nodes[n].y)
    smooth = edited(plain, {"do": "edit-nodes", "part": "a2", "op": "kind", "nodes": [[0, tip]], "kind": "smooth"})
    left, top, right, bottom = part_bounds(smooth.pieces[0].part("a2"))
    assert right - left <= base + 0.01
    assert (top, bottom) == pytest.approx(part_bounds(plain.pieces[0].part("a2"))[1::2], abs=0.01)


@pytest.mark.parametrize("text", ["Orrin", "Ada & Bo"])
def test_an_outline_that_was_made_plain_keeps_its_word_and_its_size_can_be_typed(text: str) -> None:
    words = one_piece(
        put("words", text=text, cap_height=12, role="adds", x=40, y=20), put("circle", x=40, y=30, diameter=20)
    )
    weld = edited(words, {"do": "combine-parts", "piece": "p1", "parts": ["a2", "a3"], "how": "weld"})
    plain = edited(weld, {"do": "make-plain", "piece": "p1", "parts": ["a4"]})
    assert text in plain.pieces[0].part("a4").shape.label()
    for design in (weld, plain):
        sized = edited(design, {"do": "resize-parts", "piece": "p1", "parts": ["a4"], "width": "90"})
        left, _, right, _ = part_bounds(sized.pieces[0].part("a4"))
        assert right - left == pytest.approx(90, abs=0.01)
