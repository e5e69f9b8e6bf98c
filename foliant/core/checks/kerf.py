"""Whether the width of the cut is made up for where it matters, and what it takes away."""

from collections.abc import Iterator

from foliant.core.checks.finding import Finding, Fix, say
from foliant.core.design.benches import cut_here
from foliant.core.design.edits.change import Change
from foliant.core.design.shapes.fits import ALLOWANCES, Fitted
from foliant.core.ticket import Job, cut_width
from foliant.core.units import format_length

_MATTERS = 0.02


def fits_are_true(job: Job) -> Iterator[Finding]:
    """A slot that is cut along the drawn line is wider than it was drawn by the width of the cut."""
    width = cut_width(job.design, job.shop)
    if job.design.ticket.kerf == "on" or width < _MATTERS:
        return
    for piece in cut_here(job.design):
        slot = next((part.shape for part in piece.made if isinstance(part.shape, Fitted)), None)
        if slot is None:
            continue
        unit = job.design.unit
        wide, fit = format_length(width, unit), format_length(ALLOWANCES[slot.fit], unit)
        yield Finding(
            "fits_are_true",
            "look",
            f"The slots of {piece.name} come out wider than they are drawn",
            f"The cut is {wide} wide and runs along the drawn line, so a slot of {piece.name} that is drawn {fit} "
            f"wider than the material comes out {format_length(ALLOWANCES[slot.fit] + width, unit)} wider: cut "
            "beside the line, or leave it if that was tested so.",
            "ticket",
            piece.id,
            fixes=(Fix("Cut beside the line", Change(do="change", of="ticket", values={"kerf": "on"})),),
        )
        return


def cuts_leave_room(job: Job) -> Iterator[Finding]:
    """Pieces that lie nearer than the cut is wide take from each other."""
    width, gap = cut_width(job.design, job.shop), job.design.sheet.gap
    if job.design.ticket.kerf == "off" or gap >= width or len(job.layout.instances) < 2 or job.design.sheet.jig:
        return
    unit = job.design.unit
    values = {"gap": round(2 * width, 2)}
    yield Finding(
        "cuts_leave_room",
        "look",
        "The gap is narrower than the cut",
        f"Pieces may lie {format_length(gap, unit)} apart and the cut is {format_length(width, unit)} wide, so what is "
        "cut beside one could take from the next: leave more between them.",
        "sheet",
        fixes=(Fix(f"Leave {say(2 * width, unit)}", Change(do="change", of="sheet", values=values)),),
    )
