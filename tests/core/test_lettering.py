"""Words as glyph outlines: fonts, settings, joining, fitting, edges and stencil bridges."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from foliant.core.errors import Refused
from foliant.core.lettering import (
    FONTS,
    KINDS,
    Box,
    Edge,
    Fill,
    Fit,
    Joining,
    Setting,
    Stencil,
    Style,
    check_words,
    font_name,
    library,
    rails_inside,
    set_words,
)
from foliant.core.lettering.features import features_for
from foliant.core.lettering.preview import preview
from foliant.core.paths import CUBIC, LINE, combine, join
from foliant.core.paths.overlay import fine_shape
from foliant.core.paths.shapes import circle, ellipse, heart, rectangle, ring
from foliant.core.paths.touching import faced, room, weakest_neck
from tests.making import glyphs

OUTLINES = [font.key for font in FONTS if not font.single_line]
NAMES = st.text("ABCDEGIJKMORSTVabcdefghijklmnoprstuvyzäéñő", min_size=2, max_size=9)
FACES = st.sampled_from(["pacifico", "zilla-slab", "bebas-neue", "damion", "montserrat", "eb-garamond-italic"])


def bounds(text: str, font: str = "alegreya-sans", **more: float) -> tuple[float, float, float, float]:
    return join(glyphs(text, font, **more)).bounds


def bodies(setting: Setting) -> int:
    return len(combine(setting.paths).bodies)


# Fonts


def test_fonts_of_every_kind_ship_with_their_licences() -> None:
    assert len(FONTS) >= 30
    assert {font.kind for font in FONTS} == set(KINDS) - {"your own"}
    for font in FONTS:
        assert font.single_line or (font.files and (font.files[0].parent / "LICENSE").is_file()), font.key


@pytest.mark.parametrize("font", [font.key for font in FONTS])
def test_capitals_are_as_tall_as_asked(font: str) -> None:
    left, top, right, bottom = bounds("H", font, cap_height=12.0)
    assert top == pytest.approx(-6, abs=0.01) or font == "line-script"  # whose H has a flourish
    assert (left + right) / 2 == pytest.approx(0, abs=1e-6)
    assert 11 < bottom - top < 22  # some scripts reach below the line


def test_type_that_can_be_varied_is_heavier_and_narrower_as_asked_and_as_tall() -> None:
    def set_at(wght: float, wdth: float) -> tuple[float, float, float]:
        path = join(set_words("HO", Style("archivo", size=12.0, axes=(("wght", wght), ("wdth", wdth)))).paths)
        left, top, right, bottom = path.bounds
        return path.area, right - left, bottom - top

    thin, heavy, narrow = set_at(100, 100), set_at(900, 100), set_at(900, 62)
    assert heavy[0] > 2 * thin[0]
    assert narrow[1] < 0.75 * heavy[1]
    assert narrow[2] == pytest.approx(heavy[2], rel=0.05)


def test_accents_greek_and_cyrillic_come_where_the_font_has_them() -> None:
    assert set_words("Zoë Łukasz Ğ", Style("playfair-display")).missing == ""
    assert set_words("Ελένη Привет", Style("alegreya")).missing == ""
    assert set_words("é", Style("line-plain")).missing == ""  # put together from its parts
    assert len(join(glyphs("é", "line-plain"))) > len(join(glyphs("e", "line-plain")))


def test_single_line_bows_are_round_and_stems_straight() -> None:
    bow, stems = (join(glyphs(letters, "line-plain", 20)) for letters in ("O", "HE"))
    assert (bow.kinds == CUBIC).all()
    assert (stems.kinds == LINE).all()
    # Round: where one stroke ends and the next begins they run the same way.
    arriving, leaving = bow.points[:-1, 3] - bow.points[:-1, 2], bow.points[1:, 1] - bow.points[1:, 0]
    cross = arriving[:, 0] * leaving[:, 1] - arriving[:, 1] * leaving[:, 0]
    turns = cross / np.hypot(*arriving.T) / np.hypot(*leaving.T)
    assert np.abs(turns).max() < 0.01


def test_what_the_font_lacks_is_told_and_leaves_a_gap() -> None:
    setting = set_words("A☄B", Style("bebas-neue"))
    assert setting.missing == "☄"
    assert len(setting.paths) == 2
    assert bounds("A☄B", "bebas-neue")[2] > bounds("AB", "bebas-neue")[2]
    assert set_words("🚀", Style("bebas-neue")).missing == "🚀"


def test_hebrew_and_arabic_run_from_right_to_left_with_latin_between() -> None:
    words = "Orion שלום 12"
    letters = set_words(words, Style("rubik")).letters
    shown = "".join(words[letter.at] for letter in letters)
    assert shown == "Orion12םולש"
    # Arabic letters take the shapes of their places: joined they are fewer bodies than letters.
    assert len(combine(glyphs("سلمى", "rubik")).bodies) < 4


def test_a_font_that_is_gone_keeps_its_name_and_a_substitute_is_set(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(library, "_finders", [])
    style = Style("own-orion-hand-1a2b3c4d5e")
    assert font_name(style.font) == "Orion Hand"
    assert (
        join(set_words("Vega", style).paths).bounds == join(set_words("Vega", Style("playfair-display")).paths).bounds
    )


def test_features_are_offered_where_they_change_these_words() -> None:
    keys = {feature.key for feature in features_for("Queen 17", Style("eb-garamond-italic"))}
    assert {"swsh", "swsh first", "smcp", "lnum"} <= keys
    assert "swsh" not in {feature.key for feature in features_for("vega", Style("bebas-neue"))}
    plain, swash = (join(glyphs("Queen", "eb-garamond-italic", features=key)) for key in ((), ("swsh first",)))
    assert plain.bounds != swash.bounds
    fine = [
        letter.outline for letter in set_words("Queen Qi", Style("eb-garamond-italic", features=("swsh last",))).letters
    ]
    usual = [letter.outline for letter in set_words("Queen Qi", Style("eb-garamond-italic")).letters]
    assert fine[0] is usual[0]  # only last letters may differ


def test_a_preview_shows_the_words_of_every_font() -> None:
    seen = [preview("Ysolde", font) for font in FONTS]
    assert all(one.d.startswith("M") for one in seen)
    assert len({one.d for one in seen}) == len(FONTS)


# Setting


def test_ink_is_centred_whatever_the_words() -> None:
    for words in ("I", "ORRIN", "Ysolde of the dome"):
        left, _, right, _ = bounds(words)
        assert left + right == pytest.approx(0, abs=1e-6)


def test_kerning_and_ligatures_come_from_the_font() -> None:
    pair = bounds("AV", "playfair-display")
    alone = [bounds(letter, "playfair-display") for letter in "AV"]
    assert pair[2] - pair[0] < sum(right - left for left, _, right, _ in alone)


def test_tracking_spreads_letters_and_word_spacing_words() -> None:
    assert bounds("ORRIN", tracking=20.0)[2] > bounds("ORRIN")[2] + 2
    assert bounds("A B", word_spacing=300.0)[2] > bounds("A B")[2] + 1
    assert bounds("AB", word_spacing=300.0) == bounds("AB")


@given(NAMES, FACES, st.floats(5, 80), st.sampled_from([0.0, 0.3, -0.2]), st.sampled_from([0.0, 14.0]))
def test_words_keep_the_measure_that_they_are_sized_by(
    words: str, font: str, size: float, weight: float, slant: float
) -> None:
    style = Style(font, "width", size, weight=weight, slant=slant)
    # Where thinning takes hairlines away whole, there is no size at which the rest is as wide as asked.
    assume(size > (20 if weight < 0 else 6) * len(words) * abs(weight))
    left, _, right, _ = join(set_words(words, style).paths).bounds
    assert right - left == pytest.approx(size, abs=0.02 + 0.002 * size)
    _, top, _, bottom = join(set_words(words, replace(style, sized_by="height")).paths).bounds
    assert bottom - top == pytest.approx(size, abs=0.02 + 0.002 * size)


@pytest.mark.parametrize("tracking", [-5.0, 7.0, 40.0])
def test_tracking_is_added_between_letters_in_hundredths_of_the_em(tracking: float) -> None:
    em = 10 * 25.4 / 72  # of ten points
    plain, spaced = (bounds("HOIST", sized_by="points", tracking=wanted) for wanted in (0.0, tracking))
    assert (spaced[2] - spaced[0]) - (plain[2] - plain[0]) == pytest.approx(4 * em * tracking / 100, abs=1e-3)


def test_points_are_the_size_of_the_em() -> None:
    by_points = bounds("H", sized_by="points")  # 10 points
    assert (by_points[3] - by_points[1]) / 0.7 == pytest.approx(10 * 25.4 / 72, rel=0.15)


def test_lines_are_aligned_filled_and_spaced() -> None:
    def lefts(align: str) -> list[float]:
        setting = set_words("Quillmoor\ndome", Style("zilla-slab", align=align))  # type: ignore[arg-type]
        return [min(letter.bounds[0] for letter in setting.letters if letter.line == line) for line in (0, 1)]

    assert lefts("left")[0] == pytest.approx(lefts("left")[1], abs=1e-6)
    assert lefts("middle")[0] < lefts("middle")[1] - 1
    assert lefts("filled")[0] == pytest.approx(lefts("filled")[1], abs=1e-6)
    near, far = (join(glyphs("A\nB", "zilla-slab", line_spacing=spacing)).bounds for spacing in (100.0, 200.0))
    assert far[3] - far[1] == pytest.approx((near[3] - near[1]) * 2, rel=0.35)


def test_weight_is_a_true_offset() -> None:
    plain, heavy = combine(glyphs("O", "bebas-neue")), combine(glyphs("O", "bebas-neue", weight=0.5))
    expected = plain.shape.buffer(0.5, quad_segs=64)
    assert heavy.shape.symmetric_difference(expected).area < 0.02 * expected.length * 0.5


def test_capitals_slant_and_a_smaller_second_line() -> None:
    assert bounds("vega", capitals=True) == bounds("VEGA")
    assert bounds("I", slant=20.0)[2] > bounds("I")[2] + 1
    small = set_words("A\nA", Style("zilla-slab", further=50.0)).letters
    first, second = (letter.bounds[3] - letter.bounds[1] for letter in small)
    assert second == pytest.approx(first / 2, abs=1e-6)


# Joining


@given(NAMES, FACES, st.sampled_from([0.2, 0.5, 1.0]), st.sampled_from(["bridged", "lowered"]))
def test_every_neighbour_overlaps_by_what_was_asked_and_all_is_one_body(
    words: str, font: str, overlap: float, dots: str
) -> None:
    setting = set_words(words, Style(font, size=14.0), Joining(overlap, dots, 1.2))  # type: ignore[arg-type]
    for before, letter in zip(setting.letters, setting.letters[1:], strict=False):
        gap = room(before.path, letter.path, "across")
        if gap and gap > 0 and faced(before.path, letter.path, "across", 0.12 * 14) > 0.4 * 14:
            assert 0.04 * 14 - 1e-3 <= gap <= 0.12 * 14 + 1e-3
            continue  # two stems are not run into one: a stroke low between them joins them
        assert gap is None or gap <= -overlap + 1e-4
        apart = shapely.affinity.translate(fine_shape(letter.path), overlap - 0.01)
        assert gap is None or fine_shape(before.path).intersects(apart)
    assert bodies(setting) == 1


def test_stems_beside_each_other_stay_apart_and_are_joined_by_a_stroke_low_between_them() -> None:
    for font, cap in (("pacifico", 11.0), ("lobster", 20.0), ("archivo", 6.0)):
        joined = set_words("Jiří", Style(font, size=cap), Joining(0.5, "bridged", 0.6))
        assert bodies(joined) == 1
        first, second = joined.letters[:2]
        assert shapely.distance(fine_shape(first.path), fine_shape(second.path)) > 0.03 * cap
        line, stroke = joined.box[3], joined.paths[len(joined.letters)]
        assert line - 0.4 * cap < stroke.bounds[1]
        assert stroke.bounds[3] < line


def test_a_script_name_with_an_accent_and_a_dot_is_one_body() -> None:
    plain = set_words("Zoé Orrin", Style("pacifico", size=15.0))
    assert bodies(plain) > 3
    assert bodies(set_words("Zoé Orrin", Style("pacifico", size=15.0), Joining(0.5, "bridged", 1.2))) == 1
    lowered = set_words("ij", Style("montserrat", size=15.0), Joining(0.5, "lowered", 1.2))
    assert bodies(lowered) == 1
    assert lowered.letters[0].bounds[1] > set_words("ij", Style("montserrat", size=15.0)).letters[0].bounds[1] + 0.5


def test_lines_of_different_sizes_are_joined_and_a_bar_holds_spaces() -> None:
    style = Style("bebas-neue", size=14.0, further=60.0)
    assert bodies(set_words("FIRST\nLIGHT", style, Joining(0.5))) == 1
    assert bodies(set_words("FIRST\nLIGHT", style, Joining(0.5, bar=2.0))) == 1
    barred = set_words("M M", style, Joining(0.5, bar=2.0))
    left, _, right, bottom = join(barred.paths).bounds
    assert bottom == pytest.approx(barred.letters[0].y - 0.5 + 2.0, abs=0.01)
    assert combine(barred.paths).shape.contains(shapely.Point((left + right) / 2, bottom - 0.5))
    assert bodies(barred) == 1
    two = set_words("FIRST\nLIGHT", style, Joining(0.5, bar=2.0))
    assert two.box[3] == pytest.approx(max(letter.y for letter in two.letters), abs=0.01)
    # A bar stands under letters that are fitted, too, and under those that are made equally high.
    for each in (False, True):
        barred = set_words("Vega ab", style, Joining(0.5, bar=2.0), Fit(Box(80, 24, "both", 0.0, 1000), each))
        assert bodies(barred) == 1


def test_single_lines_can_be_fitted_and_bent_and_are_not_joined() -> None:
    line = Style("line-plain", size=10.0)
    plain, joined = (set_words("Vega 8 ab", line, joining) for joining in (None, Joining(0.5)))
    assert not join(joined.paths).closed.any()
    assert len(joined.letters) == len(plain.letters)
    fitted = set_words("Vega", line, Joining(0.5), Fit(Box(60, 20, "both", 0.0, 1000), each=True))
    assert join(fitted.paths).bounds == pytest.approx((-30, -10, 30, 10), abs=0.05)
    bent = set_words(
        "Vega", line, edge=Edge(circle(80), 3, "inside", "top", 0.0, 0.0), stencil=Stencil(1, 2, "upright")
    )
    assert len(join(bent.paths)) == len(join(set_words("Vega", line).paths))


def test_the_weakest_neck_is_measured_where_it_is() -> None:
    plates = [rectangle(20, 10).moved(-12, 0), rectangle(20, 10).moved(12, 0), rectangle(8, 1.5)]
    found = weakest_neck(combine(plates), 5)
    assert found is not None
    width, (x, y) = found
    assert width == pytest.approx(1.5, abs=0.05)
    assert abs(x) < 2
    assert abs(y) < 0.8
    assert weakest_neck(combine([rectangle(20, 10)]), 5) is None


# Fitting


@given(NAMES, FACES, st.booleans())
def test_what_fits_a_box_reaches_its_edges_by_the_overlap(words: str, font: str, each: bool) -> None:
    box = Fit(Box(80, 24, "both", 0.5, 1000), each)
    setting = set_words(words, Style(font), Joining(0.5), box)
    left, top, right, bottom = join(letter.path for letter in setting.letters).bounds
    assert right - left == pytest.approx(80, abs=0.02)
    assert (top, bottom) == pytest.approx((-12.5, 12.5), abs=0.02)
    if each:
        for letter in setting.letters:
            assert letter.path.bounds[1::2] == pytest.approx((-12.5, 12.5), abs=0.02)
    assert bodies(setting) == 1


def test_a_long_name_keeps_the_width_and_a_short_one_the_height() -> None:
    box = Fit(Box(86, 30, "both", 0.5, 140), each=False)
    short, long = (set_words(words, Style("pacifico"), Joining(0.6), box).box for words in ("Vega", "Bartholomew"))
    assert short[3] - short[1] == pytest.approx(30, abs=0.02)
    assert short[2] - short[0] < 86
    assert long[2] - long[0] == pytest.approx(86, abs=0.02)
    assert long[3] - long[1] < 29


@given(NAMES, FACES, st.sampled_from([ring(90, 6), circle(80), ellipse(100, 60), heart(90, 80, 20)]))
def test_every_letter_reaches_the_rim_by_the_overlap(words: str, font: str, shape: object) -> None:
    rails = rails_inside(shape)  # type: ignore[arg-type]
    assert rails is not None
    setting = set_words(words, Style(font), None, Fit(Fill(rails, 12, 0.5), each=True))
    for letter in setting.letters:
        flat = shapely.get_coordinates(fine_shape(letter.path, 0.001))
        over = np.interp(flat[:, 0], rails.x, rails.top) - flat[:, 1]
        under = flat[:, 1] - np.interp(flat[:, 0], rails.x, rails.bottom)
        assert over.max() == pytest.approx(0.5, abs=0.02)
        assert under.max() == pytest.approx(0.5, abs=0.02)


def test_letters_in_a_ring_make_one_body_with_it() -> None:
    rails = rails_inside(ring(90, 6))
    assert rails is not None
    letters = set_words("ORION", Style("bebas-neue"), None, Fit(Fill(rails, 8, 0.8), each=True)).paths
    assert len(combine([ring(90, 6), *letters]).bodies) == 1


# On an edge


@pytest.mark.parametrize("side", ["inside", "outside"])
@pytest.mark.parametrize("reading", ["top", "bottom"])
def test_words_on_a_rim_are_concentric_with_it(side: str, reading: str) -> None:
    angle = 0.0 if reading == "top" else 180.0
    edge = Edge(circle(100), 4.0, side, reading, angle, 0.0)  # type: ignore[arg-type]
    setting = set_words("HHHHH", Style("bebas-neue", size=8.0), edge=edge)
    # Capitals with flat feet and heads: their corners lie on two circles, 4 and 12 mm from the rim.
    feet, heads = [], []
    for letter in setting.letters:
        a, b, c, d, e, f = letter.matrix
        for y, found in ((0.0, feet), (-8.0, heads)):
            x = letter.advance / 2
            found.append(math.hypot(a * x + c * y + e, b * x + d * y + f))
    wanted = {46.0, 38.0} if side == "inside" else {54.0, 62.0}
    near, far = sorted(wanted, key=lambda radius: abs(radius - 50))
    outer, inner = (near, far) if side == "inside" else (far, near)
    feet_at, heads_at = (inner, outer) if reading == "top" else (outer, inner)
    assert feet == pytest.approx([feet_at] * 5, abs=0.05)
    assert heads == pytest.approx([heads_at] * 5, abs=0.05)
    left, _, right, _ = join(setting.paths).bounds
    assert left + right == pytest.approx(0, abs=0.05)


def test_words_are_spread_over_an_angle() -> None:
    edge = Edge(circle(100), 4.0, "inside", "top", 90.0, 120.0)
    letters = set_words("ORION", Style("bebas-neue", size=8.0), edge=edge).letters
    turns = [letter.turn for letter in letters]
    assert turns[2] == pytest.approx(90, abs=0.5)
    assert turns[-1] - turns[0] == pytest.approx(120, abs=12)  # less half a letter at both ends


@given(NAMES, FACES, st.sampled_from(["outside", "inside"]), st.sampled_from([circle(70), ellipse(90, 60)]))
def test_words_joined_on_an_edge_stay_one_body(words: str, font: str, side: str, guide: object) -> None:
    edge = Edge(guide, 3.0, side, "top", 20.0, 0.0)  # type: ignore[arg-type]
    setting = set_words(words, Style(font, size=9.0), Joining(0.5, "bridged", 1.2), edge=edge)
    assert bodies(setting) == 1


# Stencil bridges


@given(
    st.text("ABDOPQR46890abdegopqB&@", min_size=1, max_size=6),
    st.sampled_from(["alfa-slab-one", "zilla-slab", "montserrat", "pacifico", "playfair-display"]),
    st.sampled_from(["upright", "level", "slanting"]),
    st.sampled_from([1, 2]),
)
def test_no_counter_falls_out_of_bridged_letters(words: str, font: str, direction: str, number: int) -> None:
    setting = set_words(words, Style(font, size=20.0, tracking=12.0), stencil=Stencil(1.2, number, direction))  # type: ignore[arg-type]
    left, top, right, bottom = join(setting.paths).bounds
    plate = rectangle(right - left + 20, bottom - top + 20).moved((left + right) / 2, (top + bottom) / 2)
    assert len(combine([plate], list(setting.paths)).bodies) == 1


@pytest.mark.parametrize("font", OUTLINES)
def test_no_counter_falls_out_of_the_hard_letters_of_any_font(font: str) -> None:
    words = (
        "B8a@%"  # of one counter, two, and one beside another; all letters in `test_no_counter_falls_out_of_bridged…`
    )
    setting = set_words(words, Style(font, size=20.0, tracking=30.0), stencil=Stencil(1.2, 1, "slanting"))
    letters = shapely.union_all([fine_shape(path) for path in setting.paths])
    plate = shapely.box(*letters.buffer(10).bounds)
    assert shapely.get_num_geometries(plate.difference(letters)) == 1


def test_a_bridge_is_as_wide_as_asked_and_can_be_moved_or_removed() -> None:
    style, how = Style("alfa-slab-one", size=20.0), Stencil(1.5, 1, "upright")
    plain, bridged = (set_words("O", style, stencil=stencil) for stencil in (None, how))
    moved, removed = (
        set_words("O", style, stencil=replace(how, **{field: value}))
        for field, value in (("moved", ((0, 0, 0.5),)), ("removed", ((0, 0),)))
    )
    cut = combine(plain.paths).shape.difference(combine(bridged.paths).shape).buffer(-0.05).buffer(0.05)
    assert cut.bounds[2] - cut.bounds[0] == pytest.approx(1.5, abs=0.02)
    assert moved.bridges[0].x - bridged.bridges[0].x == pytest.approx(0.5, abs=0.01)
    assert combine(removed.paths).path.area == pytest.approx(combine(plain.paths).path.area, abs=0.01)
    assert not removed.bridges[0].there


# Bad input


def test_script_letters_weld_into_one_word() -> None:
    assert len(combine(glyphs("moon", "pacifico")).bodies) == 1


@pytest.mark.parametrize(
    ("words", "says"),
    [("  ", "spaces"), ("\n\n", "spaces"), ("x" * 10_000, "10,000"), ("a\x00b", "control"), ("a\n" * 60 + "b", "61")],
)
def test_words_that_cannot_be_set(words: str, says: str) -> None:
    with pytest.raises(Refused, match=says):
        check_words(words)


def test_lines_of_words_are_kept_and_spaces_tidied() -> None:
    assert check_words("  First   light \n\n dome ") == "First light\n\ndome"


@pytest.mark.parametrize(
    "font", ["pacifico", "great-vibes", "lobster", "playball", "kaushan-script", "playfair-display"]
)
@pytest.mark.parametrize("text", ["Zoë Jiří", "Željko Åsa", "Zoë & Peggy", "ÅÄÖ 10:30", "Queen Åse", "J. & Co."])
def test_whatever_is_written_is_joined_low_and_becomes_one_body(text: str, font: str) -> None:
    """Accents, colons, ampersands and digits hold; what joins two words lies low between them."""
    joined = set_words(text, Style(font, size=12.0), Joining(0.5, "bridged", 1.2))
    assert len(combine(joined.paths).bodies) == 1
    line = joined.box[3]
    strokes = joined.paths[len(joined.letters) :]
    assert strokes
    for stroke in strokes:
        _, top, _, bottom = stroke.bounds
        assert top > line - 0.65 * 12
        assert bottom - top < 0.5 * 12
