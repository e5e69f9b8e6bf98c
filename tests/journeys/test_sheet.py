"""The Sheet station: packed beside the page, begun sheets, jigs, paper; presses are counted as in `test_presses`."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from foliant.core.layout import lay_out, lay_sheets
from tests.journeys.acting import box_of, copied, design_of, free
from tests.presses.jobs import Hands, from_starter

pytestmark = pytest.mark.journey


@pytest.fixture(name="maker")
def _maker(page: Page) -> Hands:
    return Hands(page)


def packed(page: Page) -> None:
    """Until what was packed has been taken."""
    expect(page.get_by_role("progressbar", name="Progress of packing")).to_be_hidden()
    free(page)


def test_packing_goes_on_beside_the_page_and_is_one_undo(maker: Hands) -> None:
    page = maker.page
    from_starter(maker, "Key tag", "Orrin")
    maker.follow("Sheet")
    page.locator(".panel").get_by_role("button", name="The number of pieces").click()
    maker.type("30", "Enter")
    free(page)
    maker.press("Pack close together")
    expect(page.get_by_role("progressbar", name="Progress of packing")).to_be_visible()
    # Meanwhile another window follows the same packing, and an edit is made here.
    other = page.context.new_page()
    other.goto(page.url)
    expect(other.get_by_role("button", name="This will do")).to_be_visible()
    other.close()
    page.get_by_role("button", name="The gap").click()
    maker.type("2.5", "Enter")
    free(page)
    expect(page.locator(".panel")).to_contain_text("still finding better")
    page.get_by_role("button", name="This will do").click()
    packed(page)
    design = design_of(page)
    assert design.sheet.gap == 2.5  # nothing of it was lost; what lies clear at the new gap was kept
    page.get_by_role("button", name="Pack close together").click()
    expect(page.locator(".panel")).to_contain_text("still finding better")
    page.get_by_role("button", name="This will do").click()
    packed(page)
    assert len(design_of(page).sheet.places) == 30
    page.keyboard.press("Control+z")
    free(page)
    assert design_of(page).sheet.places == design.sheet.places


def test_what_is_left_is_filled_turned_and_locked(maker: Hands) -> None:
    page = maker.page
    from_starter(maker, "Key tag", "Orrin")
    maker.follow("Sheet")
    more = page.get_by_role("button", name=re.compile(r"\d+ more Key tag"))
    expect(more).to_be_visible()
    count = int(re.findall(r"\d+", more.inner_text())[0])
    more.click()
    free(page)
    assert design_of(page).pieces[0].copies == 1 + count
    page.locator("[data-instance]").first.click()
    page.keyboard.press("t")
    free(page)
    page.keyboard.press("l")
    free(page)
    place = next(place for place in design_of(page).sheet.places if place.number == 1)
    assert (place.turn, place.locked) == (90, True)
    expect(page.locator(".bar .aside").first).to_contain_text("turned 90°, locked")


def test_eight_torches_in_a_jig_with_a_roster(maker: Hands) -> None:
    page = maker.page
    page.goto("/workshop/")
    page.get_by_role("textbox", name="Name of a new jig").fill("Torch tray")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Take out").last).to_be_visible()
    for label, text in (("The width of a slot", "64"), ("The distance across", "70")):
        page.get_by_role("button", name=label).last.click()
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        expect(page.locator(".sentence .editing")).to_have_count(0)
    page.get_by_role("link", name="Projects").click()
    maker.actions = 0
    copied(page, "\n".join(f"Red {number}" for number in range(1, 9)))
    page.locator(".starters").get_by_role("button", name="Key tag").first.click()
    page.keyboard.press("Control+v")
    page.wait_for_url("**/shape/**")
    page.locator("#list .button-main:not([disabled])").click()
    maker.actions += 3
    free(page)
    maker.follow("Sheet")
    maker.press("Where pieces lie: in rows. Change it.")
    maker.choose("in Torch tray")
    free(page)
    assert maker.actions <= 8
    expect(page.locator(".slot")).to_have_count(8)
    layout = lay_out(design_of(page))
    assert [laid.instance.called for laid in layout.instances] == [f"Red {number}" for number in range(1, 9)]
    box = box_of(page, page.locator(".slot").nth(1))
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + 0.92 * box["height"])  # beside what lies in it
    free(page)
    assert design_of(page).sheet.off == (2,)
    expect(page.get_by_role("navigation", name="Sheets").get_by_role("link")).to_have_count(2)


def test_a_large_sign_on_pages_mirrored(maker: Hands, tmp_path: Path) -> None:
    page = maker.page
    from_starter(maker, "Door sign", "Bay 7", "450", "190")
    maker.actions = 0
    maker.follow("Sheet")
    maker.press("On paper …")
    expect(page.get_by_role("combobox", name="Print")).to_have_value("p1")  # the only piece there is
    page.get_by_label("mirrored").check()
    maker.actions += 1
    with page.expect_download() as saved:
        maker.press("Save the PDF")
    assert maker.actions <= 4
    content = Path(saved.value.path()).read_bytes()
    assert content.count(b"/Type /Page\n") == 2
    page.get_by_role("button", name="On paper …").click()
    page.get_by_label("The overlap").fill("5 in")
    page.get_by_role("button", name="Save the PDF").click()
    expect(page.get_by_role("alert").filter(has_text="The overlap is too large")).to_be_visible()


def test_a_piece_of_another_material_an_array_and_one_more(maker: Hands) -> None:
    page = maker.page
    from_starter(maker, "Key tag", "Orrin")
    page.get_by_role("button", name="New piece", exact=False).first.click()
    free(page)
    page.get_by_role("button", name="Rectangle").first.click()
    maker.type("30", "Tab", "20", "Enter")
    free(page)
    page.keyboard.press("Escape")
    maker.actions = 0
    maker.press("What it is cut from: birch ply. Change it.")
    page.get_by_role("option", name=re.compile("^3 mm slate acrylic")).click()
    maker.actions += 1
    free(page)
    assert maker.actions == 2
    maker.follow("Sheet")
    tabs = page.get_by_role("navigation", name="Sheets").get_by_role("link")
    expect(tabs).to_have_count(2)
    tabs.nth(1).click()
    expect(page.locator("[data-instance]")).to_have_count(1)
    expect(page.locator(".panel")).to_contain_text("a whole sheet takes")
    # Head to tail with itself, three across and two down, then one more where the ghost stands.
    page.locator("[data-instance]").first.click()
    page.get_by_role("button", name="The number across: 1. Change it.").click()
    maker.type("3", "Enter")
    free(page)
    page.get_by_role("button", name="The number down: 1. Change it.").click()
    maker.type("2", "Enter")
    free(page)
    expect(page.locator("[data-instance]")).to_have_count(6)
    page.get_by_role("button", name=re.compile("^One more .* fits here$")).click()
    expect(page.locator("[data-instance]")).to_have_count(7)
    free(page)
    page.locator("[data-instance]").first.click()
    page.get_by_role("button", name="The place across: 4 mm. Change it.").click()
    maker.type("1 in", "Enter")
    free(page)
    design = design_of(page)
    assert design.pieces[1].copies == 7
    assert not design.sheet.places
    places = [place for place in design.benches[0].sheet.places if place.number == 1]
    assert places[0].x == pytest.approx(25.4, abs=0.01)
    # Dropped on the tab of the other material, the whole piece is cut from that.
    box, tab = (box_of(page, found) for found in (page.locator("[data-instance]").nth(3), tabs.nth(0)))
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(tab["x"] + 30, tab["y"] + 20, steps=6)
    page.mouse.up()
    expect(page.get_by_text("is cut from 3 mm birch ply now")).to_be_visible()
    assert not design_of(page).benches


def test_a_sign_larger_than_its_sheet_is_split_and_says_the_sizes(maker: Hands) -> None:
    page = maker.page
    from_starter(maker, "Door sign", "Bay 7", "450", "190")
    maker.actions = 0
    maker.follow("Sheet")
    maker.press("split it")
    expect(page.get_by_text(re.compile("is 2 pieces now, which fit together"))).to_be_visible()
    free(page)
    assert maker.actions == 2
    design = design_of(page)
    assert [piece.copies for piece in design.pieces] == [0, 1, 1]
    assert not [one for layout in lay_sheets(design) for one in layout.left_over]
