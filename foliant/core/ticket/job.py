"""The job: a design's sheet as ticket lines with settings, and the program they come to."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import groupby

import numpy as np

from foliant.core.design import Design, Operation, Stock, Ticket
from foliant.core.design.benches import every_bench
from foliant.core.equipment import MachineProfile, Recipe, Shop
from foliant.core.equipment.guessing import guess
from foliant.core.layout import Laid, Layout, all_sheets, at_sheet, lay_out, lay_sheets
from foliant.core.paths import EMPTY, Path, join
from foliant.core.program import Block, Program, ProgramBuilder, Strand
from foliant.core.program.bed import sheet_to_bed
from foliant.core.program.travel import tour
from foliant.core.quantities import build
from foliant.core.remembering import remembered
from foliant.core.seeing import frames
from foliant.core.ticket.doing import Doing, How, done_on, kerf_of, on_all, weeded
from foliant.core.ticket.ordering import Item, items_of
from foliant.core.ticket.sorting import Sorted, sort_marks
from foliant.core.ticket.weeding import weeding_path
from foliant.core.works import Marks, Settings, Work, find_work
from foliant.core.works.cut import CutSettings
from foliant.core.works.heights import SHALLOW, Heights

MOST_MOVES = 1_500_000
"""Moves that one operation may take: some 200 MB while it is planned, and hours of burning."""


@dataclass(frozen=True, eq=False)
class Line:
    """One operation of the ticket.

    operation  what the document says of it
    recipe     what the shop says, if it has anything
    settings   the recipe's values with the maker's over them; None while neither gives enough
    marks      what it takes of each instance, with the shift of that from its piece to the sheet
    weeding    what it cuts of the waste, on the sheet
    moves      about how many moves it takes
    """

    operation: Operation
    recipe: Recipe | None
    settings: Settings | None
    marks: tuple[tuple[Marks, tuple[float, float]], ...]
    moves: int
    weeding: Path = EMPTY

    @property
    def excess(self) -> int:
        """About how many moves it takes, where that is more than `MOST_MOVES`; else 0."""
        return self.moves if self.moves > MOST_MOVES else 0

    @property
    def id(self) -> str:
        """How the document names it."""
        return self.operation.id

    @property
    def title(self) -> str:
        """How the ticket calls it."""
        return self.operation.title

    @property
    def work(self) -> Work:
        """What it does."""
        return self.operation.does

    @property
    def on(self) -> bool:
        """Whether the maker wants it done."""
        return self.operation.on

    @property
    def overridden(self) -> frozenset[str]:
        """The names of the values that are the maker's own."""
        return frozenset(self.operation.own)

    @property
    def pieces(self) -> int:
        """On how many instances there is something to do."""
        return len(self.marks)

    @property
    def runs(self) -> bool:
        """Whether the machine will do it."""
        return bool(self.on and self.settings and not self.excess and self.marks)

    @property
    def areas(self) -> Path:
        """The outlines of the areas it takes, on the sheet; none where it is too much."""
        return EMPTY if self.excess else join(marks.area.path.moved(*shift) for marks, shift in self.marks)

    @property
    def lines(self) -> Path:
        """The lines it takes, on the sheet; none where it is too much."""
        lines = (marks.lines.moved(*shift) for marks, shift in self.marks)
        return EMPTY if self.excess else join([*lines, self.weeding])

    @property
    def frames(self) -> Path:
        """The edges of the pictures it takes, on the sheet."""
        return join(frames(marks.pictures).moved(*shift) for marks, shift in self.marks)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of all it takes, on the sheet."""
        return join([self.areas, self.lines, self.frames]).bounds


@dataclass(frozen=True, eq=False)
class Job:
    """A sheet's ticket: its lines in run order (only those that take something) and the whole program.

    shop     what it was planned with; where that has not the design's machine, `machine` is the nearest
    """

    design: Design
    shop: Shop
    machine: MachineProfile
    layout: Layout
    lines: tuple[Line, ...]
    program: Program

    @property
    def ready(self) -> tuple[int, ...]:
        """The indexes of the lines that will run."""
        return tuple(i for i, line in enumerate(self.lines) if line.runs)


Asked = tuple[Operation, Recipe | None, Settings | None]
"""An operation, what the shop says of it, and that with the maker's own values over it; see `Line`."""


