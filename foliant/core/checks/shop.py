"""Whether what the design names is in the workshop, and still is what it was."""

from collections.abc import Iterator

import shapely

from foliant.core.checks.finding import Finding, Fix
from foliant.core.design import Stock
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.sheet import TakeStock
from foliant.core.equipment import gone
from foliant.core.packing.task import filled_in
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
    if _more_is_gone(job, newer.stock):
        yield Finding(
            "stock_is_as_on_the_shelf",
            "stop",
            "More of this sheet is gone",
            "Since this begun sheet was taken from the shelf, more was cut out of it: take it as it is now, and see "
            "that nothing lies where it is gone.",
            "sheet",
            fixes=(Fix("Take it as it is now", newer),),
        )
        return
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


def _more_is_gone(job: Job, newer: Stock) -> bool:
    """Whether something else than what lies here, as after this sheet's own run, is gone of a begun sheet by now."""
    new = set(newer.used) - set(job.design.stock.used)
    if not new or not job.design.stock.used:
        return False
    own = shapely.union_all([filled_in(laid.shape_on_sheet()) for laid in job.layout.instances])
    return any(_gone_beyond(outline, own) for outline in gone(tuple(new)))


def _gone_beyond(outline: shapely.Polygon, own: shapely.Geometry) -> bool:
    return bool(shapely.difference(outline, shapely.buffer(own, 0.5)).area > 1.0)
