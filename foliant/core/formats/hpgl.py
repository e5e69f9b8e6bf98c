"""HPGL: for plotters and blade cutters. PU flies, PD works, AA works along an arc; each operation has a pen of its own.

Coordinates are fortieths of a millimetre on the bed, y away from the maker. Pens stand for operations in the order of
the ticket; how hard and how fast each presses is set on the machine.
"""

from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from foliant.core.paths import ARC, curves
from foliant.core.program import Stretch
from foliant.core.ticket import Job

UNITS = 40
"""Units in a millimetre."""

_PENS = 8
_CHORD = 1
"""The degrees from one point to the next when a device draws an arc."""


def write_hpgl(job: Job) -> str:
    """The whole job, one command a line."""
    return "\n".join(["IN;", "PA;", *_commands(job), "PU0,0;", "SP0;", ""])


def _commands(job: Job) -> Iterator[str]:
    operation = -1
    for stretch in job.program.stretches():
        if stretch.operation != operation:
            operation = stretch.operation
            yield f"SP{operation % _PENS + 1};"
        if stretch.travels:
            yield f"PU{place(stretch.points[0, 0])};"
        yield from _worked(stretch)


def _worked(stretch: Stretch) -> Iterator[str]:
    moves, points = stretch.block.moves, stretch.points
    arcs = moves.kinds == ARC
    centres, sweeps = np.zeros((len(points), 2)), np.zeros(len(points))
    if arcs.any():
        centres[arcs], _, _, sweeps[arcs] = curves.circles(points[arcs])
    degrees = np.round(np.degrees(sweeps), 3).tolist()
    for index, (working, bent) in enumerate(zip(moves.working.tolist(), arcs.tolist(), strict=True)):
        if not working:
            yield f"PU{place(points[index, 3])};"
        elif bent:
            yield f"PD;AA{place(centres[index])},{degrees[index]:g},{_CHORD};"
        else:
            yield f"PD{place(points[index, 3])};"


def arc_to(points: NDArray[np.float64]) -> str:
    """The commands that work along one arc, points (1, 4, 2) as in `Path`."""
    centres, _, _, sweeps = curves.circles(points)
    return f"PD;AA{place(centres[0])},{round(float(np.degrees(sweeps[0])), 3):g},{_CHORD};"


def place(point: Sequence[float] | NDArray[np.float64]) -> str:
    """A place of the bed, mm, as HPGL says it."""
    x, y = (round(float(value) * UNITS) for value in point)
    return f"{x},{y}"
