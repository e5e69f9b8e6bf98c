"""Everyone can reach everything: axe on every page, and the work done by keys."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.journeys.acting import address_of
from tests.stack import Stack, new_context

pytestmark = pytest.mark.journey

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text()


def found_by_axe(page: Page) -> list[str]:
    """All that axe finds on the page as it stands."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    return [
        f"{v['id']}: {node['html'][:160]} {node['failureSummary'][:200]}"
        for v in found["violations"]
        for node in v["nodes"]
    ]


def test_nothing_is_found_on_any_page(page: Page, browser: Browser, stack: Stack) -> None:
    page.goto("/")
    assert found_by_axe(page) == []
    project = address_of(page, "Open-night tags")
    for station in ("shape", "sheet", "ticket", "check", "run"):
        page.goto(f"{project}{station}/")
        expect(page.locator(".stations")).to_contain_text("laid out")
        if station == "shape":
            page.get_by_role("button", name="ORRIN 7.5").click()
        if station == "run":
            page.get_by_role("button", name="Connect").click()
            expect(page.locator(".panel")).to_contain_text("idle")
        assert found_by_axe(page) == [], station
    fresh = new_context(browser).new_page()
    for address in ("/enter/", "/join/"):
        fresh.goto(stack.address + address)
        assert found_by_axe(fresh) == [], address
    fresh.context.close()


def test_nothing_is_found_with_dialogs_lists_and_problems_open(page: Page) -> None:
    page.goto(address_of(page, "Open-night tags") + "shape/")
    page.get_by_role("button", name="ORRIN 7.5").click()
    page.get_by_role("button", name="The font").click()
    expect(page.locator(".chooser [role=option]").first).to_be_visible()
    page.get_by_role("button", name="Add a font file…").click()
    assert found_by_axe(page) == []
    page.keyboard.press("Escape")
    page.get_by_role("button", name="The height of the capitals").click()
    page.keyboard.type("12 parsecs")
    page.keyboard.press("Enter")
    expect(page.locator(".problem")).to_be_visible()
    assert found_by_axe(page) == []
    page.keyboard.press("Escape")
    for opener, panel in (("Treat ▾", "treat"), ("Combine ▾", "combine")):
        page.get_by_role("button", name=opener).click()
        expect(page.locator(f"#panel-{panel}")).to_be_visible()
        assert found_by_axe(page) == []
        page.keyboard.press("Escape")
    page.locator(".facts").click()
    expect(page.locator("#panel-findings")).to_be_visible()
    assert found_by_axe(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    assert found_by_axe(page) == []


FOCUSED = """(() => {
  const found = document.activeElement;
  return (found?.getAttribute("aria-label") ?? found?.innerText ?? "").trim();
})()"""


def tab_to(page: Page, name: str) -> None:
    """Press Tab until the control of that name has the focus, as someone without a mouse does."""
    for _ in range(120):
        if page.evaluate(FOCUSED).startswith(name):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"Tab does not reach “{name}”")


def test_a_tag_is_drawn_and_laid_out_by_keys_alone(page: Page) -> None:
    page.goto("/")
    tab_to(page, "New project")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile("/shape/"))
    expect(page.locator(".empty-note")).to_be_visible()
    tab_to(page, "Rectangle")
    page.keyboard.press("Enter")
    expect(page.locator(".spec > .sentence input")).to_be_focused()
    page.keyboard.type("64")
    page.keyboard.press("Tab")
    page.keyboard.type("24")
    page.keyboard.press("Tab")  # the list of corners
    expect(page.get_by_role("listbox")).to_be_visible()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".spec > .sentence")).to_contain_text("rounded 6 mm")  # tried, before it is chosen
    page.keyboard.press("Escape")
    expect(page.locator(".spec > .sentence")).not_to_contain_text("rounded")
    expect(page.get_by_role("button", name="Corners: square")).to_be_focused()
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_label("The corner size")).to_be_focused()  # what the choice brings with it is typed next
    page.keyboard.press("Enter")
    expect(page.locator(".spec > .sentence")).to_contain_text("Rectangle 64 mm × 24 mm, corners rounded 6 mm")
    expect(page.get_by_role("button", name="The corner size")).to_be_focused()
    tab_to(page, "Words")
    page.keyboard.press("Enter")
    page.keyboard.type("WREN")
    page.keyboard.press("Enter")
    expect(page.locator(".part", has_text="WREN")).to_be_visible()
    page.keyboard.press("Shift+ArrowRight")
    expect(page.locator(".spec > .sentence")).to_contain_text("its middle 37 mm across")
    page.keyboard.press("]")
    page.wait_for_url(re.compile("/sheet/"))
    tab_to(page, "The number of pieces")
    page.keyboard.press("Enter")
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    expect(page.locator(".panel")).to_contain_text("4 laid out")
