"""Signs that are read by touch: Braille that follows words, is proof-read and mended, and a corridor of signs."""

import pytest
from playwright.sync_api import Page, expect

from foliant.core.design.binding import bound_rows
from foliant.core.design.shapes import Braille
from tests.journeys.acting import design_of, free, new_project
from tests.journeys.test_many import cards, take
from tests.presses.jobs import Hands

pytestmark = pytest.mark.journey

ROOMS = [f"Room {number}" for number in range(1, 41)]


def sign(page: Page, text: str) -> Hands:
    """Draw a plate with words and Braille beneath them, which is chosen then."""
    maker = Hands(page)
    new_project(maker)
    maker.press("Rectangle")
    maker.type("150", "Tab", "80", "Enter")
    maker.press("Words")
    maker.type(text, "Enter")
    maker.value("The height of the capitals", "20")
    maker.step("Braille beneath it")
    expect(page.locator(".spec > .sentence")).to_contain_text(f"reading “{text}”")
    return maker


def test_a_corridor_of_forty_signs_in_twelve_actions(page: Page) -> None:
    maker = Hands(page)
    take(maker, "Sign with Braille", "\n".join(ROOMS))
    expect(page.locator(".stations")).to_contain_text("3 pieces · 40 rows")
    expect(cards(page).first).to_contain_text("Room 1")
    assert maker.actions <= 12
    design = design_of(page)
    shapes = [bound.piece.parts[-1].shape for bound in bound_rows(design, design.pieces[0])]
    assert [shape.reads for shape in shapes if isinstance(shape, Braille)] == ROOMS


def test_letters_are_cut_raised_from_another_material_by_a_press(page: Page) -> None:
    maker = sign(page, "LIFT")
    page.locator('[data-role="engraves"] .part').click()
    maker.step("Cut it raised, from other material")
    expect(page.locator(".stations")).to_contain_text("2 pieces")
    expect(page.locator('[data-role="scores"] .part')).to_contain_text("LIFT")
    raised = design_of(page).pieces[1]
    assert (raised.raises, raised.bench != "") == ("a3", True)
    expect(page.locator("path.raised-shade").first).to_be_attached()
    maker.follow("Sheet")
    expect(page.locator(".sheet-tab").last).to_contain_text("slate acrylic")


def test_braille_follows_its_words_says_what_it_reads_and_is_made_readable(page: Page) -> None:
    maker = sign(page, "Lift")
    spec = page.locator(".spec > .sentence")
    page.locator('[data-role="engraves"] .part').click()
    maker.value("The words", "Dome")
    page.locator('[data-role="cuts"] .part').click()
    expect(spec).to_contain_text("reading “Dome”")
    page.get_by_role("button", name="Capitals: capitals marked").click()
    page.get_by_role("option", name="capitals not marked").click()
    expect(spec).to_contain_text("reading “dome”")
    free(page)
    shape = design_of(page).pieces[0].parts[-1].shape
    assert isinstance(shape, Braille)
    assert (shape.cells, shape.text) == ("⠙⠕⠍⠑", "Dome")
    page.locator(".over-facts button").first.click()
    findings = page.locator("#panel-findings .finding")
    expect(findings).to_have_count(3)  # serifs, too close, and not all capitals
    page.get_by_role("button", name="All capitals").click()
    expect(findings).to_have_count(2)
