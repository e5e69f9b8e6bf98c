"""Fast hands on a slow machine: the processor slowed six times, and 900 ms between page and server."""

import pytest
from playwright.sync_api import Page, expect

from foliant.core.design.shapes import Circle, Hole, Rectangle, Surround, Words
from tests.journeys.acting import Maker, design_of, free, new_project, open_copy, slowed, spec

pytestmark = pytest.mark.journey


def test_all_that_is_typed_ahead_goes_where_it_was_meant(page: Page) -> None:
    """Not once is the page waited for: what the hands do comes in order, however late the answers are."""
    maker = Maker(page)
    new_project(maker)
    with slowed(page):
        keys = page.keyboard
        keys.type("1")
        maker.type("110", "Tab", "40", "Enter")
        keys.press("q")
        maker.type("4", "Enter")
        keys.type("4")
        maker.type("Zoë", "Tab")  # ë comes by no key of its own
        maker.type("pacifico", "Enter")
        keys.press("o")
        maker.type("2.5", "Enter")
        keys.type("5")
        maker.type("6", "Enter")
        keys.press("d")
        keys.press("Shift+ArrowRight")
        free(page)

        plate, surround, words, hole, second = design_of(page).pieces[0].parts  # the plate is laid under the words
        assert isinstance(plate.shape, Rectangle)
        assert (plate.shape.width, plate.shape.height) == (110, 40)
        assert plate.treatments.cornered is not None
        assert plate.treatments.cornered.size == 4
        assert isinstance(words.shape, Words)
        assert (words.shape.text, words.shape.font) == ("Zoë", "pacifico")
        assert isinstance(surround.shape, Surround)
        assert surround.shape.distance == 2.5
        assert isinstance(hole.shape, Hole)
        assert hole.shape.width == 6
        assert second.x > hole.x
        expect(spec(page)).to_contain_text("Round hole 6 mm across")


def test_a_press_waits_its_turn_and_a_value_that_was_refused_keeps_its_reason(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    with slowed(page):
        maker.press("Rectangle")
        maker.type("60", "Enter")
        maker.press("Circle")
        maker.type("20", "Enter")
        maker.press("Words")
        maker.type("Iris", "Enter")
        free(page)
        rectangle, circle, words = design_of(page).pieces[0].parts
        assert isinstance(rectangle.shape, Rectangle)
        assert isinstance(circle.shape, Circle)
        assert isinstance(words.shape, Words)
        assert (rectangle.shape.width, circle.shape.diameter, words.shape.text) == (60, 20, "Iris")

        # What follows a value that is refused is no command: 4 would put on words.
        maker.press("Circle")
        maker.type("lots", "Enter", "4", "Enter")
        free(page)
        expect(page.locator(".spec .problem")).to_be_visible()
        assert len(design_of(page).pieces[0].parts) == 4


def test_the_power_of_a_new_operation_is_typed_before_its_field_is_there(page: Page) -> None:
    open_copy(page, "Torch tokens")
    Maker(page).follow("Ticket")
    expect(page.locator(".line").first).to_be_visible()
    before = page.locator(".line").count()
    with slowed(page):
        page.locator("p", has_text="Add an operation:").get_by_role("button", name="Engraving").click()
        page.keyboard.type("37")
        page.keyboard.press("Enter")
        free(page)
        expect(page.locator(".line")).to_have_count(before + 1)
        expect(page.locator(".line", has_text="37 % power")).to_have_count(1)


def test_a_press_elsewhere_leaves_the_value_that_was_about_to_open(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    with slowed(page):
        page.keyboard.type("1")
        maker.type("60", "Tab", "30", "Enter")
        free(page)
        expect(page.get_by_role("button", name="A hole in it", exact=True)).to_be_visible()
        maker.press("A hole in it")
        maker.press("+ New piece")
        page.keyboard.type("2")
        maker.type("24", "Enter")
        free(page)
        first, second = design_of(page).pieces
        assert [part.shape.kind for part in first.parts] == ["rectangle", "hole"]
        (disc,) = second.parts
        assert isinstance(disc.shape, Circle)
        assert disc.shape.diameter == 24
