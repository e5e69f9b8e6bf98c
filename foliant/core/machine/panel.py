"""The small panel on the simulated machine: a lamp, a start and a stop button, and what has been burnt.

A real machine has real buttons; the simulated one has a second TCP port for them, so that the page can
show them. Nothing of a job goes this way.
"""

import json
import socket
from typing import Any

from foliant.core.machine.link import LinkLost


class Panel:
    """The buttons of a simulated machine at `host:port`; each call is a connection of its own."""

    def __init__(self, host: str, port: int) -> None:
        self._address = (host, port)

    def press(self, button: str) -> None:
        """Press `start` or `stop`; raises `LinkLost`."""
        self._ask(f"PRESS {button}")

    def lay(self, thickness: float) -> None:
        """Have something so thick lie on its bed, mm; 0 for nothing. Raises `LinkLost`."""
        self._ask(f"LAY {thickness:.3f}")

    def clock(self) -> float:
        """The seconds since its job began, as it lives; raises `LinkLost`."""
        return float(self._ask("CLOCK"))

    def burnt(self) -> list[list[float]]:
        """Every stroke burnt since the job began: [x0, y0, x half-way, y half-way, x1, y1, power %], in mm."""
        strokes: list[list[float]] = self._ask("BURNT")
        return strokes

    def _ask(self, line: str) -> Any:
        try:
            with socket.create_connection(self._address, 2.0) as connection, connection.makefile("rw") as stream:
                stream.write(line + "\n")
                stream.flush()
                answer = json.loads(stream.readline())
        except (OSError, ValueError):
            raise LinkLost("The panel of the simulated machine does not answer; is it switched on?") from None
        return answer
