"""Words on a piece: on edges, fitted, joined and bridged, and how they follow other parts."""

import math
from typing import Any

import numpy as np
import pytest
import shapely

from foliant.core.design import Design, Part, read_design, resolve
from foliant.core.design.placing import part_bounds, part_paths, visual_centre
from foliant.core.design.shapes import Words
from foliant.core.errors import Refused
from foliant.core.lettering import library
from foliant.core.paths import combine, join
from tests.making import check_piece, edited, one_piece, plan, put

DISC = put("circle", diameter=100, x=50, y=50)
BARS = (put("rectangle", width=100, height=6, x=50, y=10), put("rectangle", width=100, height=6, x=50, y=50))
NAME = put("words", text="Vega", font="pacifico", x=50, y=30, role="adds")


def words_of(design: Design, text: str = "") -> Part:
    found = [part for piece in design.pieces for part in piece.parts if isinstance(part.shape, Words)]
    return next(part for part in found if text in part.shape.label())


def shape_of(part: Part) -> Words:
    assert isinstance(part.shape, Words)
    return part.shape


def letters(design: Design, what: str, to: str = "on", part: str = "") -> Design:
    key = part or words_of(design).id
    return edited(design, {"do": "set-letters", "piece": "p1", "parts": [key], "what": what, "to": to})


def change(design: Design, of: str, **values: Any) -> Design:
    return edited(design, {"do": "change", "of": of, "values": values})


def bodies(design: Design) -> int:
    return len(resolve(design.pieces[0]).outline.bodies)


def rim(top: str = "QUILLMOOR", bottom: str = "FIRST LIGHT") -> Design:
    edge = {"do": "words-on-edge", "piece": "p1", "part": "a2", "top": top, "bottom": bottom}
    return edited(one_piece(DISC), edge)


def topper(name: str = "Vega") -> Design:
    design = change(one_piece(*BARS, NAME), "part a4", text=name)
    return edited(design, {"do": "fit-between", "piece": "p1", "parts": ["a2", "a3", "a4"], "overlap": 0.5})


# On an edge


def test_two_texts_on_one_rim_are_one_edit_and_lie_within_it() -> None:
    design = rim()
    top, bottom = words_of(design, "QUILLMOOR"), words_of(design, "FIRST")
    assert part_bounds(top)[1] == pytest.approx(shape_of(top).edge.gap, abs=0.5)  # type: ignore[union-attr]
    assert part_bounds(bottom)[3] == pytest.approx(100 - shape_of(bottom).edge.gap, abs=0.5)  # type: ignore[union-attr]
    long = rim("QUILLMOOR OBSERVATORY, OPEN NIGHT", "FIRST LIGHT OF THE TWENTY-INCH TELESCOPE")
    drawn = [path for part in long.pieces[0].parts[1:] for path in part_paths(part)]
    assert combine(drawn).path.area == pytest.approx(sum(path.area for path in drawn), abs=0.5)  # none over another


def test_words_follow_the_shape_that_they_run_along() -> None:
    design = change(rim(), "part a2", diameter=60)
    for text in ("QUILLMOOR", "FIRST"):
        left, top, right, bottom = part_bounds(words_of(design, text))
        assert left > 20
        assert right < 80
        assert math.hypot(50 - left, 50 - (top + bottom) / 2) < 40
    moved = edited(rim(), {"do": "move-parts", "piece": "p1", "parts": ["a2"], "dx": 30, "dy": 5})
    before, after = (part_bounds(words_of(found, "FIRST")) for found in (rim(), moved))
    assert after == pytest.approx((before[0] + 30, before[1] + 5, before[2] + 30, before[3] + 5), abs=0.01)


def test_other_words_keep_the_setting() -> None:
    design = change(rim(), "edge a3", angle=30, gap=6)
    other = change(design, "part a3", text="DOME")
    assert shape_of(words_of(other, "DOME")).edge == shape_of(words_of(design, "QUILL")).edge


