"""HPGL: for plotters and blade cutters. PU flies, PD works, AA works along an arc; each operation has a pen of its own.

Coordinates are fortieths of a millimetre on the bed, with decimals, as HP-GL/2 has them: a device that knows whole ones
only drops what stands behind the point. One that cannot read a point is sent whole ones, by its dialect. Pens stand for
operations in the order of the ticket; how hard and how fast each presses is set on the machine.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from foliant.core.formats.dialects import Dialect, chords, dialect_of, from_origin
from foliant.core.paths import ARC, curves
from foliant.core.program import Stretch
from foliant.core.ticket import Job

UNITS = 40
"""Units in a millimetre."""

_PENS = 8
_DECIMALS = 2
_CHORD = 0.5
"""The degrees from one point to the next when a device draws an arc."""

Point = Sequence[float] | NDArray[np.float64]


def write_hpgl(job: Job, dialect: Dialect | None = None) -> str:
    """The whole job, one command a line: measured from the origin of its machine, in arcs or short lines and in parts
    of fortieths or whole ones as that takes them, where no other dialect is asked for.
    """
    dialect = dialect or dialect_of(job.machine)
    to_bed = from_origin(job.machine, dialect.origin).transform(job.program.to_bed)
    there = replace(job, program=replace(job.program, to_bed=to_bed))
    return "\n".join(["IN;", "PA;", *_Writer(dialect).commands(there), "PU0,0;", "SP0;", ""])


@dataclass(frozen=True)
class _Writer:
    dialect: Dialect

    def commands(self, job: Job) -> Iterator[str]:
        operation = -1
        for stretch in job.program.stretches():
            if stretch.operation != operation:
                operation = stretch.operation
                yield f"SP{operation % _PENS + 1};"
            if stretch.travels:
                yield f"PU{self._place(stretch.points[0, 0])};"
            yield from self._worked(stretch)

    def _worked(self, stretch: Stretch) -> Iterator[str]:
        moves, points = stretch.block.moves, stretch.points
        arcs = moves.kinds == ARC
        centres, sweeps = np.zeros((len(points), 2)), np.zeros(len(points))
        if arcs.any():
            centres[arcs], _, _, sweeps[arcs] = curves.circles(points[arcs])
        ends = (np.round(points[:, 3] * UNITS, 0 if self.dialect.whole else _DECIMALS) + 0.0).tolist()
        rows = zip(ends, moves.working.tolist(), arcs.tolist(), strict=True)
        for index, ((x, y), working, bent) in enumerate(rows):
            if not (working and bent):
                yield f"{'PD' if working else 'PU'}{x:.10g},{y:.10g};"
            elif self.dialect.arcs and abs(sweeps[index]) >= np.deg2rad(_CHORD):
                yield _arc(self._place(centres[index]), sweeps[index])
            else:
                ends = chords(complex(*points[index, 0]), complex(*centres[index]), float(sweeps[index]))
                yield f"PD{','.join(self._place((end.real, end.imag)) for end in ends)};"

    def _place(self, point: Point) -> str:
        return place(point, whole=self.dialect.whole)


def arc_to(points: NDArray[np.float64]) -> str:
    """The commands that work along one arc, points (1, 4, 2) as in `Path`, in whole fortieths."""
    centres, _, _, sweeps = curves.circles(points)
    if abs(sweeps[0]) < np.deg2rad(_CHORD):
        return f"PD{place(points[0, 1])},{place(points[0, 3])};"
    return _arc(place(centres[0]), float(sweeps[0]))


def _arc(centre: str, sweep: float) -> str:
    return f"PD;AA{centre},{round(float(np.degrees(sweep)), 4):.10g},{_CHORD};"


def place(point: Point, whole: bool = True) -> str:
    """A place of the bed, mm, as HPGL says it."""
    x, y = (round(float(value) * UNITS, None if whole else _DECIMALS) for value in point)
    return f"{x:.10g},{y:.10g}"
