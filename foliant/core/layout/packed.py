"""Packing a design's sheets: what is wanted as tasks for `packing`, and what comes of them as places."""

import time
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import shapely

from foliant.core.design import Design, Place
from foliant.core.design.edits.sheet import PutPacked
from foliant.core.design.lying import digest_of
from foliant.core.design.model import MOST_SHEETS
from foliant.core.errors import Refused
from foliant.core.layout.laid import Laid
from foliant.core.layout.rows import lay_sheets
from foliant.core.making import Instance, made_here
from foliant.core.packing import Bed, Packed, Stamp, Task, fill, improving, quick

MOST_SECONDS = 120
USUAL_SECONDS = 20
"""How long packing may take, and how long it looks for better ways where nothing is said."""

_AT_ONCE = 4.0
"""How long one pass may take where somebody waits for it, s."""

_LAST = 0.15
"""The share of the time that the last of several sheets has."""


@dataclass(frozen=True, eq=False)
class Packing:
    """An answer: the edit that lays it out, how many of those wanted it has places for, and how dense it is.

    sheets   on how many sheets
    reach    how far right the last thing on the last sheet reaches, mm
    density  the share of what it takes of the sheets that becomes pieces, 0 to 1: of the last only as far as it reaches
    """

    edit: PutPacked
    placed: int
    wanted: int
    sheets: int
    reach: float
    density: float

    @property
    def left_over(self) -> int:
        """How many found no place."""
        return self.wanted - self.placed

    def beats(self, other: "Packing | None") -> bool:
        """Whether it is better: more lies there, or as much on less."""
        if other is None:
            return True
        return (self.placed, -self.sheets, -self.reach) > (other.placed, -other.sheets, -other.reach)


def packings(
    design: Design, seconds: float, stop: Callable[[], bool] = lambda: False, seed: int = 1
) -> Iterator[Packing]:
    """Answers, each better than the one before, until `seconds` are over or `stop` says so.

    What is locked stays where it lies. Raises `Refused` where there is nothing to pack or nothing finds a place.
    """
    wanted = _Wanted(design, lambda laid: laid.locked)
    if not wanted.all:
        raise Refused("There is nothing to pack: draw a piece and ask for at least one of it, or unlock some.")
    best: Packing | None = None
    for found in _answers(wanted, seconds, stop, seed):
        packing = wanted.packing(found)
        if packing.placed and packing.beats(best):
            best = packing
            yield packing
    if best is None:
        raise Refused(_why_none(design, wanted.task(1, wanted.all)))


def packed_at_once(design: Design, stays: Callable[[Laid], bool]) -> tuple[Place, ...]:
    """Places for what is wanted on a bench, but for what `stays` where it lies, packed by one pass: as much of it as
    that packs within a few seconds.
    """
    wanted, end = _Wanted(design, stays), time.monotonic() + _AT_ONCE
    found = _quickly(wanted, 1, wanted.all, lambda: time.monotonic() > end)
    return wanted.packing(found).edit.places


def _answers(wanted: "_Wanted", seconds: float, stop: Callable[[], bool], seed: int) -> Iterator[list[Packed]]:
    """What lies on sheet after sheet: the first ones share the time, as each may save the last, which has little."""
    first = _quickly(wanted, 1, wanted.all, stop)
    yield first
    share = seconds * (1 - _LAST) / (len(first) - 1) if len(first) > 1 else 0.0
    done: list[Packed] = []
    for number in range(1, len(first) + 1):
        rest = _rest(wanted.all, done)
        if stop() or not rest:
            return
        allowed = share if number < len(first) else seconds - share * (len(first) - 1)
        for found in improving(wanted.task(number, rest), allowed, stop, seed):
            yield [*done, found, *_quickly(wanted, number + 1, _rest(wanted.all, [*done, found]), stop)]
        done.append(found)


