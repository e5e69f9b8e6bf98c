"""Going over once more what goes through the material, where it did not come all through."""

from foliant.core.design import Design, apply
from foliant.core.design.edits.change import Change
from foliant.core.equipment import Shop
from foliant.core.ticket.job import Job, plan
from foliant.core.ticket.only import CUTS, only


def once_more(design: Design, shop: Shop, sheet: int) -> Job:
    """The job of one of a design's sheets with nothing but what goes through the material, in a single pass."""
    job = plan(design, shop, sheet)
    for index in job.ready:
        line = job.lines[index]
        if line.work.through and line.settings and line.settings.passes > 1:
            bench = job.design.bench
            design = apply(design, Change(do="change", of=f"operation {line.id}", values={"passes": 1}, bench=bench))
    return only(plan(design, shop, sheet), CUTS)
