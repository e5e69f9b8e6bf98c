"""The first journey: from an empty project to a finished tag, as a person would do it."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.acting import box_of, open_copy

pytestmark = pytest.mark.journey


def test_dragging_nudging_centring_and_undo(page: Page) -> None:
    open_copy(page, "Open-night tags")
    word = page.get_by_role("button", name="ORRIN 7.5")
    word.click()
    spec = page.locator(".spec > .sentence")
    expect(spec).to_contain_text("its middle 40 mm across and 12.4 mm down")
    box = box_of(page, page.locator(".chosen-box"))
    # Anywhere in its box will do: here within the round of its first letter, where only the plate lies under the hand.
    start = (box["x"] + box["width"] * 0.1, box["y"] + box["height"] / 2)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] - 40, start[1] + 30, steps=8)
    page.mouse.up()
    expect(spec).not_to_contain_text("its middle 40 mm across")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", "Undo: move ORRIN")
    page.keyboard.press("Control+z")
    expect(spec).to_contain_text("its middle 40 mm across and 12.4 mm down")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    expect(spec).to_contain_text("its middle 40.5 mm across and 17.4 mm down")
    page.keyboard.press("c")
    expect(spec).to_contain_text("its middle 36 mm across and")
    page.reload()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="ORRIN 7.5").click()
    expect(spec).to_contain_text("its middle 40.5 mm across and 17.4 mm down")  # undo outlives the page
    page.keyboard.press("Control+Shift+z")
    expect(spec).to_contain_text("its middle 36 mm across and")
    page.keyboard.press("d")
    expect(page.locator(".part", has_text="ORRIN")).to_have_count(2)
    page.keyboard.press("Delete")
    expect(page.locator(".part", has_text="ORRIN")).to_have_count(1)


def test_a_part_dragged_to_another_list_takes_that_role(page: Page) -> None:
    open_copy(page, "Torch tokens")
    page.locator(".part", has_text="RED 7").drag_to(page.locator('[data-role="engraves"]'))
    expect(page.locator('[data-role="engraves"] .part')).to_have_text(re.compile("RED 7"))
    expect(page.locator('[data-role="cuts"] .part')).to_have_count(1)


def test_inches_and_fractions_in_any_field(page: Page) -> None:
    open_copy(page, "Telescope-bay signs")
    page.locator(".part", has_text="Rectangle").click()
    spec = page.locator(".spec > .sentence")
    expect(spec).to_contain_text("Rectangle 5.5 in × 2.25 in")
    page.get_by_role("button", name="The width").click()
    page.keyboard.type("6 1/8")
    page.keyboard.press("Enter")
    expect(spec).to_contain_text("Rectangle 6.125 in")
    page.get_by_role("button", name="mm", exact=True).click()
    expect(spec).to_contain_text("Rectangle 155.58 mm")


def test_a_font_is_tried_on_the_drawing_before_it_is_kept(page: Page) -> None:
    open_copy(page, "Open-night tags")
    page.get_by_role("button", name="ORRIN 7.5").click()
    before = page.locator(".canvas path[fill='#4a2c1a']").first.get_attribute("d")
    page.get_by_role("button", name="The font").click()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".canvas path[fill='#4a2c1a']").first).not_to_have_attribute("d", before or "")
    page.keyboard.press("Escape")
    expect(page.locator(".canvas path[fill='#4a2c1a']").first).to_have_attribute("d", before or "")


def test_projects_are_renamed_duplicated_deleted_and_brought_back(page: Page) -> None:
    page.goto("/")
    original = page.get_by_role("article", name="Telescope-bay signs", exact=True)
    original.get_by_role("button", name="Duplicate").click()
    expect(page.locator(".card").first.locator(".name")).to_have_text("Telescope-bay signs (copy)")
    copy = page.locator(f'[x-data="{page.locator(".card").first.get_attribute("x-data")}"]')
    copy.get_by_role("button", name="Rename").click()
    page.keyboard.type("Bench signs")
    page.keyboard.press("Enter")
    expect(copy.get_by_role("link", name="Bench signs")).to_be_visible()
    copy.get_by_role("button", name="Delete").click()
    expect(copy).to_be_hidden()
    page.get_by_role("button", name="Undo").click()
    expect(copy).to_be_visible()
    page.reload()
    expect(page.get_by_role("article", name="Bench signs")).to_be_visible()
