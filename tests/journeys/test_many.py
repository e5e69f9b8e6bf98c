"""Making many: a list taken for a starter, rows walked, one of them changed, the proof saved; presses are counted."""

import pytest
from playwright.sync_api import Locator, Page, expect

from foliant.core.design.shapes import Words
from tests.journeys.acting import copied, design_of, free, free_hands
from tests.presses.jobs import Hands, from_starter

pytestmark = pytest.mark.journey

NAMES = (
    "Orrin", "Ysolde", "Bram", "Ines", "Corvin", "Mareike", "Tavi", "Lune", "Petronella Quillmoor", "Sable", "Odo",
    "Hollis", "Maud", "Željko", "Åsa", "Fenn", "Kestrle", "Ilse", "Jorun", "Lorne", "Mirel", "Noor", "Perrin", "Quill",
)  # fmt: skip


@pytest.fixture(name="maker")
def _maker(page: Page) -> Hands:
    return Hands(page)


def words_of(page: Page) -> Words:
    """The words of the first piece."""
    return next(part.shape for part in design_of(page).pieces[0].parts if isinstance(part.shape, Words))


def take(maker: Hands, starter: str, rows: str) -> None:
    """Begin with a ready piece whose words come from a list that is pasted where they are typed."""
    page = maker.page
    page.goto("/")
    copied(page, rows)
    page.locator(".starters").get_by_role("button", name=starter).first.click()
    page.keyboard.press("Control+v")
    maker.actions += 2
    page.wait_for_url("**/shape/**")
    page.locator("#list .button-main:not([disabled])").click()
    maker.actions += 1
    expect(page.locator("#list")).to_have_count(0)
    free(page)


def cards(page: Page) -> Locator:
    """The pictures in the strip that are as the rows are now."""
    return page.locator(".strip-card:not(.stale):has(svg)")


def test_twenty_four_markers_of_a_pasted_list_and_what_is_done_with_them(maker: Hands) -> None:
    page = maker.page
    take(maker, "Spiked marker", "\n".join(NAMES))
    expect(page.locator(".stations")).to_contain_text("1 piece · 24 rows")
    expect(cards(page).first).to_contain_text("Orrin")
    maker.follow("Sheet")
    expect(page.locator(".panel .roster-count")).to_have_text("24 rows")
    assert maker.actions <= 8
    expect(page.locator("[data-instance]").first).to_be_attached()
    page.go_back()
    free(page)

    # One letter wrong in row 17: found on its picture, and mended.
    maker.actions = 0
    expect(cards(page).first).to_be_visible()
    page.locator(".strip").evaluate("strip => (strip.scrollLeft = 16 * 132)")
    card = page.locator(".strip-card", has_text="Kestrle")
    card.hover()
    page.mouse.down()
    card.evaluate("card => (card.innerHTML = card.innerHTML)")  # as where its picture comes under the press
    page.mouse.up()
    expect(page.locator(".over-rows")).to_contain_text("Kestrle, row 17 of 24")
    page.locator(".part", has_text="Kestrle").click()
    page.locator(".spec .value.tied").click()
    maker.actions += 2  # a strip that is scrolled to is looked at; its picture and its words are pressed
    maker.type("Kestrel", "Enter")
    free(page)
    assert maker.actions <= 3
    expect(page.locator(".strip-card.shown")).to_contain_text("Kestrel")
    assert design_of(page).roster.rows[16].cells[0][1] == "Kestrel"

    # Another font for all.
    maker.actions = 0
    maker.key("Shift+f")
    maker.type("pacifico", "Enter")
    free(page)
    assert maker.actions <= 2
    words = words_of(page)
    assert words.font == "pacifico"
    expect(page.locator(".strip-card.stale")).to_have_count(0)

    # For one row only, taken back again; the design stays as it was.
    page.get_by_role("button", name="Kestrel only").click()
    maker.value("The height of the capitals", "5")
    free(page)
    expect(page.locator(".strip-card.shown")).to_contain_text("1 of its own")
    assert (
        next(part for part in design_of(page).pieces[0].parts if isinstance(part.shape, Words)).shape.cap_height
        == words.cap_height
    )
    page.keyboard.press("PageDown")
    expect(page.locator(".over-rows")).to_contain_text("Ilse, row 18 of 24")
    page.keyboard.press("PageUp")
    page.get_by_role("button", name="1 change of its own").click()
    expect(page.locator("#panel-own")).to_contain_text("The height of the capitals")
    page.get_by_role("button", name="Take all back").click()
    free(page)
    assert not design_of(page).roster.rows[16].own

    # The proof is a file.
    page.get_by_role("button", name="Proof ▾").click()
    with page.expect_download() as saving:
        page.get_by_role("button", name="Proof to show, as PDF").click()
    assert saving.value.suggested_filename == "spiked-marker-proof.pdf"


