"""Machines that are free at the beginning of each journey, whatever the one before left on them."""

from contextlib import suppress

import pytest

from foliant.core.equipment import SHIPPED
from foliant.core.machine import LinkLost, Panel
from tests.stack import Stack


@pytest.fixture(autouse=True)
def _idle(stack: Stack) -> None:
    for number, _ in enumerate(SHIPPED.machines):
        with suppress(LinkLost):
            Panel("127.0.0.1", stack.machine_port + 2 * number + 1).press("stop")
