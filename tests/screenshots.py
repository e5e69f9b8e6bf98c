"""`make screenshots`: the pictures in docs/screenshots, taken anew from the demo world."""

import io
import re
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, expect

from foliant.workshop.demo_picture import moon_over_the_dome
from tests.core.test_tracing import motif
from tests.pictures import encoded
from tests.stack import chromium, enter, running_stack

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


_IN_SIGHT = """() => [...document.images]
    .filter((one) => one.getBoundingClientRect().left < innerWidth && one.getBoundingClientRect().top < innerHeight)
    .every((one) => one.complete && one.naturalWidth)"""


_CORNER = """() => {
  const path = [...document.querySelectorAll(".instance path.tool-cut")][6];
  const at = [...path.getAttribute("d").matchAll(/L([-0-9.]+) ([-0-9.]+)L([-0-9.]+) ([-0-9.]+)/g)][4];
  const point = new DOMPoint(Number(at[1]), Number(at[2])).matrixTransform(path.getScreenCTM());
  return [point.x, point.y];
}"""


def shot(page: Page, name: str) -> None:
    """One picture, once the fonts are there and nothing moves."""
    page.evaluate("document.fonts.ready")
    page.wait_for_function(_IN_SIGHT)
    page.mouse.move(700, 790)
    page.wait_for_timeout(700)
    page.screenshot(path=FOLDER / f"{name}.png")
    print(name)


def station(page: Page, name: str) -> None:
    page.locator(".stations").get_by_role("link", name=re.compile(f"^{name}")).click()
    page.wait_for_url(re.compile(f"/{name.lower()}/"))
    page.wait_for_timeout(800)


def shape_station(page: Page, address: str) -> None:
    """Holds and repeats on the demo's hour disc."""
    page.get_by_role("link", name="Hour discs").first.click()
    page.locator(".part", has_text="Varuna dome").click()
    expect(page.locator(".over-facts")).to_contain_text("each")
    shot(page, "shape-holds")
    page.goto(address)


def outlines(page: Page, address: str) -> None:
    """What the checks say, with their fixes."""
    page.get_by_role("link", name="Open-night tags").first.click()
    page.locator(".piece-head", has_text="Orbit ring").click()
    page.locator(".part", has_text="FIRST LIGHT").click()
    page.get_by_role("button", name="The distance: 0.2").click()
    page.keyboard.type("-0.4")
    page.keyboard.press("Enter")
    expect(page.locator(".facts")).to_contain_text("to look at")
    page.locator(".facts").click()
    page.locator(".findings-panel .finding").first.hover()
    page.wait_for_timeout(300)
    shot(page, "shape-findings")
    page.keyboard.press("Control+z")
    expect(page.locator(".facts")).to_have_text("One body")
    page.goto(address)


GUIDES = """name\tpost\tgate
Orrin\tnorth gate\t2\nYsolde\tdome stairs\t1\nBram\tred torches\t1\nInes\tnorth gate\t2\nCorvin\trefractor\t1
Mareike\tcar park\t3\nTavi\tdome stairs\t1\nLune\trefractor\t1\nPetronella Quill\tguest book\t1\nSable\tred torches\t1
Odo\tcar park\t2\nŽeljko\tdome stairs\t2"""


def making_many(page: Page, address: str) -> None:
    """A ready piece with what it asks for, the rows of a list that is taken for it, and their proof."""
    page.locator(".starters").get_by_role("button", name="Key tag").click()
    expect(page.locator(".starter-bar .editing input")).to_be_focused()
    page.keyboard.type("Ysolde")
    page.wait_for_timeout(900)
    shot(page, "projects")
    page.get_by_role("button", name="Take the words from a list").click()
    page.locator("#list textarea").fill(GUIDES)
    page.locator("#list .button-main:not([disabled])").click()
    page.locator(".strip-card", has_text="Ysolde").click()
    page.locator(".part", has_text="Ysolde").click()
    page.get_by_role("button", name="Ysolde only").click()
    page.get_by_role("button", name="The height of the capitals").click()
    page.keyboard.type("8")
    page.keyboard.press("Enter")
    expect(page.locator(".whom")).to_contain_text("1 change of its own")
    page.wait_for_timeout(7000)  # until notes are gone
    shot(page, "shape-rows")
    page.get_by_role("button", name="Proof ▾").click()
    with page.expect_download() as saving:
        page.get_by_role("button", name="Proof as a picture").click()
    saving.value.save_as(FOLDER / "proof.png")
    page.goto(address)
    page.get_by_role("article", name="Key tag", exact=True).get_by_role("button", name="Delete").click()
    page.goto(address)


