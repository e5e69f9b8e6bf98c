"""Going on with a job that was broken off: from the move that it was in, with a small overlap.

It works on the very lines that were sent, so it goes on with what was burnt, whatever has become of the design since.
"""

from collections import deque
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import islice

import numpy as np

from foliant.core.equipment import MachineProfile
from foliant.core.errors import Refused
from foliant.core.machine.interpreter import Interpreter, Move, is_move, segments
from foliant.core.paths import curves

OVERLAP = 0.5
"""How much, mm, of what was burnt is burnt again, so that a cut is whole."""

_ON_IT = 0.1  # mm that the place of a machine may lie off the move that it says it is in
_MOST_BACK = 1000  # moves that the overlap reaches over
_FINE = 64  # steps in which a place along a move is looked for

Point = tuple[float, float]


@dataclass(frozen=True)
class Rest:
    """What is left of a job: the lines that make it, how many moves those are, and in which move it begins."""

    lines: tuple[str, ...]
    moves: int
    begins: int


@dataclass(frozen=True)
class _Step:
    """A move by its number, with the line that makes it by its own, and the controller as it was before."""

    number: int
    line: int
    move: Move
    before: Interpreter


def rest_of(
    lines: Sequence[str], done: int, at: Point, machine: MachineProfile, ahead: int = 0, overlap: float = OVERLAP
) -> Rest:
    """What is left of a job that told of `done` moves made, stood at `at`, mm on the bed, and may have been in any of
    so many moves `ahead` of the next. Raises `Refused` where nothing is left.
    """
    every = _steps(lines, machine)
    steps = deque(islice(every, done + 1), maxlen=_MOST_BACK)
    if not steps or steps[-1].number < done:
        raise Refused("All of it was made; nothing is left to go on with.")
    later = [steps[-1], *islice(every, ahead)]
    on = next((number for number, step in enumerate(later) if _along(step.move, at) is not None), 0)
    steps.extend(later[1 : on + 1])
    move = steps[-1].move
    share = (_along(move, at) or 0.0) if move.power else 0.0
    index, share = _back(steps, len(steps) - 1, share, overlap)
    step = steps[index]
    begun = _part(step.move, share)
    head = [*_prepared(step, begun, machine), _said(step, begun, lines)]
    left = ("M0", *head, *lines[step.line + 1 :])
    return Rest(left, sum(map(is_move, left)), step.number)


def _steps(lines: Sequence[str], machine: MachineProfile) -> Iterator[_Step]:
    """The moves of a job, one after the other."""
    rise = machine.rise or machine.plunge
    lifted = machine.lift if machine.kind == "turning" else 0.0
    controller = Interpreter(machine.bed_width, machine.bed_height, machine.travel_speed, rise=rise, z=lifted)
    count = 0
    for number, line in enumerate(lines):
        before = replace(controller)
        for found in controller.read(line):
            if isinstance(found, Move):
                yield _Step(count, number, found, before)
                count += 1


def _along(move: Move, at: Point) -> float | None:
    """How much of a move is made where the tool stands there; None where it does not lie on it, or stands still."""
    if move.dwell:
        return None
    kinds, points = segments([move])
    low, high, away = 0.0, 1.0, np.inf
    while high - low > 1e-6:  # looked for ever more closely
        shares = np.linspace(low, high, _FINE)
        along = curves.evaluate(np.repeat(kinds, _FINE), np.repeat(points, _FINE, axis=0), shares)
        distances = np.hypot(*(along - at).T)
        nearest = int(distances.argmin())
        low, high = shares[max(nearest - 1, 0)], shares[min(nearest + 1, _FINE - 1)]
        away = distances[nearest]
    return float((low + high) / 2) if away <= _ON_IT else None


def _back(steps: Sequence[_Step], index: int, share: float, overlap: float) -> tuple[int, float]:
    """The move and the share of it that lie so far before a place, mm, along what is burnt in one go."""
    while True:
        move = steps[index].move
        length = _length(move)
        if move.dwell or not move.power or share * length >= overlap:
            return index, share - overlap / length if share and length else 0.0
        overlap -= share * length
        before = steps[index - 1].move if index else None
        if before is None or before.dwell or before.power != move.power:
            return index, 0.0
        index, share = index - 1, 1.0


def _prepared(step: _Step, begun: Move, machine: MachineProfile) -> Iterator[str]:
    """What has the machine stand where the rest begins, as it stood then."""
    was = step.before
    yield from ("G21", "G90", "M3 S0" if was.steady else "M4 S0")
    if machine.kind == "turning":
        yield f"G0 Z{machine.lift:g}"
    yield f"G0 X{begun.start[0]:.3f} Y{begun.start[1]:.3f}"
    if was.z < machine.lift and machine.kind == "turning":
        yield f"G1 Z{was.z:g} F{machine.plunge * 60:g} S{was.power * 10:g}"
    elif machine.kind != "turning" and was.z:
        yield f"G0 Z{was.z:g}"
    if not was.tool_on:
        yield "M5"
    if was.feed:
        yield f"F{was.feed * 60:g} S{was.power * 10:g}"  # which later lines say only where they change


def _said(step: _Step, begun: Move, lines: Sequence[str]) -> str:
    """The rest of the broken move as a line, with all that stays set."""
    if begun.dwell or not begun.power:
        return lines[step.line] if begun.dwell else f"G0 X{begun.end[0]:.3f} Y{begun.end[1]:.3f}"
    line = f"X{begun.end[0]:.3f} Y{begun.end[1]:.3f}"
    modal = f"F{begun.speed * 60:g} S{begun.power * 10:g}"
    if begun.middle is None:
        return f"G1 {line} {modal}"
    points = segments([begun])[1]
    centres, _, _, sweeps = curves.circles(points)
    (i, j), turn = centres[0] - points[0, 0], sweeps[0]
    return f"{'G3' if turn > 0 else 'G2'} {line} I{i:.4f} J{j:.4f} {modal}"


def _part(move: Move, share: float) -> Move:
    """The rest of a move from a share of it on."""
    if not share:
        return move
    kinds, points = segments([move])
    piece = curves.cut(kinds, points, np.array([share]), np.ones(1))[0]
    middle = curves.evaluate(kinds, piece[None], np.array([0.5]))[0] if move.middle else None
    start: Point = (float(piece[0, 0]), float(piece[0, 1]))
    return replace(move, start=start, middle=None if middle is None else (float(middle[0]), float(middle[1])))


def _length(move: Move) -> float:
    return float(curves.lengths(*segments([move]))[0])
