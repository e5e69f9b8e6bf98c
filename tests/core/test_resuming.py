"""Going on with a job that was broken off: all of it is made, and no more than the overlap twice."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.design import Design
from foliant.core.errors import Refused
from foliant.core.machine import run_lines
from foliant.core.machine.interpreter import Interpreter, Move, segments
from foliant.core.machine.resuming import OVERLAP, rest_of
from foliant.core.paths import curves
from foliant.core.ticket import Job
from tests.making import edited, one_piece, plan, put, tag
from tests.pictures import kept, waves


def mixed() -> Design:
    """A fill, a score, spots, a picture and cuts with arcs, on the quicker laser."""
    return edited(
        one_piece(
            put("rectangle", width=40, height=26, x=20, y=13, corners="rounded", corner=4),
            put("hole", width=3, height=3, x=6, y=4),
            put("words", text="Io", cap_height=4, x=10, y=18),
            put("picture", picture=kept(waves()), width=8, x=28, y=17),
            put("circle", diameter=5, x=20, y=6, role="scores"),
        ),
        {"do": "change", "of": "ticket", "values": {"machine": "cabin-laser"}},
        {"do": "change", "of": "operation picture", "values": {"tone": "grey", "interval": "0.5"}},
        {"do": "add-operation", "work": "drill", "piece": "p1", "parts": ["a3"], "mark": "cuts"},
    )


JOBS = {"tag": plan(tag()), "mixed": plan(mixed())}
LINES = {name: run_lines(job) for name, job in JOBS.items()}


def moves_of(lines: list[str] | tuple[str, ...], job: Job) -> list[Move]:
    machine = job.machine
    controller = Interpreter(machine.bed_width, machine.bed_height, machine.travel_speed)
    return [found for line in lines for found in controller.read(line) if isinstance(found, Move)]


MOVES = {name: moves_of(LINES[name], job) for name, job in JOBS.items()}


def burnt(moves: list[Move]) -> dict[float, float]:
    """The length, mm, that is burnt at each power, and the seconds stood still."""
    found: dict[float, float] = {}
    for move, length in zip(moves, curves.lengths(*segments(moves)).tolist(), strict=True):
        if move.power:
            found[move.power] = found.get(move.power, 0.0) + length
        found[-1.0] = found.get(-1.0, 0.0) + move.dwell
    return found


@pytest.mark.parametrize("name", list(JOBS))
@given(data=st.data())
def test_what_is_left_is_made_and_no_more_than_the_overlap_twice(name: str, data: st.DataObject) -> None:
    job, lines, moves = JOBS[name], LINES[name], MOVES[name]
    done = data.draw(st.integers(0, len(moves) - 1))
    share = data.draw(st.floats(0, 1))
    move = moves[done]
    kinds, points = segments([move])
    at = tuple(curves.evaluate(kinds, points, np.array([share]))[0].tolist())
    rest = rest_of(lines, done, at, job.machine)
    again = moves_of(rest.lines, job)
    assert rest.lines[0] == "M0"
    assert rest.moves == len(again)
    assert again[-1] == moves[-1]
    made = burnt(moves[:done])
    if move.power and not move.dwell:
        made[move.power] = made.get(move.power, 0.0) + share * curves.lengths(kinds, points)[0]
    whole, left = burnt(moves), burnt(again)
    twice = {power: made.get(power, 0.0) + left.get(power, 0.0) - length for power, length in whole.items()}
    slack = 0.003 * len(again) ** 0.5 + 0.01
    assert all(-slack <= length for length in twice.values()), twice
    assert sum(twice.values()) <= OVERLAP + slack
    first = next((one for one in again if one.power), None)
    if first and move.power:
        assert np.hypot(first.start[0] - at[0], first.start[1] - at[1]) <= OVERLAP + 0.05


def test_a_place_that_cannot_be_believed_begins_its_move_again_and_what_is_done_is_said() -> None:
    job, lines, moves = JOBS["tag"], LINES["tag"], MOVES["tag"]
    at = next(number for number, move in enumerate(moves) if move.power)
    again = moves_of(rest_of(lines, at, (0.0, 399.0), job.machine).lines, job)
    assert burnt(again) == pytest.approx(burnt(moves))
    with pytest.raises(Refused, match="nothing is left"):
        rest_of(lines, len(moves), (0.0, 0.0), job.machine)
