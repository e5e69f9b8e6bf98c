"""One outline: welded, surrounded, held with tabs and slotted, with mouse and keys; each journey counts its actions."""

import math
import re

import pytest
from playwright.sync_api import Locator, Page, expect

from foliant.core.design import Piece, resolve
from foliant.core.design.shapes import Lap, Slot
from tests.journeys.acting import Maker, at, begin, design_of, drag, new_project, spec

pytestmark = pytest.mark.journey


def set_value(maker: Maker, label: str, value: str, says: str) -> None:
    """Press a value of the sentence and type another."""
    maker.page.get_by_role("button", name=f"{label}:").first.click()
    maker.actions += 1
    maker.type(value, "Enter")
    expect(spec(maker.page)).to_contain_text(says)


def words(maker: Maker, text: str) -> None:
    maker.press("Words")
    maker.type(text, "Enter")
    expect(spec(maker.page)).to_contain_text(f"Words {text} in")


def part(page: Page, label: str) -> Locator:
    """A part in the list by the whole of its name."""
    return page.locator(".part", has=page.locator(".label", has_text=re.compile(f"^{label}$")))


def one_body(page: Page) -> None:
    expect(page.locator(".facts")).to_contain_text("One body")


def bodies(piece: Piece) -> int:
    return len(resolve(piece).outline.bodies)


def two_words_on_a_spike(maker: Maker) -> None:
    """First over Light, a plate of 2 mm round both, and a spike."""
    page = maker.page
    new_project(maker)
    maker.press("adds")
    words(maker, "First")
    words(maker, "Light")
    set_value(maker, "The height of the capitals", "16", "capitals 16 mm tall")
    set_value(maker, "The place down", "18", "18 mm down")
    page.keyboard.press("Control+a")
    maker.actions += 1
    expect(spec(page)).to_contain_text("2 parts of")
    page.keyboard.press("o")
    maker.actions += 1
    expect(page.locator(".spec .editing input")).to_be_focused()
    maker.type("2", "Enter")
    expect(spec(page)).to_contain_text("Surround 2 mm outside First and Light")
    one_body(page)
    maker.press("Rectangle")
    maker.type("4", "Tab", "80", "Enter")
    expect(spec(page)).to_contain_text("Rectangle 4 mm × 80 mm")
    set_value(maker, "The place down", "62", "62 mm down")
    one_body(page)


def test_a_topper_of_two_words_on_a_spike_and_the_same_with_a_moat(page: Page) -> None:
    maker = Maker(page)
    two_words_on_a_spike(maker)
    (piece,) = design_of(page).pieces
    assert bodies(piece) == 1
    print(f"topper: {maker.actions} actions")
    assert maker.actions <= 20

    before = maker.actions
    part(page, "First").click()
    maker.actions += 1
    set_value(maker, "The place down", "8", "8 mm down")  # laid over the other word
    page.keyboard.press("Shift+o")
    maker.actions += 1
    expect(page.locator(".spec .editing input")).to_be_focused()
    maker.type("0.8", "Enter")
    expect(spec(page)).to_contain_text("Surround 0.8 mm outside First")
    expect(spec(page)).to_contain_text("only the band round them, cuts away from")
    expect(page.locator(".facts")).to_have_class("facts bad")  # the name is an island now
    page.locator(".facts").click()
    page.get_by_role("button", name="Join with a 3 mm bridge").click()
    maker.actions += 2
    one_body(page)
    (piece,) = design_of(page).pieces
    assert bodies(piece) == 1
    print(f"its moat version: {maker.actions - before} actions more")


