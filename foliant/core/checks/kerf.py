"""Whether the width of the cut is made up for where it matters, and what it takes away."""

from collections.abc import Iterator

import shapely

from foliant.core.checks.finding import Finding, Fix, outlines, say
from foliant.core.design.benches import cut_here
from foliant.core.design.edits.change import Change
from foliant.core.design.shapes.fits import ALLOWANCES, Fitted
from foliant.core.layout import Laid
from foliant.core.paths import Region
from foliant.core.ticket import Job, Line, cut_width
from foliant.core.ticket.doing import kerf_of
from foliant.core.units import format_length
from foliant.core.works.cut import CutSettings

_MATTERS = 0.02
_SEEN = 0.2
"""A cut of half as wide, mm, leaves corners that are seen."""

_HAIR = 0.01
_LEAST = 0.01
_QUARTER = 24


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


def cutters_reach(job: Job) -> Iterator[Finding]:
    """A round cutter leaves material in every corner that is tighter than it is."""
    widest = max((_beside(job, line) for line in job.lines if line.runs), default=0.0)
    told = set()
    for laid in job.layout.instances if widest >= 2 * _SEEN else ():
        if laid.piece.id in told or (left := _left(laid.resolved.outline, widest / 2)).is_empty:
            continue
        told.add(laid.piece.id)
        yield _tight(job, laid, widest, left)


def _beside(job: Job, line: Line) -> float:
    """How wide the cut of an operation is that runs beside its lines, mm; 0 of one on them."""
    settings = line.settings
    if not isinstance(settings, CutSettings):
        return 0.0
    return 2 * abs(settings.beside(kerf_of(settings, job.machine) / 2, job.design.ticket.kerf == "on")[0])


def _left(outline: Region, half: float) -> shapely.Geometry:
    """What a cutter so wide that runs beside an outline does not reach of the waste."""
    inside = outline.shape
    reached = shapely.buffer(shapely.buffer(inside, half, quad_segs=_QUARTER), -half, quad_segs=_QUARTER)
    missed = shapely.buffer(shapely.difference(reached, shapely.buffer(inside, _HAIR)), 0)
    return shapely.multipolygons([part for part in shapely.get_parts(missed) if part.area > _LEAST])


def _tight(job: Job, laid: Laid, cutter: float, left: shapely.Geometry) -> Finding:
    count, wide = len(shapely.get_parts(left)), format_length(cutter, job.design.unit)
    place = shapely.transform(left, lambda points: points + laid.shift)
    return Finding(
        "cutters_reach",
        "look",
        f"{laid.piece.name}: {count} corner{'' if count == 1 else 's'} that the cutter does not reach",
        f"The cutter is {wide} wide and round, so that in {'one place' if count == 1 else f'{count} places'} of "
        f"{laid.piece.name} it leaves material in the corner: round those corners as wide, or take a narrower cutter.",
        "ticket",
        laid.piece.id,
        place.bounds,
        outlines(shapely.get_parts(place)),
    )


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
