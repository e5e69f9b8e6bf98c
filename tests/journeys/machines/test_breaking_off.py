"""Jobs that are paused, stopped, or broken off by what goes wrong at a machine or beside it."""

import re

import pytest
from playwright.sync_api import APIResponse, Page, Route, expect

from tests.journeys.acting import open_copy
from tests.patience import wait_until
from tests.stack import Stack

pytestmark = pytest.mark.journey


def connect(page: Page) -> None:
    """Press Connect until the machine answers: one that was just plugged in takes a moment."""

    def answers() -> bool:
        page.get_by_role("button", name="Connect").click()
        expect(page.get_by_role("button", name="Connect")).to_be_enabled()
        return "idle" in page.locator(".panel > p").first.inner_text()

    wait_until(answers, "the machine does not answer", every=0.5)


def started(page: Page, project: str = "Torch tokens") -> None:
    """Open a project and start its job, up to the machine running."""
    open_copy(page, project, "run")
    connect(page)
    page.locator(".steps").get_by_role("button", name="Start", exact=True).first.click()
    expect(page.locator(".lamp.waiting")).to_be_visible()
    page.locator(".front").get_by_role("button", name="Start").click()
    expect(page.locator(".lamp.running")).to_be_visible()


def told(page: Page, times: int) -> None:
    """Until the page has asked so many times what the machine does."""
    for _ in range(times):
        with page.expect_response("**/runs/newest*"):
            pass


def test_pause_resume_and_stop(page: Page) -> None:
    started(page)
    page.get_by_role("button", name="Pause").click()
    expect(page.locator(".lamp.holding")).to_be_visible()
    told(page, 3)  # until its last word has come
    held = page.locator(".rehearsal .clock").first.inner_text()
    told(page, 3)
    assert page.locator(".rehearsal .clock").first.inner_text() == held
    page.get_by_role("button", name="Resume").click()
    expect(page.locator(".lamp.running")).to_be_visible()
    page.locator(".rehearsal").get_by_role("button", name="Stop").click()
    expect(page.locator(".rehearsal")).to_contain_text("Stopped before the end.")
    expect(page.locator(".steps").get_by_role("button", name="Start", exact=True).first).to_be_enabled()


def test_a_job_is_watched_however_the_answers_cross(page: Page) -> None:
    """What the station shows may be on its way still when the job is sent, and be there before its answer."""
    held: list[tuple[Route, APIResponse]] = []
    page.route("**/stations/run*", lambda asked: held.append((asked, asked.fetch())))
    open_copy(page, "Torch tokens", "run")
    connect(page)

    def cross(sending: Route) -> None:
        if sending.request.method != "POST":
            sending.fallback()
            return
        answer = sending.fetch()
        page.unroute("**/stations/run*")
        for asked, told in held:
            asked.fulfill(response=told)
        expect(page.locator("body")).to_have_attribute("data-view", "drawn")
        sending.fulfill(response=answer)

    page.route("**/runs", cross)
    page.locator(".steps").get_by_role("button", name="Start", exact=True).first.click()
    expect(page.locator(".lamp.waiting")).to_be_visible()
    assert held
    page.locator(".front").get_by_role("button", name="Stop").click()
    expect(page.locator(".rehearsal")).to_contain_text("Stopped before the end.")


def test_the_bounds_are_traced_with_the_tool_off_where_the_sheet_lies(page: Page) -> None:
    open_copy(page, "Open-night tags", "run")
    connect(page)
    page.get_by_role("button", name="The sheet lies elsewhere").click()
    page.get_by_label("How far a press leads it").select_option("50")
    place = page.locator(".placing")
    for way, at in (
        ("To the left", "at 0 ×"),
        ("Nearer", "× 0 mm"),
    ):
        while at not in place.inner_text():
            page.get_by_label(way).click()
            expect(page.get_by_label(way)).to_be_enabled()
    page.get_by_label("How far a press leads it").select_option("10")
    page.get_by_label("To the right").click()
    expect(place).to_contain_text("The head is at 10 × 0 mm, its light on.")
    page.locator(".jog").focus()
    page.keyboard.press("ArrowUp")
    expect(place).to_contain_text("The head is at 10 × 10 mm, its light on.")
    page.get_by_role(
        "button", name="inch", exact=True
    ).click()  # whose steps are others: what is shown is what a press does
    expect(page.get_by_label("How far a press leads it")).to_have_value("12.7")
    expect(place).to_contain_text("The head is at 0.394 × 0.394 in")
    page.get_by_role("button", name="mm", exact=True).click()
    expect(page.get_by_label("How far a press leads it")).to_have_value("10")
    expect(place).to_contain_text("The head is at 10 × 10 mm")
    page.get_by_role("button", name="its near left corner").click()
    expect(page.locator(".placing")).to_contain_text("Its near left corner lies at 10 × 10 mm.")
    page.get_by_role("button", name="Trace").click()
    expect(page.get_by_text("The bounds have been traced.")).to_be_visible()


