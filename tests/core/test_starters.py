"""Starters: ready pieces that are sound as they come, and with what they ask for typed."""

import json
from pathlib import Path

import pytest

from foliant.core.checks import check
from foliant.core.cli import main
from foliant.core.design import Stock, resolve
from foliant.core.design.shapes import Words
from foliant.core.errors import Refused
from foliant.core.formats.design_file import read_design_file
from foliant.core.starters import STARTERS, Starter, find_starter
from tests.making import plan

STRETCHED = {"ring-ornament", "name-between-bars", "touch-sign"}  # long names are thin or small there, and it is said


@pytest.mark.parametrize("starter", STARTERS, ids=lambda starter: starter.key)
def test_a_starter_is_sound_as_it_comes_and_with_other_names(starter: Starter) -> None:
    assert not check(plan(starter.design()))
    left, top, right, bottom = resolve(starter.design().pieces[0]).bounds
    assert (right - left, bottom - top) == pytest.approx(starter.size, abs=0.06)
    fields = [address.rpartition(" ")[2] for address in starter.asks]
    assert fields == sorted(fields, key=lambda field: field != "text")  # words are asked for first
    for name in ("Bo", "Bartholomew"):
        names = [name for field in fields if field == "text"]
        design = starter.design(names, Stock(width=400, height=290))
        said = "".join(part.shape.text for one in design.pieces for part in one.parts if isinstance(part.shape, Words))
        assert said.startswith(name) or not names
        found = check(plan(design))
        assert not [finding for finding in found if finding.level == "stop"]
        assert starter.key in STRETCHED or not found


@pytest.mark.parametrize(
    ("starter", "typed"),
    [
        ("hang-tag", "Hollis 110 190"), ("spiked-marker", "Ysolde"), ("key-tag", "Orrin"), ("pennants", "COMET"),
        ("coaster", "Quillmoor"), ("bookmark", "Quillmoor"), ("ring-ornament", "Ysolde"),
        ("name-between-bars", "Ysolde"), ("keyring-plate", "Orrin"), ("stirrer", "Q"), ("slotted-stand", "Dome"),
    ],
)  # fmt: skip
def test_what_is_typed_for_a_starter_leaves_nothing_to_look_at(starter: str, typed: str) -> None:
    assert not check(plan(find_starter(starter).design(typed.split())))


def test_there_are_eighteen_and_words_stay_in_the_middle_of_another_size() -> None:
    assert len({starter.key for starter in STARTERS}) >= 18
    (tag,) = find_starter("hang-tag").design(["Una", "80", "120"]).pieces
    left, _, right, _ = resolve(tag).engraved.path.bounds
    assert (left + right) / 2 == pytest.approx(40, abs=0.01)
    assert resolve(tag).bounds == pytest.approx((0, 0, 80, 120))
    with pytest.raises(Refused, match="asks for 2 values"):
        find_starter("coaster").design(["a", "b", "c"])


def test_a_slot_gauge_goes_by_the_measured_thickness(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    target = tmp_path / "gauge.json"
    assert main(["starters", "slot-gauge", "--thickness", "2.8", "--to", str(target)]) == 0
    design = read_design_file(target.read_bytes())
    slots = [part.shape for part in design.pieces[0].parts if part.plays("cuts")]
    assert [shape.width for shape in slots] == pytest.approx([2.5, 2.6, 2.7, 2.8, 2.9, 3.0, 3.1])  # type: ignore[union-attr]
    assert main(["starters", "--json"]) == 0
    listed = json.loads(capsys.readouterr().out)["starters"]
    assert {"key": "coaster", "size": "95 × 95 mm"}.items() <= next(
        one for one in listed if one["key"] == "coaster"
    ).items()
    assert main(["starters", "nothing"]) == 2
    assert "There is no starter" in capsys.readouterr().err
