"""What a sheet costs: material by the area that becomes pieces, machine by the ticket's time, and the maker's own time.

All in the shop's currency, from the price of the sheet and the shop's rates.
"""

from dataclasses import dataclass

from foliant.core.ticket import Job


@dataclass(frozen=True)
class Price:
    """What one sheet costs, by what it is paid for, and how many pieces come off it."""

    material: float
    machine: float
    maker: float
    pieces: int

    @property
    def total(self) -> float:
        """All of it."""
        return self.material + self.machine + self.maker

    @property
    def each(self) -> float:
        """What a piece costs, all pieces alike; 0 where there is none."""
        return self.total / self.pieces if self.pieces else 0.0


def price(job: Job) -> Price:
    """The price of a job's sheet; nothing where nothing lies on it."""
    pieces = len(job.layout.instances)
    if not pieces:
        return Price(0.0, 0.0, 0.0, 0)
    rates = job.shop.rates
    material = job.design.stock.price * job.layout.used
    machine = rates.machine_hour * job.program.seconds / 3600
    return Price(material, machine, rates.maker_hour * rates.setup / 60, pieces)
