"""Every driver, and every simulated machine, by the language that it takes."""

from foliant.core.equipment import MachineProfile
from foliant.core.machine.driver import Driver, Endpoint, LineDriver, NetDriver
from foliant.core.machine.plotter import Plotter
from foliant.core.machine.plotting import HpglDriver
from foliant.core.machine.simulator import Simulator

DRIVERS: dict[str, type[NetDriver]] = {"lines": LineDriver, "hpgl": HpglDriver}
SIMULATORS: dict[str, type[Simulator]] = {"lines": Simulator, "hpgl": Plotter}


def driver_at(address: Endpoint, language: str = "lines") -> Driver:
    """The driver for the machine at an address."""
    return DRIVERS[language](address)


def simulator_of(machine: MachineProfile, rate: float) -> Simulator:
    """A simulated machine; `rate` is how many of its seconds pass in a real one."""
    return SIMULATORS[machine.language](machine, rate)
