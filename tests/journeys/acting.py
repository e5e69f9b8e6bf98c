"""A maker at the page, who counts what they do: every press, and every value typed, is one action."""

import re

from playwright.sync_api import FloatRect, Locator, Page, expect


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


def duplicate(page: Page, project: str) -> None:
    """Press Duplicate on a project's card."""
    page.get_by_role("article", name=project, exact=True).get_by_role("button", name="Duplicate").click()


def address_of(page: Page, project: str) -> str:
    """The address of a project's stations, from its card among the projects."""
    link = page.get_by_role("article", name=project, exact=True).locator("a.name")
    found = re.match(".*/projects/[0-9]+/", link.evaluate("link => link.href"))
    assert found
    return found[0]


def open_copy(page: Page, project: str) -> None:
    """Open a fresh copy of a demo project, so that no test sees what another has done."""
    duplicate(page, project)
    copy = page.locator(".card").first
    expect(copy.locator(".name")).to_have_text(f"{project} (copy)")
    copy.locator(".name").click()
    page.wait_for_url(re.compile("/shape/"))


def slowed(page: Page) -> None:
    """A processor six times slower, and 900 ms to the server and back."""
    chrome = page.context.new_cdp_session(page)
    chrome.send("Emulation.setCPUThrottlingRate", {"rate": 6})
    chrome.send("Network.enable")
    conditions = {"offline": False, "latency": 900, "downloadThroughput": -1, "uploadThroughput": -1}
    chrome.send("Network.emulateNetworkConditions", conditions)


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
