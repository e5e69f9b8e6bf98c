"""Bringing in: groups with what each is for, sizes, words that live, and what becomes of a drawing."""

import contextlib
import json
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.bringing import LEFT, WORDS, Answers, groups_of, taken_in
from foliant.core.bringing.report import title_of
from foliant.core.checks import check
from foliant.core.design import Design, apply, proved, resolve
from foliant.core.design.edits.taking_in import came_from
from foliant.core.design.placing import part_bounds, whole_box
from foliant.core.design.shapes import Outline
from foliant.core.design.steps import next_steps
from foliant.core.drawings import Drawing
from foliant.core.drawings.dxf import read_dxf
from foliant.core.drawings.pdf import read_pdf
from foliant.core.drawings.svg import read_svg
from foliant.core.errors import Refused
from foliant.core.formats import WRITERS, write_design
from foliant.core.formats.design_file import read_design_file
from foliant.core.lettering.matching import nearest_font
from foliant.core.paths import ARC, join
from tests.core.test_cli import foliant
from tests.drawings import svg
from tests.examples import examples
from tests.foreign import any_svg
from tests.making import edited, one_piece, plan, put

pytestmark = pytest.mark.usefixtures("read_here")

TAG = """
<g id="plate"><rect x="5" y="5" width="90" height="50" rx="6" fill="none" stroke="red" stroke-width="0.1"/>
<circle cx="12" cy="30" r="3" fill="none" stroke="red" stroke-width="0.1"/></g>
<path d="M20 45H80" stroke="blue" stroke-width="0.1" fill="none"/><path d="M40 15l5 5 5-5-5-5z"/>
<g id="guide lines"><path d="M50 0V60" stroke="#0f0" stroke-width="0.1" fill="none"/></g>
<text x="50" y="40" font-family="Lora" font-weight="bold" font-size="8" text-anchor="middle">Ysolde</text>
"""


def drawn(inside: str = TAG) -> Drawing:
    return read_svg(svg(inside))


def taken(drawing: Drawing, onto: Design | None = None, **said: object) -> Design:
    design = onto or one_piece()
    bare = not design.pieces[0].parts
    return apply(design, taken_in(drawing, Answers(**{"name": "Moon gate", **said}), "p1", bare))


def roles(design: Design) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for part in design.pieces[-1].parts:
        found.setdefault(part.roles[0], []).append(part.shape.label())
    return found


def test_every_group_is_guessed_by_what_it_is_and_by_its_layer() -> None:
    found = {(group.kind, group.role, group.layer, group.count) for group in groups_of(drawn())}
    assert found == {
        ("area", "engraves", "", 1),
        ("outer", "adds", "plate", 1),
        ("inner", "cuts", "plate", 1),
        ("open", "scores", "", 1),
        ("open", "guides", "guide lines", 1),
    }


@pytest.mark.parametrize("layers", [3, 400])
def test_things_of_very_many_colours_and_layers_come_in_few_groups(layers: int) -> None:
    def thing(i: int) -> str:
        return f'<path d="M{i} 0h{1 + i % 7}v5z" fill="none" stroke="#{(i * 7919) % 0xFFFFFF:06x}"/>'

    held = (f'<g id="layer {n}">{"".join(thing(i) for i in range(n, 3000, layers))}</g>' for n in range(layers))
    groups = groups_of(drawn("".join(held)))
    assert len(groups) <= 100
    assert sum(group.count for group in groups) == 3000
    assert len({title_of(group) for group in groups}) == len(groups)
    assert {bool(group.layer) for group in groups} == {layers < 400}


def test_a_tag_comes_in_as_it_lies_at_true_size_in_true_curves() -> None:
    design = taken(drawn())
    piece = resolve(design.pieces[0])
    assert piece.bounds == pytest.approx((0, 0, 90, 50), abs=1e-4)
    assert piece.outline.path.area == pytest.approx(90 * 50 - (4 - 3.14159265) * 36 - 3.14159265 * 9, rel=1e-6)
    assert (piece.outline.path.kinds == ARC).sum() >= 6
    assert not [finding for finding in check(plan(design)) if finding.level == "stop"]
    assert roles(design)["engraves"] == ["Moon gate", "Ysolde"]
    assert len(design.pieces[0].groups) == 1


