"""The eye by hand: a lens learnt from marks, and a sheet that lies anyhow brought to the machine."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.acting import box_of, open_copy
from tests.presses.jobs import Hands

pytestmark = pytest.mark.journey


def lay(page: Page, what: str) -> None:
    """Something comes to lie on the simulated bed."""
    page.get_by_role("button", name=what, exact=True).click()


@pytest.fixture(name="askew")
def _askew(page: Page) -> Page:
    """A project whose sheet lies on the bed somehow, under a camera that knows its lens."""
    open_copy(page, "Torch tokens", "run")
    page.get_by_role("button", name="The sheet lies elsewhere").click()
    lay(page, "the marks")
    expect(page.get_by_text("The marks lie on the bed")).to_be_visible()
    page.get_by_role("button", name="Learn the lens").click()
    expect(page.get_by_text("The lens is learnt")).to_be_visible()
    lay(page, "the sheet, askew")
    expect(page.get_by_text("The sheet lies on the bed, somehow")).to_be_visible()
    return page


def test_a_sheet_that_lies_askew_is_running_six_actions_after_its_check(askew: Page) -> None:
    page, maker = askew, Hands(askew)
    maker.follow("Check")
    maker.actions = 0
    maker.follow("Run")
    maker.press("Connect")
    maker.press("Look where it lies")
    maker.press("Lay the work there")
    expect(page.locator(".aside")).to_contain_text("Its near left corner lies at")
    start = page.locator(".steps").get_by_role("button", name="Start", exact=True)
    start.first.click()
    page.locator(".front").get_by_role("button", name="Start").click()
    maker.actions += 2
    assert maker.actions <= 6
    expect(page.get_by_text(re.compile("^Done in"))).to_be_visible()
    # It was burnt where the sheet was seen.
    expect(page.locator("path.burnt").first).to_be_visible()
    box = box_of(page, page.locator("path.found, .stock-edge").first)
    burnt = box_of(page, page.locator("path.burnt").first)
    assert box["x"] - 2 < burnt["x"]
    assert burnt["y"] + burnt["height"] < box["y"] + box["height"] + 2


def test_the_work_is_dragged_on_the_picture_typed_to_its_place_and_looked_at_closely(askew: Page) -> None:
    page = askew
    page.get_by_role("button", name="Look where it lies").click()
    expect(page.locator("svg image")).to_be_attached()
    expect(page.get_by_text("The sheet is seen")).to_be_visible()
    right = page.get_by_label("How far right its corner lies")
    sheet = page.locator(".stock-edge")
    box = box_of(page, sheet)
    at = (box["x"] + box["width"] - 12, box["y"] + box["height"] - 12)
    page.mouse.move(*at)
    page.mouse.down()
    page.mouse.move(at[0] + 70, at[1] - 35, steps=5)
    page.mouse.up()
    expect(right).not_to_have_value("0 mm")
    moved = box_of(page, sheet)
    assert (moved["x"] - box["x"], moved["y"] - box["y"]) == pytest.approx((70, -35), abs=3)
    right.fill("33.5")
    right.press("Enter")
    expect(page.locator(".aside")).to_contain_text("33.5 ×")
    page.mouse.click(moved["x"] + 60, moved["y"] + 60)
    expect(page.get_by_text("40 × 40 mm of the bed")).to_be_visible()
    expect(page.locator(".eye img")).to_have_js_property("naturalWidth", 400)
    page.get_by_role("button", name="Put the picture away").click()
    expect(page.locator("svg image")).to_have_count(0)
