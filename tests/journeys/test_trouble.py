"""What goes wrong in a workshop, and what the page says then."""

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.acting import open_copy

pytestmark = pytest.mark.journey


def test_two_windows_on_one_project(page: Page) -> None:
    open_copy(page, "Open-night tags")
    second = page.context.new_page()
    second.goto(page.url)
    page.get_by_role("button", name="ORRIN 7.5").click()
    page.get_by_role("button", name="The height of the capitals").click()
    page.keyboard.type("6")
    page.keyboard.press("Enter")
    expect(page.locator(".spec")).to_contain_text("capitals 6 mm")
    second.get_by_role("button", name="open night guide 4").click()
    second.get_by_role("button", name="The words").click()
    second.keyboard.type("dome steward")
    second.keyboard.press("Enter")
    expect(second.locator(".problem")).to_contain_text("changed in another window")
    expect(second.locator(".part", has_text="ORRIN")).to_contain_text("6")  # it shows the project as it is now
    expect(second.locator(".spec > .sentence input")).to_have_value("dome steward")  # and what was typed is not lost
    second.keyboard.press("Enter")
    expect(second.locator(".part", has_text="dome steward")).to_be_visible()
    second.close()


def test_what_cannot_be_stays_in_its_field_with_the_reason(page: Page) -> None:
    open_copy(page, "Open-night tags")
    page.locator(".piece-head", has_text="Moon coaster").click()
    page.locator(".part", has_text="Circle").first.click()
    for typed, says in (
        ("12 parsecs", "not a unit Foliant knows"),
        ("0", "more than nothing"),
        ("-4", "more than nothing"),
        ("9m", "too large"),
    ):
        page.get_by_role("button", name="The diameter").click()
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
        expect(page.locator(".problem")).to_contain_text(says)
        expect(page.locator(".spec > .sentence input")).to_have_value(typed)
        page.keyboard.press("Escape")
        expect(page.locator(".spec > .sentence")).to_contain_text("Circle 95 mm across")

    # Ten thousand characters.
    page.locator(".piece-head", has_text="Guide tag").click()
    page.get_by_role("button", name="ORRIN 7.5").click()
    page.get_by_role("button", name="The words").click()
    page.locator(".spec > .sentence input").fill("M" * 10_000)
    page.keyboard.press("Enter")
    expect(page.locator(".problem")).to_contain_text("at most 1,000 characters and these have 10,000")
    page.locator(".spec > .sentence input").fill("M" * 900)
    page.keyboard.press("Enter")
    expect(page.locator(".part", has_text="MMMM")).to_be_visible()


def test_what_is_typed_survives_a_server_that_is_away(page: Page) -> None:
    open_copy(page, "Open-night tags")
    page.get_by_role("button", name="ORRIN 7.5").click()
    page.get_by_role("button", name="The words").click()
    page.context.set_offline(True)
    page.keyboard.type("AILSA")
    page.keyboard.press("Enter")
    expect(page.locator(".problem")).to_contain_text("cannot be reached")
    page.context.set_offline(False)
    page.keyboard.press("Enter")
    expect(page.locator(".part", has_text="AILSA")).to_be_visible()
