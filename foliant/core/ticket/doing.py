"""Doing: what the running lines of a ticket do on each piece, as blocks that fill and lines to be followed."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial

import shapely

from foliant.core.design.operations import Drilled
from foliant.core.equipment import MachineProfile
from foliant.core.layout import Laid
from foliant.core.paths import EMPTY, Path, Region, join
from foliant.core.paths.nesting import contour
from foliant.core.paths.offset import beside
from foliant.core.program import Block, Strand
from foliant.core.remembering import remembered
from foliant.core.ticket.ordering import Done, Item
from foliant.core.ticket.sorting import Sorted
from foliant.core.works import Marks, Settings, find_work
from foliant.core.works.blade import dragged
from foliant.core.works.cut import CutSettings
from foliant.core.works.drill import DrillSettings
from foliant.core.works.fill import joined
from foliant.core.works.heights import Heights, at_height
from foliant.core.works.lead import led_in

_LAST = 1 << 30


@dataclass(frozen=True)
class How:
    """What of a ticket goes for all of its operations: see `Ticket`.

    beside     whether cuts run beside the edges
    face_down  whether the sheet lies face down
    room       how much waste there is round pieces at least, mm
    drilled    the operations that take holes by their width
    weeding    what is cut of the waste, and how far outside, mm
    thickness  of the material, mm
    """

    begins: str
    beside: bool
    face_down: bool
    room: float
    drilled: Drilled
    weeding: tuple[str, float]
    thickness: float


@dataclass(frozen=True)
class Doing:
    """How a running line of the ticket is done.

    index      its number on the ticket
    operation  its id
    gap        over less than so many mm it is quicker to fly on along a row than to come back
    begins     where closed contours may begin: see `Ticket`
    aside      how far outside of outer edges it runs, and of inner ones, mm
    room       how much waste there is round pieces at least, mm
    heights    how its head goes up and down, where it does
    blade      how far a drag blade trails, and goes on past where a closed cut began, mm; zeros for a beam
    """

    index: int
    operation: str
    work: str
    settings: Settings
    gap: float
    begins: str
    aside: tuple[float, float]
    blade: tuple[float, float]
    room: float
    heights: Heights | None = None


def on_all(instances: Sequence[Laid], sorts: Sequence[Sorted], lines: tuple[Doing, ...]) -> Iterator[Item]:
    """What covers the areas of all instances as one, in the coordinates of the sheet."""
    for doing in lines:
        if not find_work(doing.work).whole_sheet(doing.settings):
            continue
        found = [(sort.faces.get(doing.operation), laid.shift) for sort, laid in zip(sorts, instances, strict=True)]
        areas = [Region(*_shifted(marks.area, shift)) for marks, shift in found if marks]
        shape = shapely.union_all([area.shape for area in areas]) if areas else shapely.Polygon()
        for block in _fills(Marks(Region(join(area.path for area in areas), shape), EMPTY), doing):
            yield Item(doing.index, 0, doing.index, -1, block)


def weeded(path: Path, doing: Doing) -> Iterator[Item]:
    """What is cut of the waste, on the sheet, after all that is cut out with it."""
    for number in range(len(path.starts)):
        yield Item(doing.index, _LAST, doing.index, -1, _along(contour(path, number), doing))


def _shifted(area: Region, shift: tuple[float, float]) -> tuple[Path, shapely.Geometry]:
    return area.path.moved(*shift), shapely.transform(area.shape, lambda points: points + shift)


@remembered
def done_on(sort: Sorted, lines: tuple[Doing, ...]) -> Done:
    """What the running lines do on one piece."""
    faces, edges = [], []
    for doing in lines:
        if marks := sort.faces.get(doing.operation):
            faces.append((doing.index, _on_face(marks, doing)))
        for number, taker in enumerate(sort.edges):
            if taker == doing.operation:
                depth, through = int(sort.depth[number]), find_work(doing.work).through
                edges += [(doing.index, depth, line, through) for line in _edge(sort.outline, number, depth, doing)]
    return Done(tuple(faces), tuple(edges))


@remembered
def _on_face(marks: Marks, doing: Doing) -> tuple[Block | Strand, ...]:
    """The blocks that fill areas, pass by pass, and the lines."""
    does = find_work(doing.work)
    fills = () if does.whole_sheet(doing.settings) else _fills(marks, doing)
    lines = does.lines(marks)
    return *fills, *(_along(contour(lines, i), doing) for i in range(len(lines.starts)))


def _fills(marks: Marks, doing: Doing) -> tuple[Block, ...]:
    does, settings = find_work(doing.work), doing.settings
    moves = [fill for fill in does.fills(marks, settings, doing.gap) if len(fill)]
    shares = [(number + 1) / settings.passes for number in range(settings.passes)]
    if doing.heights is None or not doing.heights.depth:
        blocks = [Block(at_height(fill, doing.heights), settings.power, settings.pace) for fill in moves]
        return tuple(block for block in blocks for _ in shares)
    every = ((fill, doing.heights.at_depth(share)) for fill in moves for share in shares)
    return tuple(Block(at_height(fill, heights), settings.power, settings.pace) for fill, heights in every)


@remembered
def _edge(outline: Path, number: int, depth: int, doing: Doing) -> tuple[Strand, ...]:
    """One contour of an outline, or what runs beside it: the same lines as long as the outline is the same."""
    line = contour(outline, number)
    aside = doing.aside[depth % 2]
    if aside and line.closed[0]:
        line = beside(line, aside)
    outside = depth % 2 == 0
    return tuple(_along(contour(line, at), doing, outside) for at in range(len(line.starts)))


def kerf_of(settings: Settings, machine: MachineProfile) -> float:
    """How wide a cut is with these settings, mm; 0 for what does not cut."""
    if not isinstance(settings, CutSettings):
        return 0.0
    return machine.kerf if settings.kerf is None else settings.kerf


def drill_of(settings: Settings | None, machine: MachineProfile) -> float:
    """How wide a spot is with these settings, mm; 0 for what does not drill."""
    if not isinstance(settings, DrillSettings):
        return 0.0
    return machine.kerf if settings.across is None else settings.across


def _along(line: Path, doing: Doing, outside: bool | None = None) -> Strand:
    """A line that may be begun somewhere; of an edge, whether the waste lies outside what it goes round."""
    does = find_work(doing.work)
    return Strand(line, partial(_block, doing, outside), does.anywhere, corners=doing.begins == "anywhere")


def _block(doing: Doing, outside: bool | None, begun: Path) -> Block:
    settings = doing.settings
    deepens = doing.heights is not None and doing.heights.depth > 0
    once = settings.model_copy(update={"passes": 1}) if deepens else settings
    moves = find_work(doing.work).along(begun, once)
    if outside is not None and isinstance(settings, CutSettings) and settings.lead:
        # Beyond half of the gap the waste is that of the next piece.
        length = min(settings.lead, doing.room) if outside else settings.lead
        moves = led_in(moves, begun, length, outside)
    if any(doing.blade) and not moves.dwell.any():
        moves = dragged(moves, *doing.blade)
    if doing.heights and deepens:
        steps = (doing.heights.at_depth((number + 1) / settings.passes) for number in range(settings.passes))
        moves = joined([at_height(moves, heights) for heights in steps])
    else:
        moves = at_height(moves, doing.heights)
    return Block(moves, settings.power, settings.pace)