def plan(design: Design, shop: Shop, sheet: int = 1) -> Job:
    """The job of one of a design's sheets, from 1, counted over all benches unless it stands on another than the first.
    Its design stands on the bench of that sheet. Kept by what is made of it: a name, a unit or a nudge plans nothing
    anew.
    """
    design, sheet = at_sheet(design, sheet) if not design.bench else (design, sheet)
    layout = lay_out(design, sheet)
    machine = shop.machine(design.ticket.machine)
    lines, program = _plan(layout, machine, _asked(design, shop), _how(design))
    return Job(design, shop, machine, layout, lines, program)


def plan_all(design: Design, shop: Shop) -> tuple[Job, ...]:
    """The jobs of all sheets of a design."""
    return tuple(plan(there, shop, layout.number) for there, layout in all_sheets(design))


def effort(design: Design, shop: Shop) -> int:
    """About how many moves there are to plan for the ticket of a design, whose pieces are worked out already: for the
    fullest of its sheets, which is the first of a bench.
    """
    return max(_effort(there, shop) for there in every_bench(design))


def effort_of_all(design: Design, shop: Shop) -> int:
    """The same of all its sheets together, as if all of a bench were as full as its first."""
    return sum(_effort(there, shop) * len(lay_sheets(there)) for there in every_bench(design))


def _effort(design: Design, shop: Shop) -> int:
    instances = lay_out(design).instances
    sorts = [sort_marks(instance.piece, instance.resolved, design.ticket.drilled) for instance in instances]
    lines = [_line(asked, instances, sorts) for asked in _asked(design, shop)]
    return sum(line.moves for line in lines if not line.excess)


def settings_of(design: Design, shop: Shop, operation: Operation) -> tuple[Recipe | None, Settings | None]:
    """What the shop says of an operation, and that with the maker's own values over it; see `Line`."""
    stock = design.stock
    asked = (design.ticket.machine, stock.material, stock.thickness, operation.work)
    recipe = shop.recipe(*asked) or guess(shop, *asked)
    values = {**(dict(recipe.values) if recipe else {}), **operation.own}
    kind = operation.does.settings
    needed = {name for name, field in kind.model_fields.items() if field.is_required()}
    return recipe, build(kind, values) if needed <= set(values) else None


def cut_width(design: Design, shop: Shop) -> float:
    """How wide the cut of inner edges is on the bench where a design stands, mm."""
    return _cut_width(design.ticket, design.stock, shop)


@remembered
def _cut_width(ticket: Ticket, stock: Stock, shop: Shop) -> float:
    machine = shop.machine(ticket.machine)
    _, settings = settings_of(Design(ticket=ticket, stock=stock), shop, ticket.operation("inner"))
    return machine.kerf if settings is None else kerf_of(settings, machine)


def _asked(design: Design, shop: Shop) -> tuple[Asked, ...]:
    """Every operation of the ticket with its settings."""
    return tuple((operation, *settings_of(design, shop, operation)) for operation in design.ticket.listed)


def _how(design: Design) -> How:
    ticket = design.ticket
    room = min(design.sheet.gap / 2, design.sheet.margin)
    weeding = (ticket.weeding, ticket.weed)
    thickness = design.stock.actual
    return How(ticket.begins, ticket.kerf == "on", ticket.face == "down", room, ticket.drilled, weeding, thickness)


@remembered
def _plan(
    layout: Layout, machine: MachineProfile, asked: tuple[Asked, ...], how: How
) -> tuple[tuple[Line, ...], Program]:
    instances = layout.instances
    sorts = [sort_marks(instance.piece, instance.resolved, how.drilled) for instance in instances]
    every = (_line(one, instances, sorts) for one in asked)
    lines = tuple(line for line in every if line.marks)
    doing = _doing(lines, machine, how)
    done = [done_on(sort, doing) for sort in sorts]
    builder = ProgramBuilder(machine, sheet_to_bed(layout.height, layout.width if how.face_down else None))
    items = [*items_of(instances, done, sorts), *on_all(instances, sorts, doing)]
    weeding, weeds = weeding_path(layout, *how.weeding), _most_outer_edges(sorts, doing)
    if weeds and len(weeding):
        lines = tuple(replace(line, weeding=weeding) if line.id == weeds.operation else line for line in lines)
        items += weeded(weeding, weeds)
    items.sort(key=_turn)
    for _, group in groupby(items, key=_turn):
        _add(builder, list(group), instances)
    return lines, builder.program()


