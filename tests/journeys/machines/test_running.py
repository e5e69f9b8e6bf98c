"""Jobs that come to a machine: the first one, one from a phone, only some of one, and a test card."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.acting import Maker, address_of, free, new_project
from tests.journeys.test_outline import words
from tests.journeys.test_ticket import line

pytestmark = pytest.mark.journey


def test_from_an_empty_project_to_a_finished_tag(page: Page) -> None:
    maker = Maker(page)

    page.goto("/")
    maker.press("New project")
    maker.press("Rectangle")
    expect(page.get_by_label("The width")).to_be_focused()
    maker.type("72", "Tab", "30", "Tab")  # width, height, then the choice of corners opens
    maker.choose("cut off")
    maker.press("Words")
    maker.type("YSOLDE", "Enter")
    maker.press("Hole")
    maker.type("3.5", "Tab", "14", "Enter")
    expect(page.locator(".over-facts")).to_contain_text("One body")
    expect(page.locator(".piece-head .size")).to_have_text("72 × 30 mm")
    expect(page.locator('[data-role="cuts"] .part')).to_have_text(re.compile(r"Long hole\s*3.5 × 14"))

    maker.follow("Sheet")
    maker.press("The number of pieces: 1. Change it.", first=True)
    maker.type("3", "Enter")
    expect(page.locator(".panel")).to_contain_text("3 laid out")
    maker.follow("Check")
    expect(page.get_by_role("heading", name="Nothing to look at")).to_be_visible()
    maker.follow("Run")
    maker.press("Connect")
    maker.press("Start", first=True)
    expect(page.locator(".lamp.waiting")).to_be_visible()
    maker.press("Start", inside=".front")
    expect(page.locator(".lamp.running")).to_be_visible()
    print(f"actions from New project to job running: {maker.actions}")
    assert maker.actions < 20

    done = page.get_by_text(re.compile(r"Done in \d+:\d\d; the estimate was \d+:\d\d"))
    expect(done).to_be_visible()
    taken, estimate = (60 * int(m) + int(s) for m, s in re.findall(r"(\d+):(\d\d)", done.inner_text())[:2])
    assert taken == pytest.approx(estimate, rel=0.1, abs=3)
    expect(page.locator("path.burnt").first).to_be_attached()

    page.get_by_role("link", name=re.compile("^Ticket")).click()
    page.get_by_role("button", name="Save as file").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="G-code for the machine").click()
    gcode = download.value.path().read_text()
    assert download.value.suggested_filename == "ysolde.gcode"
    assert gcode.startswith("; YSOLDE")
    arcs = 4 + 8  # the ends of the slot, and eight corners that are cut from outside
    assert len(re.findall(r"^G[23] ", gcode, re.MULTILINE)) == 3 * 2 * arcs


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


def test_only_the_outline_is_sent_in_three_actions(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("40", "Tab", "30", "Enter")
    words(maker, "ORION")
    maker.follow("Ticket")
    free(page)
    maker.actions = 0
    line(page, "Outer edges").get_by_role("link", name="Send only this").click()
    page.wait_for_url("**/run/**")
    expect(page.get_by_role("combobox", name="What of the job is sent")).to_have_value("operation outer")
    maker.actions += 1
    maker.press("Connect")
    page.locator(".steps").get_by_role("button", name="Start", exact=True).first.click()
    maker.actions += 1
    assert maker.actions <= 3
    page.locator(".front").get_by_role("button", name="Start").click()
    expect(page.get_by_text(re.compile("^Done in"))).to_be_visible()
    page.locator(".stations").get_by_role("link", name=re.compile("^Ticket")).click()
    page.get_by_role("button", name="Save as file ▾").click()
    page.get_by_role("combobox", name="What of the job is saved").select_option("operation engrave")
    with page.expect_download() as saved:
        page.get_by_role("link", name="G-code for the machine").click()
    text = Path(saved.value.path()).read_text()
    assert "; Engraving" in text
    assert "; Outer edges" not in text


def test_a_new_material_from_test_card_to_recipe_in_seven_actions(page: Page) -> None:
    maker = Maker(page)
    page.goto("/workshop/")
    maker.actions = 0
    page.get_by_role("textbox", name="Name of a new material").fill("smoked oak")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("for smoked oak on"))).to_be_visible()
    maker.actions += 2
    page.locator(".recipes").get_by_role("button", name="engrave", exact=True).last.click()
    maker.actions += 1
    page.wait_for_url("**/ticket/**")
    fields = page.locator(".card-fields .field")
    expect(fields).to_have_count(25)
    maker.follow("Run")
    maker.press("Connect")
    page.locator(".steps").get_by_role("button", name="Start", exact=True).first.click()
    maker.actions += 1
    page.locator(".front").get_by_role("button", name="Start").click()
    expect(page.get_by_text(re.compile("^Done in"))).to_be_visible()
    page.go_back()
    expect(fields).to_have_count(25)
    fields.nth(12).click()
    maker.actions += 1
    expect(page.get_by_text(re.compile("is the recipe from now on"))).to_be_visible()
    assert maker.actions <= 7
    page.goto("/workshop/")
    page.get_by_label("Find a recipe by words").fill("smoked engrave")
    expect(page.locator(".recipes")).to_contain_text(re.compile("Engrave .* mm smoked oak on Bench laser"))
    expect(page.locator(".recipes")).to_contain_text("tested on")