def test_words_dragged_along_an_edge_change_their_angle() -> None:
    design = edited(rim(), {"do": "move-parts", "piece": "p1", "parts": ["a3"], "dx": 45, "dy": 45})
    part = words_of(design, "QUILL")
    assert (part.x, part.y, part.rotation) == (0, 0, 0)
    assert 80 < shape_of(part).edge.angle < 115  # type: ignore[union-attr]
    turned = edited(rim(), {"do": "rotate-parts", "piece": "p1", "parts": ["a3"], "by": -40})
    assert shape_of(words_of(turned, "QUILL")).edge.angle == pytest.approx(-40)  # type: ignore[union-attr]


def test_a_guide_holds_words_and_is_never_cut() -> None:
    guide = one_piece(put("rectangle", width=120, height=120, x=60, y=60), {**DISC, "role": "guides"}, NAME)
    design = change(letters(guide, "edge", "a3"), "part a4", text="Vela")
    assert shape_of(words_of(design)).edge.side == "outside"  # type: ignore[union-attr]
    lines = plan(design).lines
    assert sum(len(line.lines) for line in lines if line.id in ("inner", "score")) < 60  # but no circle among them
    radius = [math.hypot(*(point - 50)) for path in part_paths(words_of(design)) for point in path.points[:, 0]]
    assert min(radius) > 51


def test_words_bend_on_a_circle_of_their_own_about_where_they_are() -> None:
    straight = one_piece(put("rectangle", width=120, height=80, x=60, y=40), NAME)
    design = letters(straight, "edge", "circle")
    guide = design.pieces[0].parts[-1]
    assert guide.plays("guides")
    before, after = (part_bounds(words_of(found)) for found in (straight, design))
    near = 0.05 * (before[2] - before[0])
    assert (after[0] + after[2]) / 2 == pytest.approx((before[0] + before[2]) / 2, abs=near)
    turns = [letter.turn for letter in shape_of(words_of(design)).setting().letters]
    assert turns[0] == pytest.approx(-turns[-1], abs=15)
    assert 60 < turns[-1] - turns[0] < 130


def test_what_goes_along_an_edge_is_not_held_besides() -> None:
    with pytest.raises(Refused, match="goes along Circle already"):
        edited(rim(), {"do": "hold-parts", "piece": "p1", "parts": ["a3"]})
    aligned = edited(rim(), {"do": "align-parts", "piece": "p1", "parts": ["a3"], "across": "near", "hold": True})
    assert words_of(aligned, "QUILL").across is None


def test_words_whose_edge_is_deleted_stay_about_where_they_were() -> None:
    before = part_bounds(words_of(rim(), "FIRST"))
    design = edited(rim(), {"do": "remove-parts", "piece": "p1", "parts": ["a2"]})
    left = words_of(design, "FIRST")
    assert shape_of(left).edge is None
    after = part_bounds(left)
    assert (after[0] + after[2]) / 2 == pytest.approx((before[0] + before[2]) / 2, abs=0.1)
    assert (after[1] + after[3]) / 2 == pytest.approx((before[1] + before[3]) / 2, abs=3)


def test_words_go_on_along_a_part_that_is_hidden() -> None:
    hidden = edited(rim(), {"do": "mark-parts", "piece": "p1", "parts": ["a2"], "hidden": True})
    assert part_bounds(words_of(hidden, "FIRST")) == part_bounds(words_of(rim(), "FIRST"))


def test_a_copied_rim_has_texts_of_its_own() -> None:
    design = edited(rim(), {"do": "duplicate-parts", "piece": "p1", "parts": ["a2", "a3", "a4"], "dx": 120, "dy": 0})
    before, after = part_bounds(design.pieces[0].parts[1]), part_bounds(design.pieces[0].parts[4])
    assert after[0] - before[0] == pytest.approx(120, abs=0.01)
    assert shape_of(design.pieces[0].parts[4]).edge.to == design.pieces[0].parts[3].id  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("top", "bottom", "says"), [(" ", "", "Type the words"), ("x" * 10_000, "", "10,000"), ("ok", "a\x00b", "control")]
)
def test_what_cannot_run_along_an_edge_is_refused(top: str, bottom: str, says: str) -> None:
    with pytest.raises(Refused, match=says):
        rim(top, bottom)


