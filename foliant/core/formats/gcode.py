"""G-code: G0 to travel, G1 for lines, G2 and G3 for arcs, G4 to stand still, F in mm/min, power by S from 0 to 1000.

A beam is switched on by M4: its power follows the speed, so that it is off where the head stands still. A blade by M3.
Coordinates are absolute mm from the near left corner of the sheet, y away from the maker; the page's y
runs down, so heights are turned over. Only words that change are written.
"""

import numpy as np

from foliant.core.paths import ARC, curves
from foliant.core.ticket import Job
from foliant.core.units import format_duration

POWER_SCALE = 10
"""S for one percent."""


def write_gcode(job: Job) -> str:
    """The whole job as G-code text."""
    return "\n".join([*_header(job), *gcode_moves(job), "M5", "G0 X0 Y0", "M2", ""])


def _header(job: Job) -> list[str]:
    program = job.program
    plain = job.design.name.encode("ascii", "replace").decode().replace("(", "").replace(")", "")
    return [
        f"; {plain}",
        f"; {job.machine.name}, about {format_duration(program.seconds)}, {len(program)} moves",
        "G21",
        "G90",
        "M3 S0" if job.machine.kind == "blade" else "M4 S0",
    ]


def gcode_moves(job: Job) -> list[str]:
    """One line for each move, with a comment where a new operation begins."""
    path = job.program.toolpath()
    if not len(path):
        return []
    height = job.design.stock.height
    ends = path.points[:, 3]
    arcs = path.kinds == ARC
    offsets, sweeps = np.zeros((len(path), 2)), np.zeros(len(path))
    if arcs.any():
        centres, _, _, sweeps[arcs] = curves.circles(path.points[arcs])
        offsets[arcs] = centres - path.points[arcs, 0]
    # Turning the page over turns y round, and I and J with it; clockwise on the page stays clockwise.
    xs, ys = np.round(ends[:, 0], 3).tolist(), np.round(height - ends[:, 1], 3).tolist()
    out: list[str] = []
    last_operation, last_feed, last_power = -1, -1.0, -1.0
    last_x = last_y = float("nan")
    rows = zip(
        path.working.tolist(),
        arcs.tolist(),
        xs,
        ys,
        np.round(offsets[:, 0], 4).tolist(),
        np.round(-offsets[:, 1], 4).tolist(),
        (sweeps > 0).tolist(),
        path.operation.tolist(),
        (path.speed * 60).tolist(),
        (path.power * POWER_SCALE).tolist(),
        np.round(path.dwell, 3).tolist(),
        strict=True,
    )
    for working, is_arc, x, y, i, j, clockwise, operation, feed, power, wait in rows:
        if operation != last_operation:
            out.append(f"; {job.lines[operation].title}")
            last_operation = operation
        if wait:
            # A beam whose power follows the speed would be off while the head stands still.
            out += [f"M3 S{_plain(power)}", f"G4 P{_plain(wait)}", *([] if job.machine.kind == "blade" else ["M4"])]
            last_power = power
            continue
        if not working:
            out.append(f"G0 X{_plain(x)} Y{_plain(y)}")
            last_x, last_y = x, y
            continue
        if is_arc:
            words = f"{'G2' if clockwise else 'G3'} X{_plain(x)} Y{_plain(y)} I{_plain(i)} J{_plain(j)}"
        else:
            across = f" X{_plain(x)}" if x != last_x else ""
            up = f" Y{_plain(y)}" if y != last_y else ""
            if not (across or up):
                continue
            words = f"G1{across}{up}"
        last_x, last_y = x, y
        if feed != last_feed:
            words += f" F{_plain(feed)}"
            last_feed = feed
        if power != last_power:
            words += f" S{_plain(power)}"
            last_power = power
        out.append(words)
    return out


def _plain(number: float) -> str:
    """A number already rounded, without an exponent or a needless `.0`."""
    return str(int(number)) if number == int(number) else repr(number)
