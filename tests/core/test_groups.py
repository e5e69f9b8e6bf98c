"""Groups, order and copies of them."""

from foliant.core.design import Design
from foliant.core.design.edits.parts import ancestry, members
from tests.making import edited, one_piece, put

HERE = {"piece": "p1"}


def four() -> Design:
    return one_piece(*(put("hole", x=10 * i, y=5) for i in range(4)))


def group(*parts: str) -> dict[str, object]:
    return {"do": "group-parts", **HERE, "parts": list(parts)}


def test_a_group_of_a_group_is_undone_from_the_outside() -> None:
    design = edited(four(), group("a2", "a3"), group("a2", "a3", "a4"))
    piece = design.pieces[0]
    outer, inner = ancestry(piece, piece.part("a4").group)[-1], piece.part("a2").group
    assert inner is not None
    assert [part.id for part in members(piece, outer)] == ["a2", "a3", "a4"]
    assert [part.id for part in members(piece, inner)] == ["a2", "a3"]
    once = edited(design, {"do": "ungroup-parts", **HERE, "parts": ["a2", "a3", "a4"]}).pieces[0]
    assert once.part("a4").group is None
    assert once.part("a2").group == inner


def test_groups_are_copied_with_their_parts_and_go_with_the_last_of_them() -> None:
    design = edited(four(), group("a2", "a3"))
    copied = edited(design, {"do": "duplicate-parts", **HERE, "parts": ["a2", "a3"]}).pieces[0]
    assert len(copied.groups) == 2
    assert copied.parts[-1].group == copied.parts[-2].group != copied.parts[0].group
    piece = edited(design, {"do": "duplicate-piece", "piece": "p1"}).pieces[1]
    assert piece.groups[0].id != design.pieces[0].groups[0].id
    assert piece.parts[0].group == piece.groups[0].id
    assert edited(design, {"do": "remove-parts", **HERE, "parts": ["a2", "a3"]}).pieces[0].groups == ()


def order(design: Design, to: str, *parts: str) -> list[str]:
    edit = {"do": "order-parts", **HERE, "parts": list(parts), "to": to}
    return [part.id for part in edited(design, edit).pieces[0].parts]


def test_parts_are_raised_and_lowered() -> None:
    design = four()
    assert order(design, "up", "a2") == ["a3", "a2", "a4", "a5"]
    assert order(design, "down", "a5", "a4") == ["a2", "a4", "a5", "a3"]
    assert order(design, "top", "a2", "a3") == ["a4", "a5", "a2", "a3"]
    assert order(design, "bottom", "a5") == ["a5", "a2", "a3", "a4"]
    assert order(design, "up", "a5") == ["a2", "a3", "a4", "a5"]
