"""What all tests share."""

import os
from collections.abc import Callable, Iterator
from importlib import import_module
from typing import Any

import pytest
from hypothesis import settings
from xdist.scheduler import LoadScopeScheduling

import tests.examples  # noqa: F401  whose profiles are chosen from
from foliant.core.drawings import intake as drawings
from foliant.core.errors import Refused
from foliant.core.lettering import intake as fonts
from foliant.core.remembering import forget
from foliant.core.seeing import intake as pictures
from tests import touching
from tests.ports import RESERVED
from tests.stack import Stack

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"  # Playwright keeps an event loop in the test's thread

settings.load_profile("test")

RATE = 30
"""How fast the simulated machines live that journeys share: a job of some minutes can be interrupted, or waited for."""

_SHARED = pytest.StashKey[Stack]()


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--touching", default="", help="only the tests that have to do with this, see tests/touching.py")


def pytest_configure(config: pytest.Config) -> None:
    """Find a place for the Foliant that all workers share."""
    if not hasattr(config, "workerinput"):
        config.stash[_SHARED] = Stack(RATE, among=RESERVED, look_every=1)


@pytest.hookimpl(optionalhook=True)
def pytest_configure_node(node: Any) -> None:
    """Tell a worker where it is."""
    node.workerinput["stack"] = node.config.stash[_SHARED].place


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_node_collection_finished(node: Any, ids: list[str]) -> None:
    """Start it once it is known that there are journeys, so that it is there when their turn comes."""
    shared = node.config.stash[_SHARED]
    if shared.process is None and any("/journeys/" in one for one in ids):
        shared.start()


class Together(LoadScopeScheduling):  # type: ignore[misc]
    """Which tests stay together on one worker: those of a file, and the journeys that use the machines, of which there
    is one each. Any other journey goes wherever there is time.
    """

    def _split_scope(self, nodeid: str) -> str:
        file, _, _ = nodeid.partition("::")
        if "/machines/" in file:
            return "machines"
        return nodeid if "/journeys/" in file else file


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> Together:
    config.option.loadscopereorder = False
    return Together(config, log)


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Choose the tests. What takes longest is begun first, and journeys come last, each of which takes little: so no
    worker ends long before the others.
    """
    touching.select(config, items)
    items.sort(key=lambda item: ("/machines/" not in item.nodeid, bool(item.get_closest_marker("journey"))))


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter, exitstatus: int, config: pytest.Config) -> None:
    word = config.getoption("touching")
    if word and exitstatus == pytest.ExitCode.NO_TESTS_COLLECTED:
        terminalreporter.write_line(f"No test has to do with “{word}”. Journeys go by their file: `make test T=board`.")


def pytest_unconfigure(config: pytest.Config) -> None:
    if shared := config.stash.get(_SHARED, None):
        shared.stop()


@pytest.fixture(name="read_here")
def _read_here(monkeypatch: pytest.MonkeyPatch, request: pytest.FixtureRequest) -> None:
    """Files that somebody brings are read in this process: one for each takes a second to begin. Not where a test is
    marked as being about that process, with its bounds.
    """
    if request.node.get_closest_marker("apart"):
        return

    def here(make: Callable[[bytes], Any]) -> Callable[..., Any]:
        def read(module: str, data: bytes, damaged: str, *watch: Any) -> Any:
            try:
                return make(data)
            except Refused:
                raise
            except Exception:
                raise Refused(damaged) from None

        return read

    monkeypatch.setattr(drawings, "taken_apart", here(drawings._apart))
    monkeypatch.setattr(fonts, "taken_apart", here(fonts._plain_and_name))
    monkeypatch.setattr(pictures, "taken_apart", here(pictures._plain_and_size))


@pytest.fixture(name="broken")
def _broken(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Overlays that fail on what holds a star, as another version of a library might."""
    resolving = import_module("foliant.core.design.resolve")
    true = resolving.combine

    def failing(adds: Any, cuts: Any = (), keeps: Any = ()) -> Any:
        if any(len(path) == 10 for path in adds):
            raise RuntimeError("the library gave up")
        return true(adds, cuts, keeps)

    forget()
    monkeypatch.setattr(resolving, "combine", failing)
    yield
    forget()
