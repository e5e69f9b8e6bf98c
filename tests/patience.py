"""How long tests wait: for ever, which here is some minutes. How fast something is belongs in `make bench`."""

import time
from collections.abc import Callable

FOREVER = 300.0
"""Seconds after which what a test waits for is told never to come: the only limit of time there is in the tests."""


def wait_until(there: Callable[[], object], says: str = "it never comes", every: float = 0.02) -> None:
    """Until something is so, looked at every so many seconds."""
    until = time.monotonic() + FOREVER
    while not there():
        assert time.monotonic() < until, says
        time.sleep(every)