def _quickly(wanted: "_Wanted", number: int, rest: Counter[int], stop: Callable[[], bool]) -> list[Packed]:
    """What is left, on sheets from this number on, by one pass over each."""
    sheets: list[Packed] = []
    while rest and number <= MOST_SHEETS:
        task = wanted.task(number, rest)
        found = fill(task, quick(task), stop)
        if not found.puts and not found.task.bed.taken:
            break  # what is left is larger than a whole sheet
        sheets.append(found)
        rest = _rest(rest, [found])
        number += 1
    return sheets


def _rest(wanted: Counter[int], sheets: list[Packed]) -> Counter[int]:
    return wanted - Counter(put.stamp for sheet in sheets for put in sheet.puts)


class _Wanted:
    """What a design wants packed: stamps, each with the instances that it stands for, and the sheets."""

    def __init__(self, design: Design, stays: Callable[[Laid], bool]) -> None:
        self._design = design
        self._staying = [laid for layout in lay_sheets(design) for laid in layout.instances if stays(laid)]
        stay = {laid.instance.identity for laid in self._staying}
        alike: dict[int, list[Instance]] = defaultdict(list)
        for instance in made_here(design):
            if instance.identity not in stay:
                alike[id(instance.resolved.outline)].append(instance)
        self._instances = list(alike.values())
        turns = design.sheet.turns
        self._stamps = tuple(Stamp(each[0].resolved.outline.shape, turns) for each in self._instances)
        self.all = Counter({number: len(each) for number, each in enumerate(self._instances)})

    def task(self, number: int, wanted: Counter[int]) -> Task:
        """Some of it, to be laid on one of the sheets."""
        stock, sheet = self._design.stock, self._design.sheet
        fixed = tuple(laid.shape_on_sheet() for laid in self._staying if laid.sheet == number)
        bed = Bed(stock.width, stock.height, sheet.margin, (*fixed, *(stock.gone if number == 1 else ())))
        listed = tuple(sorted(wanted.elements()))
        return Task(bed, self._stamps, listed, sheet.gap, sheet.inside == "inside")

    def packing(self, sheets: list[Packed]) -> Packing:
        """What lies on sheet after sheet as an answer: what comes first in the roster lies first."""
        waiting = [iter(instances) for instances in self._instances]
        places = []
        for number, packed in enumerate(sheets, 1):
            for put in sorted(packed.puts, key=lambda put: (put.stamp, round(put.x), put.y)):
                instance = next(waiting[put.stamp])
                where = {"sheet": number, "x": put.x, "y": put.y, "turn": put.turn}
                names = {"piece": instance.piece.id, "row": instance.row, "number": instance.number}
                places.append(Place(**names, **where, proved=digest_of(instance.resolved)))
        edit = PutPacked(do="pack", places=tuple(places), bench=self._design.bench)
        reach = sheets[-1].reach if sheets else 0.0
        return Packing(edit, len(places), self.all.total(), len(sheets), reach, _density(sheets))


def _density(sheets: list[Packed]) -> float:
    if not sheets:
        return 0.0
    bed = sheets[-1].task.bed
    left, top, right, bottom = bed.inner
    strip = ((right - left) * (len(sheets) - 1) + sheets[-1].reach) * (bottom - top)
    return sum(sheet.area for sheet in sheets) / strip if strip > 0 else 0.0


def _why_none(design: Design, task: Task) -> str:
    stock, sheet = design.stock, design.sheet
    if 2 * sheet.margin >= min(stock.width, stock.height):
        return "The margin leaves nothing of the sheet: make it smaller, or take a larger sheet."
    smallest = min(task.stamps, key=lambda stamp: stamp.area)
    left, top, right, bottom = shapely.bounds(smallest.shape)
    return (
        f"Nothing finds a place on the sheet: the smallest piece is {right - left:.4g} × {bottom - top:.4g} mm. "
        "Take a larger sheet, or a smaller gap or margin."
    )
