"""The ticket through the page: operations of one's own, their order, and letters with two marks."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.acting import Maker, free
from tests.journeys.test_outline import new_project, words

pytestmark = pytest.mark.journey


def line(page: Page, title: str):
    return page.get_by_role("group", name=title, exact=True)


def test_three_engravings_in_an_order_of_ones_own_in_eight_actions(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("90", "Tab", "40", "Enter")
    for text in ("VEGA", "LYRA", "ORION"):
        words(maker, text)
    begun = maker.actions
    maker.follow("Ticket")
    for number, (text, power) in enumerate((("VEGA", "20"), ("LYRA", "60")), 2):
        page.locator(".takes .chip", has_text=text).click()
        page.get_by_role("option", name="an operation of its own").click()
        maker.actions += 2
        expect(line(page, f"Engraving {number}").get_by_role("textbox", name="Power")).to_be_focused()
        maker.type(power, "Enter")
        expect(line(page, f"Engraving {number}")).to_contain_text(f"{power} % power")
    line(page, "Engraving 3").get_by_role("button", name=re.compile("drag it")).drag_to(line(page, "Engraving"))
    maker.actions += 1
    expect(page.locator(".line-title")).to_have_text(["Engraving 3", "Engraving", "Engraving 2", "Outer edges"])
    assert maker.actions - begun <= 8

    # With the keys, and back to what Foliant says; undo brings it back.
    line(page, "Engraving 3").get_by_role("button", name=re.compile("drag it")).press("ArrowDown")
    expect(page.locator(".line-title").first).to_have_text("Engraving")
    line(page, "Outer edges").get_by_role("button", name=re.compile("drag it")).press("ArrowUp")
    spoilt = page.locator(".note.order", has_text="Put them in that order")
    spoilt.get_by_role("button").click()
    expect(spoilt).to_have_count(0)
    page.get_by_role("button", name="Back to the usual ticket").click()
    expect(page.locator(".line-title")).to_have_text(["Engraving", "Outer edges"])
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".line-title")).to_have_count(4)

    # Switched off it is crossed out, and a name of one's own stays.
    line(page, "Engraving 2").get_by_role("switch").click()
    expect(line(page, "Engraving 2")).to_have_class(re.compile(r"\boff\b"))
    line(page, "Engraving 2").get_by_role("button", name=re.compile("^The name")).click()
    maker.type("Fine lettering", "Enter")
    expect(line(page, "Fine lettering")).to_be_visible()


def test_letters_engrave_and_score_in_two_actions(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("90", "Tab", "40", "Enter")
    words(maker, "VEGA")
    page.locator(".part", has_text="Rectangle").click()
    page.locator(".part", has_text="VEGA").click()
    page.locator(".role-switch button", has_text="scores").click(modifiers=["Shift"])
    expect(page.locator(".spec > .sentence")).to_contain_text("engraves and scores")
    expect(page.locator(".role-switch [aria-pressed=true]")).to_have_count(2)
    page.get_by_role("button", name="The role:").click()
    page.get_by_role("option", name="no longer scores").click()
    expect(page.locator(".spec > .sentence")).not_to_contain_text("and scores")


def test_a_name_outlined_and_engraved_with_settings_of_its_own_in_three_actions(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("90", "Tab", "40", "Enter")
    words(maker, "VEGA")
    maker.follow("Ticket")
    maker.actions = 0
    page.locator(".takes .chip", has_text="VEGA").click()
    page.get_by_role("option", name="scored too, by one of its own").click()
    maker.actions += 2
    outlines = line(page, "Scoring")
    expect(outlines.get_by_role("textbox", name="Power")).to_be_focused()
    maker.type("35", "Enter")
    assert maker.actions <= 3
    expect(outlines).to_contain_text("35 % power")
    expect(line(page, "Engraving")).to_contain_text("VEGA")
    expect(line(page, "Engraving")).not_to_contain_text("35 % power")


def test_the_fastest_way_to_fill_is_found_and_taken_in_two_actions(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("90", "Tab", "60", "Enter")
    words(maker, "VEGA")
    maker.follow("Ticket")
    free(page)
    engraving = line(page, "Engraving")
    engraving.get_by_role("button", name=re.compile("^Which way rows are burnt")).click()
    page.get_by_role("option", name="all one way").click()
    expect(engraving).to_contain_text("all one way")
    free(page)
    maker.actions = 0
    engraving.get_by_role("button", name="Compare the ways to fill").click()
    ways = page.locator(".ways tr")
    expect(ways.first).to_contain_text("the fastest")
    assert ways.count() >= 7
    ways.first.get_by_role("button", name=re.compile("^Take")).click()
    maker.actions += 2
    expect(page.locator(".ways")).to_have_count(0)
    assert maker.actions <= 2
    expect(engraving).not_to_contain_text("all one way")
    page.keyboard.press("Control+z")
    expect(engraving).to_contain_text("all one way")


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
    page.get_by_role("link", name="Workshop").click()
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
    page.goto(page.url.split("/projects/")[0] + "/workshop/")
    page.get_by_label("Find a recipe by words").fill("smoked engrave")
    expect(page.locator(".recipes")).to_contain_text(re.compile("Engrave .* mm smoked oak on Bench laser"))
    expect(page.locator(".recipes")).to_contain_text("tested on")