def _most_outer_edges(sorts: Sequence[Sorted], doing: Sequence[Doing]) -> Doing | None:
    """What cuts the most outer edges, if anything does."""
    edges = Counter(
        taker for sort in sorts for taker, depth in zip(sort.edges, sort.depth.tolist(), strict=True) if not depth
    )
    cutting = [one for one in doing if edges[one.operation] and find_work(one.work).parts]
    return max(cutting, key=lambda one: edges[one.operation], default=None)


def _turn(item: Item) -> tuple[int, int, int, bool]:
    return item.turn, item.height, item.own, not item.fills


def _add(builder: ProgramBuilder, items: Sequence[Item], instances: Sequence[Laid]) -> None:
    """Do these items: those that fill as they come, the others as they lie nearest."""
    if items[0].fills:
        for item in items:
            if isinstance(item.what, Block):
                shift = instances[item.instance].shift if item.instance >= 0 else (0.0, 0.0)
                builder.add(item.what, shift, item.own, item.instance)
        return
    strands = tuple(item.what for item in items if isinstance(item.what, Strand))
    shifts = tuple(instances[item.instance].shift if item.instance >= 0 else (0.0, 0.0) for item in items)
    for index, choice in _tour(strands, shifts, builder.here):
        item = items[index]
        builder.add(strands[index].block(choice), shifts[index], item.own, item.instance)


@remembered
def _tour(
    strands: tuple[Strand, ...], shifts: tuple[tuple[float, float], ...], start: tuple[float, float]
) -> tuple[tuple[int, int], ...]:
    """In which order lines are done on the sheet, and where each begins: as (line, choice)."""
    begins = [strand.begins + np.array(shift) for strand, shift in zip(strands, shifts, strict=True)]
    ends = [strand.ends + np.array(shift) for strand, shift in zip(strands, shifts, strict=True)]
    return tuple(tour(begins, ends, start))


def _line(asked: Asked, instances: Sequence[Laid], sorts: Sequence[Sorted]) -> Line:
    operation, recipe, settings = asked
    taken = [(sort.taken.get(operation.id), instance.shift) for sort, instance in zip(sorts, instances, strict=True)]
    marks = tuple((mark, shift) for mark, shift in taken if mark)
    moves = sum(_count(mark, operation.work, settings) for mark, _ in marks) if settings else 0
    return Line(operation, recipe, settings, marks, moves)


@remembered
def _count(marks: Marks, work: str, settings: Settings) -> int:
    return find_work(work).count(marks, settings)


def _doing(lines: Sequence[Line], machine: MachineProfile, how: How) -> tuple[Doing, ...]:
    # To stop and start again takes as long as to fly on for so many mm at full speed.
    worth = machine.travel_speed / machine.acceleration
    blade = (machine.trail, machine.overcut) if machine.kind == "blade" else (0.0, 0.0)
    return tuple(
        Doing(
            index,
            line.id,
            line.work.key,
            line.settings,
            line.settings.pace * worth,
            how.begins,
            _aside(line.settings, machine, how),
            blade,
            how.room,
            heights_of(line.settings, line.work, machine, how.thickness),
        )
        for index, line in enumerate(lines)
        if line.settings and line.runs
    )


def _aside(settings: Settings, machine: MachineProfile, how: How) -> tuple[float, float]:
    if not isinstance(settings, CutSettings):
        return 0.0, 0.0
    return settings.beside(kerf_of(settings, machine) / 2, how.beside)


def heights_of(settings: Settings, work: Work, machine: MachineProfile, thickness: float) -> Heights | None:
    """How a machine's head goes up and down for an operation on material so thick, mm; None where it does not."""
    if machine.kind == "turning":
        depth = settings.depth or (thickness if work.deep else SHALLOW)
        return Heights(machine.rise or machine.plunge, depth=depth, lift=machine.lift, plunge=machine.plunge)
    if machine.focuses and settings.focus:
        return Heights(machine.rise, focus=settings.focus)
    return None
