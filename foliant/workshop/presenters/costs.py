"""What a project costs, as the Sheet station shows it."""

from typing import Any

from foliant.core.design import Design
from foliant.core.design.benches import every_bench
from foliant.core.design.binding import tied_pieces
from foliant.core.equipment import Shop
from foliant.core.layout import lay_sheets, room_left
from foliant.core.pricing import QUANTITIES, price_of_many, price_of_more, sum_of
from foliant.core.ticket import plan
from foliant.core.units import format_duration, format_length
from foliant.workshop.presenters.sheet import counted
from foliant.workshop.presenters.spec import text, value

MOST_PLANNED = 12
"""So many sheets of a bench are planned to say what all of them cost."""


def costs(design: Design, shop: Shop, sheet: int = 1) -> dict[str, Any] | None:
    """What all sheets of a project cost, by what it is paid for, each and all; nothing where nothing lies on them. Of
    very many sheets of a bench only the first are planned, and the others reckoned from those. The room that is left is
    that of the last sheet of the bench that is shown.
    """
    benches = every_bench(design)
    sheets = [lay_sheets(there) for there in benches]
    jobs = [
        [plan(there, shop, layout.number) for layout in layouts[:MOST_PLANNED]]
        for there, layouts in zip(benches, sheets, strict=True)
    ]
    job, some = plan(design, shop, sheet), sum(map(len, jobs)) < sum(map(len, sheets))
    found = sum_of(price_of_more(*each) for each in zip(jobs, sheets, strict=True))
    planned = [one for each in jobs for one in each]
    money, unit = job.shop.rates.currency, job.design.unit
    if not found.pieces:
        return None
    rows = [
        ("material by area", found.material),
        (f"{'about ' if some else ''}{format_duration(found.seconds)} of machine", found.machine),
        ("work and setup", found.maker),
    ]
    columns, tied = job.design.roster.columns, tied_pieces(job.design)
    many = next((count for count in QUANTITIES if count > found.pieces), 10 * found.pieces)
    last = next(each[-1] for one, each in zip(jobs, sheets, strict=True) if one[0].design.bench == job.design.bench)
    width, height = room_left(last)
    left = f"{format_length(int(width), unit, with_unit=False)} × {format_length(int(height), unit)}"
    after = f"; after this run {left} are left in one piece" if width and height else ""
    return {
        "currency": money,
        "rows": [[name, f"{amount / found.pieces:.2f}", f"{amount:.2f}"] for name, amount in rows],
        "total": [counted(found.pieces, "piece"), f"{found.each:.2f}", f"{found.total:.2f}"],
        "steps": [
            [f"{count:,}", f"{one.each:.2f}", f"{one.total:.2f}"]
            for count in QUANTITIES
            for one in [price_of_many(planned, count)]
        ],
        "orders": [["row", "for every row"], *([one.id, f"by {one.name}"] for one in columns)] if tied else [],
        "says": [
            text(f"{many:,} would cost "),
            text(f"{price_of_many(planned, many).each:.2f} {money}", "name"),
            text(" each. A sheet costs "),
            value("stock", job.design.stock, "price", unit),
            text(f" {money}{after}."),
        ],
    }
