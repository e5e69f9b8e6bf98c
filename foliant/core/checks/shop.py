"""Whether what the design names is in the workshop, and still is what it was."""

from collections.abc import Iterator

from foliant.core.checks.finding import Finding, Fix
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.sheet import TakeStock
from foliant.core.ticket import Job
from foliant.core.units import format_length


def materials_are_here(job: Job) -> Iterator[Finding]:
    """A material that the workshop does not know has neither recipes nor a look."""
    key, shop, stock = job.design.stock.material, job.shop, job.design.stock
    if shop.has_material(key):
        return
    known = shop.material(key)
    values = {"material": known.key, "thickness": known.sold_like(stock.thickness)}
    yield Finding(
        "materials_are_here",
        "stop",
        f"No material “{key}” here",
        f"The design is to be cut from “{key}”, which is not in your workshop, so nothing is known of it; it is drawn "
        f"as {known.name}, the nearest. Take that, choose another at the Sheet station, or add it to the workshop.",
        "sheet",
        fixes=(Fix(f"Take {known.name}", Change(do="change", of="stock", values=values)),),
    )


def machines_are_here(job: Job) -> Iterator[Finding]:
    """A machine that the workshop does not have cannot run."""
    key = job.design.ticket.machine
    if job.shop.has_machine(key):
        return
    yield Finding(
        "machines_are_here",
        "stop",
        f"No machine “{key}” here",
        f"The ticket is for “{key}”, which is not in your workshop; times are those of {job.machine.name}, the "
        "nearest. Take that, choose another on the ticket, or add it to the workshop.",
        "ticket",
        fixes=(Fix(f"Take {job.machine.name}", Change(do="change", of="ticket", values={"machine": job.machine.key})),),
    )


def stock_is_as_on_the_shelf(job: Job) -> Iterator[Finding]:
    """What was taken from the shelf keeps the values of that day; newer ones are offered."""
    stock = job.design.stock
    sheet = next((sheet for sheet in job.shop.shelf if stock.source and sheet.key == stock.source), None)
    if sheet is None:
        return
    newer = TakeStock.of(sheet)
    names = ("material", "thickness", "width", "height", "measured", "price")
    other = [name for name in names if getattr(newer.stock, name) != getattr(stock, name)]
    if not other:
        return
    unit = job.design.unit
    thick = format_length(newer.stock.actual, unit)
    size = f"{format_length(sheet.width, unit, with_unit=False)} × {format_length(sheet.height, unit)}"
    yield Finding(
        "stock_is_as_on_the_shelf",
        "look",
        "The sheet on the shelf has changed",
        f"Since this sheet was taken from the shelf, its {' and '.join(other)} changed there: it is {thick} of "
        f"{job.shop.material(sheet.material).name}, {size}, now. Take it as it is now, or leave the design as it was.",
        "sheet",
        fixes=(Fix("Take it as it is now", newer),),
    )
