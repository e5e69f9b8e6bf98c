"""Programs: blocks of moves, and the places where they are made one after the other, joined by travel.

Equal instances share their blocks, so a thousand equal tags are one set of moves and a thousand places.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from fontTools.misc.transform import Transform
from numpy.typing import NDArray

from foliant.core.equipment import MachineProfile
from foliant.core.paths import LINE
from foliant.core.program.bed import home, mapped
from foliant.core.program.toolpath import Toolpath
from foliant.core.works import Moves
from foliant.core.works.work import TOGETHER

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Point = tuple[float, float]


@dataclass(frozen=True, eq=False)
class Block:
    """Moves in their piece's own coordinates, made in one go at one power (%) and speed (mm/s)."""

    moves: Moves
    power: float
    speed: float


def _powers(block: Block) -> Floats:
    """The power of each of its moves, %."""
    share = block.moves.share
    return np.full(len(block.moves), block.power, float) if share is None else block.power * share


@dataclass(frozen=True, eq=False)
class Stretch:
    """What a machine does at one place of a program.

    place      its number in the program
    operation  index of the ticket line
    instance   index of the instance on the sheet
    block      what is done
    travels    whether the tool travels to where it begins first
    points     (n, 4, 2) of the block's moves on the bed, mm, y away from the maker
    """

    place: int
    operation: int
    instance: int
    block: Block
    travels: bool
    points: Floats


