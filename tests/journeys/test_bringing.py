"""Drawings through the page: chosen, dropped and pasted, sized, given their roles, and taken in."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.core.test_bringing import TAG
from tests.core.test_tracing import motif
from tests.drawings import svg
from tests.journeys.acting import Maker, copied, free, new_project
from tests.pictures import encoded

pytestmark = pytest.mark.journey


def choose(maker: Maker, *files: tuple[str, bytes]) -> None:
    with maker.page.expect_file_chooser() as chooser:
        maker.press("Bring in…")
    chooser.value.set_files([{"name": name, "mimeType": "", "buffer": data} for name, data in files])
    maker.actions += 1


def test_a_bought_drawing_is_looked_at_sized_given_its_roles_and_taken(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.actions = 0
    choose(maker, ("moon_gate.svg", svg(TAG)))
    panel = page.get_by_role("region", name="What came in")
    expect(panel).to_contain_text("× 60 mm, as the file says in mm")
    expect(panel.get_by_role("textbox", name="How wide it is")).to_have_value("90 mm")
    group = panel.get_by_role("group", name="1 open line in blue")
    expect(group.get_by_role("button", name="scores")).to_have_attribute("aria-pressed", "true")
    group.get_by_role("button", name="engraves").click()
    maker.actions += 1
    expect(group.get_by_role("button", name="engraves")).to_have_attribute("aria-pressed", "true")
    panel.get_by_role("textbox", name="How wide it is").fill("180")
    page.keyboard.press("Enter")
    maker.actions += 1
    expect(panel).to_be_hidden()
    assert maker.actions <= 4
    parts = page.locator(".piece.open")
    expect(parts).to_contain_text("180 × 100")
    expect(parts).to_contain_text("Ysolde")
    page.keyboard.press("Control+z")
    expect(parts).not_to_contain_text("Ysolde")

    # Pasted as text it is shown as well, asks its unit, and can be left.
    free(page)
    copied(page, svg('<path d="M0 0h48v48h-48z"/>', 'viewBox="0 0 96 96"').decode())
    page.keyboard.press("Control+v")
    expect(panel).to_contain_text("the file says no unit")
    panel.get_by_role("button", name=re.compile("^72 to the inch")).click()
    expect(panel.get_by_role("textbox", name="How wide it is")).to_have_value("16.93 mm")
    page.keyboard.press("Escape")
    expect(panel).to_be_hidden()

    # What cannot be read says so; the next is shown all the same.
    choose(maker, ("broken.dxf", b"nothing"), ("moon_gate.svg", svg(TAG)))
    expect(page.get_by_text(re.compile("no drawing that can be read"))).to_be_visible()
    expect(panel.get_by_role("textbox", name="How wide it is")).to_have_value("180 mm")  # as it was answered before
    panel.get_by_role("button", name="a new piece").click()
    expect(panel.get_by_role("button", name="a new piece")).to_have_attribute("aria-pressed", "true")
    panel.get_by_role("button", name="Bring in", exact=True).click()
    expect(page.locator(".piece.open")).to_contain_text("moon gate")

    # Once it has changed, what came from it is exchanged, as large as it was taken.
    expect(page.locator(".piece.open")).to_contain_text("180 × 100")
    choose(maker, ("moon_gate.svg", svg(TAG.replace('height="50"', 'height="55"'))))
    expect(panel.get_by_role("button", name="in place of 5 parts")).to_have_attribute("aria-pressed", "true")
    expect(panel).to_contain_text("as you have it")
    panel.get_by_role("button", name="Bring in", exact=True).click()
    expect(panel).to_be_hidden()
    expect(page.locator(".piece.open")).to_contain_text("180 × 110")


LETTERS = "".join(f'<path d="M{x} 10h6v10h-6z"/>' for x in (12, 20, 28, 52, 60, 68))
SET = '<rect x="2" y="2" width="80" height="30" fill="none" stroke="red" stroke-width="0.1"/>' + LETTERS
TWICE = (
    '<path d="M10 10H60V40H10Z" fill="none" stroke="red" stroke-width="0.1"/>'
    '<path d="M60 40H10V10H60Z" fill="none" stroke="red" stroke-width="0.1"/>'
)


def test_a_bought_set_of_two_names_is_brought_sized_and_renamed_in_twelve_actions(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.actions = 0
    choose(maker, ("names.svg", svg(SET)))
    panel = page.get_by_role("region", name="What came in")
    expect(panel.get_by_role("textbox", name="How wide it is")).to_have_value("80 mm")
    maker.type("120", "Enter")
    expect(panel).to_be_hidden()
    parts = page.locator(".piece.open")
    expect(parts).to_contain_text("120 × 45")
    page.get_by_role("button", name="Take them apart into 7").click()
    maker.actions += 1
    expect(page.locator(".part")).to_have_count(7)
    for name, first in (("Vega", 1), ("Ysolde", 1)):
        rows = page.locator('[data-role="engraves"] .part', has_text="9 × 15")
        rows.nth(0).click()
        rows.nth(2).click(modifiers=["Shift"])
        page.get_by_role("button", name="Words in their place").click()
        maker.actions += 2 + first
        maker.type(name, "Enter")
        expect(parts).to_contain_text(name)
    assert maker.actions <= 12


def test_a_doubled_outline_is_brought_in_cleaned_and_sized(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.actions = 0
    choose(maker, ("frame.svg", svg(TWICE)))
    panel = page.get_by_role("region", name="What came in")
    expect(panel.get_by_role("textbox", name="How wide it is")).to_have_value("50 mm")
    maker.type("75", "Enter")
    expect(page.locator(".piece.open")).to_contain_text("75 × 45")
    page.get_by_role("button", name="Clean up 1 doubled line").click()
    maker.actions += 1
    expect(page.get_by_role("button", name="Clean up 1 doubled line")).to_have_count(0)
    page.get_by_role("button", name="Undo", exact=True).click()
    page.locator(".part", has_text="75 × 45").click()

    # Fault by fault, each shown where it is.
    page.keyboard.press("Control+k")
    page.keyboard.type("clean up lines")
    page.keyboard.press("Enter")
    cleaning = page.get_by_role("region", name="Clean up")
    row = cleaning.locator(".clean-row")
    expect(row).to_have_text(re.compile("1 doubled line"))
    row.hover()
    expect(page.locator(".faulty")).to_have_count(1)
    row.get_by_role("button").click()
    expect(cleaning).to_contain_text("Nothing to clean up")
    page.keyboard.press("Escape")

    for word in ("Guide", "Orbit", "Moon"):
        maker.press("Words")
        maker.type(word, "Enter")
        expect(page.locator(".part", has_text=word)).to_be_visible()
    assert maker.actions <= 10


def test_a_picture_is_traced_with_what_is_traced_shown_over_it(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.actions = 0
    choose(maker, ("star.png", encoded(motif("star")[1])))
    expect(page.get_by_role("textbox", name="The width")).to_be_focused()
    maker.type("66", "Enter")
    page.get_by_role("button", name="Trace it").click()
    maker.actions += 1
    expect(page.locator(".spec")).to_contain_text("59.9")
    maker.press("Words")
    maker.type("Ysolde", "Enter")
    expect(page.locator(".part", has_text="Ysolde")).to_be_visible()
    assert maker.actions <= 7
    for _ in range(3):  # the typing, the words, and the tracing
        page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.locator(".part", has_text="66 × 63.8")).to_be_visible()
    page.locator(".part", has_text="star").click()
    page.keyboard.press("Control+k")
    page.keyboard.type("trace a picture")
    page.keyboard.press("Enter")
    tracing = page.get_by_role("region", name="Trace")
    expect(page.locator(".traced")).to_have_count(1)
    tracing.get_by_role("button", name="outer outline").click()
    tracing.get_by_label("Smoothness").fill("0.2")
    tracing.get_by_role("button", name="Trace it").click()
    expect(tracing).to_be_hidden()
    expect(page.locator('[data-role="adds"] .part')).to_have_count(1)
    expect(page.locator('[data-role="guides"] .part')).to_have_count(1)
    expect(page.locator(".traced")).to_have_count(0)
