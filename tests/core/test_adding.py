"""What is new: where it lands, what holds it, and what it takes over."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design, Part, resolve
from foliant.core.design.placing import part_bounds
from foliant.core.design.shapes import Words
from foliant.core.errors import Refused
from tests.making import edited, one_piece, put

FRAME = {"do": "surround-parts", "piece": "p1", "parts": ["a2"], "role": "scores", "values": {"distance": 4}}


def change(of: str, **values: object) -> dict[str, object]:
    return {"do": "change", "of": of, "values": values}


def newest(design: Design) -> Part:
    return max((part for piece in design.pieces for part in piece.parts), key=lambda part: (len(part.id), part.id))


@given(
    st.lists(st.sampled_from(["words", "hole", "motif", "star"]), max_size=5).filter(
        lambda kinds: kinds.count("words") < 4
    ),
    st.sampled_from([(140, 90), (90, 140), (110, 110)]),
    st.booleans(),
)
def test_what_is_new_lands_on_free_material(kinds: list[str], size: tuple[int, int], framed: bool) -> None:
    """As long as there is room, nothing lies on anything else, across a line, or beside the plate."""
    design = one_piece(put("rectangle", width=size[0], height=size[1]), *([FRAME] if framed else []))
    for kind in kinds:
        small = {} if kind in ("words", "hole") else {"height": 14} if kind == "motif" else {"diameter": 14}
        role = {"role": "engraves"} if kind == "star" else {}
        design = edited(design, {**put(kind, **role, **small), "onto": ["a2"]})
    piece = design.pieces[0]
    boxes = [part_bounds(part) for part in piece.parts if part.plays("cuts", "engraves")]
    for one, other in itertools.combinations(boxes, 2):
        assert one[2] < other[0] or other[2] < one[0] or one[3] < other[1] or other[3] < one[1]
    edge = 4 if framed else 0
    for box in boxes:
        assert edge < min(box[:2])
        assert box[2] < size[0] - edge
        assert box[3] < size[1] - edge


def test_a_hole_is_held_near_an_edge_whatever_its_size_and_the_next_across_from_it() -> None:
    design = one_piece(put("rectangle", width=72, height=30), put("hole"))
    hole = newest(design).id
    design = edited(design, change(f"part {hole}", width="10"), change("part a2", width="100"))
    assert part_bounds(design.pieces[0].part(hole)) == pytest.approx((3, 10, 13, 20))
    second = newest(edited(design, put("hole")))
    assert part_bounds(second) == pytest.approx((87, 10, 97, 20))  # as large as the last one
    upright = one_piece(put("rectangle", width=110, height=190), {**put("hole"), "onto": ["a2"]})
    assert part_bounds(newest(upright))[1] == 3


def test_what_is_put_at_a_place_keeps_its_role_and_a_bar_is_no_plate() -> None:
    ring = put("ring", diameter=90, band=20, x=45, y=45)
    assert newest(one_piece(ring, put("words", x=45, y=10))).roles == ("engraves",)
    assert newest(one_piece(ring, put("words"))).roles == ("adds",)  # in its open middle
    bar = put("rectangle", width=90, height=6)
    hole = newest(one_piece(put("rectangle", width=90, height=40), bar, {**put("hole"), "onto": ["a3"]}))
    assert hole.across is not None
    assert hole.across.to == "piece"


def test_a_round_hole_has_one_diameter_until_it_is_made_longer() -> None:
    design = one_piece(put("rectangle"), put("hole", width=6))
    assert newest(design).shape.label() == "Round hole"
    long = edited(design, change("part a3", height="14"), change("part a3", width="3.5"))
    assert (long.pieces[0].part("a3").shape.summary("mm")) == "3.5 × 14"


def test_values_come_in_any_order() -> None:
    ring = one_piece(put("ring"))
    for steps in ((("diameter", "8"), ("band", "2")), (("band", "40"), ("diameter", "200"))):
        found = edited(ring, *(change("part a2", **{field: typed}) for field, typed in steps)).pieces[0].part("a2")
        assert all(f"{getattr(found.shape, field):g}" == typed for field, typed in steps)
    tag = one_piece(put("rectangle", corners="scooped", corner=14))
    small = edited(tag, change("part a2", width="12"), change("part a2", height="20")).pieces[0].part("a2")
    assert part_bounds(small)[2:] == pytest.approx((12, 20))
    with pytest.raises(Refused, match="the largest that fits is 6 mm"):
        edited(one_piece(put("rectangle", width=12, height=20, corners="cut", corner=2)), change("part a2", corner="9"))


def test_a_motif_comes_in_its_own_proportions_whatever_size_is_named() -> None:
    plate = put("rectangle", width=120, height=90)
    for size in ({"height": 26}, {"width": 60}):
        part = newest(one_piece(plate, put("motif", motif="planet", **size)))
        assert getattr(part.shape, "stretch", 0) == pytest.approx(100)
        assert all(getattr(part.shape, field) == pytest.approx(value) for field, value in size.items())


@pytest.mark.parametrize("kind", ["heart", "drop", "motif"])
def test_hearts_drops_and_motifs_keep_their_proportions_unless_told_not_to(kind: str) -> None:
    design = one_piece(put("rectangle", width=120, height=90), put(kind))

    def ratio(found: Design) -> float:
        left, top, right, bottom = part_bounds(newest(found))
        return (right - left) / (bottom - top)

    before = ratio(design)
    wide = edited(design, change("part a3", width="60"))
    assert ratio(wide) == pytest.approx(before, rel=1e-6)
    assert part_bounds(newest(wide))[2] - part_bounds(newest(wide))[0] == pytest.approx(60, abs=1e-4)
    free = edited(design, change("part a3", proportional="no"), change("part a3", height="60"))
    assert ratio(free) < before


@pytest.mark.parametrize("kind", ["line", "motif", "ring", "words", "circle", "rectangle"])
def test_what_is_no_size_is_refused_in_a_sentence(kind: str) -> None:
    design = one_piece(put("rectangle", width=120, height=90), put(kind))
    kept = edited(design, {"do": "mark-parts", "piece": "p1", "parts": ["a3"], "proportional": True})
    for found in (design, kept):
        for field in ("width", "height", "band", "x", "proportional"):
            for raw in (None, [1], {}, "lots"):
                with pytest.raises(Refused):
                    edited(found, change("part a3", **{field: raw}))


def test_a_copy_goes_straight_beside_the_first_and_words_take_the_last_font() -> None:
    design = one_piece(put("rectangle", width=60, height=40), put("circle", diameter=10, role="cuts", x=10, y=10))
    copy = {"do": "duplicate-parts", "piece": "p1", "parts": ["a3"]}
    assert (newest(edited(design, copy)).x, newest(edited(design, copy)).y) == (21.5, 10)
    right = edited(design, change("part a3", x="52"))
    assert (newest(edited(right, copy)).x, newest(edited(right, copy)).y) == (52, 21.5)
    words = edited(design, put("words", font="pacifico"), put("words")).pieces[0].parts[-1].shape
    assert isinstance(words, Words)
    assert words.font == "pacifico"
    assert not resolve(design.pieces[0]).trouble


def test_several_texts_are_styled_together_and_things_stand_a_gap_apart() -> None:
    design = one_piece(put("rectangle", width=120, height=80), put("words", text="VEGA"), put("words", text="LYRA"))
    both = {"piece": "p1", "parts": ["a3", "a4"]}
    styled = edited(design, {"do": "change-parts", **both, "values": {"font": "pacifico", "cap_height": "6"}})
    shapes = [part.shape for part in styled.pieces[0].parts[1:]]
    assert {(shape.font, shape.cap_height) for shape in shapes if isinstance(shape, Words)} == {("pacifico", 6.0)}
    with pytest.raises(Refused, match="There is no value"):
        edited(design, {"do": "change-parts", "piece": "p1", "parts": ["a2"], "values": {"font": "pacifico"}})
    beside = {"do": "align-parts", "piece": "p1", "parts": ["a4"], "to": "a3", "across": "after", "gap": "5 mm"}
    moved = edited(design, beside).pieces[0]
    assert part_bounds(moved.part("a4"))[0] - part_bounds(moved.part("a3"))[2] == pytest.approx(5, abs=0.6)


def test_what_is_put_on_is_held_where_it_lands_if_the_maker_has_it_so() -> None:
    plate = one_piece({**put("rectangle", width=72, height=30), "held": True})
    assert (newest(plate).across, newest(plate).down) == (None, None)  # there is nothing to hold to yet
    design = edited(plate, {**put("words", text="Peg"), "held": True})
    words = newest(design).id
    design = edited(design, change("part a2", width="100", height="40"))
    left, _, right, _ = part_bounds(design.pieces[0].part(words))
    assert (left + right) / 2 == pytest.approx(50, abs=1e-6)


def test_words_are_as_large_as_suits_what_they_say_until_somebody_sizes_them() -> None:
    plate = one_piece(put("circle", diameter=24), put("words"))
    words = newest(plate).id

    def typed(design: Design, text: str) -> Words:
        shape = edited(design, change(f"part {words}", text=text)).pieces[0].part(words).shape
        assert isinstance(shape, Words)
        return shape

    assert typed(plate, "Q").cap_height > 6  # more than a quarter of the disc: it is a letter
    assert typed(plate, "Ysolde").cap_height < 5
    sized = edited(plate, change(f"part {words}", cap_height="3.3"))
    assert typed(sized, "Q").cap_height == 3.3
    assert typed(edited(plate, change(f"part {words}", text="Q")), "Ysolde") == typed(plate, "Ysolde")


def test_what_adds_goes_to_the_end_of_a_bar_and_to_the_middle_of_a_plate() -> None:
    upright = newest(one_piece(put("rectangle", width=6, height=88), put("circle", diameter=14)))
    assert (upright.x, upright.y) == (3, 0)
    plate = newest(one_piece(put("rectangle", width=60, height=30), put("circle", diameter=14)))
    assert (plate.x, plate.y) == (30, 15)


@pytest.mark.parametrize(
    ("wide", "first", "second"),
    [(110, "Vega", "2 to 9"), (160, "Quillmoor", "by the old shed"), (120, "Éloïse", "est. 1924")],
)
def test_a_line_below_words_is_centred_on_them(wide: float, first: str, second: str) -> None:
    hole = {"values": {"diameter": 18}, "role": "cuts", "x": 16, "y": 25}
    plate = one_piece(put("rectangle", width=wide, height=50, x=wide / 2, y=25), {**put("circle"), **hole})
    lines = [
        {"do": "add-part", "piece": "p1", "kind": "words", "values": {"text": text}, "onto": ["a2"]}
        for text in (first, second)
    ]
    above, below = (part_bounds(part) for part in edited(plate, *lines).pieces[0].parts[-2:])
    assert below[1] > above[3]
    assert (below[0] + below[2]) / 2 == pytest.approx((above[0] + above[2]) / 2, abs=1e-6)


@pytest.mark.parametrize(("wide", "tall", "x", "y"), [(110, 40, 23, 20), (160, 50, 31, 25), (45, 120, 22, 44)])
def test_words_beside_a_hole_land_in_the_largest_free_field(wide: float, tall: float, x: float, y: float) -> None:
    half = 0.22 * min(wide, tall)
    plate = put("rectangle", width=wide, height=tall, x=wide / 2, y=tall / 2)
    design = one_piece(plate, put("circle", role="cuts", diameter=2 * half, x=x, y=y))
    values = {"text": "Quillmoor dome", "cap_height": 5} if wide > tall else {"text": "Vega", "cap_height": 12}
    add = {"do": "add-part", "piece": "p1", "kind": "words", "values": values, "onto": ["a2"]}
    left, top, right, bottom = part_bounds(edited(design, add).pieces[0].parts[-1])
    assert min(left, top, wide - right, tall - bottom) > 0.9
    assert left - x - half > 0.9 if wide > tall else top - y - half > 0.9
