"""Words as glyph outlines."""

import pytest

from foliant.core.errors import Refused
from foliant.core.lettering import FONTS, set_line
from foliant.core.lettering.setting import check_words
from foliant.core.paths import combine, join


def bounds(text: str, font: str = "alegreya-sans", **more: float) -> tuple[float, float, float, float]:
    return join(set_line(text, font, more.pop("cap_height", 10.0), **more).glyphs).bounds


def test_at_least_six_fonts_ship_with_their_licences() -> None:
    assert len(FONTS) >= 6
    for font in FONTS:
        assert font.files, font.key
        assert (font.files[0].parent / "LICENSE").is_file()


@pytest.mark.parametrize("font", [font.key for font in FONTS])
def test_capitals_are_as_tall_as_asked(font: str) -> None:
    left, top, right, bottom = bounds("H", font, cap_height=12.0)
    assert top == pytest.approx(-6, abs=0.01)  # half a capital above the origin
    assert (left + right) / 2 == pytest.approx(0, abs=1e-6)
    assert 11 < bottom - top < 20  # some scripts reach below the line


def test_ink_is_centred_whatever_the_words() -> None:
    for words in ("I", "ORRIN", "Ysolde of the dome"):
        left, _, right, _ = bounds(words)
        assert left + right == pytest.approx(0, abs=1e-6)


def test_accents_and_other_latin_come_from_the_same_chain() -> None:
    setting = set_line("Zoë Łukasz Ğ", "playfair-display", 8)
    assert setting.missing == ""
    assert len(setting.glyphs) >= 10


def test_what_the_font_lacks_is_told_and_leaves_a_gap() -> None:
    setting = set_line("A☄B", "bebas-neue", 8)
    assert setting.missing == "☄"
    assert len(setting.glyphs) == 2
    assert bounds("A☄B", "bebas-neue")[2] > bounds("AB", "bebas-neue")[2]


def test_kerning_and_ligatures_come_from_the_font() -> None:
    pair = bounds("AV", "playfair-display")
    alone = [bounds(letter, "playfair-display") for letter in "AV"]
    assert pair[2] - pair[0] < sum(right - left for left, _, right, _ in alone)


def test_tracking_spreads_letters() -> None:
    assert bounds("ORRIN", tracking=20.0)[2] > bounds("ORRIN")[2] + 2


def test_script_letters_weld_into_one_word() -> None:
    assert len(combine(set_line("moon", "pacifico", 10).glyphs).bodies) == 1


@pytest.mark.parametrize(("words", "says"), [("  ", "spaces"), ("x" * 10_000, "10,000"), ("a\x00b", "control")])
def test_words_that_no_line_can_hold(words: str, says: str) -> None:
    with pytest.raises(Refused, match=says):
        check_words(words)


def test_an_unknown_font_is_refused_by_name() -> None:
    with pytest.raises(Refused, match="moonbeam"):
        set_line("A", "moonbeam", 8)