def photograph(page: Page, address: str) -> None:
    """The demo's photograph, and beside it as it is burnt."""
    page.get_by_role("link", name="Moon keepsakes").first.click()
    expect(page.locator(".canvas svg image")).to_be_visible()
    page.wait_for_timeout(1500)
    box = page.locator(".canvas svg .face").first.bounding_box()
    assert box
    burnt = Image.open(io.BytesIO(page.screenshot(clip=box))).convert("RGB")
    before = Image.open(io.BytesIO(moon_over_the_dome())).convert("RGB")
    beside(before.resize((burnt.height * before.width // before.height, burnt.height)), burnt, "picture")
    page.goto(address)


MOON_GATE = b"""<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="64mm" viewBox="0 0 100 64">
<g id="plate" fill="none" stroke="#d02020" stroke-width="0.1"><path d="M4 60V30A46 28 0 0 1 96 30V60Z"/>
<circle cx="50" cy="9" r="2.5"/></g>
<path d="M44 30a12 12 0 1 0 14 14a10 10 0 0 1-14-14z"/><circle cx="66" cy="27" r="2"/>
<circle cx="30" cy="34" r="1.4"/><g id="fold" stroke="#2060d0" stroke-width="0.1" fill="none"><path d="M10 52H90"/></g>
<text x="50" y="58.4" font-family="Playfair Display" font-weight="bold" font-size="5.4"
text-anchor="middle">Moon gate</text></svg>"""


def brought_in(page: Page, address: str) -> None:
    """A drawing as it is looked at before it is taken, and beside it a picture as it is traced."""
    page.goto(address)
    page.get_by_role("button", name="An empty piece").click()
    bring(page, "moon_gate.svg", MOON_GATE)
    expect(page.get_by_role("region", name="What came in")).to_contain_text("Moon gate")
    left = _clip(page, "#panel-came")
    page.get_by_role("button", name="Leave it").click()
    bring(page, "rocket.png", encoded(motif("rocket")[1]))
    page.keyboard.type("66")
    page.keyboard.press("Enter")
    page.keyboard.press("Control+k")
    page.keyboard.type("trace a picture")
    page.keyboard.press("Enter")
    expect(page.locator(".traced")).to_have_count(1)
    beside(left, _clip(page, ".canvas"), "bringing-in")
    page.goto(address)


def bring(page: Page, name: str, data: bytes) -> None:
    """Bring in a file."""
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Bring in…").click()
    chooser.value.set_files({"name": name, "mimeType": "", "buffer": data})
    page.wait_for_timeout(3000)


def _clip(page: Page, part: str) -> Image.Image:
    page.wait_for_timeout(800)
    return Image.open(io.BytesIO(page.locator(part).screenshot())).convert("RGB")


def magnified(page: Page, address: str) -> None:
    """What a rehearsal shows of a corner: a cut beside its line, and the way of the pivot of a blade."""
    page.goto(address)
    page.get_by_role("link", name="Torch tokens").first.click()
    parts = [_corner(page)]
    station(page, "Ticket")
    page.get_by_role("button", name="The machine").click()
    page.get_by_role("option", name="Desk cutter").click()
    expect(page.locator(".line").first).to_contain_text("pass")
    beside(parts[0], _corner(page), "rehearsal-magnified")
    page.get_by_role("button", name="Undo", exact=True).click()
    page.wait_for_timeout(1000)
    page.goto(address)


def _corner(page: Page) -> Image.Image:
    """The rehearsal played to its end, large about the sharpest corner of the first piece."""
    station(page, "Check")
    slider = page.get_by_role("slider", name="Moment of the rehearsal")
    slider.evaluate("one => { one.value = one.max; one.dispatchEvent(new Event('input', { bubbles: true })); }")
    x, y = page.evaluate(_CORNER)
    for _ in range(18):
        page.mouse.move(x, y)
        page.mouse.wheel(0, -200)
        page.wait_for_timeout(60)
    page.wait_for_timeout(600)
    return Image.open(io.BytesIO(page.screenshot(clip={"x": x - 230, "y": y - 240, "width": 620, "height": 480})))


def beside(left: Image.Image, right: Image.Image, name: str) -> None:
    """Two pictures side by side as one."""
    whole = Image.new("RGB", (left.width + right.width + 20, max(left.height, right.height)), "#e6dfd0")
    whole.paste(left, (0, 0))
    whole.paste(right, (left.width + 20, 0))
    whole.save(FOLDER / f"{name}.png")
    print(name)


def touch_sign(page: Page, address: str) -> None:
    """A sign with its Braille, said and read back."""
    page.locator(".starters").get_by_role("button", name="Sign with Braille").click()
    expect(page.locator(".starter-bar .editing input")).to_be_focused()
    page.keyboard.type("Dome 3")
    page.keyboard.press("Enter")
    page.wait_for_url("**/shape/**")
    page.locator('[data-role="cuts"] .part').click()
    expect(page.locator(".spec > .sentence")).to_contain_text("reading “Dome 3”")
    shot(page, "touch-sign")
    page.goto(address)


def look_at_the_bed(page: Page) -> None:
    """The sheet lies askew, is seen there, and the work is laid on it."""
    page.get_by_role("button", name="The sheet lies elsewhere").click()
    for what, says in (("the marks", "The marks lie on the bed"), ("the sheet, askew", "The sheet lies on the bed")):
        page.get_by_role("button", name=what, exact=True).click()
        expect(page.get_by_text(says)).to_be_visible()
        if what == "the marks":
            page.get_by_role("button", name="Learn the lens").click()
            expect(page.get_by_text("The lens is learnt")).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Look where it lies").click()
    page.get_by_role("button", name="Lay the work there").click()
    expect(page.locator(".aside")).to_contain_text("Its near left corner", timeout=60_000)
    page.locator(".instance").first.click()
    expect(page.locator(".eye img")).to_have_js_property("naturalWidth", 400)
    page.wait_for_timeout(5000)  # until what was said is gone
    shot(page, "bed-seen")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with running_stack(rate=60) as stack, chromium() as browser:
        page = enter(browser, stack)
        making_many(page, stack.address)
        page.goto(stack.address)
        shape_station(page, stack.address)
        outlines(page, stack.address)
        photograph(page, stack.address)
        brought_in(page, stack.address)
        touch_sign(page, stack.address)
        magnified(page, stack.address)
        page.get_by_role("link", name="Open-night tags").first.click()
        page.get_by_role("button", name="ORRIN 7.5").click()
        expect(page.locator(".over-facts")).to_contain_text("each")
        shot(page, "shape")
        page.locator(".piece-head", has_text="Orbit ring").click()
        station(page, "Sheet")
        page.get_by_role("button", name="Pack close together").click()
        expect(page.locator(".panel")).to_contain_text("still finding better")
        page.wait_for_timeout(2500)
        shot(page, "sheet")
        page.get_by_role("button", name="This will do").click()
        expect(page.get_by_role("progressbar", name="Progress of packing")).to_be_hidden()
        station(page, "Ticket")
        page.locator(".takes .chip", has_text="ORRIN").first.click()
        page.get_by_role("option", name="an operation of its own").click()
        page.get_by_role("textbox", name="Power").fill("20")
        page.keyboard.press("Enter")
        expect(page.locator(".line", has_text="Engraving 2")).to_contain_text("changed by you")
        shot(page, "ticket")
        for _ in range(2):
            page.get_by_role("button", name="Undo").click()
            page.wait_for_timeout(1200)
        station(page, "Check")
        page.get_by_role("button", name="300×").click()
        page.get_by_role("button", name="Play", exact=True).click()
        page.wait_for_timeout(2600)
        page.get_by_role("button", name="Pause").click()
        shot(page, "rehearsal")
        station(page, "Run")
        page.get_by_role("button", name="Connect").click()
        page.locator(".steps").get_by_role("button", name="Start", exact=True).first.click()
        expect(page.locator(".lamp.waiting")).to_be_visible(timeout=15_000)
        page.locator(".front").get_by_role("button", name="Start").click()
        expect(page.get_by_text(re.compile("^Done in"))).to_be_visible(timeout=120_000)
        shot(page, "run-done")
        look_at_the_bed(page)
        page.goto(f"{stack.address}/workshop/")
        expect(page.locator(".thing.open").first).to_be_visible()
        shot(page, "workshop")
        page.locator(".recipes").get_by_role("button", name="engrave", exact=True).last.click()
        page.wait_for_url("**/ticket/**")
        expect(page.locator(".card-fields .field").first).to_be_visible()
        page.wait_for_timeout(1500)
        shot(page, "ticket-card")
        # A job with something to mend: the insides of letters that are cut through.
        page.goto(stack.address)
        page.get_by_role("link", name="Torch tokens").first.click()
        page.locator(".part", has_text="RED 7").click()
        page.keyboard.press("6")
        page.keyboard.type("bird")
        expect(page.locator(".motif").first).to_be_visible()
        shot(page, "shape-motifs")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="The font").click()
        page.keyboard.type("sniglet")
        page.get_by_role("option", name="Sniglet").click()
        expect(page.locator(".over-facts")).to_contain_text("3 bodies")
        station(page, "Check")
        page.locator(".finding").first.click()
        shot(page, "check")


if __name__ == "__main__":
    main()
