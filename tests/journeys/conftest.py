"""The real thing for every journey: Foliant running, and a maker's browser."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.conftest import RATE
from tests.patience import FOREVER
from tests.stack import Stack, chromium, entered_as, running_stack

expect.set_options(timeout=1000 * FOREVER)


@pytest.fixture(name="stack", scope="session")
def _stack(request: pytest.FixtureRequest) -> Iterator[Stack]:
    """One Foliant for all journeys: the one that all workers share, or, where there are none, one of its own."""
    worker = getattr(request.config, "workerinput", None)
    with running_stack(RATE, place=worker and worker["stack"]) as stack:
        yield stack


@pytest.fixture(name="browser", scope="session")
def _browser() -> Iterator[Browser]:
    with chromium() as browser:
        yield browser


@pytest.fixture(name="entered", scope="module")
def _entered(browser: Browser, stack: Stack) -> Iterator[BrowserContext]:
    """The browser of a maker of the file's own: what it was sent once need not be sent for each test."""
    with entered_as(browser, stack, stack.new_maker()) as context:
        yield context


@pytest.fixture(name="page")
def _page(entered: BrowserContext, stack: Stack) -> Iterator[Page]:
    """A signed-in page that remembers nothing; any error in its scripts fails the test."""
    page = entered.new_page()
    page.goto(stack.address)
    page.evaluate("localStorage.clear()")
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.on("console", lambda message: errors.append(message.text) if "Alpine" in message.text else None)
    yield page
    page.close()
    assert not errors
