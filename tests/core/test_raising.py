"""Letters and pictograms that are cut from another material and applied, and what is asked of them on a sign."""

import pytest

from foliant.core.checks import check
from foliant.core.design import Design, Piece, read_edit, resolve
from foliant.core.design.benches import every_bench
from foliant.core.design.binding import bound_rows
from foliant.core.design.edits import apply
from foliant.core.design.edits.pieces import pieces_text
from foliant.core.design.hanging import hung
from foliant.core.equipment import SHIPPED
from foliant.core.equipment.materials import contrast
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.starters import STARTERS
from tests.making import edited, one_piece, plan, put

SIGN = next(one for one in STARTERS if one.key == "touch-sign")
WORDS, MOTIF = "a6", "a4"


def change(of: str, **values: object) -> dict[str, object]:
    return {"do": "change", "of": of, "values": values}


def raised(design: Design, part: str = WORDS) -> Piece:
    (piece,) = (piece for piece in design.pieces if piece.raises == part)
    return piece


def said(design: Design) -> dict[str, list[str]]:
    """The findings of all sheets, each with what mends it."""
    found: dict[str, list[str]] = {}
    for there in every_bench(design):
        for finding in check(plan(there)):
            found.setdefault(finding.check, []).extend(fix.says for fix in finding.fixes)
    return found


def test_a_sign_begins_with_raised_letters_of_another_material_and_nothing_to_say() -> None:
    design = SIGN.design(["Lift"])
    assert said(design) == {}
    pieces = [raised(design, MOTIF), raised(design)]
    assert [piece.parts[0].shape.label() for piece in pieces] == ["Stairs", "Lift"]
    plate, letters = (one.stock.material for one in every_bench(design))
    assert (plate, letters) == ("birch-ply", "slate-acrylic")
    # They lie over their scored place, all of them and no more.
    place = resolve(design.pieces[0]).scored
    cut = [resolve(piece).outline.path for piece in pieces]
    assert place.area == pytest.approx(sum(path.area for path in cut))
    assert place.bounds == pytest.approx(join(cut).bounds, abs=1e-6)
    low, high = hung(design.pieces[0])
    assert (round(low), round(high)) == (1158, 1447)


def test_they_follow_what_is_drawn_and_are_changed_there_alone() -> None:
    design = edited(SIGN.design(["Lift"]), change(f"part {WORDS}", text="Dome"), change("piece p1", copies=3))
    piece = raised(design)
    assert (piece.name, piece.parts[0].shape.label(), piece.copies) == ("Dome, raised", "Dome", 3)
    hidden = edited(design, {"do": "mark-parts", "piece": "p1", "parts": [WORDS], "hidden": True})
    assert raised(hidden).parts[0].hidden
    own = piece.parts[0].id
    for edit in (
        {"do": "move-parts", "piece": piece.id, "parts": [own], "dx": 1, "dy": 0},
        change(f"part {own}", text="Moon"),
        change(f"piece {piece.id}", copies=9),
        {"do": "add-part", "piece": piece.id, "kind": "circle"},
    ):
        with pytest.raises(Refused, match="change it on Sign with Braille"):
            edited(design, edit)
    less = edited(design, {"do": "remove-parts", "piece": "p1", "parts": [WORDS]})
    assert [one.name for one in less.pieces] == ["Sign with Braille", "Stairs, raised"]
    none = edited(less, {"do": "remove-parts", "piece": "p1", "parts": [MOTIF]})
    assert ([one.id for one in none.pieces], none.benches) == (["p1"], ())
    again = {"do": "raise-parts", "piece": "p1", "parts": [WORDS]}
    with pytest.raises(Refused, match="applied already"):
        edited(design, again)
    with pytest.raises(Refused, match="nothing is raised on it"):
        edited(design, {**again, "piece": piece.id, "parts": [own]})
    with pytest.raises(Refused, match="bounds no area"):
        edited(one_piece(put("line", length=30)), {"do": "raise-parts", "piece": "p1", "parts": ["a2"]})


