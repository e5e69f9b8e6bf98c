"""A maker at the page, who counts what they do: every press, and every value typed, is one action."""

import re
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import FloatRect, Locator, Page, expect

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


def box_of(page: Page, found: Locator) -> FloatRect:
    """Where something lies, in pixels of the window, once all is drawn."""
    free(page)
    while True:
        expect(found).to_be_visible()
        if box := found.bounding_box():
            return box  # otherwise what came just then has drawn it anew
