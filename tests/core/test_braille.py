"""Braille: cells as liblouis' own command has them, dots where they belong, and words that it follows."""

import random
import shutil
import subprocess
from typing import Any

import numpy as np
import pytest

from foliant.core.braille import LANGUAGES, Telling, cells, letters_of, louis, numbers_of, tell
from foliant.core.braille.cells import cells_from
from foliant.core.braille.louis import is_here
from foliant.core.braille.translating import broken
from foliant.core.checks import check
from foliant.core.design import Design, read_edit, resolve
from foliant.core.design.binding import bound_rows
from foliant.core.design.edits import apply
from foliant.core.design.shapes import Braille
from foliant.core.design.steps import next_steps
from foliant.core.errors import Refused
from foliant.core.formats import WRITERS, write_design
from foliant.core.formats.design_file import read_design_file
from foliant.core.machine.interpreter import Interpreter, Move
from foliant.core.remembering import forget
from tests.core.test_cli import foliant
from tests.making import edited, one_piece, plan, put

LETTERS = {
    "en": "abcdefghijklmnopqrstuvwxyz",
    "en-us": "abcdefghijklmnopqrstuvwxyz",
    "de": "abcdefghijklmnopqrstuvwxyzäöüß",
    "fr": "abcdefghijklmnopqrstuvwxyzàâçéèêëîïôùû",
    "es": "abcdefghijklmnopqrstuvwxyzáéíñóú",
    "it": "abcdefghilmnopqrstuvzàèéìòù",
    "pl": "abcdefghijklmnoprstuwyząćęłńóśźż",
    "sv": "abcdefghijklmnopqrstuvwxyzåäö",
    "ar": "ابتثجحخدذرزسشصضطظعغفقكلمنهوي",
}
BLOCK = {"apart": 2.3, "cell": 6.1}


def words_of(language: str, count: int = 500) -> list[str]:
    """Words of no meaning, some with capitals, and numbers."""
    dice, letters = random.Random(language), LETTERS[language]
    found = []
    for _ in range(count):
        word = "".join(dice.choices(letters, k=dice.randint(1, 11)))
        found.append(dice.choice([word, word.capitalize(), word.upper(), f"{word} {dice.randint(0, 2000)}"]))
    return found


def sign(*edits: dict[str, Any], text: str = "Dome 12") -> Design:
    """A plate with words, and Braille beneath them as part a4."""
    words = put("words", text=text, font="archivo", cap_height=16, tracking=9, y=25)
    design = one_piece(put("rectangle", width=150, height=80), words)
    return edited(design, {"do": "braille-beneath", "piece": "p1", "parts": ["a3"]}, *edits)


def braille(design: Design) -> Braille:
    shape = design.pieces[0].parts[-1].shape
    assert isinstance(shape, Braille)
    return shape


def change(of: str = "part a4", **values: Any) -> dict[str, Any]:
    return {"do": "change", "of": of, "values": values}


@pytest.mark.parametrize("writing", ["plain", "contracted"])
@pytest.mark.parametrize("language", LANGUAGES)
def test_words_are_told_as_the_command_of_liblouis_tells_them(language: str, writing: Any) -> None:
    if writing == "contracted" and not LANGUAGES[language].contracted:
        with pytest.raises(Refused, match="uncontracted"):
            tell("a", Telling(language, writing))
        return
    words = words_of(language)
    for capitals in (True, False):
        how = Telling(language, writing, capitals)
        given = "\n".join(word if capitals else word.lower() for word in words)
        command = [shutil.which("lou_translate") or "lou_translate", "--forward", f"unicode.dis,{how.table}"]
        theirs = subprocess.run(command, input=given, capture_output=True, text=True, check=True).stdout.splitlines()
        assert [tell(word, how).cells for word in words] == theirs


def test_plain_words_read_back_as_they_were() -> None:
    for language in ("en", "en-us", "fr", "sv"):
        for word in ("Guide", "moon 2026", "Observatory"):
            assert tell(word, Telling(language)).reads == word
    assert tell("Guide", Telling("en", capitals=False)).reads == "guide"


