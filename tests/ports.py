"""Free ports on the loopback for the servers that tests start."""

import random
import socket
from contextlib import ExitStack

BELOW = range(20_000, 32_000)
"""Ports that no outgoing connection is given, so that a free one is still free when its server has begun."""

RESERVED = range(32_000, 32_700)
"""Such ports too, for what is started long after they were found: no test takes one meanwhile."""


def free_run_of_ports(count: int, among: range = BELOW) -> int:
    """The first of `count` ports in a row that nothing listens on."""
    chance = random.SystemRandom()  # two workers with one seed would take the same
    for _ in range(100):
        first = chance.choice(among)
        try:
            with ExitStack() as open_sockets:
                for port in range(first, first + count):
                    open_sockets.enter_context(socket.socket()).bind(("127.0.0.1", port))
        except OSError:
            continue
        return first
    raise RuntimeError("no free ports in a row")


def free_ports(count: int) -> list[int]:
    """Ports that nothing listens on just now, all different."""
    first = free_run_of_ports(count)
    return list(range(first, first + count))