def test_a_grid_is_filled_by_the_keyboard_and_every_block_is_one_undo(maker: Hands) -> None:
    page = maker.page
    from_starter(maker, "Key tag", "Orrin")
    page.get_by_role("button", name="+ column").click()
    free(page)
    page.keyboard.type("Una")
    page.keyboard.press("Enter")
    page.keyboard.type("Bo")
    page.keyboard.press("Enter")
    page.keyboard.type("bo")
    page.keyboard.press("Enter")
    free(page)
    design = design_of(page)
    assert [row.cells[0][1] for row in design.roster.rows] == ["Una", "Bo", "bo"]
    expect(page.locator(".grid-cell.noted")).to_have_count(2)  # two rows say the same
    copied(page, "Ada\t80\nIda\t90")
    page.keyboard.press("Control+v")
    free(page)
    assert len(design_of(page).roster.rows) == 5
    assert len(design_of(page).roster.columns) == 2
    page.keyboard.press("Control+z")
    free(page)
    assert design_of(page).roster == design.roster
    page.keyboard.press("Control+Shift+z")
    free(page)

    # Rows are chosen by their numbers, and deleted by a press.
    page.locator(".grid-no", has_text="2").first.click()
    page.locator(".grid-no", has_text="3").first.click(modifiers=["Shift"])
    page.get_by_role("button", name="Delete 2 rows").click()
    free(page)
    assert [row.cells[0][1] for row in design_of(page).roster.rows] == ["Una", "Ada", "Ida"]
    page.get_by_role("button", name="Undo").first.click()
    free(page)
    assert len(design_of(page).roster.rows) == 5

    # A width comes from the column that was pasted beside the names: pressed once it is open, and let go likewise.
    page.locator(".grid-name", has_text="column 2").click()
    page.get_by_label("The name of the column").fill("wide")
    page.keyboard.press("Enter")
    free(page)
    page.locator(".part", has_text="Rectangle").click()
    page.locator(".spec .value[data-field=width]").click()
    free(page)
    page.get_by_role("button", name="from the roster: wide").click()
    free(page)
    expect(page.locator(".spec .value.tied")).to_contain_text("wide")
    page.locator(".grid-cell", has_text="Ida").click()
    free(page)
    expect(page.locator(".spec .value.tied")).to_contain_text("90 mm")
    expect(page.locator(".grid-cell.noted")).to_have_count(5)  # three rows have no width
    page.locator(".spec .value[data-field=width]").click()
    free(page)
    page.get_by_role("button", name="no longer from the roster").click()
    free(page)
    assert not design_of(page).pieces[0].tied
    assert design_of(page).pieces[0].parts[0].shape.width == 90  # type: ignore[union-attr]


def test_a_list_that_is_opened_says_how_it_was_read_and_a_bad_one_why_not(maker: Hands) -> None:
    page = maker.page
    from_starter(maker, "Coaster", "Quillmoor")
    page.get_by_role("button", name="Paste or open a list").click()
    chooser = page.locator("#list [type=file]")
    chooser.set_input_files({"name": "huge.csv", "mimeType": "text/csv", "buffer": b"x" * 6_000_000})
    expect(page.locator(".list-problem")).to_contain_text("has at most 5")
    chooser.set_input_files(
        {"name": "list.csv", "mimeType": "text/csv", "buffer": "name;gate\nJürgen;2\nZoë;3".encode("cp1252")}
    )
    expect(page.locator(".list-says")).to_contain_text("Windows-1252, semicolons between cells, with a heading: 2 rows")
    page.get_by_label("The first row is a heading").uncheck()
    expect(page.locator(".list-says")).to_contain_text("3 rows")
    page.get_by_label("The first row is a heading").check()
    expect(page.locator("#list .button-main")).to_have_text("Take 2 rows")
    page.locator("#list .button-main").click()
    free(page)
    expect(page.locator(".over-rows")).to_contain_text("Jürgen, row 1 of 2")
    assert [row.cells[0][1] for row in design_of(page).roster.rows] == ["Jürgen", "Zoë"]


def test_a_piece_kept_as_a_starter_begins_another_project_and_is_put_away(maker: Hands) -> None:
    page = maker.page
    from_starter(maker, "Key tag", "Orrin")
    page.get_by_role("button", name="Keep", exact=True).click()
    page.get_by_label("Called").fill("Torch tag")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("Torch tag is kept")).to_be_visible()
    page.get_by_role("button", name="Begin with a ready piece").click()
    page.locator("#panel-ready .starter", has_text="Torch tag").click()
    free(page)
    expect(page.locator(".spec .editing input")).to_be_focused()  # its words are typed next
    maker.type("Lune", "Enter")
    free(page)
    assert len(design_of(page).pieces) == 2
    from_starter(maker, "Torch tag", "Maud")
    assert design_of(page).pieces[0].name == "Key tag"
    page.goto("/workshop/")
    kept = page.locator(".kept .thing-row", has_text="Torch tag")
    kept.get_by_role("button", name="Put away").click()
    expect(kept).to_contain_text("put away")
    page.goto("/")
    expect(page.locator(".starters").get_by_role("button", name="Torch tag")).to_have_count(0)
    free_hands(page)
