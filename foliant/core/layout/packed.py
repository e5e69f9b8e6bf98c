"""Packing a design's sheet: what is wanted as a task for `packing`, and what comes of it as places."""

from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import shapely

from foliant.core.design import Design, Place
from foliant.core.design.edits.sheet import PutPacked
from foliant.core.design.lying import digest_of
from foliant.core.errors import Refused
from foliant.core.layout.rows import lay_out
from foliant.core.making import Instance, make
from foliant.core.packing import Bed, Packed, Stamp, Task, improving

MOST_SECONDS = 120
USUAL_SECONDS = 20
"""How long packing may take, and how long it looks for better ways where nothing is said."""


@dataclass(frozen=True, eq=False)
class Packing:
    """An answer: the edit that lays it out, how many of those wanted it has places for, and how dense it is.

    reach    how far right the last of it reaches, mm
    density  the share of the strip of the sheet as far as that, less the margin, that becomes pieces: 0 to 1
    """

    edit: PutPacked
    placed: int
    wanted: int
    reach: float
    density: float

    @property
    def left_over(self) -> int:
        """How many found no place."""
        return self.wanted - self.placed


def packings(
    design: Design, seconds: float, stop: Callable[[], bool] = lambda: False, seed: int = 1
) -> Iterator[Packing]:
    """Answers, each better than the one before, until `seconds` are over or `stop` says so.

    What is locked stays where it lies. Raises `Refused` where there is nothing to pack or nothing finds a place.
    """
    task, stamps = task_of(design)
    if not task.wanted:
        raise Refused("There is nothing to pack: draw a piece and ask for at least one of it, or unlock some.")
    found = None
    for found in improving(task, seconds, stop, seed):
        if found.puts:
            yield _packing(found, stamps)
    if found is None or not found.puts:
        raise Refused(_why_none(design, task))


def task_of(design: Design) -> tuple[Task, list[list[Instance]]]:
    """What is to be packed, and for each stamp the instances that it stands for."""
    stock, sheet = design.stock, design.sheet
    fixed = [laid for laid in lay_out(design).instances if laid.locked]
    stay = {laid.instance.identity for laid in fixed}
    alike: dict[int, list[Instance]] = defaultdict(list)
    for instance in make(design):
        if instance.identity not in stay:
            alike[id(instance.resolved.outline)].append(instance)
    stamps = list(alike.values())
    taken = (*(laid.shape_on_sheet() for laid in fixed), *stock.gone)
    bed = Bed(stock.width, stock.height, sheet.margin, taken)
    shapes = [Stamp(instances[0].resolved.outline.shape, sheet.turns) for instances in stamps]
    wanted = tuple(number for number, instances in enumerate(stamps) for _ in instances)
    return Task(bed, tuple(shapes), wanted, sheet.gap, sheet.inside == "inside"), stamps


def _packing(found: Packed, stamps: list[list[Instance]]) -> Packing:
    waiting = [iter(instances) for instances in stamps]
    # What stands first in the roster lies first on the sheet.
    puts = sorted(found.puts, key=lambda put: (put.stamp, round(put.x), put.y))
    places = []
    for put in puts:
        instance = next(waiting[put.stamp])
        places.append(
            Place(
                piece=instance.piece.id,
                row=instance.row,
                number=instance.number,
                x=put.x,
                y=put.y,
                turn=put.turn,
                proved=digest_of(instance.resolved),
            )
        )
    edit = PutPacked(do="pack", places=tuple(places))
    return Packing(edit, len(places), len(found.task.wanted), found.reach, found.density)


def _why_none(design: Design, task: Task) -> str:
    stock, sheet = design.stock, design.sheet
    if 2 * sheet.margin >= min(stock.width, stock.height):
        return "The margin leaves nothing of the sheet: make it smaller, or take a larger sheet."
    if stock.used and lay_out(design).area < 1:
        return "Nothing is left of this sheet: take another one."
    smallest = min(task.stamps, key=lambda stamp: stamp.area)
    left, top, right, bottom = shapely.bounds(smallest.shape)
    return (
        f"Nothing finds a place on the sheet: the smallest piece is {right - left:.4g} × {bottom - top:.4g} mm. "
        "Take a larger sheet, or a smaller gap or margin."
    )