@pytest.mark.parametrize(("to", "says"), [("a3", "closes"), ("a9", "no longer")])
def test_what_has_no_edge_is_refused(to: str, says: str) -> None:
    design = one_piece(DISC, put("line", x=20, y=20), NAME)
    with pytest.raises(Refused, match=says):
        letters(design, "edge", to)


# Fitted


def test_a_short_and_a_long_name_both_touch_both_bars_and_are_one_body() -> None:
    for name in ("Vega", "Bartholomew"):
        design = topper(name)
        upper, lower, word = design.pieces[0].parts
        assert part_bounds(word)[3] == pytest.approx(part_bounds(lower)[1] + 0.5, abs=0.02)
        assert part_bounds(word)[1] == pytest.approx(part_bounds(upper)[3] - 0.5, abs=0.02)
        assert bodies(design) == 1
    typed = change(topper("Vega"), "part a4", text="Bartholomew")
    assert bodies(typed) == 1
    assert part_bounds(typed.pieces[0].parts[0])[1] > part_bounds(topper("Vega").pieces[0].parts[0])[1] + 3
    assert part_bounds(typed.pieces[0].parts[2])[2] - part_bounds(typed.pieces[0].parts[2])[0] == pytest.approx(
        92, abs=0.1
    )


def test_letters_fill_a_ring_and_follow_its_size() -> None:
    ring = one_piece(
        put("ring", diameter=90, band=6, x=45, y=45), {**NAME, "values": {"text": "ORION", "font": "bebas-neue"}}
    )
    design = letters(ring, "fit", "a2")
    assert bodies(design) == 1
    larger = change(design, "part a2", diameter=120)
    assert bodies(larger) == 1
    assert part_bounds(words_of(larger))[3] > part_bounds(words_of(design))[3] + 10
    with pytest.raises(Refused, match="take their size from Ring"):
        edited(design, {"do": "resize-parts", "piece": "p1", "parts": ["a3"], "width": 30})


def test_words_fit_between_two_parts_that_stay() -> None:
    stay = {"do": "fit-between", "piece": "p1", "parts": ["a2", "a3", "a4"], "overlap": 0.4, "stay": True}
    design = edited(
        one_piece(*BARS, NAME), stay, {"do": "move-parts", "piece": "p1", "parts": ["a3"], "dx": 0, "dy": 4}
    )
    box = part_bounds(words_of(design))
    assert (box[1], box[3]) == pytest.approx((13 - 0.4, 51 + 0.4), abs=0.02)
    assert bodies(design) == 1


def test_a_box_is_sized_both_ways_by_hand() -> None:
    design = letters(one_piece(DISC, NAME), "fit", "box")
    sized = edited(design, {"do": "resize-parts", "piece": "p1", "parts": ["a3"], "width": 60, "about": "middle"})
    before, after = (part_bounds(words_of(found)) for found in (one_piece(DISC, NAME), sized))
    assert part_bounds(words_of(design)) == pytest.approx(before, abs=0.02)  # a box begins as large as they are
    assert after[2] - after[0] == pytest.approx(60, abs=0.05)
    assert after[3] - after[1] == pytest.approx(before[3] - before[1], abs=0.02)


# Sizes


def test_another_measure_keeps_the_size_until_it_is_typed() -> None:
    design = one_piece(DISC, NAME)
    before = part_bounds(words_of(design))
    for by in ("width", "height", "points", "capitals"):
        design = change(design, "part a3", sized_by=by)
        assert part_bounds(words_of(design)) == pytest.approx(before, abs=0.01)
    wide = change(change(design, "part a3", sized_by="width"), "part a3", width="5cm", text="Bartholomew")
    box = part_bounds(words_of(wide))
    assert box[2] - box[0] == pytest.approx(50, abs=0.01)


# Stencil


