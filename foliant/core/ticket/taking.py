"""Taking: what of its sheet a job cuts out."""

from foliant.core.equipment import ShelfSheet, Used
from foliant.core.equipment.begun import TakeFromSheet, outlines_of
from foliant.core.ticket.job import Job
from foliant.core.ticket.sorting import sort_marks


def takes(job: Job) -> Used:
    """The outlines of what a job cuts out of its sheet; none where nothing on the ticket goes through an outer edge."""
    through = {line.id for line in job.lines if line.runs and line.work.through}
    worked_on = set(job.program.instance.tolist())
    cut_out = []
    for number, laid in enumerate(job.layout.instances):
        if number not in worked_on:
            continue
        sort = sort_marks(laid.piece, laid.resolved, job.design.ticket.drilled)
        outer = {taker for taker, depth in zip(sort.edges, sort.depth.tolist(), strict=True) if depth == 0}
        if outer & through:
            cut_out.append(laid.shape_on_sheet())
    return outlines_of(cut_out)


def taking(job: Job, note: str) -> TakeFromSheet | None:
    """The edit of the shop that marks what a job cuts out as gone; None where it cuts nothing out."""
    taken = takes(job)
    if not taken:
        return None
    stock = job.design.stock
    if job.layout.number > 1 and stock.used:  # those after a begun one are whole, and of no sheets in particular
        stock = stock.model_copy(update={"used": (), "source": ""})
    names = ("material", "width", "height", "thickness", "measured", "price", "used")
    values = {name: getattr(stock, name) for name in names}
    sheet = ShelfSheet(key=stock.source or "sheet", **values)
    return TakeFromSheet(do="take-from-sheet", sheet=sheet, taken=taken, note=note)