def test_a_moon_disc_in_a_frame_and_its_slotted_stand_follow_the_stock(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Ring")
    maker.type("80", "Enter")
    maker.press("Circle")
    maker.type("50", "Enter")
    expect(spec(page)).to_contain_text("Circle 50 mm across")
    page.keyboard.press("Control+a")
    maker.press("Combine ▾")
    maker.actions += 1
    page.get_by_role("button", name="Tabs from the inner to the outer").click()
    maker.actions += 1
    expect(page.locator(".spec .editing input")).to_be_focused()
    maker.type("4", "Enter")
    expect(spec(page)).to_contain_text("4 tabs 3 mm wide between Circle and Ring")
    one_body(page)

    # The stand: one piece with a slot for the disc, and a copy that crosses it.
    maker.press("+ New piece")
    expect(page.locator(".empty-note")).to_be_visible()
    maker.press("Rectangle")
    maker.type("70", "Tab", "36", "Enter")
    expect(spec(page)).to_contain_text("Rectangle 70 mm × 36 mm")
    maker.press("Combine ▾")
    page.get_by_role("button", name="Put on the pair of slots").click()
    maker.actions += 1
    expect(page.locator(".piece")).to_have_count(3)
    expect(spec(page)).to_contain_text(
        "Cross-lap slot from above, 18 mm deep, a sliding fit for 3 mm stock: 3.15 mm wide"
    )
    maker.press("More ▾", first=True)
    maker.press("Slot for the stock")
    maker.type("20", "Enter")
    expect(spec(page)).to_contain_text("Slot 20 mm long")

    set_value(maker, "The measured thickness", "4", "for 4 mm stock: 4.15 mm wide")
    before = maker.actions
    set_value(maker, "The measured thickness", "4.2", "for 4.2 mm stock: 4.35 mm wide")
    design = design_of(page)
    fitted = [part.shape for piece in design.pieces for part in piece.parts if isinstance(part.shape, Slot | Lap)]
    assert len(fitted) == 3
    assert {shape.width for shape in fitted} == {4.35}
    depths = [shape.depth for shape in fitted if isinstance(shape, Lap)]
    assert sum(depths) == pytest.approx(36)
    assert [bodies(piece) for piece in design.pieces] == [1, 1, 1]
    print(f"moon disc and stand: {maker.actions} actions, of them {maker.actions - before} to measure the stock again")
    assert maker.actions <= 32


def test_a_keyring_plate_goes_round_a_motif_and_a_word(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    words(maker, "Orrin")
    maker.press("Motif ▾")
    maker.type("planet")
    page.get_by_role("button", name="Planet", exact=True).click()
    maker.actions += 1
    expect(page.locator(".spec .editing input")).to_be_focused()  # its height can be typed
    page.keyboard.press("Escape")
    expect(spec(page)).to_contain_text("Motif Planet")
    set_value(maker, "The place across", "-12", "-12 mm across")
    page.keyboard.press("Control+a")
    maker.actions += 1
    page.keyboard.press("o")
    maker.actions += 1
    expect(page.locator(".spec .editing input")).to_be_focused()
    maker.type("3", "Enter")
    expect(spec(page)).to_contain_text("Surround 3 mm outside Orrin and Planet")
    page.keyboard.press("Escape")
    one_body(page)
    maker.press("Hole")
    maker.type("4", "Enter")
    expect(spec(page)).to_contain_text("Round hole 4 mm across and as high")
    print(f"keyring plate: {maker.actions} actions")
    assert maker.actions <= 16
    # Other words, and the plate follows.
    before = resolve(design_of(page).pieces[0]).outline.path.area
    part(page, "Orrin").click()
    set_value(maker, "The words", "Orrin Vale", "Words Orrin Vale in")
    one_body(page)
    assert resolve(design_of(page).pieces[0]).outline.path.area > before + 50


def test_a_plate_is_divided_by_a_line_and_one_part_dropped_by_a_press(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    maker.press("Pen")
    for point in ((20.0, -4.0), (50.0, 34.0)):
        page.mouse.click(*at(page, *point))
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("Drawn line")
    page.keyboard.press("Control+a")
    maker.press("Combine ▾")
    page.get_by_role("button", name="Divide: the keeper along the others").hover()
    expect(page.locator(".anchor")).to_have_count(1)  # the keeper is marked before anything is kept
    page.get_by_role("button", name="Divide: the keeper along the others").click()
    expect(page.locator(".face-of")).to_have_count(2)
    page.mouse.click(*at(page, 64, 8))
    expect(page.locator(".face-of.dropped")).to_have_count(1)
    expect(page.locator(".part", has_text="1 of 2 parts kept")).to_be_visible()
    left, _, right, _ = resolve(design_of(page).pieces[0]).bounds
    assert right - left < 55
    page.keyboard.press("Control+z")
    expect(page.locator(".face-of.dropped")).to_have_count(0)
    drag(page, (10, 15), (20, 25))  # dragged, it moves as one
    moved = design_of(page).pieces[0]
    assert moved.parts[0].x == pytest.approx(46, abs=1)


def test_corners_are_rounded_what_does_nothing_says_so_and_a_keeper_is_swapped(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    page.keyboard.press("q")
    expect(page.locator(".spec .editing input")).to_be_focused()
    maker.type("40", "Enter")
    expect(page.locator(".problem")).to_contain_text("the largest that fits is 15 mm")
    page.keyboard.press("Control+a")
    maker.type("6", "Enter")
    expect(spec(page)).to_contain_text("corners rounded 6 mm")
    page.locator('.corner-of[data-corner="0"]').click()
    expect(spec(page)).to_contain_text("3 of its corners rounded 6 mm")
    area = resolve(design_of(page).pieces[0]).outline.path.area
    assert area == pytest.approx(72 * 30 - 3 * (1 - math.pi / 4) * 36, abs=0.01)
    page.keyboard.press("q")
    expect(spec(page)).not_to_contain_text("corners rounded")

    # What does nothing says so in the list.
    maker.press("Circle")
    maker.type("10", "Enter")
    expect(page.locator(".part", has_text="Circle")).to_contain_text("adds nothing")
    page.locator(".facts").click()
    page.get_by_role("button", name="Drop it").click()
    expect(page.locator(".part")).to_have_count(1)
    expect(page.locator(".facts")).to_have_text("One body")

    # The keeper is swapped before a subtraction.
    maker.press("Circle")
    maker.type("20", "Enter")
    expect(spec(page)).to_contain_text("Circle 20 mm across")
    page.keyboard.press("Control+a")
    page.keyboard.press("w")
    maker.press("⇄ Swap")
    page.get_by_role("button", name="Subtract: the keeper less the others").click()
    expect(spec(page)).to_contain_text("keeping Circle")
    expect(page.locator(".facts")).to_contain_text("No material yet")  # the plate covers all of the circle
    page.get_by_role("button", name="What is kept").click()
    page.get_by_role("option", name="Rectangle").click()
    expect(page.locator(".facts")).to_contain_text("One body")
    page.keyboard.press("Control+k")
    page.keyboard.type("take apart")
    page.keyboard.press("Enter")
    expect(page.locator(".part")).to_have_count(2)