def test_counters_that_would_fall_are_bridged_by_a_fix_moved_and_taken_out() -> None:
    plate = put("rectangle", width=100, height=50, x=50, y=25)
    design = one_piece(plate, put("words", text="DOB", font="alfa-slab-one", cap_height=20, role="cuts", x=50, y=25))
    (finding,) = [one for one in check_piece(design, design.pieces[0]) if one.check == "bodies_hold_together"]
    assert finding.fixes[0].says == "Hold the counters by stencil bridges"
    mended = finding.fixes[0].edit.apply(design)
    assert bodies(mended) == 1
    move = {"do": "move-bridge", "piece": "p1", "part": "a3", "letter": 0, "counter": 0}
    first = shape_of(words_of(mended)).setting().bridges[0]
    shifted = edited(mended, {**move, "dx": 0.6, "dy": 3})
    assert shape_of(words_of(shifted)).setting().bridges[0].x == pytest.approx(first.x + 0.6, abs=0.01)
    assert bodies(shifted) == 1
    out = edited(mended, {**move, "out": True})
    assert bodies(out) == 2
    assert bodies(edited(out, move)) == 1


# One piece a letter


def test_a_word_becomes_a_row_of_pieces_one_letter_each() -> None:
    pennant = one_piece(
        put("rectangle", width=50, height=70, x=40, y=40), put("words", text="VEGA!", x=40, y=40, cap_height=18)
    )
    pennant = edited(pennant, {"do": "hold-parts", "piece": "p1", "parts": ["a3"], "to": "piece"})
    design = edited(pennant, {"do": "spell-pieces", "piece": "p1", "part": "a3"})
    assert [piece.name for piece in design.pieces] == [f"Guide tag {letter}" for letter in "VEGA!"]
    found = [next(part for part in piece.parts if isinstance(part.shape, Words)) for piece in design.pieces]
    assert [shape_of(part).text for part in found] == list("VEGA!")
    assert len({round(part.y, 4) for part in found}) == 1  # on one baseline
    assert all(part.across for part in found)
    assert all(shape_of(part).cap_height == 18 for part in found)
    with pytest.raises(Refused, match="One letter"):
        edited(design, {"do": "spell-pieces", "piece": "p1", "part": found[0].id})


# Single-line letters


def test_single_line_letters_are_engraved_or_scored_as_strokes_and_add_nothing_without_a_width() -> None:
    design = one_piece(
        DISC, {**NAME, "values": {"text": "Vega", "font": "line-plain", "cap_height": 12}, "role": "engraves"}
    )
    engraving = next(line for line in plan(design).lines if line.id == "engrave")
    assert len(engraving.lines) > 20
    assert not engraving.lines.closed.any()
    burnt = plan(design).program.toolpath()
    moves = burnt.points[burnt.working & (burnt.operation == 0)]
    assert np.hypot(*(moves[:, 3] - moves[:, 0]).T).sum() == pytest.approx(engraving.lines.length, rel=0.005)  # once
    for role, area in (("adds", 0.0), ("cuts", 0.0)):
        other = edited(design, {"do": "set-role", "piece": "p1", "parts": ["a3"], "role": role})
        assert resolve(other.pieces[0]).outline.path.area == pytest.approx(math.pi * 2500, abs=1 + area)
    cut = edited(design, {"do": "set-role", "piece": "p1", "parts": ["a3"], "role": "cuts"})
    wide = edited(cut, {"do": "treat-parts", "piece": "p1", "parts": ["a3"], "treatment": "widened"})
    assert resolve(wide.pieces[0]).outline.path.area < math.pi * 2500 - 20


# Fonts that are gone, and files


