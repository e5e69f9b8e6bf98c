"""Lettering by mouse and keys: fonts, rims, names between bars, rings, joined script, pennants; actions are counted."""

import math
import re
from pathlib import Path

import pytest
import shapely
from playwright.sync_api import Page, expect

from foliant.core.design import Part, Piece, resolve
from foliant.core.design.placing import part_bounds
from foliant.core.design.shapes import Words
from foliant.core.lettering.catalogue import FOLDER
from foliant.core.paths.overlay import fine_shape
from tests.journeys.acting import Maker, at, design_of, new_project, spec
from tests.journeys.test_outline import one_body, part, set_value, words

pytestmark = pytest.mark.journey


def words_on(piece: Piece) -> list[Part]:
    return [part for part in piece.parts if isinstance(part.shape, Words)]


def shape_of(part: Part) -> Words:
    assert isinstance(part.shape, Words)
    return part.shape


def choose_font(maker: Maker, typed: str, name: str) -> None:
    """Press the font in the sentence, find it by its name, take it."""
    maker.page.get_by_role("button", name="The font:").first.click()
    maker.actions += 1
    expect(maker.page.locator(".chooser [role=option]").first).to_be_visible()
    maker.type(typed)
    expect(maker.page.locator(".chooser [aria-selected=true] .about")).to_contain_text(name)
    maker.type("Enter")
    expect(spec(maker.page)).to_contain_text(f"in {name}")


def letters(maker: Maker) -> None:
    maker.press("Letters")
    expect(maker.page.locator(".letters-head")).to_be_visible()


def switch(maker: Maker, row: str, choice: str) -> None:
    """Pick another value at the head of a row of the panel."""
    maker.page.locator(".letters-row", has_text=row).locator(".value").first.click()
    maker.actions += 1
    maker.choose(choice)


