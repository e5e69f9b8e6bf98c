"""The ticket through the page: operations of one's own, their order, and letters with two marks."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.acting import Maker, free, new_project
from tests.journeys.test_outline import words

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
