"""Whether what is wanted lies well on the sheet and within the machine."""

from collections.abc import Iterator

import numpy as np
import shapely

from foliant.core.checks.finding import Bounds, Finding, say
from foliant.core.ticket import Job

_SLACK = 0.001
_MOST_TOLD = 20


def sheet_is_not_empty(job: Job) -> Iterator[Finding]:
    """There must be something to make."""
    if not job.layout.instances and not job.layout.left_over:
        yield Finding(
            "sheet_is_not_empty",
            "stop",
            "Nothing lies on the sheet",
            "Nothing lies on the sheet, so there is nothing to run: draw a piece, and ask for at least one of it.",
            "sheet",
        )


def everything_fits(job: Job) -> Iterator[Finding]:
    """What found no room on the sheet will not be made."""
    for piece, count in job.layout.left_over:
        yield Finding(
            "everything_fits",
            "look",
            f"{count} of {piece.name} without room",
            f"{count} of {piece.copies} {piece.name} found no room on the sheet and will not be made: take a larger "
            "sheet, a smaller gap or margin, or ask for fewer.",
            "sheet",
            piece.id,
        )


def nothing_sticks_out(job: Job) -> Iterator[Finding]:
    """An instance must lie on the material, and the material within the bed."""
    stock, machine, unit = job.design.stock, job.machine, job.design.unit
    if stock.width > machine.bed_width or stock.height > machine.bed_height:
        sheet = f"{say(stock.width, unit)} × {say(stock.height, unit)}"
        bed = f"{say(machine.bed_width, unit)} × {say(machine.bed_height, unit)}"
        reach = job.layout.bounds
        outside = reach[2] > machine.bed_width or stock.height - reach[1] > machine.bed_height
        yield Finding(
            "nothing_sticks_out",
            "stop" if outside else "look",
            f"The sheet is larger than the bed of {machine.name}",
            f"The sheet is {sheet} and the bed of {machine.name} is {bed}"
            + (": some pieces lie beyond it. " if outside else "; the pieces lie within it. ")
            + "Take a smaller sheet or another machine.",
            "sheet",
            place=reach,
        )
    for instance in job.layout.instances:
        resolved, (dx, dy) = instance.resolved, instance.shift
        marks = (resolved.engraved.path, resolved.strokes, resolved.scored)
        moved = [(b[0] + dx, b[1] + dy, b[2] + dx, b[3] + dy) for b in (path.bounds for path in marks if len(path))]
        reach = _reach(instance.bounds, *moved)
        out = max(-reach[0], -reach[1], reach[2] - stock.width, reach[3] - stock.height)
        if out > _SLACK:
            yield Finding(
                "nothing_sticks_out",
                "stop",
                f"{instance.label} lies outside the sheet",
                f"{instance.label} reaches {say(max(out, 0.1), unit)} beyond the edge of the sheet: move it inward, "
                "or arrange in rows again.",
                "sheet",
                instance.piece.id,
                instance.bounds,
                instance.on_sheet(instance.resolved.outline.path),
            )


def nothing_overlaps(job: Job) -> Iterator[Finding]:
    """Two instances must not lie over each other."""
    instances = job.layout.instances
    if len(instances) < 2:
        return
    # Only those whose boxes meet are looked at more closely, which is none of those in rows.
    boxes = shapely.box(*np.array([instance.bounds for instance in instances]).T)
    first, second = shapely.STRtree(boxes).query(boxes, predicate="intersects")
    near = first < second
    told = 0
    for i, j in zip(first[near].tolist(), second[near].tolist(), strict=True):
        over = shapely.intersection(instances[i].shape_on_sheet(), instances[j].shape_on_sheet())
        if over.area > _SLACK and (told := told + 1) <= _MOST_TOLD:
            yield Finding(
                "nothing_overlaps",
                "stop",
                f"{instances[i].label} and {instances[j].label} overlap",
                f"{instances[i].label} and {instances[j].label} lie over each other on the sheet, so both would be "
                "spoilt: drag one away, or arrange in rows again.",
                "sheet",
                instances[j].piece.id,
                over.bounds,
                instances[j].on_sheet(instances[j].resolved.outline.path),
            )


def _reach(*boxes: Bounds) -> Bounds:
    """The bounds of all boxes that are not empty."""
    real = [box for box in boxes if box[2] > box[0] or box[3] > box[1]]
    left, top, right, bottom = zip(*real, strict=True)
    return (min(left), min(top), max(right), max(bottom))
