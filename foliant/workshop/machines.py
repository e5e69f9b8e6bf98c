"""Where machines are: from what a maker's shop says of one to the address that Foliant connects to.

An address belongs to whoever stands there, not to a maker: all who name it wait in one line.
"""

import hashlib
import ipaddress
import socket
from typing import Any

from django.conf import settings

from foliant.core.design import Design
from foliant.core.equipment import SHIPPED, SIMULATED, MachineProfile, Shop
from foliant.core.errors import Refused
from foliant.core.machine import Driver, Endpoint, LinkLost, driver_at
from foliant.core.machine.camera import Camera

_SIMULATED = f"{SIMULATED}:"


def machine_of(design: Design, shop: Shop) -> MachineProfile:
    """The machine of a design's ticket; raises `Refused` where the shop has none of that key, however near another."""
    key = design.ticket.machine
    if not shop.has_machine(key):
        raise Refused(f"There is no machine “{key}” in your workshop; choose another on the ticket.")
    return shop.machine(key)


def address_text(machine: MachineProfile) -> str:
    """Where a machine is, as runs keep it: host:port, or the name of a simulated one; raises `LinkLost`."""
    if machine.link == SIMULATED:
        if not SHIPPED.has_machine(machine.key):
            raise LinkLost(f"No simulated machine stands in for {machine.name} here; type the address of a real one.")
        return _SIMULATED + machine.key
    if not machine.link:
        raise LinkLost(f"{machine.name} has no address yet; type it in the Workshop, such as 192.168.1.40:7801.")
    return machine.link


def driver_for(address: str, language: str) -> Driver:
    """The driver for an address as `address_text` gives it, and the language that is taken there: a simulated machine
    has its own. Raises `LinkLost` where Foliant may not connect to it.
    """
    if address.startswith(_SIMULATED):
        key = address.removeprefix(_SIMULATED)
        return driver_at(_simulated(key), SHIPPED.machine(key).language)
    return driver_at(_real(address), language)


def driver_of(machine: MachineProfile) -> Driver:
    """The driver of a machine; raises `LinkLost` likewise."""
    return driver_for(address_text(machine), machine.language)


def is_simulated(address: str) -> bool:
    """Whether a machine or camera of that address is one that stands in for it here."""
    return address == SIMULATED


def camera_over(machine: MachineProfile) -> Camera:
    """The camera over a machine; raises `LinkLost` where there is none, or Foliant may not connect to it."""
    if machine.camera == SIMULATED:
        if not SHIPPED.has_machine(machine.key):
            raise LinkLost(f"No simulated camera stands over {machine.name}; type the address of a real one.")
        return Camera(settings.SIMULATED_HOST, cameras_port(), f"/{machine.key}")
    if not machine.camera:
        raise LinkLost(f"There is no camera over {machine.name} yet; type its address in the Workshop.")
    address, slash, path = machine.camera.partition("/")
    found = _real(address)
    return Camera(found.host, found.port, slash + path or "/")


def cameras_port() -> int:
    """Where the cameras of the simulated machines answer."""
    return int(settings.SIMULATED_PORT) + 2 * len(SHIPPED.machines)


def queue_of(text: str) -> str:
    """The queue of whoever stands at an address: each has a feeder of its own."""
    if text.startswith(_SIMULATED):
        return f"machine-{text.removeprefix(_SIMULATED)}"[:32]
    return f"machine-{hashlib.sha256(text.encode()).hexdigest()[:16]}"


def simulated_machines() -> dict[str, Endpoint]:
    """The simulated machines of this installation, by key."""
    return {machine.key: _simulated(machine.key) for machine in SHIPPED.machines}


def _simulated(key: str) -> Endpoint:
    keys = [machine.key for machine in SHIPPED.machines]
    port = settings.SIMULATED_PORT + 2 * keys.index(key)
    return Endpoint(settings.SIMULATED_HOST, port, port + 1)


def _real(text: str) -> Endpoint:
    host, _, port = text.rpartition(":")
    if not host:
        raise LinkLost("It is not known where that machine is.")
    try:
        found = socket.getaddrinfo(host.strip("[]"), int(port), type=socket.SOCK_STREAM)[0][4][0]
    except OSError:
        raise LinkLost(f"Nothing is known by the name {host}; check the address in the Workshop.") from None
    # Connecting to what was looked at, and not to the name again, which might lead elsewhere the second time.
    reached: Any = ipaddress.ip_address(found)
    if not any(reached in ipaddress.ip_network(network) for network in settings.MACHINE_NETWORKS if network):
        raise LinkLost(
            f"This Foliant does not connect to {text}: machines may stand in {', '.join(settings.MACHINE_NETWORKS)}. "
            "Whoever runs it can allow other networks with FOLIANT_MACHINE_NETWORKS."
        )
    return Endpoint(str(found), int(port))