def test_the_program_of_a_drilled_sign_reads_as_its_words() -> None:
    design = sign({"do": "add-operation", "work": "drill"})
    own = design.ticket.operations[0].id
    design = edited(design, change(f"operation {own}", holes="3 mm", power=50, dwell=0.5))
    machine = Interpreter(400, 400, 200)
    lines = WRITERS["gcode"].write(plan(design)).decode().splitlines()
    moves = [item for line in lines for item in machine.read(line) if isinstance(item, Move)]
    spots = np.array([move.end for move in moves if move.dwell])
    shape, part = braille(design), design.pieces[0].parts[-1]
    assert len(spots) == len(shape.spots)
    spots[:, 1] = -spots[:, 1]  # a machine's y runs up
    where = spots - spots.min(axis=0) + shape.spots.min(axis=0)
    away = np.linalg.norm(where[:, None] - shape.spots[None], axis=2)
    assert away.min(axis=1).max() < 0.01
    assert sorted(away.argmin(axis=1).tolist()) == list(range(len(spots)))
    # From the spots alone: the column of each cell, and which of its dots.
    begins, top = where.min(axis=0)
    first = next(index for index, cell in enumerate(shape.cells) if cells.dots_of(cell))
    begins -= BLOCK["apart"] * (min(cells.dots_of(shape.cells[first])) > 3) + BLOCK["cell"] * first
    found: dict[int, set[int]] = {}
    for x, y in where:
        at = int((x - begins + 0.3) // BLOCK["cell"])
        column = round((x - begins - at * BLOCK["cell"]) / BLOCK["apart"])
        found.setdefault(at, set()).add(1 + 3 * column + round((y - top) / BLOCK["apart"]))
    read = cells_from(" ".join("".join(map(str, sorted(found.get(i, ())))) or "0" for i in range(max(found) + 1)))
    assert louis.read_back(read, LANGUAGES["en"].plain) == "Dome 12"
    assert part.roles == ("cuts",)


def test_it_follows_its_words_until_words_of_its_own_are_typed() -> None:
    design = sign()
    assert braille(design).reads == "Dome 12"
    step = [one.says for one in next_steps(one_piece(put("words", cap_height=16)).pieces[0], ["a2"])]
    assert "Braille beneath it" in step
    changed = edited(design, change("part a3", text="Lift"))
    assert (braille(changed).text, braille(changed).reads) == ("Lift", "Lift")
    own = edited(changed, change(text="Stairs"), change("part a3", text="Moon"))
    assert (braille(own).reads, braille(own).of) == ("Stairs", "")
    alone = edited(design, {"do": "remove-parts", "piece": "p1", "parts": ["a3"]})
    assert (braille(alone).reads, braille(alone).of) == ("Dome 12", "")
    twice = edited(design, {"do": "duplicate-parts", "piece": "p1", "parts": ["a3", "a4"]})
    assert twice.pieces[0].parts[-1].shape.of == twice.pieces[0].parts[-2].id
    with pytest.raises(Refused, match="says no words"):
        edited(design, {"do": "braille-beneath", "piece": "p1", "parts": ["a2"]})


def test_every_row_of_a_roster_has_its_own() -> None:
    rows = [["Lift"], ["Stairs"], ["Dome 3"]]
    design = sign(
        {"do": "take-table", "heading": ["word"], "rows": rows}, {"do": "tie", "of": "part a3 text", "text": "{word}"}
    )
    shapes = [bound.piece.parts[-1].shape for bound in bound_rows(design, design.pieces[0])]
    assert [shape.reads for shape in shapes] == ["Lift", "Stairs", "Dome 3"]


def test_sizes_are_those_of_a_standard_or_as_they_are_typed() -> None:
    medium = braille(sign(change(sizes="medium")))
    assert (medium.dot, medium.apart, medium.cell, medium.line) == (1.6, 2.5, 6.0, 10.0)
    assert braille(sign(change(cell="7 mm"))).sizes == "own"
    design = sign(change(writing="contracted", capitals="left"), change("part a3", text="Observatory"))
    assert braille(design).reads == "observatory"
    with pytest.raises(Refused, match="size that fingers read"):
        edited(design, {"do": "resize-parts", "piece": "p1", "parts": ["a4"], "width": "90"})
    long = sign(change(text="moon over the dome tonight", wide=50))
    assert len(broken(braille(long).cells, braille(long).most)) == 4
    assert braille(long).box()[2] - braille(long).box()[0] < 50


def test_dots_are_holes_stand_in_their_ground_or_are_pressed_from_behind() -> None:
    count = len(braille(sign()).spots)
    area = {}
    for made, role in (("holes", "cuts"), ("ground", "engraves"), ("embossed", "engraves"), ("dots", "engraves")):
        design = sign({"do": "set-role", "piece": "p1", "parts": ["a4"], "role": role}, change(made=made))
        piece = resolve(design.pieces[0])
        area[made] = 150 * 80 - piece.outline.path.area if role == "cuts" else braille(design).paths()[0].area
    assert area["holes"] == pytest.approx(count * np.pi * 0.775**2, rel=1e-3)
    wide, high = (b - a for a, b in zip(braille(sign()).box()[:2], braille(sign()).box()[2:], strict=True))
    assert area["ground"] == pytest.approx((wide + 6) * (high + 6) - count * np.pi * 0.75**2, rel=1e-3)
    one = one_piece(put("braille", text="1 12 0 123", language="dots", made="embossed"))
    assert numbers_of(one.pieces[0].parts[0].shape.cells) == "1 12 0 123"
    xs = one.pieces[0].parts[0].shape.paths()[0].bounds
    assert xs[2] == pytest.approx(-one.pieces[0].parts[0].shape.spots[:, 0].min() + 0.75)


def test_cells_are_shown_as_letters_too() -> None:
    assert letters_of("⠠⠙⠕⠍⠑⠀⠼⠁⠃\n⠿") == ",dome #ab\n="
    assert len({letters_of(chr(0x2800 + bits)) for bits in range(64)}) == 64
    said = "".join(bit if isinstance(bit, str) else "" for bit in braille(sign()).sentence())
    assert "in letters “,dome #ab”, reading “Dome 12”" in said


def test_dots_that_are_made_in_another_way_are_another_work() -> None:
    design = sign()
    for made, role in (("ground", "engraves"), ("dots", "scores"), ("holes", "cuts"), ("embossed", "engraves")):
        design = edited(design, change(made=made))
        assert design.pieces[0].parts[-1].roles == (role,)
    chosen = edited(design, {"do": "set-role", "piece": "p1", "parts": ["a4"], "role": "guides"}, change(made="holes"))
    assert chosen.pieces[0].parts[-1].roles == ("guides",)


def said_of(design: Design) -> dict[str, list[str]]:
    """The findings of touch, each with what mends it."""
    found = {finding.check: [fix.says for fix in finding.fixes] for finding in check(plan(design))}
    assert "material_is_not_too_thin" not in found  # what is left between dots is meant
    return {key: fixes for key, fixes in found.items() if "braille" in key or "touch" in key}


def mended(design: Design) -> Design:
    """The design with every finding mended by its first press."""
    for _ in range(6):
        fixes = [finding.fixes[0] for finding in check(plan(design)) if finding.fixes]
        if not fixes:
            break
        design = apply(design, fixes[0].edit)
    return design


def test_a_sign_that_fingers_cannot_read_says_why_and_is_mended_by_presses() -> None:
    drill = {"do": "add-operation", "work": "drill"}
    good = sign(change("part a3", capitals="all"), drill)
    assert said_of(good) == {}
    small = change("part a3", text="Dome", cap_height=10)
    bad = sign(
        change(cell="9", apart="3"), small, {"do": "move-parts", "piece": "p1", "parts": ["a4"], "dx": 0, "dy": -4}
    )
    assert said_of(bad) == {
        "braille_has_the_size_that_is_read": ["Size it as on signs, US 703.3"],
        "braille_stands_clear": ["Move it down 3.7 mm"],
        "letters_are_read_by_touch": ["Track them 13 %"],
    }
    assert said_of(mended(bad)) == {}
    beyond = edited(good, {"do": "move-parts", "piece": "p1", "parts": ["a4"], "dx": 60, "dy": 0})
    assert said_of(beyond) == {"braille_stands_clear": []}
    assert "reaches beyond" in next(one.sentence for one in check(plan(beyond)) if "braille" in one.check)


def test_what_cannot_be_told_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    unknown = sign(change(text="Dome 漢"))
    assert (braille(unknown).unknown, braille(unknown).reads) == ("漢", "Dome")
    assert any(finding.check == "braille_says_its_words" for finding in check(plan(unknown)))
    with pytest.raises(Refused, match="takes 10 cells"):
        sign(change(text="observatory", wide=12, capitals="left", writing="contracted"))
    with pytest.raises(Refused, match="is no cell"):
        sign(change(text="135 nine", language="dots"))
    with pytest.raises(Refused, match="characters"):
        sign(change(text="a" * 6000))
    assert len(braille(sign(change(text="moon " * 60))).reads) > 200

    # Without liblouis what was told is drawn and saved as it was; only other words cannot be told.
    stored = write_design(sign())
    forget()
    monkeypatch.setattr(louis.ctypes.util, "find_library", lambda name: None)
    louis._library.cache_clear()
    try:
        is_here.cache_clear()
        assert "apt install" in Braille.lacks()  # which the shelf says
        design = read_design_file(stored.encode())
        assert len(resolve(design.pieces[0]).outline.bodies) == 1
        moved = apply(design, read_edit({"do": "move-parts", "piece": "p1", "parts": ["a4"], "dx": 1, "dy": 0}))
        assert write_design(moved)
        with pytest.raises(Refused, match="apt install liblouis20"):
            apply(design, read_edit(change("part a3", text="Lift")))
        assert braille(apply(design, read_edit(change(language="dots", text="135 1236")))).cells == "⠕⠧"
    finally:
        louis._library.cache_clear()
        is_here.cache_clear()


def test_the_command_line_prints_cells_dots_and_what_they_read_as() -> None:
    said = foliant("braille", "Guide 12", "--language", "en", "--contracted")
    assert said.stdout == "⠠⠛⠥⠊⠙⠑⠀⠼⠁⠃\n6 1245 136 24 145 15 0 3456 1 12\nGuide 12\n"
    assert foliant("braille", "Guide", "--no-capitals", "--json").stdout.count("⠛⠥⠊⠙⠑") == 1
    assert "Not in this Braille: 漢" in foliant("braille", "漢 a").stdout
    assert foliant("braille", "x", "--language", "it", "--contracted").returncode == 2
