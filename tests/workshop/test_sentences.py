"""The spec line: every part says itself, and every value in it can be changed by what it names."""

from typing import Any

import pytest

from foliant.core.design import Design
from foliant.core.design.edits.adding import KINDS
from foliant.core.design.shapes import Composite, Drawn
from foliant.workshop.presenters.scene import piece_scene
from tests.making import edited, one_piece, outlined, put

HERE = {"piece": "p1"}


def bits(design: Design, part: str = "a2") -> list[dict[str, Any]]:
    piece = design.pieces[0]
    scene = piece_scene(piece, "birch ply", design.unit)
    return next(found["spec"] for found in scene["parts"] if found["id"] == part)


def says(design: Design, part: str = "a2") -> str:
    return "".join(bit["text"] for bit in bits(design, part))


def plate(*more: dict[str, Any]) -> Design:
    return one_piece(put("rectangle", width=72, height=30), *more)


@pytest.mark.parametrize(
    ("kind", "begins"),
    [
        ("ellipse", "Ellipse 60 mm × 36 mm, adds to Guide tag"),
        ("polygon", "Polygon of 6 sides, 40 mm across its corners, adds to"),
        ("star", "Star of 5 points, 40 mm across, notches 55 % deep, adds to"),
        ("sector", "Sector of 90° of a circle 60 mm across, open for 0 mm, adds to"),
        ("arch", "Arch-top 40 mm × 60 mm, its arch rises 20 mm, adds to"),
        ("drop", "Drop 30 mm across and 46 mm to its point, proportions kept, adds to"),
        ("heart", "Heart 44 mm × 40 mm, dipping 9 mm, proportions kept, adds to"),
        ("eye", "Eye with a hole 4 mm across, its band 3 mm wide, adds to"),
        ("line", "Line 40 mm long, scores Guide tag"),
        ("motif", "Motif Star, 20.73 mm × 20 mm, proportions kept, engraves Guide tag"),
    ],
)
def test_every_kind_says_its_own_measures(kind: str, begins: str) -> None:
    assert says(plate(put(kind)), "a3").startswith(begins)


BROUGHT = {"do": "take-in", "piece": "p1", "pieces": [[outlined("M0 0L30 0A8 8 0 0 1 30 16L0 16Z")]]}


@pytest.mark.parametrize("kind", [kind for kind in KINDS if not issubclass(KINDS[kind], (Composite, Drawn))])
def test_every_value_of_a_sentence_takes_back_what_it_shows(kind: str) -> None:
    design = plate(BROUGHT if kind == "outline" else put(kind))
    for bit in bits(design, "a3"):
        if bit.get("field") and bit["field"] != "role":
            again = edited(design, {"do": "change", "of": bit["of"], "values": {bit["field"]: bit["raw"]}})
            assert says(again, "a3") == says(design, "a3")


def test_a_hold_is_spoken_one_way_both_ways_and_at_the_middle() -> None:
    design = plate(put("hole", width=4, height=4, x=7, y=15))
    one = edited(design, {"do": "hold-parts", **HERE, "parts": ["a3"], "down": None})
    assert "held 5 mm inside the left edge of Guide tag, its middle 15 mm down" in says(one, "a3")
    both = edited(design, {"do": "hold-parts", **HERE, "parts": ["a3"]})
    assert "held 5 mm inside the left edge and level with the middle of Guide tag" in says(both, "a3")
    centred = {"do": "align-parts", **HERE, "parts": ["a3"], "across": "middle", "down": "middle", "hold": True}
    assert "; held at the middle of Guide tag, turned 0°." in says(edited(design, centred), "a3")
    split = edited(both, {"do": "release-parts", **HERE, "parts": ["a3"], "axis": "down"}, put("circle"))
    split = edited(split, {"do": "hold-parts", **HERE, "parts": ["a3"], "to": "a4", "across": None})
    assert "of Guide tag and level with the middle of Circle" in says(split, "a3")


def test_the_values_of_a_hold_are_changed_in_the_sentence() -> None:
    design = plate(put("hole", width=4, height=4, x=7, y=15), put("circle", diameter=10, x=50, y=15))
    held = edited(design, {"do": "hold-parts", **HERE, "parts": ["a3"]})

    def change(of: str, **values: Any) -> Design:
        return edited(held, {"do": "change", "of": of, "values": values})

    assert change("across a3", gap="3").pieces[0].part("a3").x == pytest.approx(5)
    assert change("across a3", anchor="far").pieces[0].part("a3").x == pytest.approx(72 - 5 - 2)
    assert change("hold a3", to="a4").pieces[0].part("a3").x == pytest.approx(45 + 5 + 2)
    with pytest.raises(Exception, match="not held"):
        change("across a4", gap=3)


def test_repeats_are_spoken_with_their_values() -> None:
    design = plate(put("hole", width=4, height=4, x=7, y=15))

    def repeat(kind: str, **values: Any) -> str:
        begun = edited(design, {"do": "repeat-parts", **HERE, "parts": ["a3"], "kind": kind})
        return says(edited(begun, {"do": "change", "of": "repeat a3", "values": values}) if values else begun, "a3")

    assert repeat("rows").endswith("; repeated in 3 columns, 4 mm apart, and 1 row.")
    assert ", and 2 rows, 4 mm likewise." in repeat("rows", rows=2)
    assert repeat("around").endswith("; 6 of it around Guide tag over 360°, turned to it.")
    assert repeat("around", about="").endswith("around a point of its own (36 mm, 15 mm) over 360°, turned to it.")
    assert repeat("mirrored").endswith("; mirrored left to right at Guide tag.")


def test_a_part_says_that_it_is_locked_flipped_or_hidden() -> None:
    design = plate(put("heart"))
    locked = edited(design, {"do": "mark-parts", **HERE, "parts": ["a3"], "locked": True})
    assert says(locked, "a3").endswith("; locked.")
    hidden = edited(design, {"do": "mark-parts", **HERE, "parts": ["a3"], "hidden": True})
    assert says(hidden, "a3").endswith("; hidden, so it is not made.")
    assert ", flipped" in says(edited(design, {"do": "flip-parts", **HERE, "parts": ["a3"], "axis": "across"}), "a3")


def test_a_scene_tells_of_holds_groups_and_copies() -> None:
    design = plate(put("hole", width=4, height=4, x=7, y=15), put("hole", width=4, height=4, x=60, y=15))
    design = edited(
        design,
        {"do": "group-parts", **HERE, "parts": ["a3", "a4"]},
        {"do": "hold-parts", **HERE, "parts": ["a3"]},
        {"do": "repeat-parts", **HERE, "parts": ["a4"], "kind": "mirrored"},
    )
    scene = piece_scene(design.pieces[0], "birch ply", design.unit)
    hole, other = scene["parts"][1:]
    assert hole["groups"] == other["groups"] != []
    assert [hold["name"] for hold in hole["holds"]] == ["Guide tag", "Guide tag"]
    assert [number for number, _ in other["copies"]] == [1]
    assert scene["ids"] == ["a2", "a3", "a4"]
