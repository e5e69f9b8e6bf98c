"""The toolpath: every move of the machine in order, and when it happens."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from foliant.core.equipment import MachineProfile
from foliant.core.paths import CUBIC, LINE, Path
from foliant.core.paths.flatten import flatten
from foliant.core.ticket.motion import plan_motion
from foliant.core.ticket.recipes import Settings

Floats = NDArray[np.float64]

_AT_ONCE = 3000
"""How many contours are compared with each other at most."""

CHORD = 0.01
"""How far, in mm, the straight moves that stand for a cubic may lie from it."""


@dataclass(frozen=True, eq=False)
class Toolpath:
    """Moves on the sheet, in mm, y down.

    kinds      (n,)      LINE or ARC
    points     (n, 4, 2) as in `Path`
    working    (n,)      False where the tool only travels
    operation  (n,)      index of the ticket line the move belongs to
    power      (n,)      %, 0 while travelling
    speed      (n,)      mm/s asked for
    """

    machine: MachineProfile
    kinds: NDArray[np.uint8]
    points: Floats
    working: NDArray[np.bool_]
    operation: NDArray[np.int64]
    power: Floats
    speed: Floats

    def __len__(self) -> int:
        return len(self.kinds)

    @cached_property
    def durations(self) -> Floats:
        """The time each move takes in s, with speeding up, slowing down and corners."""
        if not len(self):
            return np.zeros(0)
        return plan_motion(self.kinds, self.points, self.speed, self.machine)[1]

    @cached_property
    def finishes(self) -> Floats:
        """When each move ends, in s from the start of the job."""
        return np.cumsum(self.durations)

    @property
    def seconds(self) -> float:
        """How long the whole job takes."""
        return float(self.durations.sum())

    @property
    def travel_seconds(self) -> float:
        """How much of it the tool only travels."""
        return float(self.durations[~self.working].sum())

    def seconds_of(self, operation: int) -> float:
        """How long one line of the ticket takes, with its own travel."""
        return float(self.durations[self.operation == operation].sum())


@dataclass
class ToolpathBuilder:
    """Collects moves; travel is put in wherever work does not begin where the last ended."""

    machine: MachineProfile
    start: tuple[float, float]
    _kinds: list[NDArray[np.uint8]] = field(default_factory=list)
    _points: list[Floats] = field(default_factory=list)
    _operation: list[int] = field(default_factory=list)
    _settings: list[Settings] = field(default_factory=list)

    def cut(self, contours: Iterable[Path], operation: int, settings: Settings) -> None:
        """Follow each contour, as many times as there are passes, before going on to the next."""
        for contour in contours:
            moves = _as_moves(contour)
            for _ in range(settings.passes):
                self._add(moves.kinds, moves.points, operation, settings)

    def strokes(self, strokes: Floats, operation: int, settings: Settings) -> None:
        """Burn straight strokes (k, 2, 2) in order."""
        points = np.stack([strokes[:, 0], strokes[:, 0], strokes[:, 1], strokes[:, 1]], axis=1)
        self._add(np.full(len(points), LINE, np.uint8), points, operation, settings)

    def _add(self, kinds: NDArray[np.uint8], points: Floats, operation: int, settings: Settings) -> None:
        if len(kinds):
            self._kinds.append(kinds)
            self._points.append(points)
            self._operation.append(operation)
            self._settings.append(settings)

    def toolpath(self) -> Toolpath:
        """All moves so far, joined by travel."""
        if not self._kinds:
            nothing = np.zeros(0)
            return Toolpath(
                self.machine,
                np.zeros(0, np.uint8),
                np.zeros((0, 4, 2)),
                np.zeros(0, bool),
                np.zeros(0, np.int64),
                nothing,
                nothing,
            )
        sizes = [len(kinds) for kinds in self._kinds]
        kinds, points = np.concatenate(self._kinds), np.concatenate(self._points)
        operation = np.repeat(self._operation, sizes)
        power = np.repeat([settings.power for settings in self._settings], sizes)
        speed = np.repeat([settings.speed for settings in self._settings], sizes)
        before = np.concatenate([[self.start], points[:-1, 3]])
        gap = np.hypot(*(points[:, 0] - before).T) > 1e-6
        # Each gap becomes one travel move in front of the work it leads to.
        at = np.flatnonzero(gap)
        travel = np.stack([before[at], before[at], points[at, 0], points[at, 0]], axis=1)
        return Toolpath(
            self.machine,
            np.insert(kinds, at, LINE),
            np.insert(points, at, travel, axis=0),
            np.insert(np.ones(len(kinds), bool), at, False),
            np.insert(operation, at, operation[at]),
            np.insert(power.astype(float), at, 0.0),
            np.insert(speed.astype(float), at, self.machine.travel_speed),
        )


def _as_moves(contour: Path) -> Path:
    """Lines and arcs as they are, cubics as short lines."""
    if not (contour.kinds == CUBIC).any():
        return contour
    flat = flatten(contour, CHORD)
    keep = (contour.kinds[flat.segment] == CUBIC) | (flat.t0 == 0)
    kinds = contour.kinds[flat.segment][keep]
    points = contour.points[flat.segment][keep].copy()
    cubic = kinds == CUBIC
    points[cubic] = np.stack([flat.points, flat.points, flat.ends, flat.ends], axis=1)[keep][cubic]
    kinds = np.where(cubic, LINE, kinds).astype(np.uint8)
    return Path(kinds, points, np.zeros(1, np.int64), contour.closed)


def nearest_order(contours: Sequence[Path], start: tuple[float, float]) -> list[Path]:
    """Contours in the order in which each begins nearest to where the last ended (greedy).

    Very many are taken in bands of the sheet, one after the other.
    """
    if not contours:
        return []
    begins = np.array([contour.points[0, 0] for contour in contours])
    ends = np.array([contour.points[-1, 3] for contour in contours])
    here = np.array(start)
    order: list[int] = []
    for band in np.array_split(np.argsort(begins[:, 1], kind="stable"), -(-len(contours) // _AT_ONCE)):
        waiting = np.ones(len(band), bool)
        for _ in band:
            away = np.where(waiting, ((begins[band] - here) ** 2).sum(axis=1), np.inf)
            chosen = int(np.argmin(away))
            waiting[chosen] = False
            here = ends[band[chosen]]
            order.append(int(band[chosen]))
    return [contours[i] for i in order]
