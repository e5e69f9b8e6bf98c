"""The three machines of the demo workshop."""

from dataclasses import dataclass
from typing import Literal

from foliant.core.errors import Refused


@dataclass(frozen=True)
class MachineProfile:
    """A machine: bed (mm), speeds (mm/s), acceleration (mm/s²), and the width its spot or blade takes (mm).

    corner_speed is the speed (mm/s) it can take through a right-angled corner without stopping.
    """

    key: str
    name: str
    kind: Literal["laser", "blade"]
    about: str
    bed_width: float
    bed_height: float
    top_speed: float
    travel_speed: float
    acceleration: float
    corner_speed: float
    kerf: float


MACHINES: tuple[MachineProfile, ...] = (
    MachineProfile("bench-laser", "Bench laser", "laser", "10 W diode", 400, 400, 250, 200, 1200, 6, 0.12),
    MachineProfile("cabin-laser", "Cabin laser", "laser", "45 W CO2", 600, 400, 500, 400, 3000, 10, 0.18),
    MachineProfile("desk-cutter", "Desk cutter", "blade", "blade cutter", 300, 600, 300, 300, 2000, 8, 0.05),
)

_BY_KEY = {found.key: found for found in MACHINES}


def machine_profile(key: str) -> MachineProfile:
    """The machine of that key; raises `Refused` where the workshop has none."""
    try:
        return _BY_KEY[key]
    except KeyError:
        raise Refused(f"There is no machine “{key}” here; the machines are {', '.join(_BY_KEY)}.") from None
