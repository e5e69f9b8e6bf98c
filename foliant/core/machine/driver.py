"""Drivers: how Foliant speaks to a kind of controller. One class each; all that feeds and commands goes through these.

To add a controller: give it a `Driver`, and name that in `drivers.DRIVERS` by the language that it takes.
"""

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import ClassVar

from foliant.core.machine.link import SILENCE, Command, Link, LinkLost, Status
from foliant.core.machine.panel import Panel

OnTick = Callable[[Status, int], Command | None]


@dataclass(frozen=True)
class Endpoint:
    """Where a machine listens; a simulated one has a second port for the buttons on its front, else 0."""

    host: str
    port: int
    panel_port: int = 0


class Driver(ABC):
    """A controller at an address. Every method raises `LinkLost` where the machine does not answer.

    ahead  within how many moves more than it told of it may be where it was stopped; it is told where it stands then
    """

    ahead: ClassVar[int] = 0

    @abstractmethod
    def greet(self) -> Status:
        """Ask whether it is there, and where it is."""

    @abstractmethod
    def send(self, lines: Iterable[str], on_tick: OnTick) -> Status:
        """Send a job, or a trace, and stay until it has ended; see `Link.run`."""

    @abstractmethod
    def lead(self, lines: Iterable[str], on_tick: OnTick) -> Status:
        """Lead the head somewhere, its light on where it has one; as `send`."""

    @abstractmethod
    def tell(self, command: Command, within: float) -> Status:
        """Have it hold, resume or stop, beside whoever sends, within so many seconds."""

    @abstractmethod
    def measure(self) -> float:
        """How thick what lies under the head is, mm, with the focus set on the face of that; raises `Refused` too."""

    @abstractmethod
    def lay(self, thickness: float) -> None:
        """Of a simulated machine: something so thick is laid under its head, mm; 0 for nothing."""

    @abstractmethod
    def press(self, button: str) -> None:
        """Press a button on its front, where that can be done from here."""

    @abstractmethod
    def burnt(self) -> list[list[float]]:
        """What it burnt since the job began, where it can say so (see `Panel.burnt`); else nothing."""


@dataclass(frozen=True)
class NetDriver(Driver):
    """What drivers of controllers on a network share: the link, and the panel of a simulated machine beside it."""

    address: Endpoint

    def lay(self, thickness: float) -> None:
        self._panel().lay(thickness)

    def press(self, button: str) -> None:
        self._panel().press(button)

    def burnt(self) -> list[list[float]]:
        return self._panel().burnt() if self.address.panel_port else []

    def _link(self, timeout: float = SILENCE) -> Link:
        return Link(self.address.host, self.address.port, timeout)

    def _panel(self) -> Panel:
        if not self.address.panel_port:
            raise LinkLost("The buttons of this machine are on its front; press them there.")
        return Panel(self.address.host, self.address.panel_port)


class LineDriver(NetDriver):
    """The controllers that speak the line protocol of `core.machine`."""

    def greet(self) -> Status:
        with self._link() as link:
            return link.status()

    def send(self, lines: Iterable[str], on_tick: OnTick) -> Status:
        with self._link() as link:
            return link.run(lines, on_tick)

    def lead(self, lines: Iterable[str], on_tick: OnTick) -> Status:
        with self._link() as link:
            link.command("LIGHT")
            return link.run(lines, on_tick)

    def tell(self, command: Command, within: float) -> Status:
        with self._link(within) as link:
            return link.command(command, within)

    def measure(self) -> float:
        with self._link() as link:
            return link.measure()
