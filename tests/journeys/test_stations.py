"""The sheet, the ticket, the check and the head of the page, worked by hand."""

import json
import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.acting import box_of, frames, open_copy

pytestmark = pytest.mark.journey

Go = Callable[[str, str], None]


@pytest.fixture(name="go")
def _go(page: Page) -> Go:
    """Opens a fresh copy of a project at a station."""

    def go(project: str, station: str) -> None:
        open_copy(page, project, station.lower())

    return go


def corner(page: Page, label: str) -> tuple[float, float]:
    box = box_of(page, page.get_by_role("img", name=label, exact=True).locator(".instance-box"))
    return (box["x"], box["y"])


def test_a_piece_is_dragged_on_the_sheet_and_put_back_in_its_row(page: Page, go: Go) -> None:
    go("Open-night tags", "Sheet")
    rows = page.get_by_role("button", name="In rows")
    expect(rows).to_be_disabled()
    start = corner(page, "Guide tag 6")
    drawn = page.get_by_role("img", name="Guide tag 6", exact=True).element_handle()
    expect(page.locator("[data-ghost]")).to_be_visible()
    page.mouse.move(start[0] + 25, start[1] + 20)
    page.mouse.down()
    page.set_viewport_size({"width": 1280, "height": 790})
    assert drawn.evaluate("piece => piece.isConnected && piece.matches('.chosen')"), "drawn anew under the hand"
    page.set_viewport_size({"width": 1280, "height": 800})
    page.mouse.move(start[0] + 60, start[1] + 90, steps=3)
    page.evaluate("window.dispatchEvent(new PointerEvent('pointercancel'))")  # as a second finger does
    page.mouse.up()
    assert corner(page, "Guide tag 6") == pytest.approx(start, abs=1)
    expect(rows).to_be_disabled()
    page.mouse.move(start[0] + 25, start[1] + 20)
    page.mouse.down()
    page.mouse.move(start[0] + 145, start[1] + 220, steps=6)
    page.mouse.up()
    expect(rows).to_be_enabled()
    moved = corner(page, "Guide tag 6")
    assert moved[0] - start[0] == pytest.approx(120, abs=4)
    assert moved[1] - start[1] == pytest.approx(200, abs=4)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowUp")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", "Undo: place Guide tag 6")
    rows.click()
    expect(rows).to_be_disabled()
    assert corner(page, "Guide tag 6") == pytest.approx(start, abs=1)


def drag(page: Page, label: str, to: tuple[float, float]) -> None:
    """Drag an instance by its upper left corner."""
    start = corner(page, label)
    page.mouse.move(start[0] + 25, start[1] + 20)
    page.mouse.down()
    page.mouse.move(to[0] + 25, to[1] + 20, steps=4)
    page.mouse.up()


def test_a_piece_dragged_over_another_takes_its_place_and_two_put_over_each_other_are_found(page: Page, go: Go) -> None:
    go("Open-night tags", "Sheet")
    first, sixth = corner(page, "Guide tag 1"), corner(page, "Guide tag 6")
    drag(page, "Guide tag 6", first)
    expect(page.locator(".stations")).to_contain_text("nothing to look at")
    page.wait_for_function(
        """([x, y]) => { const box = document.querySelector('[aria-label="Guide tag 1"]').getBoundingClientRect();
        return Math.hypot(box.x - x, box.y - y) < 4; }""",
        arg=list(sixth),
    )
    drag(page, "Guide tag 5", first)
    expect(page.locator(".stations")).to_contain_text(re.compile(r"\d things? to look at"))
    page.locator(".stations").get_by_role("link", name=re.compile("^Check")).click()
    expect(page.locator(".finding").first).to_contain_text("lie over each other on the sheet")
    page.get_by_role("link", name="Mend it at the sheet station").first.click()
    page.wait_for_url(re.compile("/sheet/"))


def test_more_than_fits_comes_on_another_sheet_and_a_larger_one_takes_them_all(page: Page, go: Go) -> None:
    go("Torch tokens", "Sheet")
    panel = page.locator(".panel")
    panel.get_by_role("button", name="The number of pieces").click()
    page.keyboard.type("30")
    page.keyboard.press("Enter")
    tabs = page.get_by_role("navigation", name="Sheets").get_by_role("link")
    expect(tabs).to_have_count(3)
    tabs.nth(2).click()
    expect(panel).to_contain_text("6 laid out")
    page.locator(".stations").get_by_role("link", name=re.compile("^Ticket")).click()
    asked = {"check": "rehearsal", "run": "stations/run"}
    for press, station in (("Check it", "check"), ("Go to the machine", "run")):
        with page.expect_response(re.compile(rf"/{asked[station]}\?sheet=3")):
            page.get_by_role("link", name=press).click()
        page.wait_for_url(f"**/{station}/?sheet=3")
        expect(tabs.nth(2)).to_have_attribute("aria-current", "page")
    page.locator(".stations").get_by_role("link", name=re.compile("^Sheet")).click()
    page.get_by_role("button", name="The width of the stock").click()
    page.keyboard.type("39 cm")
    page.keyboard.press("Enter")
    expect(tabs).to_have_count(2)
    page.get_by_role("button", name="The height of the stock").click()
    page.keyboard.type("12in")
    page.keyboard.press("Enter")
    expect(tabs).to_have_count(0)
    expect(panel).to_contain_text("30 laid out")


