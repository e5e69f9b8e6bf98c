"""The hand at the board: what is seen before it is kept, what helps fast hands, and what everyone can reach."""

import re

import pytest
from playwright.sync_api import Page, expect

from foliant.core.design.placing import part_bounds
from foliant.core.layout import lay_out
from tests.journeys.acting import Maker, address_of, at, begin, design_of, drag, open_copy, put_hole, spec
from tests.journeys.test_reach import found_by_axe

pytestmark = pytest.mark.journey


def test_nothing_is_found_with_a_panel_open(page: Page) -> None:
    page.goto(address_of(page, "Open-night tags") + "shape/")
    page.locator(".part", has_text="ORRIN").click()
    shown = {"motifs": ".motif", "letters": ".letters-row"}
    for key, panel in (("a", "align"), ("s", "spread"), ("p", "repeat"), ("6", "motifs"), ("Shift+L", "letters")):
        page.keyboard.press("Control+a")
        page.keyboard.press(key)
        opened = page.locator(f"#panel-{panel}")
        expect(opened).to_be_visible()
        if panel in shown:
            expect(opened.locator(shown[panel]).first).to_be_visible()
        assert found_by_axe(page) == [], panel
        page.keyboard.press("Escape")
        expect(opened).to_be_hidden()


def test_nothing_is_found_with_nodes_commands_and_points(page: Page) -> None:
    open_copy(page, "Hour discs")
    page.locator(".part", has_text="Planet").click()
    page.keyboard.press("g")
    expect(page.get_by_role("option").first).to_be_visible()
    assert found_by_axe(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    expect(page.get_by_role("option").first).to_be_visible()
    assert found_by_axe(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("8")
    page.get_by_role("button", name="Make plain").click()
    expect(page.locator(".node").first).to_be_attached()
    assert found_by_axe(page) == []


def test_an_alignment_is_seen_before_it_is_kept_and_can_be_held(page: Page) -> None:
    open_copy(page, "Open-night tags")
    page.locator(".part", has_text="ORRIN").click()
    expect(spec(page)).to_contain_text("its middle 40 mm across")
    page.keyboard.press("a")
    expect(page.locator("path.anchor")).to_have_count(1)
    page.locator("#panel-align").get_by_role("button", name="right edges").hover()
    expect(spec(page)).to_contain_text("its middle 54.65 mm across")
    page.keyboard.press("Escape")
    expect(spec(page)).to_contain_text("its middle 40 mm across")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    page.keyboard.press("a")
    page.get_by_label("Hold it there, whatever changes").check()
    page.locator("#panel-align").get_by_role("button", name="visual centres").click()
    expect(spec(page)).to_contain_text("held at the visual centre of Guide tag")


def test_a_hole_is_zoomed_to_dragged_duplicated_hidden_and_the_piece_sized(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    put_hole(maker)
    canvas = page.locator(".canvas > svg").first
    whole = canvas.get_attribute("viewBox") or ""
    page.keyboard.press("z")
    expect(canvas).not_to_have_attribute("viewBox", whole)
    assert float((canvas.get_attribute("viewBox") or "").split()[2]) < 30
    page.keyboard.press("f")
    expect(canvas).to_have_attribute("viewBox", whole)

    # A drag is given up with Escape.
    before = design_of(page)
    page.mouse.move(*at(page, 4, 15))
    page.mouse.down()
    page.mouse.move(*at(page, 30, 20), steps=4)
    page.keyboard.press("Escape")
    page.mouse.up()
    expect(spec(page)).to_contain_text("its middle 4 mm across and 15 mm down")
    assert design_of(page) == before
    drag(page, (4, 15), (30.2, 21.3))
    expect(spec(page)).not_to_contain_text("its middle 4 mm across")
    page.keyboard.press("Control+z")
    expect(spec(page)).to_contain_text("its middle 4 mm across")

    # A duplicate goes on as the last move went.
    page.keyboard.press("Control+d")
    expect(page.locator('[data-role="cuts"] .part')).to_have_count(2)
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    expect(spec(page)).to_contain_text("its middle 14 mm across")
    page.keyboard.press("Control+z")
    expect(spec(page)).to_contain_text("its middle 9 mm across")
    for count in (3, 4):
        page.keyboard.press("Shift+d")
        expect(page.locator('[data-role="cuts"] .part')).to_have_count(count)
    holes = [part.x for part in design_of(page).pieces[0].parts[1:]]
    assert holes == pytest.approx([4, 9, 14, 19])

    # Parts are hidden, and chosen by what they are.
    page.keyboard.press("v")
    expect(page.locator(".toast", has_text="not made until it is shown again")).to_be_visible()
    expect(page.locator('[data-role="cuts"] .part').last).to_contain_text("hidden")
    expect(page.locator(".hit")).to_have_count(4)
    page.locator('[data-role="cuts"] .part').first.click()
    page.keyboard.press("Control+k")
    page.keyboard.type("same kind")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("4 parts of Piece 1")
    page.keyboard.press("Control+k")
    page.keyboard.type("show all")
    page.keyboard.press("Enter")
    expect(page.locator(".hit")).to_have_count(5)

    # The piece is sized by its dimension, where a wrong value stays with its reason.
    page.keyboard.press("Escape")
    page.locator('[data-dimension="piece-width"]').click()
    page.keyboard.type("12 parsecs")
    page.keyboard.press("Enter")
    expect(page.locator(".ask .problem")).to_contain_text("not a unit Foliant knows")
    page.get_by_role("textbox", name="Piece width").fill("4in")
    page.keyboard.press("Enter")
    expect(page.locator(".piece-head .size")).to_have_text("101.6 × 30 mm")
    page.locator('[data-dimension="piece-width"]').click()
    page.keyboard.type("50.8")
    page.get_by_role("button", name="all of it").click()  # and not its plate alone
    page.keyboard.press("Enter")
    expect(page.locator(".piece-head .size")).to_have_text("50.8 × 15 mm")


def test_dragging_keeps_level_with_shift_and_shows_what_is_equal(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    put_hole(maker)
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("d")
    expect(page.locator('[data-role="cuts"] .part')).to_have_count(2)
    page.mouse.move(*at(page, 17.5, 16))
    page.mouse.down()
    page.mouse.move(*at(page, 41, 16.4), steps=6)
    expect(page.locator(".over-status")).to_contain_text(re.compile("level with the middle of|middle of Rectangle"))
    expect(page.locator(".level-line, .snap").first).to_be_attached()
    page.mouse.up()
    expect(spec(page)).to_contain_text("and 15 mm down")
    start = part_bounds(design_of(page).pieces[0].parts[2])
    middle = ((start[0] + start[2]) / 2, 15)
    page.mouse.move(*at(page, middle[0] + 0.6, middle[1]))
    page.mouse.down()
    page.keyboard.down("Shift")
    page.mouse.move(*at(page, middle[0] + 14, 22), steps=6)
    expect(page.locator(".over-status")).to_contain_text(re.compile("Kept level|level with|gaps|On:"))
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", "Undo: move Round hole")
    end = part_bounds(design_of(page).pieces[0].parts[2])
    assert end[1] == pytest.approx(start[1])
    assert end[0] > start[0] + 8


def test_the_distance_of_a_hold_is_pressed_and_typed(page: Page) -> None:
    open_copy(page, "Hour discs")
    page.locator(".part", has_text="Varuna dome").click()
    expect(spec(page)).to_contain_text("12 mm beyond the lower edge of Planet")
    page.locator('[data-dimension="hold-down"]').click()
    page.keyboard.type("9")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("9 mm beyond the lower edge of Planet")


def test_a_piece_is_put_in_the_middle_of_the_sheet(page: Page) -> None:
    open_copy(page, "Torch tokens")
    page.locator(".stations").get_by_role("link", name=re.compile("^Sheet")).click()
    page.wait_for_url(re.compile("/sheet/"))
    page.locator(".instance").nth(1).click()
    page.get_by_role("button", name="middle", exact=True).click()
    expect(page.get_by_role("button", name="Undo")).to_have_attribute(
        "title", re.compile(r"Undo: align Torch token \d with the sheet")
    )
    assert lay_out(design_of(page)).instances[1].bounds[0] == pytest.approx((240 - 48) / 2)
