"""Drawings through the page: chosen, dropped and pasted, sized, given their roles, and taken in."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.core.test_bringing import TAG
from tests.drawings import svg
from tests.journeys.acting import Maker, copied, free
from tests.journeys.test_outline import new_project

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
