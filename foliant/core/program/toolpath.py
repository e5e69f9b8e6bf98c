"""The toolpath: a program laid out flat, every move one after the other, and when it happens."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from foliant.core.equipment import MachineProfile
from foliant.core.program.motion import plan_motion

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Toolpath:
    """Moves on the sheet, in mm, y down.

    kinds      (n,)      LINE or ARC
    points     (n, 4, 2) as in `Path`
    working    (n,)      False where the tool only travels
    operation  (n,)      index of the ticket line the move belongs to
    instance   (n,)      index of the instance it is made on
    place      (n,)      index of the place of the program it belongs to, or leads to
    power      (n,)      %, 0 while travelling
    speed      (n,)      mm/s asked for
    dwell      (n,)      s spent at its end with the tool on
    """

    machine: MachineProfile
    kinds: NDArray[np.uint8]
    points: Floats
    working: NDArray[np.bool_]
    operation: NDArray[np.int64]
    instance: NDArray[np.int64]
    place: NDArray[np.int64]
    power: Floats
    speed: Floats
    dwell: Floats

    def __len__(self) -> int:
        return len(self.kinds)

    @cached_property
    def durations(self) -> Floats:
        """The time each move takes in s, with speeding up, slowing down and corners."""
        if not len(self):
            return np.zeros(0)
        return plan_motion(self.kinds, self.points, self.speed, self.machine, dwell=self.dwell)[1]

    @cached_property
    def finishes(self) -> Floats:
        """When each move ends, in s from the start of the job."""
        return np.cumsum(self.durations)
