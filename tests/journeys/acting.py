"""A maker at the page, who counts what they do: every press, and every value typed, is one action."""

import json
import re
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import FloatRect, Locator, Page, expect

from foliant.core.design import Design, read_design
from tests.stack import TOKEN


class Maker:
    """Acts as a person would, and counts."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.actions = 0

    def press(self, name: str, first: bool = False, inside: str = "body") -> None:
        """Press a button."""
        found = self.page.locator(inside).get_by_role("button", name=name, exact=True)
        (found.first if first else found).click()
        self.actions += 1

    def choose(self, name: str) -> None:
        """Pick from the open list."""
        self.page.get_by_role("option", name=name).click()
        self.actions += 1

    def follow(self, station: str) -> None:
        """Go to a station."""
        self.page.locator(".stations").get_by_role("link", name=re.compile(f"^{station}")).click()
        self.page.wait_for_url(re.compile(f"/{station.lower()}/"))
        self.actions += 1

    def type(self, *words: str) -> None:
        """Type values and keys; Tab and Enter belong to the value before them."""
        for word in words:
            if word in ("Tab", "Enter"):
                self.page.keyboard.press(word)
            else:
                self.page.keyboard.type(word)
                self.actions += 1


def asked(page: Page, address: str) -> str:
    """Where a form of the page leads, without drawing the page that holds it."""
    return page.request.post(address, headers={"X-CSRFToken": TOKEN}, max_redirects=0).headers["location"]


def new_project(maker: Maker) -> None:
    """What “New project” gives; counted as the press that it is."""
    maker.page.goto(asked(maker.page, "/projects/new/"))
    maker.actions += 1
    expect(maker.page.locator(".empty-note")).to_be_visible()


def address_of(page: Page, project: str) -> str:
    """The address of a project's stations."""
    projects = page.request.get("/").text()
    found = re.search(rf'href="(/projects/\d+/)shape/">{re.escape(project)}<', projects)
    assert found
    return found[1]


def open_copy(page: Page, project: str, station: str = "shape") -> None:
    """Open a fresh copy of a demo project, so that no test sees what another has done."""
    asked(page, f"{address_of(page, project)}duplicate/")
    page.goto(f"{address_of(page, f'{project} (copy)')}{station}/")


@contextmanager
def slowed(page: Page) -> Iterator[None]:
    """A processor half as fast, and 400 ms to the server and back."""
    chrome = page.context.new_cdp_session(page)
    chrome.send("Emulation.setCPUThrottlingRate", {"rate": 2})
    chrome.send("Network.enable")
    conditions = {"offline": False, "latency": 400, "downloadThroughput": -1, "uploadThroughput": -1}
    chrome.send("Network.emulateNetworkConditions", conditions)
    try:
        yield
    finally:
        chrome.detach()


def free_hands(page: Page) -> None:
    """Until all that hands have done is done, at a page with nothing to save."""
    expect(page.locator("body")).to_have_attribute("data-hands", "free")


def frames(page: Page, count: int) -> None:
    """Let the page draw so many times, in which whatever moves has moved."""
    page.evaluate(
        "async (count) => { while (count--) await new Promise((drawn) => requestAnimationFrame(drawn)); }", count
    )


def copied(page: Page, text: str) -> None:
    """Have a text on the clipboard, as if it came from a spreadsheet."""
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.evaluate("text => navigator.clipboard.writeText(text)", text)


def free(page: Page) -> None:
    """Until all that hands have done is done and drawn, as the page itself says."""
    free_hands(page)
    expect(page.locator(".head .under")).to_contain_text("saved")
    expect(page.locator("body")).not_to_have_attribute("data-view", "late")


def design_of(page: Page) -> Design:
    """The design as the server holds it, once every change has arrived."""
    expect(page.locator(".head .under")).not_to_contain_text("saving")
    file = re.sub(r"/projects/(\d+)/.*", r"/api/projects/\1/export/json", page.url)
    return read_design(json.loads(page.evaluate("file => fetch(file).then((answer) => answer.text())", file)))


def box_of(page: Page, found: Locator) -> FloatRect:
    """Where something lies, in pixels of the window, once all is drawn."""
    free(page)
    while True:
        expect(found).to_be_visible()
        if box := found.bounding_box():
            return box  # otherwise what came just then has drawn it anew


def spec(page: Page):
    return page.locator(".spec > .sentence")


def at(page: Page, x: float, y: float) -> tuple[float, float]:
    """Where a point of the piece, in mm, is on the screen."""
    box = box_of(page, page.locator(".canvas > svg").first)
    view = [float(value) for value in (page.locator(".canvas > svg").first.get_attribute("viewBox") or "").split()]
    scale = view[2] / box["width"]
    return box["x"] + (x - view[0]) / scale, box["y"] + (y - view[1]) / scale


def centre_of(page: Page, mark: str) -> tuple[float, float]:
    """The middle of a mark on the drawing, on the screen."""
    expect(page.locator(mark)).to_be_visible()
    # Marks are drawn anew whenever the page has an answer, so one is found and measured at once.
    x, y, width, height = page.evaluate(
        "mark => { const box = document.querySelector(mark).getBoundingClientRect();"
        " return [box.x, box.y, box.width, box.height]; }",
        mark,
    )
    return x + width / 2, y + height / 2


def drag(page: Page, start: tuple[float, float], end: tuple[float, float], steps: int = 8) -> None:
    """Drag from one point of the piece to another, both in mm."""
    page.mouse.move(*at(page, *start))
    page.mouse.down()
    page.mouse.move(*at(page, *end), steps=steps)
    page.mouse.up()


def begin(maker: Maker, width: str = "72", height: str = "30") -> None:
    """A new project with a plate of that size."""
    new_project(maker)
    maker.press("Rectangle")
    maker.type(width, "Tab", height, "Enter")
    expect(maker.page.locator('.value[data-field="height"]')).to_be_focused()
    expect(maker.page.locator(".piece-head .size")).to_have_text(f"{width} × {height} mm")


def put_hole(maker: Maker) -> None:
    """A round hole of 6 mm that nothing holds, 4 mm across."""
    parts = maker.page.locator(".part").count()
    maker.press("Hole")
    maker.type("6", "Enter")
    expect(maker.page.locator(".part")).to_have_count(parts + 1)
    expect(spec(maker.page)).to_contain_text("Round hole 6 mm across and as high")
    maker.page.keyboard.press("h")
    maker.page.get_by_role("button", name="The place across").click()
    maker.page.keyboard.type("4")
    maker.page.keyboard.press("Enter")
    expect(spec(maker.page)).to_contain_text("its middle 4 mm across and 15 mm down")
