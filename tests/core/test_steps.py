"""Likely next steps: they fit what is chosen, and each of them can be done."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.cli import main
from foliant.core.design import Design, resolve
from foliant.core.design.edits.adding import KINDS
from foliant.core.design.shapes import Composite, Drawn, Outline
from foliant.core.design.steps import MOST, next_steps
from foliant.core.formats.design_file import write_design
from tests.making import edited, one_piece, put, tag

HERE = {"piece": "p1"}
ON_SHELF = sorted(key for key, kind in KINDS.items() if not issubclass(kind, (Composite, Drawn, Outline)))


def says(design: Design, *parts: str) -> list[str]:
    return [step.says for step in next_steps(design.pieces[0], parts)]


def test_a_plate_wants_its_corners_a_hole_a_line_and_words() -> None:
    plate = one_piece(put("rectangle"))
    assert says(plate, "a2") == ["Round its corners", "Words on it", "A hole in it", "A line inside its edge"]
    assert "Words along its edge" in says(one_piece(put("circle"), put("hole")), "a2")
    assert says(tag()) == ["Words on it", "A line inside its edge"]  # it has a hole


def test_words_want_a_plate_and_a_script_is_joined_first() -> None:
    assert says(one_piece(put("words")), "a2") == ["A plate round it", "Between two bars"]
    assert says(one_piece(put("words", font="pacifico")), "a2")[0] == "Join its letters"
    assert says(tag(), "a4") == ["A plate round it", "Words below it", "Hold it where it is"]


def test_a_hole_wants_another_across_from_it() -> None:
    design = tag()
    (step, *_) = next_steps(design.pieces[0], ["a3"])
    assert step.says == "Another across from it"
    other = edited(design, step.edit).pieces[0].parts[-1]
    assert (other.x, other.y) == (pytest.approx(72 - 6.75), 15)


def test_several_are_held_together_as_they_lie() -> None:
    moon = one_piece(put("ring", diameter=80), put("circle", diameter=50, x=40, y=40))
    assert says(moon, "a2", "a3")[0] == "Hold it with tabs"
    bars = one_piece(
        put("rectangle", width=90, height=8),
        put("rectangle", width=90, height=8, y=40),
        put("words", role="adds", y=20),
    )
    assert "Fit the words between" in says(bars, "a2", "a3", "a4")
    assert says(tag(), "a2", "a4") == ["Centre on Rectangle", "Keep them together"]


@pytest.mark.parametrize("kind", ON_SHELF)
def test_each_step_of_each_kind_can_be_done(kind: str) -> None:
    design = one_piece(put("rectangle", width=120, height=80), put(kind))
    for chosen in ([], ["a3"], ["a2", "a3"]):
        steps = next_steps(design.pieces[0], chosen)
        assert len(steps) <= MOST
        for step in steps:
            done = edited(design, step.edit)
            assert done != design
            address = step.opens.split()
            new = {part.id for part in done.pieces[0].parts} - {part.id for part in design.pieces[0].parts}
            assert not address or address[1] in ("new", "a3") or address[1] in chosen
            assert "new" not in address or new


@pytest.mark.parametrize("kind", ON_SHELF)
def test_steps_of_a_piece_without_material_of_what_is_hidden_and_of_what_is_locked(kind: str) -> None:
    for role in ("adds", "cuts", "engraves", "scores", "guides"):
        bare = one_piece(put(kind, role=role))
        marked = [
            edited(bare, {"do": "mark-parts", **HERE, "parts": ["a2"], mark: True}) for mark in ("hidden", "locked")
        ]
        for design in (bare, *marked):
            for chosen in ([], ["a2"]):
                for step in next_steps(design.pieces[0], chosen):
                    edited(design, step.edit)


@given(st.lists(st.sampled_from(["words", "hole", "motif", "circle", "heart"]), max_size=5), st.data())
def test_steps_follow_each_other(kinds: list[str], data: st.DataObject) -> None:
    """From any piece, a walk along the steps goes on: none is refused."""
    design = one_piece(put("rectangle", width=140, height=90), *(put(kind) for kind in kinds))
    for _ in range(3):
        ids = [part.id for part in design.pieces[0].parts]
        chosen = data.draw(st.lists(st.sampled_from(ids), max_size=2, unique=True))
        steps = next_steps(design.pieces[0], chosen)
        if steps:
            design = edited(design, data.draw(st.sampled_from(steps)).edit)
    assert not resolve(design.pieces[0]).trouble


def test_steps_on_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "tag.json"
    file.write_text(write_design(tag()))
    assert main(["steps", str(file), "--parts", "a2", "--json"]) == 0
    assert '"Words on it"' in capsys.readouterr().out
    assert main(["steps", str(file), "--parts", "a9"]) == 2
    assert main(["steps", str(file)]) == 0
    assert "A line inside its edge" in capsys.readouterr().out
