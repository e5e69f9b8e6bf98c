"""Motion: how fast a machine really goes along moves, given that it must speed up, slow down and turn.

The usual planner of a motion controller: every corner gets the speed it can be taken at, one pass
backward and one forward keep every change of speed within the acceleration, and each move then takes
the time of its trapezoid.
"""

import numpy as np
from numpy.typing import NDArray

from foliant.core.equipment import MachineProfile
from foliant.core.paths import ARC, curves
from foliant.core.paths.pairs import dot, size

Floats = NDArray[np.float64]

_RIGHT_ANGLE = np.sin(np.pi / 4) / (1 - np.sin(np.pi / 4))


def plan_motion(
    kinds: NDArray[np.uint8],
    points: Floats,
    asked: Floats,
    machine: MachineProfile,
    first: float = 0.0,
    dwell: Floats | None = None,
) -> tuple[Floats, Floats]:
    """Entry speeds (n + 1,) in mm/s and durations (n,) in s of moves made one after the other.

    kinds (n,) and points (n, 4, 2) are lines and arcs as in `Path`; asked (n,) is the speed wanted; first
    is the speed the machine already has; dwell (n,) is how long, in s, it stands at the end of each move. It stands
    still at the end of all.
    """
    lengths = np.maximum(curves.lengths(kinds, points), 1e-9)
    limits = np.minimum(asked, machine.top_speed)
    arcs = kinds == ARC
    if arcs.any():
        radius = curves.circles(points[arcs])[1]
        limits[arcs] = np.minimum(limits[arcs], np.sqrt(machine.acceleration * radius))
    every = curves.Curves(kinds, points)
    leaving, arriving = (_units(every.slopes(np.full(len(kinds), end))) for end in (1.0, 0.0))
    corners = corner_speeds(leaving[:-1], arriving[1:], machine.corner_speed)
    waits = np.zeros(len(kinds)) if dwell is None else dwell
    corners[waits[:-1] > 0] = 0.0
    speeds = entry_speeds(lengths, limits, corners, machine.acceleration, first, machine.look_ahead)
    return speeds, durations(lengths, limits, speeds, machine.acceleration) + waits


def corner_speeds(leaving: Floats, arriving: Floats, corner_speed: float) -> Floats:
    """The highest speed through each corner, mm/s, from unit directions (n, 2) before and after it.

    The centripetal acceleration on a circle that cuts the corner by a fixed distance, the distance set
    so that a right angle gets `corner_speed`; straight on is unlimited, straight back is a full stop.
    """
    cosine = -dot(leaving, arriving)
    half = np.sqrt(np.clip((1 - cosine) / 2, 0, 1))
    with np.errstate(divide="ignore"):
        squared = corner_speed**2 * half / (1 - np.minimum(half, 1)) / _RIGHT_ANGLE
    return np.asarray(np.sqrt(np.where(half > 0.999999, np.inf, squared)))


def entry_speeds(
    lengths: Floats, limits: Floats, corners: Floats, acceleration: float, first: float = 0.0, look_ahead: int = 32
) -> Floats:
    """The speed at which each move begins, and last the speed at the end (0), shape (n + 1,), mm/s.

    `lengths` (n,) mm; `limits` (n,) the top speed of each move; `corners` (n - 1,) between moves. What a controller
    does not know of yet may be a full stop: it is never faster than it can stop within the moves that it looks ahead.
    """
    count = len(lengths)
    squares = np.zeros(count + 1)
    squares[0] = first**2
    if count > 1:
        squares[1:count] = np.minimum(corners, np.minimum(limits[1:], limits[:-1])) ** 2
    # Over any stretch the square of the speed changes by at most twice the acceleration times the way, so what a move
    # may begin with is a running minimum of what all moves after it, and before it, may, less the way between.
    way = np.append(0.0, np.cumsum(2 * acceleration * lengths))
    known = np.minimum(np.arange(1, count + 1) + look_ahead - 1, count)
    squares[1:] = np.minimum(squares[1:], way[known] - way[1:])
    ahead = np.minimum.accumulate((squares + way)[::-1])[::-1] - way
    squares[1:] = np.clip(ahead, 0, squares)[1:]
    behind = np.minimum.accumulate(squares - way) + way
    return np.asarray(np.sqrt(np.clip(behind, 0, squares)))


def durations(lengths: Floats, limits: Floats, speeds: Floats, acceleration: float) -> Floats:
    """The time of each move in s, shape (n,), from its entry and exit speeds (n + 1,)."""
    v0, v1 = speeds[:-1], speeds[1:]
    peak = np.minimum(limits, np.sqrt((v0**2 + v1**2) / 2 + acceleration * lengths))
    peak = np.maximum(peak, np.maximum(v0, v1))
    ramps = (2 * peak**2 - v0**2 - v1**2) / (2 * acceleration)
    cruise = np.maximum(0, lengths - ramps)
    return np.asarray((2 * peak - v0 - v1) / acceleration + cruise / np.maximum(peak, 1e-9))


def _units(vectors: Floats) -> Floats:
    return np.asarray(vectors / np.maximum(size(vectors), 1e-12)[:, None])
