"""The job: a design's sheet as ticket lines with settings, and the toolpath they come to."""

from dataclasses import dataclass, replace

import numpy as np

from foliant.core.design import Design, ResolvedPiece
from foliant.core.design.model import OperationKind
from foliant.core.equipment import MachineProfile, machine_profile
from foliant.core.layout import Instance, Layout, lay_out
from foliant.core.paths import CUBIC, EMPTY, Path, join
from foliant.core.paths.nesting import chosen_contours, contour, depths
from foliant.core.remembering import remembered
from foliant.core.ticket.fill import count_fill_lines, fill_lines
from foliant.core.ticket.recipes import Recipe, Settings, Work, find_recipe
from foliant.core.ticket.toolpath import Toolpath, ToolpathBuilder, nearest_order

ORDER: tuple[tuple[OperationKind, str, Work], ...] = (
    ("engrave", "Engraving", "engrave"),
    ("score", "Score lines", "score"),
    ("inner", "Holes and inner edges", "cut"),
    ("outer", "Outer edges", "cut"),
)
"""Engraving first, inner cuts before outer ones, so that nothing shifts before it is finished."""

MOST_MOVES = 1_500_000
"""Moves that one operation may take: some 200 MB while it is planned, and hours of burning."""

_OF_A_CUBIC = 8
"""About how many moves more than one a cubic takes."""


@dataclass(frozen=True, eq=False)
class Line:
    """One operation of the ticket.

    recipe      what the library says, if it has anything
    settings    the recipe's values with the maker's over them; None while neither gives enough
    overridden  the names of the values that are the maker's own
    path        what is followed, or bounds what is filled, on the sheet; empty where it is too much
    pieces      on how many instances there is something to do
    excess      about how many moves it would take, where that is more than `MOST_MOVES`; else 0
    """

    kind: OperationKind
    title: str
    work: Work
    on: bool
    recipe: Recipe | None
    settings: Settings | None
    overridden: frozenset[str]
    path: Path
    pieces: int
    excess: int = 0

    @property
    def runs(self) -> bool:
        """Whether the machine will do it."""
        return bool(self.on and self.settings and not self.excess)

    @property
    def fills(self) -> bool:
        """Whether it burns areas line by line."""
        return self.work == "engrave"


@dataclass(frozen=True, eq=False)
class Job:
    """A sheet's ticket: its lines in run order (only those with something to do) and the whole toolpath."""

    design: Design
    machine: MachineProfile
    layout: Layout
    lines: tuple[Line, ...]
    toolpath: Toolpath

    @property
    def ready(self) -> tuple[int, ...]:
        """The indexes of the lines that will run."""
        return tuple(i for i, line in enumerate(self.lines) if line.runs)


def plan(design: Design) -> Job:
    """The job of a design's sheet. Kept by content, so asking again costs nothing, in whichever unit."""
    return replace(_plan(design.model_copy(update={"serial": 0, "unit": "mm"})), design=design)


def effort(design: Design) -> int:
    """About how many moves there are to plan for the ticket of a design, whose pieces are worked out already."""
    total = 0
    for kind, _, work in ORDER:
        _, settings = _settings(design, kind, work)
        moves = sum(_moves(one, _work_on(one, kind), work, settings) for one in lay_out(design).instances)
        total += moves if moves <= MOST_MOVES else 0
    return total


@remembered
def _plan(design: Design) -> Job:
    machine = machine_profile(design.ticket.machine)
    layout = lay_out(design)
    lines = tuple(line for line in (_line(design, layout, *row) for row in ORDER) if line.pieces)
    # The machine's origin is the near left corner of the sheet, which is the lower left on the page.
    builder = ToolpathBuilder(machine, (0.0, design.stock.height))
    here = builder.start
    for index, line in enumerate(lines):
        if not (line.runs and line.settings):
            continue
        if line.fills:
            for _ in range(line.settings.passes):
                for instance in layout.instances:
                    strokes = _strokes(instance.resolved, line.settings.interval)
                    builder.strokes(strokes + instance.shift, index, line.settings)
                    here = tuple(strokes[-1, 1] + instance.shift) if len(strokes) else here
            open_lines = join(instance.on_sheet(instance.resolved.strokes) for instance in layout.instances)
            for group in _in_order(open_lines) if len(open_lines) else ():
                builder.cut(nearest_order(group, here), index, line.settings)
        else:
            for group in _in_order(line.path):
                contours = nearest_order(group, here)
                builder.cut(contours, index, line.settings)
                here = tuple(contours[-1].points[-1, 3]) if contours else here
    return Job(design, machine, layout, lines, builder.toolpath())


def _line(design: Design, layout: Layout, kind: OperationKind, title: str, work: Work) -> Line:
    wanted = design.ticket.operation(kind)
    recipe, settings = _settings(design, kind, work)
    paths = [(instance, _work_on(instance, kind)) for instance in layout.instances]
    moves = sum(_moves(instance, path, work, settings) for instance, path in paths)
    return Line(
        kind=kind,
        title=title,
        work=work,
        on=wanted.on,
        recipe=recipe,
        settings=settings,
        overridden=frozenset(wanted.settings),
        path=EMPTY if moves > MOST_MOVES else join(instance.on_sheet(path) for instance, path in paths),
        pieces=sum(1 for _, path in paths if len(path)),
        excess=moves if moves > MOST_MOVES else 0,
    )


def _settings(design: Design, kind: OperationKind, work: Work) -> tuple[Recipe | None, Settings | None]:
    """What the library says of an operation, and that with the maker's own values over it; see `Line`."""
    recipe = find_recipe(design.ticket.machine, design.stock.material, design.stock.thickness, work)
    own = design.ticket.operation(kind).settings
    if recipe:
        return recipe, replace(recipe.settings, **own)  # type: ignore[arg-type]
    return None, Settings(**own) if {"power", "speed"} <= set(own) else None  # type: ignore[arg-type]


def _moves(instance: Instance, path: Path, work: Work, settings: Settings | None) -> int:
    """About how many moves an operation takes on one instance."""
    passes = settings.passes if settings else 1
    if work == "engrave" and settings:
        fills = _count_strokes(instance.resolved, settings.interval)
        return (fills + len(instance.resolved.strokes)) * passes
    return _count_moves(path) * passes


@remembered
def _count_strokes(resolved: ResolvedPiece, interval: float) -> int:
    return count_fill_lines(resolved.engraved.shape, interval)


@remembered
def _count_moves(path: Path) -> int:
    return len(path) + _OF_A_CUBIC * int((path.kinds == CUBIC).sum())


def _work_on(instance: Instance, kind: OperationKind) -> Path:
    return _work_of(instance.resolved, kind)


@remembered
def _work_of(resolved: ResolvedPiece, kind: OperationKind) -> Path:
    match kind:
        case "engrave":
            return join([resolved.engraved.path, resolved.strokes])
        case "score":
            return resolved.scored
    outline = resolved.outline.path
    inner = depths(outline) > 0
    return chosen_contours(outline, inner if kind == "inner" else ~inner)


def _in_order(path: Path) -> list[list[Path]]:
    """Contours in groups that must be cut one after the other: those that lie inside others first."""
    depth = depths(path)
    levels = sorted(set(depth.tolist()), reverse=True)
    return [[contour(path, int(i)) for i in np.flatnonzero(depth == level)] for level in levels]


@remembered
def _strokes(resolved: ResolvedPiece, interval: float) -> np.ndarray:
    strokes = fill_lines(resolved.engraved.shape, interval)
    strokes.setflags(write=False)
    return strokes
