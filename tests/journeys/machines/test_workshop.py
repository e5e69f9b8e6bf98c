"""The Workshop page, what projects take from it, and machines of makers' own."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.core.test_machine import Machine
from tests.journeys.acting import Maker, address_of, free, open_copy
from tests.journeys.test_reach import found_by_axe

pytestmark = pytest.mark.journey


def thing(page: Page, name: str):
    return page.get_by_role("group", name=name, exact=True)


def value(page: Page, label: str, inside: str = "body") -> None:
    page.locator(inside).get_by_role("button", name=re.compile(f"^{label}:")).click()


def test_a_material_of_ones_own_from_the_shelf_to_a_recipe_and_a_price(page: Page) -> None:
    maker = Maker(page)
    page.goto("/workshop/")
    expect(thing(page, "birch ply")).to_contain_text("3 mm and 4 mm")
    assert found_by_axe(page) == []
    page.get_by_label("Name of a new material").fill("Walnut ply")
    page.keyboard.press("Enter")
    expect(thing(page, "Walnut ply").get_by_role("button", name=re.compile("^The name"))).to_be_visible()
    value(page, "The thicknesses it is sold in", ".thing.open")
    maker.type("1/8in", "Enter")
    expect(thing(page, "Walnut ply")).to_contain_text("3.18 mm · 0 sheets on the shelf")
    value(page, "The thinnest material that holds", ".thing.open")
    page.keyboard.type("nothing")
    page.keyboard.press("Enter")
    expect(page.locator(".problem")).to_contain_text("“nothing”")  # said where it was typed, and not lost
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Put sheets of it on the shelf").click()
    value(page, "The price of a sheet", ".thing.open")
    maker.type("8", "Enter")
    expect(thing(page, "Walnut ply")).to_contain_text("for 8.00 each")
    page.get_by_role("button", name="Take off").click()
    expect(thing(page, "Walnut ply")).to_contain_text("No sheet of it is on the shelf.")
    page.get_by_role("status").get_by_role("button", name="Undo").click()
    expect(thing(page, "Walnut ply")).to_contain_text("for 8.00 each")

    # A project takes the sheet, and says that nothing is known of it on this machine yet.
    open_copy(page, "Torch tokens", "sheet")
    page.get_by_role("button", name=re.compile("^The sheet: ")).click()
    page.get_by_role("option", name=re.compile("Walnut ply")).click()
    expect(page.locator(".spec > .sentence")).to_contain_text("a sheet from the shelf of 3.18 mm Walnut ply")
    expect(page.locator(".panel .price")).to_contain_text("A sheet costs 8.00")
    maker.follow("Ticket")
    outer = page.get_by_role("group", name="Outer edges", exact=True)
    expect(outer).to_contain_text("No recipe to cut 3.18 mm Walnut ply here")
    outer.get_by_role("button", name=re.compile("^Power")).click()
    maker.type("70", "Tab", "5", "Enter")
    outer.get_by_role("button", name="Keep as a recipe").click()
    expect(outer).to_contain_text("Cut 3.18 mm Walnut ply: 70 % power at 5 mm/s")
    expect(outer.get_by_text("changed by you")).to_be_hidden()  # it follows the recipe
    page.goto("/workshop/")
    page.get_by_role("button", name=re.compile("^Walnut ply")).click()
    expect(page.locator(".recipes")).to_contain_text("Cut 3.18 mm: 70 % power at 5 mm/s")
    page.get_by_role("button", name="Take out Walnut ply").click()
    expect(thing(page, "Walnut ply")).to_have_count(0)

    # The project still opens, says so at Check, and goes on with the nearest by one press.
    page.go_back()
    maker.follow("Check")
    finding = page.locator(".finding", has_text="No material “walnut-ply” here")
    finding.click()
    page.get_by_role("button", name=re.compile("^Take ")).first.click()
    expect(finding).to_have_count(0)


def test_a_machine_of_ones_own_has_a_line_of_its_own(page: Page) -> None:
    machine = Machine(rate=200)
    try:
        page.goto("/workshop/")
        page.get_by_label("Name of a new machine").fill("Loft laser")
        page.keyboard.press("Enter")
        loft = thing(page, "Loft laser")
        value(page, "The address", '[aria-label="Loft laser"]')
        page.keyboard.type(f"127.0.0.1:{machine.port}")
        page.keyboard.press("Enter")
        expect(loft).to_contain_text(f"It takes lines of G-code at 127.0.0.1:{machine.port}")
        maker = Maker(page)
        open_copy(page, "Torch tokens", "ticket")
        value(page, "The machine")
        page.get_by_role("option", name="Loft laser").click()
        for title in ("Score lines", "Holes and inner edges", "Outer edges"):
            line = page.get_by_role("group", name=title, exact=True)
            line.get_by_role("button", name=re.compile("^Power")).click()
            maker.type("40", "Tab", "60", "Enter")
            expect(line).to_contain_text("40 % power at 60 mm/s")
        free(page)
        jobs = []
        for project in ("Torch tokens (copy)", "Torch tokens (copy) (copy)"):
            if jobs:
                open_copy(page, "Torch tokens (copy)")
            page.goto(f"{address_of(page, project)}run/")
            jobs.append(page.url)
            maker.press("Connect")
            expect(page.get_by_role("button", name="Connect again")).to_be_visible()
            expect(page.get_by_text("A simulated machine:")).to_be_hidden()
            page.locator(".steps").get_by_role("button", name="Start", exact=True).first.click()
            says = "waiting for its start button" if len(jobs) == 1 else "busy with a job before yours"
            expect(page.locator(".panel > p").first).to_contain_text(says)
        expect(page.get_by_text(re.compile("^Number 2 in line at Loft laser: 1 job before it"))).to_be_visible()
        assert found_by_axe(page) == []
        machine.panel.press("start")
        expect(page.locator(".panel > p").first).to_contain_text("waiting for its start button")
        machine.panel.press("start")
        expect(page.get_by_text(re.compile("^Done in"))).to_be_visible()
        page.goto(jobs[0])
        expect(page.get_by_text(re.compile("^Done in"))).to_be_visible()
    finally:
        machine.process.terminate()
