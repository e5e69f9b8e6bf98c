"""The real thing for every journey: Foliant running, and a maker's browser."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.stack import Stack, chromium, enter, running_stack

expect.set_options(timeout=120_000)  # a busy machine is slow, and how fast a page is belongs in `make bench`


@pytest.fixture(name="running", scope="session")
def _running() -> Iterator[Stack]:
    with running_stack() as stack:
        yield stack


@pytest.fixture(name="stack", scope="module")
def _stack(running: Stack) -> Stack:
    """Foliant as it is for somebody who comes to it: one that runs on, with a demo world of its own for each file."""
    running.renew()
    return running


@pytest.fixture(name="browser", scope="module")
def _browser() -> Iterator[Browser]:
    with chromium() as browser:
        yield browser


@pytest.fixture(name="entered", scope="module")
def _entered(browser: Browser, stack: Stack) -> BrowserContext:
    """A browser in which the demo maker has entered: what it was sent once it need not be sent for each test."""
    return enter(browser, stack).context


@pytest.fixture(name="page")
def _page(entered: BrowserContext, stack: Stack) -> Iterator[Page]:
    """A signed-in page that remembers nothing; any error in its scripts fails the test."""
    page = entered.new_page()
    page.set_default_timeout(120_000)
    page.goto(stack.address)
    page.evaluate("localStorage.clear()")
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.on("console", lambda message: errors.append(message.text) if "Alpine" in message.text else None)
    yield page
    page.close()
    assert not errors
