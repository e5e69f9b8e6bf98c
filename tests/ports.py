"""Free ports on the loopback for the servers that tests start."""

import socket
from contextlib import ExitStack


def free_ports(count: int) -> list[int]:
    """Ports that nothing listens on just now, all different."""
    with ExitStack() as open_sockets:
        sockets = [open_sockets.enter_context(socket.socket()) for _ in range(count)]
        for found in sockets:
            found.bind(("127.0.0.1", 0))
        return [int(found.getsockname()[1]) for found in sockets]


def free_run_of_ports(count: int) -> int:
    """The first of `count` ports in a row that nothing listens on."""
    for _ in range(100):
        (first,) = free_ports(1)
        if first + count > 65000:
            continue
        try:
            with ExitStack() as open_sockets:
                for port in range(first, first + count):
                    open_sockets.enter_context(socket.socket()).bind(("127.0.0.1", port))
        except OSError:
            continue
        return first
    raise RuntimeError("no free ports in a row")