def test_settings_of_ones_own_are_marked_and_can_be_taken_back(page: Page, go: Go) -> None:
    go("Open-night tags", "Ticket")
    line = page.get_by_role("group", name="Outer edges", exact=True)
    before = line.locator(".line-end span").first.inner_text()
    line.get_by_role("button", name="Power").click()
    page.keyboard.type("100")
    page.keyboard.press("Tab")
    page.keyboard.type("12 mm/s")
    page.keyboard.press("Enter")
    expect(line).to_contain_text("changed by you")
    expect(line).to_contain_text("recipe: 85 % at 6 mm/s, 2 passes")
    expect(line).to_contain_text("So much power wears the machine")
    expect(line.locator(".value.own")).to_have_count(2)
    expect(line.locator(".line-end span").first).not_to_have_text(before)
    line.get_by_role("button", name="Back to the recipe").click()
    expect(line.locator(".value.own")).to_have_count(0)
    expect(line.locator(".line-end span").first).to_have_text(before)


def test_an_operation_is_switched_off_and_on(page: Page, go: Go) -> None:
    go("Open-night tags", "Ticket")
    total = page.locator(".total")
    before = total.inner_text()
    engraving = page.get_by_role("switch", name="Engraving on")
    engraving.click()
    expect(page.get_by_role("switch", name="Engraving off")).to_have_attribute("aria-checked", "false")
    expect(total).not_to_have_text(before)
    for name in ("Score lines", "Holes and inner edges", "Outer edges"):
        page.get_by_role("switch", name=f"{name} on").click()
        expect(page.get_by_role("switch", name=f"{name} off")).to_be_visible()
    page.get_by_role("link", name="Check it").click()
    expect(page.locator(".finding").first).to_contain_text("Every operation of the ticket is switched off")


def test_a_machine_without_recipes_for_the_material_asks_for_settings(page: Page, go: Go) -> None:
    go("Torch tokens", "Ticket")
    page.get_by_role("button", name="The machine").click()
    page.get_by_role("option", name="Desk cutter").click()
    expect(page.locator(".ticket")).to_contain_text("Desk cutter, drag blade")
    outer = page.get_by_role("group", name="Outer edges", exact=True)
    expect(outer).to_contain_text("75 % force at 30 mm/s")  # cork can be cut by the blade
    page.locator(".stations").get_by_role("link", name=re.compile("^Sheet")).click()
    page.get_by_role("button", name="The thickness").click()
    page.keyboard.type("12")
    page.keyboard.press("Enter")
    expect(page.locator(".stations")).to_contain_text("3 things to look at")
    page.locator(".stations").get_by_role("link", name=re.compile("^Ticket")).click()
    expect(outer).to_contain_text("No recipe to cut 12 mm cork sheet here")
    outer.get_by_role("button", name="Force").click()
    page.keyboard.type("90")
    page.keyboard.press("Tab")
    page.keyboard.type("8")
    page.keyboard.press("Enter")
    expect(outer).to_contain_text("your own settings")
    expect(outer).to_contain_text("own settings: 90 % force at 8 mm/s")


def test_every_file_of_the_menu_is_saved(page: Page, go: Go) -> None:
    go("Telescope-bay signs", "Ticket")
    for name, ending, begins in (
        ("SVG drawing", "svg", "<?xml"),
        ("G-code", "gcode", "; Telescope"),
        ("Foliant design file", "json", "{"),
    ):
        page.get_by_role("button", name="Save as file").click()
        with page.expect_download() as download:
            page.get_by_role("link", name=name).click()
        assert download.value.suggested_filename == f"telescope-bay-signs-copy.{ending}"
        text = download.value.path().read_text()
        assert text.startswith(begins)
    assert json.loads(text)["unit"] == "in"


