"""What a sheet costs: material by the area that becomes pieces, machine by the ticket's time, and the maker's own time.

All in the shop's currency, from the price of the sheet and the shop's rates.
"""

import csv
import io
import math
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from foliant.core.errors import Refused
from foliant.core.layout import Layout
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


NOTHING = Price(0.0, 0.0, 0.0, 0)


def price(job: Job) -> Price:
    """The price of a job's sheet; nothing where nothing lies on it."""
    pieces = len(job.layout.instances)
    if not pieces:
        return NOTHING
    seconds = job.program.seconds
    material = _by_area(job, job.layout.taken)
    return Price(material, _hour(job) * seconds / 3600, _setup(job), pieces, seconds)


def price_of_all(jobs: Sequence[Job]) -> Price:
    """The price of all sheets of a project."""
    return sum_of(price(job) for job in jobs)


def price_of_more(jobs: Sequence[Job], sheets: Sequence[Layout]) -> Price:
    """About the price of all sheets of a bench, of which only the first are planned: the machine takes as long for an
    area on the others as on those.
    """
    if len(jobs) == len(sheets):
        return price_of_all(jobs)
    known = price_of_all(jobs)
    area = sum(sheet.taken for sheet in sheets)
    share = area / max(sum(job.layout.taken for job in jobs), 1e-9)
    setup = _setup(jobs[0]) * sum(bool(sheet.instances) for sheet in sheets)
    pieces = sum(len(sheet.instances) for sheet in sheets)
    return Price(_by_area(jobs[0], area), known.machine * share, setup, pieces, known.seconds * share)


def prices_by_instance(jobs: Sequence[Job]) -> dict[tuple[str, str], Price]:
    """The price of what lies on the sheets, by the ids of its piece and row; the maker's time is shared alike."""
    found: dict[tuple[str, str], list[Price]] = {}
    for job in jobs:
        instances = job.layout.instances
        seconds = job.program.seconds_by_instance(len(instances)) + job.program.home_seconds / max(len(instances), 1)
        setup = price(job).maker / max(len(instances), 1)
        for laid, takes in zip(instances, seconds.tolist(), strict=True):
            material = _by_area(job, laid.resolved.outline.path.area)
            one = Price(material, _hour(job) * takes / 3600, setup, 1, takes)
            found.setdefault((laid.piece.id, laid.instance.row), []).append(one)
    return {key: sum_of(prices) for key, prices in found.items()}


def prices_by_piece(jobs: Sequence[Job]) -> list[tuple[str, Price]]:
    """The price of what lies on the sheets of each piece, by its name."""
    names = {piece.id: piece.name for piece in jobs[0].design.pieces}
    return _grouped(jobs, lambda piece, row: names[piece])


def prices_by_order(jobs: Sequence[Job], by: str) -> list[tuple[str, Price]]:
    """The price of each order of the roster: the rows that have the same in a column, named by its id or by what it is
    called; or each row alone, where `by` is "row". What takes nothing from the roster is not among them. Raises
    `Refused` where there is no such column.
    """
    roster = jobs[0].design.roster
    if by == "row":
        called = {row.id: roster.called(row, number) for number, row in enumerate(roster.rows, 1)}
    else:
        column = next((one for one in roster.columns if by in (one.id, one.name)), None)
        if column is None:
            raise Refused(f"The roster has no column “{by[:40]}” that orders could be told by.")
        called = {row.id: dict(row.cells).get(column.id, "") or f"without {column.name}" for row in roster.rows}
    return _grouped(jobs, lambda piece, row: called.get(row, ""))


def _grouped(jobs: Sequence[Job], named: Callable[[str, str], str]) -> list[tuple[str, Price]]:
    groups: dict[str, list[Price]] = {}
    for (piece, row), one in prices_by_instance(jobs).items():
        if name := named(piece, row):
            groups.setdefault(name, []).append(one)
    return [(name, sum_of(prices)) for name, prices in groups.items()]


def price_of_many(jobs: Sequence[Job], count: int) -> Price:
    """What `count` pieces of the mixture on the sheets would cost, on as many sheets of each bench as they take if each
    is filled as its first is.
    """
    whole = price_of_all(jobs)
    if not whole.pieces:
        return whole
    share = count / whole.pieces
    firsts = {job.design.bench: job for job in reversed(jobs)}
    mine = Counter(dict.fromkeys(firsts, 0))
    for job in jobs:
        mine[job.design.bench] += len(job.layout.instances)
    setup = sum(_setup(job) * math.ceil(share * mine[bench] / _on_a_sheet(job)) for bench, job in firsts.items())
    return Price(whole.material * share, whole.machine * share, setup, count, whole.seconds * share)


def price_csv(jobs: Sequence[Job], by: str = "") -> str:
    """The price of every piece and of all, of every order where `by` tells them, and of other quantities, as CSV."""
    text = io.StringIO()
    rows = csv.writer(text)
    currency = jobs[0].shop.rates.currency
    money = ("material", "machine", "work and setup", "all", "each")
    rows.writerow(["what", "count", "machine time", *(f"{name} ({currency})" for name in money)])
    orders = prices_by_order(jobs, by) if by else []
    lines = [*prices_by_piece(jobs), *orders, ("all", price_of_all(jobs))]
    lines += [(f"{count} would cost", price_of_many(jobs, count)) for count in QUANTITIES]
    for name, one in lines:
        amounts = (one.material, one.machine, one.maker, one.total, one.each)
        rows.writerow([name, one.pieces, format_duration(one.seconds), *(f"{amount:.2f}" for amount in amounts)])
    return text.getvalue()


def sum_of(prices: Iterable[Price]) -> Price:
    """All of these together."""
    every = list(prices)
    material, machine, maker = (sum(getattr(one, of) for one in every) for of in ("material", "machine", "maker"))
    return Price(material, machine, maker, sum(one.pieces for one in every), sum(one.seconds for one in every))


def _hour(job: Job) -> float:
    """What an hour of a job's machine costs."""
    return job.shop.rates.machine_hour if job.machine.hour is None else job.machine.hour


def _setup(job: Job) -> float:
    """What the maker's time for a sheet costs."""
    return job.shop.rates.maker_hour * job.shop.rates.setup / 60


def _by_area(job: Job, area: float) -> float:
    stock = job.design.stock
    return stock.price * area / (stock.width * stock.height)


def _on_a_sheet(job: Job) -> int:
    """How many pieces a whole sheet takes, if it is filled as far as this one is to its end."""
    layout = job.layout
    left, _, right, _ = layout.bounds
    length = layout.width - 2 * job.design.sheet.margin
    reach = min(max(right - left, 1e-6), length)
    return max(len(layout.instances), int(len(layout.instances) * length / reach), 1) if length > 0 else 1