def test_a_copy_has_raised_letters_of_its_own_and_so_has_a_piece_that_is_put_elsewhere() -> None:
    design = SIGN.design(["Lift"])
    twice = edited(design, {"do": "duplicate-piece", "piece": "p1"})
    changed = edited(twice, change(f"part {WORDS}", text="Moon"))
    cut = [piece for piece in changed.pieces if piece.raises]
    assert sorted(piece.parts[0].shape.label() for piece in cut) == ["Lift", "Moon", "Stairs", "Stairs"]
    assert {piece.bench for piece in cut} == {raised(design).bench}
    free = edited(design, {"do": "duplicate-piece", "piece": raised(design).id})
    assert sum(piece.raises == "" for piece in free.pieces) == 2
    text = pieces_text(design, [piece.id for piece in design.pieces])
    other = edited(one_piece(put("circle")), {"do": "add-pieces", "text": text})
    plate = next(piece for piece in other.pieces if len(piece.parts) == 6)
    assert {piece.raises for piece in other.pieces} - {""} <= {part.id for part in plate.parts}
    assert (plate.bench, len({piece.bench for piece in other.pieces})) == ("", 2)


def test_each_row_of_a_roster_has_its_own_raised_letters() -> None:
    rows = [["Lift"], [""], ["Dome 3"]]
    table = {"do": "take-table", "heading": ["word"], "rows": rows}
    design = edited(SIGN.design(), table, {"do": "tie", "of": f"part {WORDS} text", "text": "{word}"})
    found = [bound.piece.parts[0] for bound in bound_rows(design, raised(design))]
    assert [part.shape.label() for part in found if not part.hidden] == ["Lift", "Dome 3"]
    assert found[1].hidden


def test_what_follows_others_is_raised_as_it_is_drawn_and_braille_as_dots() -> None:
    design = one_piece(
        put("circle", diameter=80, x=40, y=40), {"do": "words-on-edge", "piece": "p1", "part": "a2", "top": "Quillmoor"}
    )
    design = edited(design, {"do": "raise-parts", "piece": "p1", "parts": ["a3"], "place": "engraved"})
    assert design.pieces[0].parts[1].roles == ("engraves",)
    assert resolve(raised(design, "a3")).outline.path.area == pytest.approx(
        resolve(design.pieces[0]).engraved.path.area
    )
    dots = one_piece(put("rectangle", width=90, height=30), put("braille", text="Lift"))
    dots = edited(dots, {"do": "raise-parts", "piece": "p1", "parts": ["a3"], "place": "bare"})
    assert len(resolve(raised(dots, "a3")).outline.bodies) == len(dots.pieces[0].parts[1].shape.spots)
    assert resolve(dots.pieces[0]).outline.path.area == pytest.approx(90 * 30)


def test_what_is_asked_of_letters_and_pictograms_is_said_and_mended_by_a_press() -> None:
    design = SIGN.design(["Lift"])
    wide = edited(design, change(f"part {WORDS}", font="oswald", tracking=0, text="MOON"))
    assert said(wide)["letters_are_read_by_touch"] == ["Set it in Archivo", "Track them 4 %"]
    serif = edited(design, change(f"part {WORDS}", font="lora"))
    assert said(serif)["letters_are_read_by_touch"] == ["Set it in Archivo", "Track them 9 %"]
    low = edited(design, change("part a2", height=140))
    assert said(low)["pictograms_have_their_field"] == ["Make the piece 152.1 mm high"]
    flat = edited(design, {"do": "remove-piece", "piece": raised(design).id})
    assert said(flat)["letters_stand_out"] == ["Cut it raised, from other material"]
    typed = edited(design, change("part a7", text="Moon"))
    assert said(typed)["braille_tells_what_is_written"] == ["Have it say “Lift”"]
    for bad in (wide, serif, low, flat, typed):
        for _ in range(4):
            fixes = [fix for there in every_bench(bad) for one in check(plan(there)) for fix in one.fixes]
            bad = apply(bad, fixes[0].edit.with_shop(SHIPPED, bad)) if fixes else bad
        assert said(bad) == {}
    # A thin card that is as light as its ground stands out neither to fingers nor to eyes.
    thin = {"material": "ivory-card", "thickness": 0.4}
    card = edited(design, {"do": "cut-from", "pieces": [raised(design).id], "stock": thin})
    assert set(said(card)["letters_stand_out"]) == {"Cut it from 3 mm slate acrylic"}
    assert read_edit({"do": "raise-parts", "piece": "p1", "parts": [WORDS]}).with_shop(SHIPPED, design).stock
    assert contrast("#000000", "#ffffff") == 1