def test_words_live_in_their_font_where_they_stood() -> None:
    design = taken(drawn())
    words = next(part for part in design.pieces[0].parts if part.shape.kind == "words")
    assert (words.shape.text, words.shape.font, words.shape.boldness) == ("Ysolde", "lora", 700)
    left, top, right, bottom = whole_box(words)
    assert (left + right) / 2 == pytest.approx(45, abs=0.3)
    assert words.y == pytest.approx(35 - 8 * 0.7 / 2, abs=0.1)
    assert bottom - top < 8
    # Placed from either end, they end where they should.
    for anchor, side in (("start", 0), ("end", 2)):
        text = f'<text x="50" y="40" font-size="8" font-family="Archivo" text-anchor="{anchor}">HEH</text>'
        design = taken(drawn(text + '<path d="M50 0V60" stroke="red"/>'))
        box = whole_box(next(part for part in design.pieces[0].parts if part.shape.kind == "words"))
        line = whole_box(next(part for part in design.pieces[0].parts if part.shape.kind == "outline"))
        assert abs(box[side] - line[0]) < 0.9


@pytest.mark.parametrize(
    ("family", "key", "same"),
    [
        ("Lora", "lora", True),
        ("Pacifico-Regular", "pacifico", True),
        ("PlayfairDisplay-Bold", "playfair-display", True),
        ("Some Brush Script", "dancing-script", False),
        ("Times New Roman", "eb-garamond", False),
        ("Helvetica-Bold", "archivo", False),
        ("", "archivo", False),
    ],
)
def test_the_nearest_font_is_found(family: str, key: str, same: bool) -> None:
    entry, is_same = nearest_font(family)
    assert (entry.key, is_same) == (key, same)


def test_answers_change_roles_size_and_what_becomes_of_it() -> None:
    drawing = drawn()
    groups = {group.kind + group.layer: group.key for group in groups_of(drawing)}
    said = {groups["openguide lines"]: LEFT, groups["open"]: "engraves", groups["area"]: "cuts", WORDS: LEFT}
    design = taken(drawing, factor=0.5, roles=said, into="piece")
    assert [piece.name for piece in design.pieces] == ["Guide tag", "Moon gate"]
    assert roles(design) == {"adds": ["plate"], "cuts": ["Moon gate", "plate"], "engraves": ["Moon gate"]}
    assert resolve(design.pieces[1]).bounds == pytest.approx((0, 0, 45, 25), abs=1e-3)
    with pytest.raises(Refused, match="role"):
        taken(drawing, roles={groups["area"]: "melts"})
    with pytest.raises(Refused, match="left out"):
        taken(drawing, roles={**dict.fromkeys(groups.values(), LEFT), WORDS: LEFT})


