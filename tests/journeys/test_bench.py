"""At the bench: a tablet that is drawn on with fingers, and a phone beside the machine."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.journeys.acting import address_of, at, design_of, frames, free, spec
from tests.stack import Stack, entered_as

pytestmark = pytest.mark.journey

OUTSIDE = """() => [...document.querySelectorAll("button, a[href], input, select, textarea")]
  .filter((one) => one.offsetParent && one.getBoundingClientRect().width)
  .filter((one) => one.getBoundingClientRect().right > innerWidth + 1 || one.getBoundingClientRect().left < -1)
  .map((one) => one.innerText || one.getAttribute("aria-label"))"""

STATIONS = ("shape", "sheet", "ticket", "check", "run")


TABLET, UPRIGHT, PHONE = (1024, 768), (820, 1180), (390, 844)


@pytest.fixture(name="tablet")
def _tablet(browser: Browser, stack: Stack) -> Iterator[Page]:
    viewport = {"width": UPRIGHT[0], "height": UPRIGHT[1]}
    with entered_as(browser, stack, stack.new_maker(), viewport=viewport, has_touch=True) as context:
        page = context.new_page()
        page.goto("/")
        yield page


def fits(page: Page, width: int, height: int) -> None:
    """Nothing lies outside a window of that size."""
    page.set_viewport_size({"width": width, "height": height})
    frames(page, 2)
    assert page.evaluate(OUTSIDE) == []
    if not page.url.endswith("/workshop/") or (width, height) != PHONE:
        assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0


def test_nothing_lies_outside_the_window(page: Page) -> None:
    project = address_of(page, "Open-night tags")
    for address in ("/", "/workshop/", *(f"{project}{station}/" for station in STATIONS)):
        page.goto(address)
        expect(page.get_by_role("heading", level=1)).to_have_count(1)
        at_the_board = address.endswith(("shape/", "sheet/", "ticket/"))  # which no phone is for
        for size in (TABLET, UPRIGHT) if at_the_board else (TABLET, UPRIGHT, PHONE):
            fits(page, *size)
    page.goto(f"{project}shape/")
    page.locator(".part", has_text="ORRIN").click()
    for key, panel in (("a", "align"), ("6", "motifs"), ("p", "repeat")):
        page.keyboard.press(key)
        expect(page.locator(f"#panel-{panel}")).to_be_visible()
        for size in (TABLET, UPRIGHT):
            fits(page, *size)
        page.keyboard.press("Escape")


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
    expect(spec(page)).to_contain_text("2 parts of Piece 1")
    touch("touchEnd")
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
