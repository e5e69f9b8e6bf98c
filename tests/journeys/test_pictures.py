"""A photograph through the page: brought, masked, made lighter, told in another way, and rehearsed."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.acting import Maker, new_project
from tests.pictures import encoded, waves

pytestmark = pytest.mark.journey

PHOTOGRAPH = encoded(waves(800, 600), "JPEG")
LOADED = """shown => new Promise(done => {
  const image = Object.assign(new Image(), { onload: () => done(image.naturalWidth), src: shown.href.baseVal });
})"""
DROP = """async ([bytes]) => {
  const data = new DataTransfer();
  data.items.add(new File([new Uint8Array(bytes)], "second_sky.jpg", { type: "image/jpeg" }));
  const drop = new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true });
  document.querySelector(".canvas").dispatchEvent(drop);
}"""


def burnt(page: Page):
    return page.locator("main.shape svg image")


def test_a_photograph_on_a_round_plate(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Circle")
    maker.type("90", "Enter")
    with page.expect_file_chooser() as chooser:
        maker.press("Bring in…")
    chooser.value.set_files({"name": "night_sky.jpg", "mimeType": "image/jpeg", "buffer": PHOTOGRAPH})
    maker.actions += 1
    spec = page.locator(".spec")
    expect(page.get_by_role("textbox", name="The width")).to_be_focused()
    maker.type("110", "Enter")
    expect(spec).to_contain_text("night sky, 110 mm × 82.5 mm")
    page.get_by_role("button", name="Only within the outline").click()
    maker.actions += 1
    expect(spec).to_contain_text("masked")
    assert maker.actions <= 8  # a plate, a photograph, its size and its mask

    # What is shown is what will be burnt: it changes with its tones, and with the ticket.
    assert burnt(page).first.evaluate(LOADED) == 1100
    before = burnt(page).first.get_attribute("href")
    spec.get_by_role("button", name="The brightness").click()
    maker.type("20", "Enter")
    expect(burnt(page).first).to_have_attribute("href", re.compile("brightness=20"))
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(burnt(page).first).to_have_attribute("href", before or "")

    # Another is dropped on the drawing; what is no picture is said, and nothing is lost.
    page.evaluate(DROP, [list(PHOTOGRAPH)])
    expect(page.locator(".piece.open")).to_contain_text("second sky")
    page.keyboard.press("Escape")
    page.evaluate(DROP, [[1, 2, 3]])
    expect(page.get_by_text("This is no drawing that can be read")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()

    maker.follow("Ticket")
    line = page.get_by_role("group", name="Pictures", exact=True)
    line.get_by_role("button", name="How greys are told").click()
    page.get_by_role("option", name="in round spots that grow").click()
    expect(page.locator("svg image").first).to_have_attribute("href", re.compile("tone=spots"))

    maker.follow("Check")
    expect(page.get_by_role("heading", name="to look at")).to_be_visible()
    page.get_by_role("button", name="300×").click()
    page.get_by_role("button", name="Play").click()
    expect(page.locator("#burnt-rows path")).to_have_attribute("d", re.compile("M.*L"))
    expect(page.locator(".clock")).to_contain_text("of")