def test_a_file_that_changed_is_brought_anew_as_its_maker_has_it() -> None:
    design = taken(drawn(), factor=2.0)
    score = next(part for part in design.pieces[0].parts if part.plays("scores"))
    for edit in (
        {"do": "set-role", "piece": "p1", "parts": [score.id], "role": "engraves"},
        {"do": "change", "of": f"part {score.id}", "values": {"rotation": 90, "width": 60}},
        {"do": "hold-parts", "piece": "p1", "parts": [score.id], "to": "piece", "across": "middle"},
    ):
        design = edited(design, edit)
    words = next(part for part in design.pieces[0].parts if part.shape.kind == "words")
    # A wider plate, a longer line that lies elsewhere, no area any more, and a line in another colour.
    inside = TAG + '<path d="M20 20H30" stroke="#f0f" stroke-width="0.1" fill="none"/>'
    for was, is_now in (
        ('width="90"', 'width="100"'),
        ("M20 45H80", "M20 40H110v2"),
        ("M40 15l5 5 5-5-5-5z", ""),
        ("Ysolde", "Aoife"),
    ):
        inside = inside.replace(was, is_now)
    anew = taken(drawn(inside), design, factor=2.0, into="anew")
    assert resolve(anew.pieces[0]).bounds[2] - resolve(anew.pieces[0]).bounds[0] == pytest.approx(200)
    line, before = (one.pieces[0].part(score.id) for one in (anew, design))
    assert (line.roles, line.rotation, line.across) == (("engraves",), 90, before.across)
    assert (line.shape.width, line.shape.height) == pytest.approx((90, 2))
    assert (line.x, line.y) == pytest.approx((before.x + 10, before.y + 15))  # held in the middle of a wider plate
    assert words in anew.pieces[0].parts
    kinds = [came.group.split("-")[0] for _, _, came in came_from(anew, "Moon gate")]
    assert sorted(kinds) == ["inner", "open", "open", "open", "outer"]
    # Twice the same is as it was.
    again = taken(drawn(inside), anew, factor=2.0, into="anew")
    assert [part for _, part, _ in came_from(again, "Moon gate")] == [
        part for _, part, _ in came_from(anew, "Moon gate")
    ]
    locked = edited(anew, {"do": "mark-parts", "piece": "p1", "parts": [line.id], "locked": True})
    with pytest.raises(Refused, match="is locked"):
        taken(drawn(inside), locked, into="anew")
    long = taken(drawn(), name="m" * 200)
    assert taken(drawn(), long, name="m" * 200, into="anew").pieces[0].parts == long.pieces[0].parts
    with pytest.raises(Refused, match="Nothing of Moon gate is in this design"):
        taken(drawn(inside), into="anew")


def test_a_piece_for_each_body_holds_what_lies_in_it() -> None:
    inside = "".join(
        f'<circle cx="{x}" cy="30" r="12" fill="none" stroke="red"/>'
        f'<circle cx="{x}" cy="22" r="2" fill="none" stroke="red"/>'
        f'<path d="M{x - 4} 30h8v4h-8z"/>'
        for x in (15, 45, 75)
    )
    design = taken(drawn(inside), into="bodies")
    assert [len(piece.parts) for piece in design.pieces] == [0, 3, 3, 3]
    for piece in design.pieces[1:]:
        assert resolve(piece).bounds == pytest.approx((0, 0, 24, 24), abs=1e-3)
        assert len(resolve(piece).outline.bodies) == 1
    with pytest.raises(Refused, match="each body"):
        taken(drawn('<path d="M0 0H9" stroke="red"/>'), into="bodies")


def test_islands_stay_when_what_lies_round_them_is_cut() -> None:
    inside = "".join(
        f'<circle cx="50" cy="30" r="{r}" fill="none" stroke="red" stroke-width="0.1"/>' for r in (28, 20, 10)
    )
    design = taken(drawn(inside))
    assert resolve(design.pieces[0]).outline.path.area == pytest.approx(3.14159265 * (28**2 - 20**2 + 10**2), rel=1e-6)


def test_wide_lines_are_areas_or_by_one_press_lines() -> None:
    icon = '<path d="M4 12H20M12 4V20" stroke="#000" stroke-width="2" stroke-linecap="round" fill="none"/>'
    drawing = read_svg(svg(icon, 'viewBox="0 0 24 24"'))
    (group,) = groups_of(drawing)
    assert (group.kind, group.role, group.told) == ("wide", "engraves", "area")
    plate = one_piece(put("rectangle", width=80, height=40))
    area = taken(drawing, plate).pieces[0].parts[-1].shape
    line = taken(drawing, plate, told={group.key: "line"}).pieces[0].parts[-1].shape
    assert not area.is_open
    assert line.is_open
    assert area.width == pytest.approx(line.width + 2 * 25.4 / 96, abs=1e-3)


def test_a_lone_area_on_an_empty_piece_is_the_piece() -> None:
    design = taken(drawn('<path d="M10 10h40v20h-40z"/>'))
    assert roles(design) == {"adds": ["Moon gate"]}
    plate = one_piece(put("rectangle", width=80, height=40, x=40, y=20))
    design = taken(drawn('<path d="M10 10h40v20h-40z"/>'), plate)
    assert whole_box(design.pieces[0].parts[-1]) == pytest.approx((20, 10, 60, 30))