@dataclass(frozen=True, eq=False)
class Program:
    """What a machine does: one block after the other, each at its place.

    to_bed     from the sheet to the bed of the machine, whose origin the tool comes from and goes back to
    blocks     the blocks, each once
    block      (m,)   the number of the block made at each place, in order
    shift      (m, 2) from the piece's coordinates to the sheet's, mm
    operation  (m,)   index of the ticket line
    instance   (m,)   index of the instance on the sheet; -1 for what is done on all of them as one
    """

    machine: MachineProfile
    to_bed: Transform
    blocks: tuple[Block, ...]
    block: Ints
    shift: Floats
    operation: Ints
    instance: Ints

    @property
    def start(self) -> Point:
        """Where the tool is when it begins, and goes back to at the end, mm on the sheet."""
        return home(self.to_bed)

    def stretches(self) -> Iterator[Stretch]:
        """What is done at each place, on the bed, one after the other: a writer holds no more than that at a time."""
        rows = zip(self.block.tolist(), self.shift, self.travels.tolist(), strict=True)
        for place, (number, shift, travels) in enumerate(rows):
            block = self.blocks[number]
            points = mapped(block.moves.points + shift, self.to_bed)
            operation, instance = int(self.operation[place]), int(self.instance[place])
            yield Stretch(place, operation, instance, block, travels, points)

    @cached_property
    def begins(self) -> Floats:
        """Where the tool begins at each place, (m, 2)."""
        first = np.array([block.moves.points[0, 0] for block in self.blocks]).reshape(-1, 2)
        return np.asarray(first[self.block] + self.shift)

    @cached_property
    def ends(self) -> Floats:
        """Where it ends, (m, 2)."""
        last = np.array([block.moves.points[-1, 3] for block in self.blocks]).reshape(-1, 2)
        return np.asarray(last[self.block] + self.shift)

    @cached_property
    def travels(self) -> NDArray[np.bool_]:
        """Whether the tool travels to a place, (m,)."""
        before = np.concatenate([[self.start], self.ends[:-1]]) if len(self.block) else self.begins
        return np.asarray(np.hypot(*(self.begins - before).T) > TOGETHER)

    @cached_property
    def sizes(self) -> Ints:
        """How many moves are made at each place, travel left out, (m,)."""
        sizes: Ints = np.array([len(block.moves) for block in self.blocks], np.int64)
        return sizes[self.block]

    def __len__(self) -> int:
        return int(self.sizes.sum() + self.travels.sum()) if len(self.block) else 0

    @cached_property
    def _times(self) -> tuple[Floats, Floats, float]:
        """Seconds of work at each place, of the travel to it, and of the way home."""
        flat = self.toolpath()
        count = len(self.block)
        work = np.bincount(flat.place, np.where(flat.working, flat.durations, 0.0), count)
        travel = np.bincount(flat.place, np.where(flat.working, 0.0, flat.durations), count)
        return np.asarray(work), np.asarray(travel), self._home()

    def _home(self) -> float:
        """Seconds of the way back to the start, from standing to standing."""
        if not len(self.block):
            return 0.0
        way = float(np.hypot(*(self.ends[-1] - self.start)))
        speed, pull = self.machine.travel_speed, self.machine.acceleration
        ramp = speed**2 / pull
        return way / speed + speed / pull if way > ramp else 2 * float(np.sqrt(way / pull))

    @property
    def seconds(self) -> float:
        """How long it takes, the way home included."""
        work, travel, home = self._times
        return float(work.sum() + travel.sum() + home)

    @property
    def travel_seconds(self) -> float:
        """How much of that the tool only travels."""
        _, travel, home = self._times
        return float(travel.sum() + home)

    @property
    def home_seconds(self) -> float:
        """How long the way home takes."""
        return self._times[2]

    def seconds_of(self, operation: int) -> float:
        """How long one line of the ticket takes, with the travel to it."""
        work, travel, _ = self._times
        own = self.operation == operation
        return float(work[own].sum() + travel[own].sum())

    def seconds_by_instance(self, count: int) -> Floats:
        """How long each of the first `count` instances on the sheet takes, with the travel to it, (count,); what is
        done on all of them as one is shared alike.
        """
        work, travel, _ = self._times
        own = self.instance >= 0
        shared = float((work + travel)[~own].sum()) / max(count, 1)
        return np.asarray(np.bincount(self.instance[own], (work + travel)[own], count)[:count] + shared, float)

    def end_of(self, operation: int) -> float:
        """When one line of the ticket is done, in s from the start; 0 where it does nothing."""
        work, travel, _ = self._times
        own = np.flatnonzero(self.operation == operation)
        return float((work + travel)[: own[-1] + 1].sum()) if len(own) else 0.0

    def toolpath(self) -> Toolpath:
        """Every move, one after the other; made anew each time, as it may be large."""
        if not len(self.block):
            nothing, none = np.zeros(0), np.zeros(0, np.int64)
            flags = np.zeros(0, np.bool_)
            kinds, points = np.zeros(0, np.uint8), np.zeros((0, 4, 2))
            return Toolpath(self.machine, kinds, points, flags, none, none, none, nothing, nothing, nothing)
        size = np.array([len(block.moves) for block in self.blocks])
        at = np.cumsum(size) - size
        place = np.repeat(np.arange(len(self.block)), self.sizes)
        index = np.arange(len(place)) - np.repeat(np.cumsum(self.sizes) - self.sizes, self.sizes)
        row = at[self.block][place] + index
        kinds = np.concatenate([block.moves.kinds for block in self.blocks])[row]
        shift = self.shift.take(place, 0)[:, None]
        points = np.concatenate([block.moves.points for block in self.blocks]).take(row, 0) + shift
        dwell = np.concatenate([block.moves.dwell for block in self.blocks])[row]
        working = np.concatenate([block.moves.working for block in self.blocks])[row]
        power = np.concatenate([_powers(block) for block in self.blocks])[row]
        speed = np.array([block.speed for block in self.blocks], float)[self.block][place]
        # Each gap becomes one travel move in front of the work it leads to.
        gaps = np.flatnonzero(self.travels)
        before = np.concatenate([[self.start], self.ends[:-1]])[gaps]
        begins = self.begins.take(gaps, 0)
        travel = np.stack([before, before, begins, begins], axis=1)
        front = (np.cumsum(self.sizes) - self.sizes)[gaps]
        place = np.insert(place, front, gaps)
        return Toolpath(
            self.machine,
            np.insert(kinds, front, LINE),
            np.insert(points, front, travel, axis=0),
            np.insert(working, front, False),
            self.operation[place],
            self.instance[place],
            place,
            np.insert(np.where(working, power, 0.0), front, 0.0),
            np.insert(np.where(working, speed, self.machine.travel_speed), front, self.machine.travel_speed),
            np.insert(dwell, front, 0.0),
        )


@dataclass
class ProgramBuilder:
    """Collects places in order; a block that comes again is kept once."""

    machine: MachineProfile
    to_bed: Transform
    here: Point = field(init=False)
    _blocks: dict[int, tuple[int, Block]] = field(default_factory=dict)
    _rows: list[tuple[int, float, float, int, int]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.here = home(self.to_bed)

    def add(self, block: Block, shift: Point, operation: int, instance: int) -> None:
        """Make a block at a place; one without moves is left out."""
        if not len(block.moves):
            return
        number = self._blocks.setdefault(id(block), (len(self._blocks), block))[0]
        self._rows.append((number, *shift, operation, instance))
        x, y = block.moves.points[-1, 3]
        self.here = (float(x) + shift[0], float(y) + shift[1])

    def program(self) -> Program:
        """All of it so far."""
        rows = np.array(self._rows, float).reshape(-1, 5)
        number, operation, instance = (rows[:, column].astype(np.int64) for column in (0, 3, 4))
        blocks = tuple(block for _, block in self._blocks.values())
        return Program(self.machine, self.to_bed, blocks, number, rows[:, 1:3], operation, instance)
