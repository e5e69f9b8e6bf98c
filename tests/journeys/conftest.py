"""The real thing for every journey: Foliant running, and a maker's browser."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Error, Page, expect

from tests.conftest import RATE
from tests.patience import FOREVER
from tests.stack import Stack, chromium, enter_as, new_context, running_stack

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


@pytest.fixture(name="tab", scope="session")
def _tab(browser: Browser, stack: Stack) -> Page:
    """One window for all journeys: what it was sent once need not be sent and read for each."""
    return new_context(browser, base_url=stack.address).new_page()


@pytest.fixture(name="_entered", scope="module")
def _entered(tab: Page, stack: Stack) -> None:
    """Each file has a maker of its own."""
    enter_as(tab.context, stack, stack.new_maker())


@pytest.fixture(name="page")
def _page(tab: Page, _entered: None) -> Iterator[Page]:
    """A window that remembers nothing of the journey before; any error in its scripts fails the test."""
    tab.goto("/static/workshop/icon.svg")
    tab.evaluate("localStorage.clear(), sessionStorage.clear()")
    errors: list[str] = []

    def failed(error: Error) -> None:
        errors.append(str(error))

    def said(message: ConsoleMessage) -> None:
        if "Alpine" in message.text:
            errors.append(message.text)

    tab.on("pageerror", failed)
    tab.on("console", said)
    yield tab
    tab.remove_listener("pageerror", failed)
    tab.remove_listener("console", said)
    tab.unroute_all(behavior="ignoreErrors")
    tab.set_viewport_size({"width": 1280, "height": 800})
    assert not errors
