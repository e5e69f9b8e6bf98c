"""What a sheet costs: material by the area that becomes pieces, machine by the ticket's time, and the maker's own time.

All in the shop's currency, from the price of the sheet and the shop's rates.
"""

import csv
import io
import math
from dataclasses import dataclass

from foliant.core.ticket import Job
from foliant.core.units import format_duration

QUANTITIES = (1, 10, 25, 50, 100)


@dataclass(frozen=True)
class Price:
    """What some pieces cost, by what it is paid for.

    material  the share of the sheet that becomes pieces
    machine   the time on the machine
    maker     the maker's time to lay sheets in and take them out
    seconds   how long the machine takes
    """

    material: float
    machine: float
    maker: float
    pieces: int
    seconds: float = 0.0

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
    rates, seconds = job.shop.rates, job.program.seconds
    material = _by_area(job, job.layout.taken)
    return Price(material, rates.machine_hour * seconds / 3600, rates.maker_hour * rates.setup / 60, pieces, seconds)


def prices_by_piece(job: Job) -> list[tuple[str, Price]]:
    """The price of what lies on a job's sheet of each piece, by its name; the maker's time is shared alike."""
    whole = price(job)
    instances = job.layout.instances
    seconds = job.program.seconds_by_instance(len(instances))
    found: dict[str, Price] = {}
    names = {piece.id: piece.name for piece in job.design.pieces}
    for laid, takes in zip(instances, seconds.tolist(), strict=True):
        before = found.get(laid.piece.id, Price(0.0, 0.0, 0.0, 0))
        takes += job.program.home_seconds / len(instances)
        found[laid.piece.id] = Price(
            before.material + _by_area(job, laid.resolved.outline.path.area),
            before.machine + job.shop.rates.machine_hour * takes / 3600,
            before.maker + whole.maker / whole.pieces,
            before.pieces + 1,
            before.seconds + takes,
        )
    return [(names.get(key, key), one) for key, one in found.items()]


def price_of_many(job: Job, count: int) -> Price:
    """What `count` pieces of the mixture on a job's sheet would cost, on as many sheets as they take if each is filled
    as this one is.
    """
    whole = price(job)
    if not whole.pieces:
        return whole
    share = count / whole.pieces
    sheets = math.ceil(count / _on_a_sheet(job))
    setup = job.shop.rates.maker_hour * job.shop.rates.setup / 60
    return Price(whole.material * share, whole.machine * share, setup * sheets, count, whole.seconds * share)


def price_csv(job: Job) -> str:
    """The price of every piece and of all, and of other quantities, as CSV."""
    text = io.StringIO()
    rows = csv.writer(text)
    currency = job.shop.rates.currency
    money = ("material", "machine", "work and setup", "all", "each")
    rows.writerow(["piece", "count", "machine time", *(f"{name} ({currency})" for name in money)])
    lines = [*prices_by_piece(job), ("all", price(job))]
    lines += [(f"{count} would cost", price_of_many(job, count)) for count in QUANTITIES]
    for name, one in lines:
        amounts = (one.material, one.machine, one.maker, one.total, one.each)
        rows.writerow([name, one.pieces, format_duration(one.seconds), *(f"{amount:.2f}" for amount in amounts)])
    return text.getvalue()


def _by_area(job: Job, area: float) -> float:
    stock = job.design.stock
    return stock.price * area / (stock.width * stock.height)


def _on_a_sheet(job: Job) -> int:
    """How many pieces a whole sheet takes, if it is filled as far as this one is to its end."""
    layout = job.layout
    left, _, right, _ = layout.bounds
    length = layout.width - 2 * job.design.sheet.margin
    reach = min(max(right - left, 1e-6), length)
    return max(len(layout.instances), int(len(layout.instances) * length / reach)) if length > 0 else 1
