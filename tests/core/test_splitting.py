"""A sign that is larger than its sheet, split into pieces that fit together again."""

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.checks import check
from foliant.core.design import Design, Piece, resolve
from foliant.core.errors import Refused
from foliant.core.layout import lay_sheets
from foliant.core.paths.joints import cells
from foliant.core.ticket.sorting import sort_marks
from tests.examples import examples
from tests.making import edited, one_piece, plan, put


def sign(width: float = 450, height: float = 190) -> Design:
    """A large sign: a ring of scored line, words, and a window."""
    return one_piece(
        put("rectangle", width=width, height=height, x=width / 2, y=height / 2),
        put("words", text="OBSERVATORY", cap_height=40, x=width / 2, y=height / 2),
        put("circle", role="scores", diameter=150, x=width / 2, y=height / 2),
        put("hole", width=20, height=20, x=30, y=30),
        name="Bay sign",
    )


def split(design: Design, **how: object) -> list[Piece]:
    return list(edited(design, {"do": "split-piece", "piece": "p1", **how}).pieces[1:])


@pytest.mark.parametrize("joint", ["wavy", "straight"])
def test_the_pieces_are_the_sign_again_and_each_finds_room(joint: str) -> None:
    whole = resolve(sign().pieces[0])
    pieces = split(sign(), joint=joint)
    assert [piece.name for piece in pieces] == ["Bay sign (1 of 2)", "Bay sign (2 of 2)"]
    found = [resolve(piece) for piece in pieces]
    together = shapely.union_all([one.outline.shape for one in found])
    assert shapely.symmetric_difference(together, whole.outline.shape).area < 0.5
    assert shapely.intersection(found[0].outline.shape, found[1].outline.shape).area < 0.5
    assert sum(one.engraved.path.area for one in found) == pytest.approx(whole.engraved.path.area, abs=0.5)
    assert sum(one.scored.length for one in found) == pytest.approx(whole.scored.length, rel=1e-3)
    laid = lay_sheets(edited(sign(), {"do": "split-piece", "piece": "p1", "joint": joint}))
    assert sum(len(layout.instances) for layout in laid) == 2
    assert not any(layout.left_over for layout in laid)


@pytest.mark.parametrize("text", ["OBSERVATORY", "Ada & Bo", "QUILLMOOR LANE"])
def test_no_letter_is_cut_where_a_joint_can_lie_beside_it(text: str) -> None:
    words = put("words", text=text, cap_height=26, x=160, y=60)
    design = one_piece(put("rectangle", width=320, height=120, x=160, y=60), words)
    letters = len(shapely.get_parts(resolve(design.pieces[0]).engraved.shape))
    pieces = split(design, joint="straight")
    assert len(pieces) == 2
    assert sum(len(shapely.get_parts(resolve(piece).engraved.shape)) for piece in pieces) == letters


@pytest.mark.parametrize(("width", "height"), [(500, 380), (740, 390), (420, 560)])
def test_pieces_of_a_plate_have_no_thin_tips(width: float, height: float) -> None:
    plate = one_piece(put("rectangle", width=width, height=height, corner=8, corners="rounded"))
    whole = edited(plate, {"do": "split-piece", "piece": "p1"})
    assert len(whole.pieces) > 4
    assert not [finding for finding in check(plan(whole)) if finding.check == "material_is_not_too_thin"]


def test_parts_keep_the_operations_that_they_were_given_and_guides_stay() -> None:
    words = sign().piece("p1").parts[1].id
    alone = {"do": "add-operation", "work": "engrave", "piece": "p1", "parts": [words], "mark": "engraves"}
    line = put("circle", role="guides", diameter=100, x=225, y=95)
    given = edited(sign(), alone, line, {"do": "split-piece", "piece": "p1"})
    own = dict(given.piece("p1").part(words).operations)["engraves"]
    for piece in given.pieces[1:]:
        engraved = [part for part in piece.parts if "engraves" in part.roles]
        assert {dict(part.operations)["engraves"] for part in engraved} == {own}
        assert resolve(piece).guides.length == pytest.approx(50 * 3.1416, rel=0.02)


def test_edges_with_an_operation_of_their_own_keep_it_on_every_piece() -> None:
    """The plate's edge and one of two holes are each cut in a way of their own; the other hole as all are."""
    design = edited(sign(), put("hole", width=12, height=12, x=420, y=30))
    plate, hole = (design.piece("p1").parts[index].id for index in (0, 3))
    for part, role in ((plate, "adds"), (hole, "cuts")):
        alone = {"do": "add-operation", "work": "cut", "piece": "p1", "parts": [part], "mark": role}
        design = edited(design, alone)
    outer, own = (
        dict(design.piece("p1").part(part).operations)[role] for part, role in ((plate, "adds"), (hole, "cuts"))
    )
    pieces = edited(design, {"do": "split-piece", "piece": "p1", "joint": "straight"}).pieces[1:]
    taken = [sort_marks(piece, resolve(piece), ()).edges for piece in pieces]
    assert sorted(taken[0]) == sorted((outer, own))
    assert sorted(taken[1]) == sorted((outer, "inner"))
    area = sum(resolve(piece).outline.path.area for piece in pieces)
    assert area == pytest.approx(resolve(design.piece("p1")).outline.path.area, abs=0.5)


def test_a_wavy_joint_interlocks_and_a_straight_one_does_not() -> None:
    def overlap(joint: str) -> float:
        left, right = (resolve(piece).bounds for piece in split(sign(), joint=joint))
        return left[2] - right[0]

    assert overlap("straight") == pytest.approx(0, abs=0.01)
    assert 4 < overlap("wavy") <= 10


def test_the_sign_stays_and_the_split_is_undone_by_asking_for_it_again() -> None:
    design = edited(sign(), {"do": "split-piece", "piece": "p1", "columns": 3, "rows": 2})
    assert (design.piece("p1").copies, len(design.pieces)) == (0, 7)
    assert not [one for one in check(plan(design)) if one.level == "stop"]


def test_what_finds_no_room_offers_to_be_split() -> None:
    found = next(one for one in check(plan(sign())) if one.check == "everything_fits")
    fixes = [fix for fix in found.fixes if fix.says.startswith("Split it")]
    assert [fix.says for fix in fixes] == ["Split it, with wavy joints", "Split it, with straight joints"]
    assert fixes[0].edit.done(sign()).pieces[1].copies == 1


def test_what_is_not_to_be_split_says_why() -> None:
    small = one_piece(put("rectangle", width=40, height=40))
    with pytest.raises(Refused, match="finds room on one sheet"):
        split(small)
    with pytest.raises(Refused, match="no outline"):
        split(edited(Design(), {"do": "add-piece"}))
    tight = edited(sign(), {"do": "change", "of": "stock", "values": {"width": 30, "height": 30}})
    with pytest.raises(Refused, match="too small to split"):
        split(tight)


@examples(20)
@given(st.floats(60, 900), st.floats(60, 900), st.integers(1, 4), st.integers(1, 4))
def test_cells_cover_the_box_and_never_overlap(width: float, height: float, columns: int, rows: int) -> None:
    found = cells((10, 20, 10 + width, 20 + height), columns, rows, "wavy")
    assert len(found) == columns * rows
    box = shapely.box(10, 20, 10 + width, 20 + height)
    assert shapely.union_all([cell.shape for cell in found]).covers(box.buffer(-0.01))
    assert sum(shapely.intersection(cell.shape, box).area for cell in found) == pytest.approx(box.area, rel=1e-4)