def test_a_machine_unplugged_in_mid_job(page: Page, stack: Stack) -> None:
    started(page)
    stack.kill("--profile bench-laser")
    lost = page.locator(".rehearsal").get_by_text(re.compile(r"unplugged\?|connection to the machine broke"))
    expect(lost).to_be_visible()
    expect(lost).to_contain_text(re.compile(r"It had made \d+ of \d+ moves; look at the work first"))
    expect(page.locator(".stations")).to_contain_text("connection lost")
    # Plugged in again, it can be used again.
    connect(page)


def test_a_machine_that_is_off_says_so_when_connecting(page: Page, stack: Stack) -> None:
    open_copy(page, "Torch tokens", "run")
    stack.kill("--profile bench-laser")
    page.get_by_role("button", name="Connect").click()
    expect(page.get_by_role("alert")).to_contain_text("check that it is switched on")
    expect(page.locator(".steps").get_by_role("button", name="Start", exact=True).first).to_be_disabled()


def test_a_killed_worker(page: Page, stack: Stack) -> None:
    started(page)
    stack.kill("--queue-name machine-bench-laser")
    expect(page.get_by_text("The helper that feeds the machine stopped")).to_be_visible()
    # The machine stopped by itself when its connection broke; a new worker goes on from there.
    connect(page)
    page.get_by_role("button", name="Go on from where it was").click()
    expect(page.locator(".lamp.waiting")).to_be_visible()
    page.locator(".front").get_by_role("button", name="Stop").click()
    expect(page.locator(".rehearsal")).to_contain_text("Stopped before the end.")


def test_a_helper_that_is_heard_again_says_itself_what_became_of_its_run(page: Page, stack: Stack) -> None:
    open_copy(page, "Torch tokens", "run")
    connect(page)
    page.locator(".steps").get_by_role("button", name="Start", exact=True).first.click()
    expect(page.locator(".lamp.waiting")).to_be_visible()
    with stack.held_up("--queue-name machine-bench-laser"):
        expect(page.get_by_text("The helper that feeds the machine stopped")).to_be_visible()
    # What was told lost may have been gone on with, so it is never taken up again by itself.
    expect(page.get_by_text("It had made 0 of")).to_be_visible()
    expect(page.get_by_text("The helper that feeds the machine stopped")).to_have_count(0)
    connect(page)


def test_the_inside_of_an_o_is_found_shown_and_mended(page: Page) -> None:
    open_copy(page, "Torch tokens")
    page.locator(".part", has_text="RED 7").click()
    page.get_by_role("button", name="The font").click()
    page.get_by_role("option", name="Sniglet").click()
    expect(page.locator(".over-facts")).to_contain_text("3 bodies")
    page.locator(".stations").get_by_role("link", name=re.compile("^Check")).click()
    finding = page.get_by_role("button", name=re.compile("Torch token is not one piece"))
    finding.click()
    expect(page.locator("path.spot")).to_be_attached()
    page.locator(".stations").get_by_role("link", name=re.compile("^Run")).click()
    connect(page)
    expect(page.locator(".steps").get_by_role("button", name="Start", exact=True).first).to_be_disabled()
    expect(page.locator(".steps")).to_contain_text("The check found what would spoil the job")
    page.keyboard.press("Control+z")
    expect(page.locator(".steps").get_by_role("button", name="Start", exact=True).first).to_be_enabled()