def test_a_file_waits_for_room_and_where_it_cannot_be_made_the_page_says_why(page: Page, go: Go) -> None:
    go("Telescope-bay signs", "Ticket")
    answers = [(429, "Wait for it."), (422, "That is too much to plan.")]
    page.route(
        "**/export/svg*",
        lambda asked: (
            asked.continue_()
            if not answers
            else asked.fulfill(status=answers[0][0], json={"message": answers.pop(0)[1]})
        ),
    )
    page.get_by_role("button", name="Save as file").click()
    page.get_by_role("link", name="SVG drawing").click()
    expect(page.locator(".toast.bad")).to_contain_text("too much to plan")
    page.get_by_role("button", name="Save as file").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="SVG drawing").click()
    assert download.value.suggested_filename.endswith(".svg")


def test_stations_stay_where_they_are_whatever_they_say(page: Page, go: Go) -> None:
    """What they say comes a moment after the page: one that moved then would go away under a press."""
    go("Torch tokens", "Check")
    stations = page.locator(".stations a")
    before = [station.bounding_box() for station in stations.all()]
    page.evaluate("for (const says of document.querySelectorAll('.stations .says')) says.textContent = '8'.repeat(80)")
    assert [station.bounding_box() for station in stations.all()] == before


def test_the_rehearsal_plays_pauses_and_goes_to_any_moment(page: Page, go: Go) -> None:
    go("Torch tokens", "Check")
    clock = page.locator(".clock")
    expect(clock).to_have_text(re.compile(r"0:00 of \d:\d\d"))
    page.get_by_role("button", name="60×").click()
    page.get_by_role("button", name="Play", exact=True).click()
    expect(clock).to_have_text(re.compile(r"0:[1-5]\d of"))
    page.get_by_role("button", name="Pause").click()
    held = clock.inner_text()
    frames(page, 25)
    assert clock.inner_text() == held
    slider = page.get_by_role("slider")
    slider.fill("200")
    expect(clock).to_have_text(re.compile("3:20 of"))
    expect(page.locator(".canvas circle.head-mark")).to_be_attached()
    expect(page.locator("li.bg-glow")).to_have_count(1)
    page.keyboard.press("End")
    expect(page.get_by_text("Finished")).to_be_visible()


def test_the_name_and_the_unit_are_changed_in_the_head(page: Page, go: Go) -> None:
    go("Open-night tags", "Sheet")
    page.get_by_role("button", name="Open-night tags (copy)").click()
    page.keyboard.type("Dome badges")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Dome badges")).to_be_visible()
    page.get_by_role("button", name="inch", exact=True).click()
    expect(page.locator(".spec")).to_contain_text("11.811 in × 7.874 in")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".spec")).to_contain_text("300 mm × 200 mm")
    page.get_by_role("button", name="Redo").click()
    expect(page.locator(".spec")).to_contain_text("11.811 in")


def test_pieces_are_added_duplicated_and_deleted_with_a_way_back(page: Page) -> None:
    open_copy(page, "Torch tokens")
    page.get_by_role("button", name="+ New piece").click()
    expect(page.locator(".piece-head")).to_have_count(2)
    expect(page.locator(".empty-note")).to_be_visible()
    page.get_by_role("button", name="Ring", exact=True).click()
    page.keyboard.type("80")
    page.keyboard.press("Tab")
    page.keyboard.type("1/4in")
    page.keyboard.press("Enter")
    expect(page.locator(".spec > .sentence")).to_contain_text("Ring 80 mm across, band 6.35 mm wide")
    page.locator(".roles").get_by_role("button", name="Duplicate").click()
    expect(page.locator(".piece-head")).to_have_count(3)
    page.get_by_role("button", name="Delete piece").click()
    expect(page.locator(".piece-head")).to_have_count(2)
    page.locator(".toast").get_by_role("button", name="Undo").click()
    expect(page.locator(".piece-head")).to_have_count(3)


def test_several_parts_are_chosen_and_moved_as_one(page: Page) -> None:
    open_copy(page, "Torch tokens")
    parts = page.locator(".part")
    parts.filter(has_text="RED 7").click()
    parts.filter(has_text="Round hole").click(modifiers=["Shift"])
    expect(page.locator(".spec > .sentence")).to_contain_text("2 parts of Torch token")
    page.keyboard.press("ArrowDown")
    parts.filter(has_text="Round hole").click()
    expect(page.locator(".spec > .sentence")).to_contain_text("24 mm across and 7.5 mm down")
    page.keyboard.press("r")
    expect(page.locator('[data-role="engraves"] .part')).to_have_count(1)
    page.keyboard.press("Escape")
    expect(page.locator(".spec > .sentence")).to_contain_text("Torch token, 48 × 48 mm, one body")