@given(st.floats(0.01, 20), st.floats(0, 359), st.floats(-50, 50))
def test_outlines_keep_their_area_at_any_size(size: float, turn: float, shift: float) -> None:
    moved = f'<g transform="translate({shift} {shift}) rotate({turn})">'
    drawing = drawn(f'{moved}<path d="M0 0A10 10 0 0 1 20 0C25 5 25 10 20 15L0 15Z"/></g>')
    (path,) = [item.path for item in drawing.items]
    design = taken(drawing, factor=size)
    (part,) = design.pieces[0].parts
    assert join(part.shape.paths()).area == pytest.approx(path.area * size**2, rel=1e-3, abs=1e-3)
    again = edited(design, {"do": "change", "of": f"part {part.id}", "values": {"width": "40"}})
    shape = again.pieces[0].parts[0].shape
    assert shape.width == pytest.approx(40, abs=1e-3)
    assert shape.height / 40 == pytest.approx(part.shape.height / part.shape.width, rel=1e-4)


def test_what_is_brought_in_is_sized_made_plain_and_written_like_any_part() -> None:
    design = taken(drawn())
    (plate,) = [part for part in design.pieces[0].parts if part.plays("adds")]
    plain = edited(design, {"do": "make-plain", "piece": "p1", "parts": [plate.id]})
    assert plain.pieces[0].part(plate.id).shape.kind == "drawn"
    assert resolve(plain.pieces[0]).outline.path.area == pytest.approx(resolve(design.pieces[0]).outline.path.area)
    again = read_design_file(write_design(design).encode())
    assert again == design
    (line,) = [part for part in design.pieces[0].parts if part.plays("scores")]
    with pytest.raises(Refused):
        edited(design, {"do": "change", "of": f"part {line.id}", "values": {"width": "0"}})


@pytest.mark.parametrize(
    "data", [[], ["M0 0"], ["M0 0L0 0Z"], ["M0 0L1e9 0Z"], ["hello"], ["M0 0L5 5 onload=1"], ["M0 0L9 9Z" * 700_000]]
)
def test_an_outline_that_cannot_be_drawn_is_a_sentence(data: list[str]) -> None:
    design = json.loads(write_design(taken(drawn())))
    design["pieces"][0]["parts"][0]["shape"]["data"] = data
    with pytest.raises(Refused):
        read_design_file(json.dumps(design).encode())


@pytest.mark.parametrize(("ending", "read"), [("svg", read_svg), ("dxf", read_dxf), ("pdf", read_pdf)])
@pytest.mark.parametrize("face", ["up", "down"])
def test_our_own_drawings_come_back_as_they_were(ending: str, read: Callable[[bytes], Drawing], face: str) -> None:
    plate = one_piece(
        put("rectangle", width=72, height=30, x=36, y=15, corner=6, corners="rounded"),
        put("circle", diameter=7.123, x=8, y=15, role="cuts"),
        put("heart", x=62, y=15, width=9, height=8, role="cuts"),
        put("line", x=36, y=27, length=30),
        put("words", text="Orrin", x=36, y=15, cap_height=6),
    )
    plate = edited(plate, {"do": "change", "of": "ticket", "values": {"face": face}})
    drawing = read(WRITERS[ending].write(plan(plate)))
    design = taken(drawing)
    ours, theirs = (resolve(one.pieces[0]) for one in (plate, design))
    assert theirs.outline.path.area == pytest.approx(ours.outline.path.area, rel=1e-4)
    assert theirs.engraved.path.area == pytest.approx(ours.engraved.path.area, rel=1e-4)
    assert theirs.scored.length == pytest.approx(30, abs=1e-3)
    assert theirs.bounds == pytest.approx(ours.bounds, abs=0.005)
    arcs = [(one.outline.path.kinds == ARC).sum() for one in (ours, theirs)]
    assert ending == "pdf" or arcs[1] == arcs[0] >= 6


