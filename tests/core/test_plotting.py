"""The cutter that takes HPGL over its link: a job to its end, held, stopped, lost, and gone on with."""

import socket
import threading
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
import pytest

from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.machine import Driver, Endpoint, LinkLost, Status, driver_at, run_lines
from foliant.core.machine.link import Command
from foliant.core.machine.plotting import said
from foliant.core.machine.resuming import OVERLAP, rest_of
from foliant.core.machine.script import go_lines
from foliant.core.ticket import Job
from tests.core.test_machine import Machine
from tests.making import edited, one_piece, plan, put
from tests.patience import FOREVER
from tests.ports import free_ports
from tests.processes import ended

CUTTER = {"do": "change", "of": "ticket", "values": {"machine": "desk-cutter"}}
CARD = {"do": "change", "of": "stock", "values": {"material": "ivory-card", "thickness": 0.4}}


PLATE = put("rectangle", width=120, height=50, corners="rounded", corner=6)
WORDS = put("words", text="ORRIN", cap_height=20, role="cuts")


def job(*parts: dict[str, Any]) -> Job:
    return plan(edited(one_piece(*(parts or (PLATE, put("hole", width=8, height=8)))), CARD, CUTTER))


@pytest.fixture(name="cutter")
def _cutter(request: pytest.FixtureRequest) -> Iterator[Machine]:
    machine = Machine(getattr(request, "param", 20), "desk-cutter")
    yield machine
    ended(machine.process)


def driver(machine: Machine) -> Driver:
    return driver_at(Endpoint("127.0.0.1", machine.port, machine.panel_port), "hpgl")


def pressing(machine: Machine, then: Callable[[Status], Command | None] = lambda status: None) -> Any:
    """Presses start when it waits for that, and else does what is said."""

    def tick(status: Status, sent: int) -> Command | None:
        if status.state == "waiting":
            machine.panel.press("start")
        return then(status)

    return tick


@pytest.mark.parametrize("cutter", [4], indirect=True)  # so slow that a busy sender feeds it in time
def test_a_job_is_cut_as_it_was_planned(cutter: Machine) -> None:
    work = job()
    ticks: list[Status] = []
    last = driver(cutter).send(run_lines(work), pressing(cutter, lambda status: ticks.append(status)))
    assert last.state == "idle"
    assert {"waiting", "running"} <= {status.state for status in ticks}
    assert last.done == sum(move for _, move in said(run_lines(work)))
    assert last.clock == pytest.approx(work.program.seconds, rel=0.05, abs=1)
    cut = np.array(driver(cutter).burnt())
    ends = cut[:, [0, 1, 4, 5]].reshape(-1, 2)
    left, top, right, bottom = work.layout.bounds
    high = work.design.stock.height
    assert ends.min(axis=0) == pytest.approx((left, high - bottom), abs=0.1)
    assert ends.max(axis=0) == pytest.approx((right, high - top), abs=0.1)
    assert driver(cutter).send(go_lines(30, 40), lambda status, sent: None).state == "idle"
    stands = driver(cutter).greet()
    assert (stands.state, stands.x, stands.y, stands.power) == ("idle", 30, 40, 0)


def test_it_is_held_goes_on_and_is_stopped_with_its_knife_up(cutter: Machine) -> None:
    held: list[Status] = []
    long = run_lines(job(PLATE, WORDS))

    def hold(status: Status) -> Command | None:
        if status.state == "holding":
            held.append(status)
            return "RESUME" if len(held) > 3 else None
        return "HOLD" if status.done > 2 and not held else None

    assert driver(cutter).send(long, pressing(cutter, hold)).state == "idle"
    assert len({status.done for status in held}) == 1  # it stood still
    assert all(not status.power for status in held)
    stopped = driver(cutter).send(
        run_lines(job()), pressing(cutter, lambda status: "STOP" if status.done > 2 else None)
    )
    assert (stopped.state, stopped.power) == ("stopped", 0)
    beside = driver(cutter)
    with pytest.raises(LinkLost, match="held and let go on by what it is sent"):
        beside.tell("HOLD", 1)
    told: list[Status] = []

    def stop_beside(status: Status) -> None:
        if status.done > 2 and not told:
            told.append(beside.tell("STOP", FOREVER))

    assert driver(cutter).send(long, pressing(cutter, stop_beside)).state == "stopped"
    with pytest.raises(Refused, match="does not measure"):
        beside.measure()


def test_its_own_button_stops_it_and_the_rest_is_gone_on_with(cutter: Machine) -> None:
    lines = run_lines(job(PLATE, WORDS))

    def press_stop(status: Status) -> None:
        if status.done > 8 and status.state == "running":
            cutter.panel.press("stop")

    broken = driver(cutter).send(lines, pressing(cutter, press_stop))
    assert broken.state == "stopped"
    once, stands = cut_by(cutter), driver(cutter).greet()
    rest = rest_of(lines, broken.done, (stands.x, stands.y), SHIPPED.machine("desk-cutter"), driver(cutter).ahead)
    assert driver(cutter).send(rest.lines, pressing(cutter)).state == "idle"
    again = cut_by(cutter)
    assert driver(cutter).send(lines, pressing(cutter)).state == "idle"
    assert 0 < once + again - cut_by(cutter) < OVERLAP + 0.1


def cut_by(cutter: Machine) -> float:
    """How much its last job cut, mm."""
    strokes = np.array(driver(cutter).burnt())[:, :6].reshape(-1, 3, 2)
    return float(np.hypot(*np.moveaxis(np.diff(strokes, axis=1), 2, 0)).sum())


def test_it_stops_at_the_edge_of_its_bed(cutter: Machine) -> None:
    last = driver(cutter).send(["M0", "G0 X10 Y10", "G0 X4000 Y10", "M2"], pressing(cutter))
    assert (last.state, last.power) == ("stopped", 0)


def test_what_answers_nonsense_or_nothing_is_told(cutter: Machine) -> None:
    ended(cutter.process)
    with pytest.raises(LinkLost, match="No machine answers"):
        driver(cutter).greet()
    (port,) = free_ports(1)
    with socket.create_server(("127.0.0.1", port)) as server:
        heard: list[socket.socket] = []  # which stays open until it was read

        def answer() -> None:
            heard.append(server.accept()[0])
            heard[0].sendall(b"good day\n")

        threading.Thread(target=answer, daemon=True).start()
        with pytest.raises(LinkLost, match="a cutter that takes HPGL"):
            driver_at(Endpoint("127.0.0.1", port), "hpgl").greet()
        heard[0].close()