def test_a_font_that_is_gone_is_said_and_the_substitute_kept_by_a_fix(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(library, "_finders", [])
    design = change(one_piece(DISC, {**NAME, "role": "engraves"}), "part a3", font="own-orion-hand-1a2b3c4d5e")
    assert shape_of(words_of(design)).font == "own-orion-hand-1a2b3c4d5e"
    (finding,) = [one for one in check_piece(design, design.pieces[0]) if one.check == "what_parts_are_made_of_is_here"]
    assert finding.title == "The font Orion Hand is not here"
    assert "Playfair Display bold stands in" in finding.sentence
    mended = finding.fixes[0].edit.apply(design)
    assert not any(one.check == "what_parts_are_made_of_is_here" for one in check_piece(mended, mended.pieces[0]))
    with pytest.raises(Refused, match="no font"):
        change(design, "part a3", font="../etc/passwd")


@pytest.mark.parametrize("hold", [None, "middle", "visual"])
def test_letters_of_a_row_stand_on_one_baseline_and_look_centred(hold: str | None) -> None:
    plate = put("rectangle", width=50, height=70, x=40, y=40)
    design = one_piece(plate, put("words", text="LET", x=40, y=40, cap_height=18, font="bebas-neue"))
    if hold:
        held = {"do": "hold-parts", "piece": "p1", "parts": ["a3"], "to": "piece", "across": hold, "down": hold}
        design = edited(design, held)
    design = edited(design, {"do": "spell-pieces", "piece": "p1", "part": "a3"})
    found = [next(part for part in piece.parts if isinstance(part.shape, Words)) for piece in design.pieces]
    feet = [part_bounds(part)[3] for part in found]
    assert max(feet) - min(feet) < 0.05
    centres = [visual_centre(part)[0] for part in found]
    assert max(centres) - min(centres) < 0.05


def test_a_design_of_lettered_parts_reads_back_exactly() -> None:
    for design in (rim(), topper("Bartholomew"), letters(rim(), "stencil", part="a3")):
        again = read_design(design.model_dump(mode="json"))
        assert again == design
        for before, after in zip(design.pieces[0].parts, again.pieces[0].parts, strict=True):
            assert join(part_paths(after)).bounds == join(part_paths(before)).bounds


def test_words_are_split_into_letters_where_they_stand() -> None:
    design = edited(rim(), {"do": "split-words", "piece": "p1", "parts": ["a3"]})
    singles = [part for part in design.pieces[0].parts if isinstance(part.shape, Words) and len(part.shape.text) == 1]
    assert "".join(shape_of(part).text for part in singles) == "QUILLMOOR"
    before, after = part_bounds(words_of(rim(), "QUILL")), [part_bounds(part) for part in singles]
    assert min(box[0] for box in after) == pytest.approx(before[0], abs=0.05)
    assert max(box[2] for box in after) == pytest.approx(before[2], abs=0.05)
    with pytest.raises(Refused, match="stretched to fit"):
        edited(topper(), {"do": "split-words", "piece": "p1", "parts": ["a4"]})


def test_features_are_turned_on_and_off() -> None:
    design = letters(one_piece(DISC, NAME), "feature", "swsh first")
    assert shape_of(words_of(design)).features == ("swsh first",)
    assert shape_of(words_of(letters(design, "feature", "swsh"))).features == ("swsh",)
    assert shape_of(words_of(letters(design, "feature", "swsh first"))).features == ()
    with pytest.raises(Refused):
        letters(design, "feature", "everything; drop")


@pytest.mark.parametrize("width", [30.0, 90.0])
def test_a_bridge_to_a_dot_is_as_wide_as_its_sentence_says_fitted_or_not(width: float) -> None:
    words = put("words", text="ii", font="roboto-slab", cap_height=20, role="adds")
    design = one_piece(words)
    for what, to in (("joined", "on"), ("fit", "box")):
        edit = {"do": "set-letters", "piece": "p1", "parts": ["a2"], "what": what, "to": to}
        design = edited(design, edit)
    design = change(design, "fit a2", width=width, height=24, fills="both")
    shape = resolve(design.pieces[0]).outline.shape
    left, top, right, bottom = shape.bounds
    levels = (shapely.LineString([(left, y), (right, y)]) for y in np.linspace(top, bottom, 200))
    narrowest = min(cut.length for cut in (shape.intersection(level) for level in levels) if cut.length > 1e-6)
    assert narrowest == pytest.approx(2 * 1.2, rel=0.1)