def test_the_command_line_says_what_a_drawing_holds_and_writes_a_design(tmp_path: Path) -> None:
    file, out = tmp_path / "moon gate.svg", tmp_path / "design.json"
    file.write_bytes(svg(TAG))
    said = foliant("bring", file, "--to", out)
    assert said.returncode == 0, said.stderr
    assert "90 × 60 mm, as the file says in mm" in said.stdout
    assert "1 outermost outline in red on “plate”: adds material" in said.stdout
    design = read_design_file(out.read_bytes())
    assert resolve(design.pieces[0]).bounds == pytest.approx((0, 0, 90, 50), abs=1e-3)
    report = json.loads(foliant("bring", file, "--json", "--width", "45").stdout)
    assert report["width"] == pytest.approx(45)
    assert {group["role"] for group in report["groups"]} == {"adds", "cuts", "engraves", "scores", "guides"}
    file.write_bytes(b"no drawing")
    refused = foliant("bring", file, "--to", out)
    assert refused.returncode == 2
    assert "no drawing" in refused.stderr


NAMES = ("M10 10h6v10h-6z", "M20 10h6v10h-6zM22 12h2v6h-2z", "M30 10h6v10h-6z", "M60 10h6v10h-6z", "M70 10h6v10h-6z")


def test_outlines_that_stand_for_words_are_taken_apart_and_become_words_in_their_place() -> None:
    plate = one_piece(put("rectangle", width=100, height=60, x=50, y=30))
    letters = "".join(f'<path d="{data}" fill-rule="evenodd"/>' for data in NAMES)
    design = taken(drawn(letters), plate)
    (lettering,) = [part for part in design.pieces[0].parts if part.plays("engraves")]
    step = next(step for step in next_steps(design.pieces[0], [lettering.id]) if "apart" in step.says)
    assert step.says == "Take it apart into 5"
    apart = edited(design, step.edit)
    parts = sorted((part for part in apart.pieces[0].parts if part.plays("engraves")), key=lambda part: part.x)
    assert [len(part.shape.paths()[0].starts) for part in parts] == [1, 2, 1, 1, 1]
    before = [whole_box(part) for part in parts[:3]]
    step = next(step for step in next_steps(apart.pieces[0], [part.id for part in parts[:3]]) if "Words" in step.says)
    assert step.opens == "part new text"
    named = edited(apart, {**step.edit, "text": "Ysolde"})
    (words,) = [part for part in named.pieces[0].parts if part.shape.kind == "words"]
    left, top, right, bottom = part_bounds(words)
    assert words.roles == ("engraves",)
    assert (left + right) / 2 == pytest.approx((before[0][0] + before[2][2]) / 2, abs=0.05)
    assert (top + bottom) / 2 == pytest.approx((before[0][1] + before[2][3]) / 2, abs=0.05)
    assert right - left <= before[2][2] - before[0][0] + 0.01
    assert len(named.pieces[0].parts) == 4
    with pytest.raises(Refused, match="nothing to take apart"):
        edited(apart, {"do": "separate-parts", "piece": "p1", "parts": [parts[0].id]})


def brought_and_cleaned(content: bytes) -> None:
    """A drawing taken in every way, proved and cleaned up; raises `Refused` where one of that is."""
    drawing = read_svg(content)
    for into in ("parts", "piece", "bodies"):
        with contextlib.suppress(Refused):
            onto = one_piece(put("rectangle", width=80, height=40)) if into == "parts" else one_piece()
            design = proved(onto, taken_in(drawing, Answers(into=into, name="x"), "p1", into != "parts"))
            for piece in design.pieces:
                drawn_parts = [part.id for part in piece.parts if isinstance(part.shape, Outline)]
                with contextlib.suppress(Refused):
                    clean = edited(design, {"do": "clean-parts", "piece": piece.id, "parts": drawn_parts})
                    assert resolve(clean.piece(piece.id)).outline.shape.is_valid


@examples(10)
@given(st.integers(0, 10**6))
def test_whatever_is_drawn_is_brought_in_and_cleaned_or_refused_in_a_sentence(seed: int) -> None:
    with contextlib.suppress(Refused):
        brought_and_cleaned(any_svg(seed))
