"""What all tests share."""

import os
from collections.abc import Iterator
from importlib import import_module
from typing import Any

import pytest
from hypothesis import HealthCheck, settings

from foliant.core.remembering import forget

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"  # Playwright keeps an event loop in the test's thread

settings.register_profile("calm", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("calm")


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