def test_a_rim_text_above_and_below_on_a_disc(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Circle")
    maker.type("100", "Enter")
    expect(spec(page)).to_contain_text("Circle")
    letters(maker)
    expect(page.get_by_label("Words along the upper edge")).to_be_focused()
    maker.type("QUILLMOOR", "Tab", "FIRST LIGHT", "Enter")
    expect(page.locator(".part .label", has_text="FIRST LIGHT")).to_be_visible()
    print(f"rim: {maker.actions} actions")
    assert maker.actions <= 6
    (piece,) = design_of(page).pieces
    x, y = part_bounds(piece.parts[0])[0] + 50, part_bounds(piece.parts[0])[1] + 50
    for found in words_on(piece):
        feet = [math.hypot(letter.x - x, letter.y - y) for letter in shape_of(found).setting().letters]
        # The origin of a letter stands half its advance beside the point of the circle that it is turned by.
        halves = [letter.advance / 2 for letter in shape_of(found).setting().letters]
        radii = [math.sqrt(foot**2 - half**2) for foot, half in zip(feet, halves, strict=True)]
        assert max(radii) - min(radii) < 0.05
        wanted = 50 - shape_of(found).edge.gap  # type: ignore[union-attr]
        assert radii[0] == pytest.approx(
            wanted if shape_of(found).edge.reads == "bottom" else wanted - shape_of(found).cap, abs=0.05
        )  # type: ignore[union-attr]


def test_a_short_and_a_long_name_in_one_topper_by_typing_alone(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("100", "Tab", "6", "Enter")
    expect(spec(page)).to_contain_text("Rectangle 100 mm × 6 mm")
    page.keyboard.press("d")
    maker.actions += 1
    expect(page.locator(".part .label", has_text="Rectangle")).to_have_count(2)
    set_value(maker, "The place down", "46", "46 mm down")
    maker.press("adds")
    maker.press("Words")
    maker.type("Vega", "Enter")
    expect(spec(page)).to_contain_text("Words Vega in")
    choose_font(maker, "pacif", "Pacifico")
    page.keyboard.press("Control+a")
    maker.actions += 1
    expect(spec(page)).to_contain_text("3 parts of")
    letters(maker)
    maker.press("Fit between the two bars")
    one_body(page)
    print(f"topper: {maker.actions} actions")
    assert maker.actions <= 16
    part(page, "Vega").click()
    short = design_of(page).pieces[0]
    before = maker.actions
    set_value(maker, "The words", "Bartholomew", "Words Bartholomew in Pacifico")
    one_body(page)
    assert maker.actions - before == 2  # another name is typing, and nothing else
    long = design_of(page).pieces[0]
    for piece in (short, long):
        assert len(resolve(piece).outline.bodies) == 1
        bars = [part_bounds(found) for found in piece.parts if not isinstance(found.shape, Words)]
        (word,) = (part_bounds(found) for found in words_on(piece))
        upper, lower = sorted(bars, key=lambda bar: bar[1])
        assert word[1] == pytest.approx(upper[3] - 0.5, abs=0.02)
        assert word[3] == pytest.approx(lower[1] + 0.5, abs=0.02)


def test_a_ring_whose_letters_all_touch_it(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Ring")
    maker.type("90", "Tab", "6", "Enter")
    maker.press("adds")
    words(maker, "ORION")
    choose_font(maker, "bebas", "Bebas Neue")
    letters(maker)
    switch(maker, "Fitted", "to Ring")
    expect(spec(page)).to_contain_text("fitted to Ring, 0.5 mm into it")
    one_body(page)
    print(f"ring: {maker.actions} actions")
    assert maker.actions <= 12
    piece = design_of(page).pieces[0]
    ring = next(found for found in piece.parts if not isinstance(found.shape, Words))
    band = shapely.union_all([fine_shape(path.moved(ring.x, ring.y)) for path in ring.shape.paths()])
    (found,) = words_on(piece)
    assert all(fine_shape(path).intersects(band) for path in shape_of(found).paths())


def test_words_put_on_in_haste_go_on_the_new_piece(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    words(maker, "Vega")
    page.get_by_role("button", name="+ New piece").click()
    page.get_by_role("button", name="Words", exact=True).click()
    page.keyboard.type("Lyra")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("Words Lyra in")
    design = design_of(page)
    assert [[shape_of(one).text for one in words_on(piece)] for piece in design.pieces] == [["Vega"], ["Lyra"]]


def test_five_pennants_from_one_word(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("50", "Tab", "70", "Enter")
    words(maker, "COMET")
    page.keyboard.press("c")
    maker.actions += 1
    page.keyboard.press("h")
    maker.actions += 1
    expect(spec(page)).to_contain_text("held")
    letters(maker)
    maker.press("One piece a letter")
    expect(page.locator(".piece-head")).to_have_count(5)
    print(f"pennants: {maker.actions} actions")
    assert maker.actions <= 10
    design = design_of(page)
    found = [words_on(piece)[0] for piece in design.pieces]
    assert "".join(shape_of(one).text for one in found) == "COMET"
    assert len({(one.y, shape_of(one).cap_height) for one in found}) == 1
    assert all(one.across and one.down for one in found)


def test_a_joined_script_name_with_an_accent_and_a_dot_is_one_body(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("adds")
    maker.press("Words")
    expect(page.locator(".spec .editing input")).to_be_focused()
    maker.type("Zoé Orin", "Enter")
    expect(spec(page)).to_contain_text("Words Zoé Orin in")
    choose_font(maker, "pacif", "Pacifico")
    expect(page.locator(".facts")).to_contain_text("bodies")
    letters(maker)
    switch(maker, "Joined", "yes")
    one_body(page)
    expect(page.locator(".letters-holds")).to_have_text(re.compile("One body; its narrowest neck is [0-9.]+ mm."))
    expect(page.locator(".neck")).to_be_visible()
    print(f"joined: {maker.actions} actions")
    assert maker.actions <= 10
    assert len(resolve(design_of(page).pieces[0]).outline.bodies) == 1


def test_the_list_of_fonts_is_walked_searched_kept_and_left(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    words(maker, "Vega")
    first = shape_of(words_on(design_of(page).pieces[0])[0]).font
    page.keyboard.press("Shift+F")
    chooser = page.locator(".chooser")
    expect(chooser.get_by_role("option")).not_to_have_count(0)
    assert chooser.get_by_role("option").count() >= 30
    expect(chooser.locator("[aria-selected=true]")).to_contain_text("Playfair Display")
    drawn = page.locator(".canvas svg").first.inner_html()
    page.keyboard.press("ArrowDown")
    expect(chooser.locator("[aria-selected=true]")).to_contain_text("Cormorant Garamond")
    page.wait_for_function("before => document.querySelector('.canvas svg').innerHTML !== before", arg=drawn)
    page.keyboard.press("Escape")
    expect(chooser).to_have_count(0)
    expect(spec(page)).to_contain_text("in Playfair Display bold")
    assert shape_of(words_on(design_of(page).pieces[0])[0]).font == first
    page.get_by_role("button", name="The font:").click()
    page.keyboard.type("script")
    expect(chooser.get_by_role("option").first).to_contain_text("Pacifico")
    page.keyboard.press("Control+Enter")
    expect(chooser.locator(".star").first).to_have_attribute("data-on", "true")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("in Pacifico")
    page.get_by_role("button", name="The font:").click()
    chooser.get_by_role("button", name="Favourites", exact=True).click()
    expect(chooser.get_by_role("option")).to_have_count(1)
    expect(chooser.get_by_role("option")).to_have_attribute("aria-label", re.compile("a favourite"))
    chooser.get_by_role("button", name="Recent", exact=True).click()
    expect(chooser.get_by_role("option").first).to_contain_text("Pacifico")
    chooser.get_by_role("button", name="single-line", exact=True).click()
    expect(chooser.get_by_role("option").first).to_contain_text("Line Plain")
    chooser.get_by_role("option", name=re.compile("Line Script")).click()
    expect(spec(page)).to_contain_text("in Line Script")


def test_a_font_file_is_added_and_a_broken_one_gets_a_sentence(page: Page, tmp_path: Path) -> None:
    maker = Maker(page)
    new_project(maker)
    words(maker, "Vega")
    page.get_by_role("button", name="The font:").click()
    chooser = page.locator(".chooser")
    chooser.get_by_role("button", name="Add a font file…").click()
    broken = tmp_path / "broken.ttf"
    broken.write_bytes((FOLDER / "lora" / "latin.ttf").read_bytes()[:2000])
    chooser.locator("input[type=file]").set_input_files(str(broken))
    chooser.get_by_role("button", name="Add it").click()
    expect(chooser.locator(".problem")).to_contain_text("The font file is damaged, so nothing was added")
    chooser.locator("input[type=file]").set_input_files(str(FOLDER / "lora" / "latin.ttf"))
    chooser.get_by_label("Licence").fill("OFL, for everyone")
    chooser.get_by_role("button", name="Add it").click()
    expect(chooser.get_by_role("option")).to_have_count(1)
    expect(chooser.locator("[data-says]")).to_contain_text("OFL, for everyone")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("in Lora")
    assert shape_of(words_on(design_of(page).pieces[0])[0]).font.startswith("own-lora")
    page.get_by_role("button", name="The font:").click()
    chooser.get_by_role("button", name="your own", exact=True).click()
    page.keyboard.press("Control+Delete")
    expect(page.get_by_text("is put away. Designs that use it keep it.")).to_be_visible()
    page.keyboard.press("Escape")
    expect(spec(page)).to_contain_text("in Lora")


def test_lines_are_typed_with_shift_enter_and_counters_bridged_by_hand(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("120", "Tab", "70", "Enter")
    maker.press("Words")
    expect(page.locator(".spec .editing input")).to_be_focused()
    page.keyboard.type("BOARD")
    page.keyboard.press("Shift+Enter")
    expect(page.locator(".spec .editing textarea")).to_be_focused()
    page.keyboard.type("DOME")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("Words BOARD / DOME in")
    assert shape_of(words_on(design_of(page).pieces[0])[0]).text == "BOARD\nDOME"
    choose_font(maker, "alfa", "Alfa Slab One")
    maker.press("cuts")
    expect(page.locator(".facts")).to_contain_text("bodies")
    letters(maker)
    switch(maker, "Stencil", "yes")
    one_body(page)
    page.keyboard.press("Escape")
    bridges = page.locator("[data-bridge]")
    count = bridges.count()
    assert count >= 14  # two for each of seven counters
    bridges.first.click()
    expect(page.locator(".corner-of.on[data-bridge]")).to_have_count(count - 2)
    page.keyboard.press("Control+z")
    expect(page.locator(".corner-of.on[data-bridge]")).to_have_count(count)
    # The marks are drawn anew with every change: their place is read, and pressed there.
    place = [float(bridges.first.get_attribute(name) or 0) for name in ("cx", "cy")]
    x, y = at(page, *place)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 3, y, steps=3)
    page.mouse.move(x + 6, y, steps=3)
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", re.compile("move a stencil bridge"))
    stencil = shape_of(words_on(design_of(page).pieces[0])[0]).stencil
    assert stencil is not None
    assert stencil.moved[0][:2] == (0, 0)


def test_a_panel_of_letters_shows_the_shapes_of_the_font_with_pictures(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    words(maker, "Queen")
    choose_font(maker, "garamond ital", "EB Garamond italic")
    letters(maker)
    swash = page.get_by_role("button", name="Swashes, first letter only")
    expect(swash.locator("svg path")).to_be_visible()
    swash.click()
    expect(swash).to_have_attribute("aria-pressed", "true")
    assert shape_of(words_on(design_of(page).pieces[0])[0]).features == ("swsh first",)
    switch(maker, "Size", "from end to end")
    expect(page.locator(".letters-row", has_text="Size")).to_contain_text("from end to end")
    page.locator(".letters-row", has_text="Size").locator(".value").nth(1).click()
    maker.type("80", "Enter")
    expect(spec(page)).to_contain_text("from end to end 80 mm")
    left, _, right, _ = part_bounds(words_on(design_of(page).pieces[0])[0])
    assert right - left == pytest.approx(80, abs=0.05)
