"""One pass: each thing in turn to the place that keeps the strip shortest."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.packing.raster import Grid, Turned, free_places, meeting, spectrum
from foliant.core.packing.task import Packed, Put, Task, filled_in, lying
from foliant.core.packing.touching import Lying
from foliant.core.paths.cells import Mask

MOST_CELLS = 260_000
"""How many cells a sheet is told by at most; a large one has larger cells."""

FINEST, _COARSE, _COARSER = 0.5, 1.0, 2.0
"""Cells, mm: the finest, and those of a first answer, for few things and for many."""

_MANY = 100
_TRIES = 10
"""How often a place that the raster took for free is tried, before only those are that are surely free."""

_DARING, _SURE = -0.35, 0.75
"""What is added to the gap round what lies there, in cells: cells are sampled at their middles."""

_BEHIND = 3
"""By how many things a map of places may be behind and still be brought up to date one by one."""

Turn = tuple[int, float]
"""A stamp at a turn."""


class Board:
    """A bed with what lies on it, as raster and as exact shapes; see `Way` for what is wished."""

    def __init__(self, task: Task, cell: float, upward: float, likes: Mapping[Turn, float]) -> None:
        self.task, self._likes = task, likes
        left, top, right, bottom = task.bed.inner
        rows, columns = (max(1, int(np.ceil((far - near) / cell))) for near, far in ((top, bottom), (left, right)))
        self.grid = Grid(left, top, rows, columns, cell)
        self._exact = Lying(task.bed.inner, task.gap, task.inside)
        self._taken = np.zeros((rows, columns), np.bool_)
        self._surely = np.zeros((rows, columns), np.bool_)
        self._puts: list[tuple[Turn, int, int]] = []
        self._turned: dict[Turn, Turned] = {}
        self._around: dict[Turn, tuple[Mask, int]] = {}
        self._meets: dict[tuple[Turn, Turn], tuple[Mask, int]] = {}
        self._maps: dict[Turn, tuple[Mask, int]] = {}
        self._spectrum: tuple[int, NDArray[np.complex64]] | None = None
        down, across = np.mgrid[0:rows, 0:columns] * cell
        self._wish = (across + upward * down).astype(np.float32)
        self._upward = upward
        for shape in task.bed.taken:
            self._add(shape)

    def put(self, put: Put) -> None:
        """Have something lie there."""
        self._add(lying(self.task, [put])[0])
        form, grid = self.turned((put.stamp, put.turn)), self.grid
        row = round((put.y + form.top - grid.top) / grid.cell)
        column = round((put.x + form.left - grid.left) / grid.cell)
        self._puts.append(((put.stamp, put.turn), row, column))

    def turned(self, turn: Turn) -> Turned:
        """A stamp at a turn, as the raster knows it."""
        if turn not in self._turned:
            shape = self.task.stamps[turn[0]].turned(turn[1])
            self._turned[turn] = Turned(shape if self.task.inside else filled_in(shape), self.grid.cell)
        return self._turned[turn]

    def best(self, stamp: int) -> Put | None:
        """Where a stamp would lie best, settled; None where it finds no place."""
        turns = [(stamp, turn) for turn in self.task.stamps[stamp].turns]
        maps = {turn: self._places(turn) for turn in turns}
        for tried in range(2 * _TRIES):
            if tried == _TRIES:
                maps = {turn: places & self._sure_places(turn, places.shape) for turn, places in maps.items()}
            found = min(filter(None, (self._wished(turn, places) for turn, places in maps.items())), default=None)
            if found is None:
                if tried >= _TRIES:
                    return None
                continue
            _, turn, row, column = found
            form, cell, inner = self.turned(turn), self.grid.cell, self.task.bed.inner
            x = min(inner[0] + column * cell, inner[2] - form.width) - form.left
            y = min(inner[1] + row * cell, inner[3] - form.height) - form.top
            settled = self._exact.settled(form.shape, x, y, cell)
            if settled is not None:
                return Put(stamp, turn[1], round(settled[0], 6), round(settled[1], 6))
            # The raster was mistaken there, and so it will be beside it.
            maps[turn][max(0, row - 1) : row + 2, max(0, column - 1) : column + 2] = False
        return None

    def _wished(self, turn: Turn, places: Mask) -> tuple[float, Turn, int, int] | None:
        """The best of these places, with how little it is wished for."""
        if not places.any():
            return None
        rows, columns = places.shape
        first = int(places.any(axis=0).argmax())
        # Further right than this nothing can be wished for more, however high up it lies.
        last = min(columns, first + int(self._upward * rows) + 2)
        wish = np.where(places[:, first:last], self._wish[:rows, first:last], np.inf)
        row, column = divmod(int(wish.argmin()), last - first)
        form = self.turned(turn)
        far = form.width + self._upward * form.height - self._likes.get(turn, 0.0)
        return float(wish[row, column]) + far, turn, row, first + column

    def _places(self, turn: Turn) -> Mask:
        """Where a stamp can begin at a turn: cells of the grid from its left and top."""
        form, cell = self.turned(turn), self.grid.cell
        left, top, right, bottom = self.task.bed.inner
        across, down = right - left - form.width, bottom - top - form.height
        if across < -1e-6 or down < -1e-6:
            return np.zeros((0, 0), np.bool_)
        known = self._maps.get(turn)
        if known and len(self._puts) - known[1] <= _BEHIND:
            places = known[0]
            for other, row, column in self._puts[known[1] :]:
                self._strike(places, other, turn, row, column)
        else:
            rows, columns = (int(np.ceil(max(0.0, room) / cell - 1e-6)) + 1 for room in (down, across))
            rows, columns = min(rows, self.grid.rows), min(columns, self.grid.columns)
            places = free_places(self._taken_spectrum(), form.mask, self.grid.size, rows, columns)
            if known:
                places &= known[0]
        self._maps[turn] = (places, len(self._puts))
        return places

    def _strike(self, places: Mask, other: Turn, turn: Turn, row: int, column: int) -> None:
        """Take out of the places of one stamp those where it would meet another that begins at a row and column."""
        meets, room = self._meeting(other, turn)
        height, width = self.turned(turn).mask.shape
        top, left = row - room - height + 1, column - room - width + 1
        rows = slice(max(0, top), min(places.shape[0], top + meets.shape[0]))
        columns = slice(max(0, left), min(places.shape[1], left + meets.shape[1]))
        if rows.start < rows.stop and columns.start < columns.stop:
            places[rows, columns] &= ~meets[
                rows.start - top : rows.stop - top, columns.start - left : columns.stop - left
            ]

    def _meeting(self, other: Turn, turn: Turn) -> tuple[Mask, int]:
        if (other, turn) not in self._meets:
            around, room = self._room_around(other)
            self._meets[other, turn] = (meeting(around, self.turned(turn).mask), room)
        return self._meets[other, turn]

    def _room_around(self, turn: Turn) -> tuple[Mask, int]:
        """The cells of a stamp with the gap round it, and how many cells before its bounds they begin."""
        if turn not in self._around:
            form, cell = self.turned(turn), self.grid.cell
            room = int(np.ceil(self.task.gap / cell)) + 1
            size = [cells + 2 * room for cells in form.mask.shape]
            left, top = form.left - room * cell, form.top - room * cell
            grid = Grid(left, top, size[0], size[1], cell)
            self._around[turn] = (grid.mask(self._grown(form.shape)), room)
        return self._around[turn]

    def _add(self, shape: shapely.Geometry) -> None:
        self._exact.add(shape)
        self.grid.mark(self._taken, self._grown(shape))
        self.grid.mark(self._surely, self._grown(shape, _SURE))

    def _grown(self, shape: shapely.Geometry, more: float = _DARING) -> shapely.Geometry:
        """A shape with the gap round it, and a little more or less: exact geometry has the last word."""
        whole = shape if self.task.inside else filled_in(shape)
        room = self.task.gap + more * self.grid.cell
        return shapely.buffer(whole, room, quad_segs=4) if abs(room) > 1e-9 else whole

    def _sure_places(self, turn: Turn, shape: tuple[int, ...]) -> Mask:
        """Where a stamp can begin with nothing to settle."""
        if not all(shape):
            return np.zeros(shape, np.bool_)
        taken = spectrum(self._surely, self.grid.size)
        return free_places(taken, self.turned(turn).mask, self.grid.size, *shape)

    def _taken_spectrum(self) -> NDArray[np.complex64]:
        if self._spectrum is None or self._spectrum[0] != len(self._puts):
            self._spectrum = (len(self._puts), spectrum(self._taken, self.grid.size))
        return self._spectrum[1]


def _coarsest(task: Task, width: float) -> float:
    """How small the cells may be for as much of the bed of a task, mm."""
    _, top, _, bottom = task.bed.inner
    return float(np.sqrt(width * (bottom - top) / MOST_CELLS))


@dataclass(frozen=True, eq=False)
class Way:
    """How a pass goes.

    order   in which order; else the largest first
    cell    how large its cells are, mm, where the sheet is not too large for that
    upward  how much it matters, against how far right things reach, that they lie high up
    likes   for a stamp at a turn, how much further right it may reach for being laid so, mm
    """

    order: tuple[int, ...] | None = None
    cell: float = FINEST
    upward: float = 0.02
    likes: Mapping[Turn, float] = field(default_factory=dict)


def quick(task: Task) -> Way:
    """The way of a first answer, which should come at once."""
    return Way(cell=_COARSE if len(task.wanted) <= _MANY else _COARSER)


def fill(
    task: Task, way: Way | None = None, stop: Callable[[], bool] = lambda: False, kept: tuple[Put, ...] = ()
) -> Packed:
    """One pass: each where it lies best, beside what is kept. What finds no place is left over; as soon as `stop` says
    so, so is the rest.
    """
    way = way or Way()
    left, top, right, bottom = task.bed.inner
    if right - left < 1e-6 or bottom - top < 1e-6:
        return Packed(task, kept, reach_of(task, kept))
    order = largest_first(task) if way.order is None else way.order
    room = max(_likely(task), 1.1 * reach_of(task, kept))
    while True:  # most sheets are not filled to the end, and what lies beyond is not looked at
        narrow = min(right - left, room)
        board = Board(_narrowed(task, narrow), max(way.cell, _coarsest(task, narrow)), way.upward, way.likes)
        for put in kept:
            board.put(put)
        puts = (*kept, *_filled(board, order, stop))
        if narrow >= right - left or len(puts) == len(kept) + len(order) or stop():
            return Packed(task, puts, reach_of(task, puts))
        room *= 2


def _filled(board: Board, order: Sequence[int], stop: Callable[[], bool]) -> list[Put]:
    puts: list[Put] = []
    full: set[int] = set()
    for stamp in order:
        if stop():
            break
        if stamp in full:
            continue
        put = board.best(stamp)
        if put is None:
            full.add(stamp)
            continue
        board.put(put)
        puts.append(put)
    return puts


def _likely(task: Task) -> float:
    """How much of the length of the bed is likely to be taken, mm."""
    _, top, _, bottom = task.bed.inner
    boxes = {stamp: shapely.bounds(task.stamps[stamp].plain) for stamp in task.kinds}
    longest = max((max(b[2] - b[0], b[3] - b[1]) for b in boxes.values()), default=0.0)
    wanted = sum(task.stamps[stamp].area * count for stamp, count in task.kinds.items())
    taken = sum(shapely.area(shape) for shape in task.bed.taken)
    return float((wanted / 0.4 + taken) / (bottom - top) + longest)


def _narrowed(task: Task, width: float) -> Task:
    bed = task.bed
    return replace(task, bed=replace(bed, width=width + 2 * bed.margin))


def largest_first(task: Task) -> list[int]:
    """All that is wanted, the largest first."""
    return sorted(task.wanted, key=lambda stamp: (-_size(task, stamp), stamp))


def _size(task: Task, stamp: int) -> float:
    hull = shapely.convex_hull(task.stamps[stamp].plain)
    return float(hull.area)


def reach_of(task: Task, puts: Sequence[Put]) -> float:
    """How far right of the margin these reach, mm."""
    if not puts:
        return 0.0
    return float(max(shapely.bounds(lying(task, puts))[:, 2]) - task.bed.margin)
