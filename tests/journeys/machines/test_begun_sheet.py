"""What a job has left of a sheet, which the next one goes on with: for a maker who has begun no other."""

import re

import pytest
from playwright.sync_api import Page, expect

from foliant.core.layout import lay_out, lay_sheets
from tests.journeys.acting import design_of, free
from tests.journeys.test_sheet import packed
from tests.presses.jobs import Hands, from_starter

pytestmark = pytest.mark.journey


def run_the_job(page: Page) -> None:
    page.locator(".stations").get_by_role("link", name=re.compile("^Run")).click()
    page.get_by_role("button", name="Connect", exact=True).click()
    page.get_by_role("button", name="Start", exact=True).first.click()
    page.locator(".front").get_by_role("button", name="Start").click()
    expect(page.get_by_text(re.compile("^Done in"))).to_be_visible()


def test_twenty_stirrers_on_a_begun_sheet_with_their_price(page: Page) -> None:
    maker = Hands(page)
    from_starter(maker, "Hang tag", "Maud")
    run_the_job(page)
    expect(page.get_by_text("What it cut out is marked as gone on the shelf.")).to_be_visible()
    page.goto("/")
    maker.actions = 0
    page.locator(".starters").get_by_role("button", name="Stirrer").first.click()
    expect(page.locator(".starter-bar .editing :is(input, textarea)")).to_be_focused()
    page.keyboard.press("Tab")  # on past what stays as it comes
    page.keyboard.press("Tab")
    page.keyboard.press("Tab")
    maker.actions += 1
    maker.type("20", "Enter")
    page.wait_for_url("**/shape/**")
    free(page)
    maker.follow("Sheet")
    expect(page.get_by_role("button", name="a begun sheet")).to_be_visible()
    maker.press("Pack close together")
    expect(page.locator(".panel")).to_contain_text("still finding better")
    page.get_by_role("button", name="This will do").click()
    packed(page)
    expect(page.locator(".costs").first).to_contain_text("20 pieces")
    assert maker.actions <= 5
    design = design_of(page)
    assert design.stock.used
    gone = design.stock.gone[0]
    assert all(laid.shape_on_sheet().distance(gone) >= 2 - 1e-4 for laid in lay_out(design).instances)
    assert not [one for layout in lay_sheets(design) for one in layout.left_over]
    # Where it cannot be said what it costs, that is said in its place.
    page.route("**/costs*", lambda asked: asked.fulfill(status=422, json={"message": "That is too much to plan."}))
    page.reload()
    expect(page.locator(".panel")).to_contain_text("That is too much to plan.")
    expect(page.locator(".costs")).to_have_count(0)
