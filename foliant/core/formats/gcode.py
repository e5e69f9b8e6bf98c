"""G-code: G0 to travel, G1 for lines, G2 and G3 for arcs, G4 to stand still, F in mm/min, power by S from 0 to 1000.

A beam is switched on by M4: its power follows the speed, so that it is off where the head stands still. What presses or
turns by M3. Z is the height over the surface of the material, for heads that go up and down.
Coordinates are absolute mm on the bed, y away from the maker.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from foliant.core.equipment import MachineProfile
from foliant.core.formats.dialects import Dialect, dialect_of, from_origin, spoken
from foliant.core.paths import ARC, curves
from foliant.core.program import Stretch
from foliant.core.ticket import Job
from foliant.core.units import format_duration

POWER_SCALE = 10
"""S for one percent."""


@dataclass(frozen=True)
class Written:
    """A line of G-code, and the move of the program that it makes: the place and the move at it; -1 for none."""

    text: str
    place: int = -1
    move: int = -1


def write_gcode(job: Job, dialect: Dialect | None = None) -> str:
    """The whole job as G-code text: in the dialect of its machine, where no other is asked for."""
    dialect = dialect or dialect_of(job.machine)
    to_bed = from_origin(job.machine, dialect.origin).transform(job.program.to_bed)
    there = replace(job, program=replace(job.program, to_bed=to_bed))
    return "\n".join([*spoken((line.text for line in gcode_lines(there)), dialect), ""])


def gcode_lines(job: Job) -> Iterator[Written]:
    """The whole job, line by line; a run that was broken off can go on from the place and move of a line."""
    yield from map(Written, _header(job))
    yield from _moves(job)
    yield from map(Written, ("M5", "G0 X0 Y0", "M2"))


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


def _moves(job: Job) -> Iterator[Written]:
    """The lines for each move, with a comment where a new operation begins; only words that change are written."""
    operation, feed, power, last = -1, "", "", ("", "")
    for stretch in job.program.stretches():
        if stretch.operation != operation:
            operation = stretch.operation
            yield Written(f"; {job.lines[operation].title}")
        if stretch.travels:
            x, y = np.round(stretch.points[0, 0], 3).tolist()
            last = f"X{_plain(x)}", f"Y{_plain(y)}"
            yield Written(f"G0 {last[0]} {last[1]}", stretch.place)
        feeds, powers = f"F{_plain(stretch.block.speed * 60)}", _powers(stretch)
        heights = stretch.block.moves.z
        waits, working = stretch.block.moves.dwell.tolist(), stretch.block.moves.working.tolist()
        for move, (bend, x, y) in enumerate(_words(stretch)):
            wanted = feeds, powers[move]
            if heights is not None and not np.isnan(heights[move]):
                yield Written(_up_or_down(float(heights[move]), job.machine, wanted[1]), stretch.place, move)
                feed, power = "", ""
                continue
            if waits[move]:
                # A beam whose power follows the speed would be off while the head stands still.
                yield Written(f"M3 {wanted[1]}", stretch.place, move)
                yield Written(f"G4 P{_plain(round(waits[move], 3))}", stretch.place, move)
                if job.machine.kind == "laser":
                    yield Written("M4", stretch.place, move)
                power = wanted[1]
                continue
            if not working[move]:
                last = x, y
                yield Written(f"G0 {x} {y}", stretch.place, move)
                continue
            if bend:
                words = [bend[0], x, y, *bend[1:]]
            else:
                words = ["G1", *([x] if x != last[0] else []), *([y] if y != last[1] else [])]
                if len(words) == 1:
                    continue
            last = x, y
            if wanted[0] != feed:
                feed = wanted[0]
                words.append(feed)
            if wanted[1] != power:
                power = wanted[1]
                words.append(power)
            yield Written(" ".join(words), stretch.place, move)


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


def _words(stretch: Stretch) -> Iterator[tuple[tuple[str, ...], str, str]]:
    """For each move of a stretch the words of its bend (none for a line), and those of where it ends."""
    points, arcs = stretch.points, stretch.block.moves.kinds == ARC
    bends: list[tuple[str, ...]] = [()] * len(points)
    if arcs.any():
        centres, _, _, sweeps = curves.circles(points[arcs])
        offsets = np.round(centres - points[arcs, 0], 4).tolist()
        for index, (i, j), sweep in zip(np.flatnonzero(arcs).tolist(), offsets, sweeps.tolist(), strict=True):
            bends[index] = ("G3" if sweep > 0 else "G2", f"I{_plain(i)}", f"J{_plain(j)}")
    ends = np.round(points[:, 3], 3).tolist()
    for bend, (x, y) in zip(bends, ends, strict=True):
        yield bend, f"X{_plain(x)}", f"Y{_plain(y)}"


def _plain(number: float) -> str:
    """A number already rounded, without an exponent or a needless `.0`."""
    return str(int(number)) if number == int(number) else repr(number)
