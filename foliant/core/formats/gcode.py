"""G-code: G0 to travel, G1 for lines, G2 and G3 for arcs, G4 to stand still, F in mm/min, power by S from 0 to 1000.

A beam is switched on by M4: its power follows the speed, so that it is off where the head stands still. What presses or
turns by M3. Z is the height over the surface of the material, for heads that go up and down.
Coordinates are absolute mm on the bed, y away from the maker.
"""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from foliant.core.equipment import MachineProfile
from foliant.core.formats.dialects import Dialect, dialect_of, from_origin, spoken
from foliant.core.paths import ARC, curves
from foliant.core.program import Stretch
from foliant.core.ticket import Job
from foliant.core.units import format_duration

POWER_SCALE = 10
"""S for one percent."""


class Written(NamedTuple):
    """Lines of G-code, the place of the program that they are of (-1 for none), and how many moves they make."""

    lines: Sequence[str]
    place: int = -1
    moves: int = 0


def write_gcode(job: Job, dialect: Dialect | None = None) -> str:
    """The whole job as G-code text: in the dialect of its machine, where no other is asked for."""
    dialect = dialect or dialect_of(job.machine)
    to_bed = from_origin(job.machine, dialect.origin).transform(job.program.to_bed)
    there = replace(job, program=replace(job.program, to_bed=to_bed))
    lines = (line for written in gcode_lines(there) for line in written.lines)
    return "\n".join(spoken(lines, dialect)) + "\n"


def gcode_lines(job: Job) -> Iterator[Written]:
    """The whole job, place by place; comments are lines of their own."""
    yield Written(_header(job))
    yield from _Writer(job).places()
    yield Written(("M5", "G0 X0 Y0", "M2"))


def _header(job: Job) -> list[str]:
    program = job.program
    plain = job.design.name.encode("ascii", "replace").decode().replace("(", "").replace(")", "")
    return [
        f"; {plain}",
        f"; {job.machine.name}, about {format_duration(program.seconds)}, {len(program)} moves",
        "G21",
        "G90",
        "M4 S0" if job.machine.kind == "laser" else "M3 S0",
        *([f"G0 Z{_plain(job.machine.lift)}"] if job.machine.kind == "turning" else []),
    ]


class _Writer:
    """What is set at the controller, so that only words that change are written."""

    def __init__(self, job: Job) -> None:
        self._job = job
        self._feed = self._power = ""
        self._at = "", ""

    def places(self) -> Iterator[Written]:
        """The lines for each place, with a comment where a new operation begins."""
        operation = -1
        for stretch in self._job.program.stretches():
            if stretch.operation != operation:
                operation = stretch.operation
                yield Written((f"; {self._job.lines[operation].title}",))
            if stretch.travels:
                self._at = _place(*np.round(stretch.points[0, 0], 3).tolist())
                yield Written((" ".join(["G0", *self._at]),), stretch.place, 1)
            yield self._stretch(stretch)

    def _stretch(self, stretch: Stretch) -> Written:
        lines: list[str] = []
        wanted, still, more = f"F{_plain(stretch.block.speed * 60)}", self._still(stretch), 0
        feed, set_to, (was_x, was_y) = self._feed, self._power, self._at  # what a million moves look at
        rows = zip(_powers(stretch), *_words(stretch), stretch.block.moves.working.tolist(), strict=True)
        for at, (power, bend, x, y, working) in enumerate(rows):
            if still and at in still:
                lines += still[at]
                more += len(still[at]) - 1
                feed, set_to = ("", "") if len(still[at]) == 1 else (feed, power)
                continue
            if not working:
                lines.append(f"G0 {x} {y}")
                was_x, was_y = x, y
                continue
            if bend:
                line = f"{bend[0]} {x} {y} {bend[1]} {bend[2]}"
            elif x == was_x:
                if y == was_y:
                    continue
                line = f"G1 {y}"
            else:
                line = f"G1 {x}" if y == was_y else f"G1 {x} {y}"
            was_x, was_y = x, y
            if wanted != feed:
                feed = wanted
                line = f"{line} {feed}"
            if power != set_to:
                set_to = power
                line = f"{line} {power}"
            lines.append(line)
        self._feed, self._power, self._at = feed, set_to, (was_x, was_y)
        return Written(lines, stretch.place, len(lines) - more)

    def _still(self, stretch: Stretch) -> dict[int, tuple[str, ...]]:
        """The lines of its moves that stand still, or go up or down, by their numbers."""
        moves, machine, powers = stretch.block.moves, self._job.machine, _powers(stretch)
        found: dict[int, tuple[str, ...]] = {}
        for at in np.flatnonzero(moves.dwell).tolist():
            # A beam whose power follows the speed would be off while the head stands still.
            stands = f"M3 {powers[at]}", f"G4 P{_plain(round(float(moves.dwell[at]), 3))}"
            found[at] = (*stands, "M4") if machine.kind == "laser" else stands
        if moves.z is not None:
            for at in np.flatnonzero(~np.isnan(moves.z)).tolist():
                found[at] = (_up_or_down(float(moves.z[at]), machine, powers[at]),)
        return found


def _up_or_down(height: float, machine: MachineProfile, power: str) -> str:
    """A head let down into the material at its own pace, the cutter turning, or set to a height."""
    if height < 0 and machine.kind == "turning":
        return f"G1 Z{_plain(round(height, 3))} F{_plain(machine.plunge * 60)} {power}"
    return f"G0 Z{_plain(round(height, 3))}"


def _powers(stretch: Stretch) -> list[str]:
    """The word of its power for each move of a stretch."""
    block = stretch.block
    if block.moves.share is None:
        return [f"S{_plain(block.power * POWER_SCALE)}"] * len(block.moves)
    return [f"S{power}" for power in np.round(block.power * POWER_SCALE * block.moves.share).astype(int).tolist()]


def _words(stretch: Stretch) -> tuple[list[tuple[str, ...]], list[str], list[str]]:
    """For each move of a stretch the words of its bend (none for a line), and those of where it ends."""
    points, arcs = stretch.points, stretch.block.moves.kinds == ARC
    bends: list[tuple[str, ...]] = [()] * len(points)
    if arcs.any():
        centres, _, _, sweeps = curves.circles(points[arcs])
        offsets = (np.round(centres - points[arcs, 0], 4) + 0.0).tolist()
        for index, (i, j), sweep in zip(np.flatnonzero(arcs).tolist(), offsets, sweeps.tolist(), strict=True):
            bends[index] = ("G3" if sweep > 0 else "G2", f"I{i:.10g}", f"J{j:.10g}")
    xs, ys = (np.round(points[:, 3], 3) + 0.0).T.tolist()  # and no zero is less than none
    return bends, [f"X{x:.10g}" for x in xs], [f"Y{y:.10g}" for y in ys]


def _place(x: float, y: float) -> tuple[str, str]:
    return f"X{x + 0.0:.10g}", f"Y{y + 0.0:.10g}"


def _plain(number: float) -> str:
    """A number already rounded, without an exponent or a needless `.0`."""
    return str(int(number)) if number == int(number) else repr(number)
