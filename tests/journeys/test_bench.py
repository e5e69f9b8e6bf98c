"""At the bench: a tablet that is drawn on with fingers, and a phone beside the machine."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.journeys.acting import address_of, free
from tests.journeys.test_board import at, design_of, spec
from tests.stack import Stack

pytestmark = pytest.mark.journey

OUTSIDE = """() => [...document.querySelectorAll("button, a[href], input, select, textarea")]
  .filter((one) => one.offsetParent && one.getBoundingClientRect().width)
  .filter((one) => one.getBoundingClientRect().right > innerWidth + 1 || one.getBoundingClientRect().left < -1)
  .map((one) => one.innerText || one.getAttribute("aria-label"))"""

STATIONS = ("shape", "sheet", "ticket", "check", "run")


@pytest.fixture(name="tablet")
def _tablet(browser: Browser, stack: Stack) -> Iterator[Page]:
    context = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True)
    page = context.new_page()
    page.goto(stack.address)
    page.get_by_role("button", name="Enter the demo workshop").click()
    page.wait_for_url(f"{stack.address}/")
    yield page
    context.close()


@pytest.mark.parametrize(
    ("width", "height", "stations"), [(1024, 768, STATIONS), (820, 1180, STATIONS), (390, 844, STATIONS[3:])]
)
def test_nothing_lies_outside_the_window(page: Page, width: int, height: int, stations: tuple[str, ...]) -> None:
    home, project = page.url, address_of(page, "Open-night tags")
    page.set_viewport_size({"width": width, "height": height})
    for address in (home, f"{home}workshop/", *(f"{project}{station}/" for station in stations)):
        page.goto(address)
        expect(page.get_by_role("heading", level=1)).to_have_count(1)
        if address.endswith("shape/"):
            page.locator(".part", has_text="ORRIN").click()
            for key, panel in (("a", "align"), ("6", "motifs"), ("p", "repeat")):
                page.keyboard.press(key)
                expect(page.locator(f"#panel-{panel}")).to_be_visible()
                assert page.evaluate(OUTSIDE) == []
                page.keyboard.press("Escape")
        assert page.evaluate(OUTSIDE) == []
        if not address.endswith("/workshop/") or width > 390:
            assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0


class Fingers:
    """What fingers do, as the browser has it from the screen."""

    def __init__(self, page: Page) -> None:
        self.chrome = page.context.new_cdp_session(page)

    def __call__(self, kind: str, *points: tuple[float, float]) -> None:
        touches: list[dict[str, Any]] = [{"x": x, "y": y, "id": number} for number, (x, y) in enumerate(points)]
        self.chrome.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": touches})


def test_a_piece_is_drawn_with_fingers(tablet: Page) -> None:
    page = tablet
    page.get_by_role("button", name="New project").tap()
    page.wait_for_url(re.compile("/shape/"))
    page.get_by_role("button", name="Rectangle", exact=True).tap()
    page.keyboard.type("100")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Circle", exact=True).tap()
    page.keyboard.type("20")
    page.keyboard.press("Enter")
    free(page)
    before = design_of(page).pieces[0].parts[1]

    touch = Fingers(page)
    start = at(page, before.x, before.y)
    touch("touchStart", start)
    for step in range(1, 9):
        touch("touchMove", (start[0] + 10 * step, start[1]))
    touch("touchEnd")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", "Undo: move Circle")
    assert design_of(page).pieces[0].parts[1].x > before.x + 5

    # A finger that rests on another part adds it; two fingers zoom, and change nothing.
    touch("touchStart", at(page, 8, 8))
    page.wait_for_timeout(700)
    touch("touchEnd")
    expect(spec(page)).to_contain_text("2 parts of Piece 1")
    drawn = design_of(page)
    view = "document.querySelector('.canvas > svg').viewBox.baseVal.width"
    wide = page.evaluate(view)
    (x, y) = at(page, 30, 20)
    touch("touchStart", (x - 20, y))
    touch("touchStart", (x - 20, y), (x + 20, y))
    for step in range(1, 6):
        touch("touchMove", (x - 20 - 16 * step, y), (x + 20 + 16 * step, y))
    touch("touchEnd")
    assert page.evaluate(view) < wide / 2
    assert design_of(page) == drawn


def test_a_job_is_checked_and_run_on_a_phone(page: Page) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(address_of(page, "Open-night tags") + "check/")
    expect(page.get_by_role("heading", name="Nothing to look at")).to_be_visible()
    page.get_by_role("button", name="Play").click()
    page.get_by_role("link", name="Go to the machine").click()
    page.get_by_role("button", name="Connect").click()
    page.locator(".step").get_by_role("button", name="Start", exact=True).first.click()
    expect(page.locator(".lamp.waiting")).to_be_visible()
    stop = page.get_by_role("button", name="Stop", exact=True).first
    box = stop.bounding_box()
    assert box
    assert box["height"] >= 44
    stop.click()
    expect(page.locator(".rehearsal")).to_contain_text(re.compile("[Ss]topped"))
