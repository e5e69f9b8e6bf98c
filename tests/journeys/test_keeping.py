"""Nothing is lost and nobody is locked out: files, deleted projects, what is damaged, heavy or refused, in the page."""

import re
from pathlib import Path
from uuid import uuid4

import pytest
from playwright.sync_api import Page, expect

from foliant.core.design import Design
from foliant.core.formats import write_design
from tests.journeys.acting import open_copy
from tests.making import edited, one_piece, put, tag
from tests.stack import Stack

pytestmark = pytest.mark.journey


def opened(page: Page, stack: Stack, folder: Path, design: Design) -> None:
    """Open a design through its file, as a maker does."""
    file = folder / "design.json"
    file.write_text(write_design(design))
    page.goto("/")
    page.locator("input[type=file]").set_input_files(file)
    page.wait_for_url(re.compile("/shape/"))


def test_a_project_goes_out_and_in_by_its_file_and_comes_back_when_deleted(
    page: Page, stack: Stack, tmp_path: Path
) -> None:
    design = tag().model_copy(update={"name": "Dome keys"})
    opened(page, stack, tmp_path, design)
    expect(page.locator(".over-facts")).to_contain_text("One body")
    page.goto("/")
    card = page.get_by_role("article", name="Dome keys")
    with page.expect_download() as saved:
        card.get_by_role("link", name="Save file").click()
    assert Path(saved.value.path()).read_text() == write_design(design)
    (tmp_path / "wrong.json").write_text("{}")
    page.locator("input[type=file]").set_input_files(tmp_path / "wrong.json")
    expect(page.locator(".toast.bad")).to_contain_text("not a Foliant design file")
    card.get_by_role("button", name="Delete").click()
    expect(card).to_be_hidden()  # only then is it gone
    page.goto("/")
    page.get_by_text(re.compile(r"Deleted projects \(\d+\)")).click()
    row = page.locator(".deleted li", has_text="Dome keys").first
    row.get_by_role("button", name="Bring back").click()
    expect(page.get_by_role("article", name="Dome keys")).to_be_visible()
    page.get_by_role("article", name="Dome keys").get_by_role("button", name="Delete").click()
    expect(page.get_by_role("article", name="Dome keys")).to_be_hidden()
    page.goto("/")
    page.get_by_text(re.compile(r"Deleted projects \(\d+\)")).click()
    row = page.locator(".deleted li", has_text="Dome keys").first
    row.get_by_role("button", name="Delete for good").click()
    row.get_by_role("button", name="Yes, delete it for good").click()
    expect(row).to_be_hidden()


def test_a_damaged_piece_says_so_and_all_else_goes_on(page: Page, stack: Stack, tmp_path: Path) -> None:
    design = edited(tag(), {"do": "add-piece", "name": "Moon disc"})
    opened(page, stack, tmp_path, edited(design, put("circle", piece=design.pieces[1].id, diameter=30)))
    stack.damage(page)
    page.locator(".piece-head", has_text="Moon disc").click()
    expect(page.locator(".over-facts")).to_contain_text("Cannot be worked out")
    expect(page.locator(".spec > .sentence")).to_contain_text("another version of Foliant")
    page.locator(".piece-head", has_text="Guide tag").click()
    expect(page.locator(".over-facts")).to_contain_text("One body")
    page.locator(".stations").get_by_role("link", name=re.compile("^Check")).click()
    expect(page.locator(".finding").first).to_contain_text("Moon disc cannot be worked out")
    page.goto("/")
    expect(page.get_by_role("article", name="Open-night tags").first).to_be_visible()


def test_heavy_work_says_so_can_be_given_up_and_too_much_is_refused(page: Page, stack: Stack, tmp_path: Path) -> None:
    words = "Quillmoor Observatory opens tonight " * 16 + uuid4().hex[:6]  # nothing that was worked out before
    design = one_piece(put("words", text=words, font="pacifico", cap_height=4, role="adds"))
    opened(page, stack, tmp_path, edited(design, {"do": "surround-parts", "piece": "p1", "parts": ["a2"]}))
    page.get_by_role("button", name="Give up").click()
    expect(page.locator(".spec > .sentence")).to_contain_text("given up")
    page.reload()
    expect(page.locator(".working")).to_contain_text("Working it out")
    page.reload()  # who is impatient waits no longer for it
    page.locator(".stations").get_by_role("link", name=re.compile("^Ticket")).click()
    page.get_by_role("button", name="Give up").click()
    expect(page.get_by_role("status")).to_contain_text("given up")
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_text("What is drawn finds no room on the sheet")).to_be_visible()
    assert page.url.endswith("/ticket/")  # loaded anew it would say again that it takes a while
    page.locator(".stations").get_by_role("link", name=re.compile("^Shape")).click()
    expect(page.locator(".over-facts")).to_contain_text("One body")
    page.locator(".part", has_text="Quillmoor").last.click()
    page.get_by_role("button", name="Repeat").click()
    page.get_by_role("button", name="In columns and rows").click()
    expect(page.locator(".toast.bad")).to_contain_text("lessen")
    open_copy(page, "Torch tokens")
    expect(page.locator(".over-facts")).to_contain_text("One body")
