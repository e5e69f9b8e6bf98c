"""The protocol, and the simulated machine as a process of its own."""

import subprocess
import sys
import time
from collections.abc import Callable, Iterator

import pytest

from foliant.core.errors import Refused
from foliant.core.machine import Endpoint, Link, LinkLost, Panel, Status, driver_at, run_lines, trace_lines
from foliant.core.machine.interpreter import Interpreter, Move
from foliant.core.machine.script import go_lines
from foliant.core.ticket import Job
from tests.making import edited, one_piece, plan, put, tag
from tests.patience import wait_until
from tests.pictures import kept, waves
from tests.ports import free_ports
from tests.processes import ended, started

SMALL = plan(one_piece(put("rectangle", width=40, height=20), put("hole", width=4, height=4)))


class Machine:
    """A running simulated machine."""

    def __init__(self, rate: float, profile: str = "bench-laser", shop: str = "") -> None:
        self.port, self.panel_port = free_ports(2)
        self.process = started(
            [sys.executable, "-m", "foliant", "machine", "--port", str(self.port), "--panel-port", str(self.panel_port),
             "--rate", str(rate), "--profile", profile, *(["--shop", shop] if shop else [])],
            stdout=subprocess.DEVNULL,
        )  # fmt: skip
        self.panel = Panel("127.0.0.1", self.panel_port)
        wait_until(self._answers, "the machine is never on")

    def _answers(self) -> bool:
        try:
            self.link().__exit__()
        except LinkLost:
            return False
        return True

    def link(self) -> Link:
        return Link("127.0.0.1", self.port)


def clock_of(job: Job, profile: str, shop: str = "") -> float:
    """How long a machine of that kind says that a job took, s."""
    machine = Machine(5, profile, shop)  # which a busy sender still feeds in time
    try:
        with machine.link() as link:
            press = lambda status, sent: status.state == "waiting" and machine.panel.press("start")  # noqa: E731
            return link.run(run_lines(job), press).clock  # type: ignore[arg-type]
    finally:
        ended(machine.process)


@pytest.fixture(name="machines", scope="module")
def _machines() -> Iterator[list[Machine]]:
    machines: list[Machine] = []
    yield machines
    for machine in machines:
        ended(machine.process)


@pytest.fixture(name="machine")
def _machine(machines: list[Machine]) -> Machine:
    """One that is on and has nothing to do: the same as before, unless that was unplugged."""
    if not machines or machines[-1].process.poll() is not None:
        machines.append(Machine(rate=15))
    with machines[-1].link() as link:
        link.command("STOP")
    return machines[-1]


def test_a_job_waits_for_the_button_then_runs_and_takes_as_long_as_estimated(machine: Machine) -> None:
    states = []

    def tick(status: Status, sent: int) -> None:
        states.append(status.state)
        if states.count("waiting") == 2:
            machine.panel.press("start")

    with machine.link() as link:
        last = link.run(run_lines(SMALL), tick)
    assert last.state == "idle"
    assert [state for state in states if state != "receiving"][:2] == ["waiting", "waiting"]
    assert "running" in states
    assert last.clock == pytest.approx(SMALL.program.seconds, rel=0.05, abs=1)
    burnt = machine.panel.burnt()
    assert len(burnt) == int(SMALL.program.toolpath().working.sum())
    assert {stroke[-1] for stroke in burnt} == {85}
    xs = [x for stroke in burnt for x in (stroke[0], stroke[4])]
    assert (min(xs), max(xs)) == (4, 44)


def test_the_time_of_every_work_is_true_within_two_percent() -> None:
    """Width of the cut, lead, bridges, a fill, a score, spots, dashes and a picture, on the quicker laser."""
    ticket = {"machine": "cabin-laser", "kerf": "on"}
    operations = {
        "engrave": {"fill": "crossed", "interval": "0.6"}, "picture": {"tone": "grey"},
        "outer": {"lead": "1", "bridges": "3"},
    }  # fmt: skip
    holes = [put("hole", width=3, height=3, x=x, y=4) for x in (4, 36)]
    design = edited(
        one_piece(
            put("rectangle", width=40, height=26, x=20, y=13), *holes,
            put("words", text="Io", cap_height=4, x=10, y=18),
            put("picture", picture=kept(waves()), width=5, x=28, y=17),
            put("circle", diameter=5, x=20, y=6, role="scores"),
        ),
        {"do": "change", "of": "ticket", "values": ticket},
        *({"do": "change", "of": f"operation {key}", "values": values} for key, values in operations.items()),
        {"do": "add-operation", "work": "drill", "piece": "p1", "parts": ["a3"], "mark": "cuts"},
        {"do": "add-operation", "work": "perforate", "piece": "p1", "parts": ["a7"], "mark": "scores"},
        {"do": "change", "of": "operation o9", "values": {"power": "40", "speed": "30"}},
    )  # fmt: skip
    job = plan(design)
    assert {line.work.key for line in job.lines if line.runs} == {"engrave", "picture", "drill", "perforate", "cut"}
    assert clock_of(job, "cabin-laser") == pytest.approx(job.program.seconds, rel=0.02)


def test_hold_keeps_the_job_resume_goes_on_and_stop_forgets_it(machine: Machine) -> None:
    held: list[float] = []

    def tick(status: Status, sent: int) -> str | None:
        if status.state == "waiting":
            machine.panel.press("start")
        if status.state == "holding":
            held.append(status.clock)
            return "RESUME" if len(held) > 3 else None
        if status.state == "running":
            return "STOP" if len(held) > 3 else "HOLD"
        return None

    with machine.link() as link:
        last = link.run(run_lines(SMALL), tick)  # type: ignore[arg-type]
        assert last.state == "stopped"
        assert last.power == 0
    assert len(set(held)) == 1  # time stands still
    with machine.link() as link:
        assert link.run(trace_lines(SMALL), lambda status, sent: None).state == "idle"


def test_a_trace_goes_round_the_bounds_with_the_tool_off(machine: Machine) -> None:
    with machine.link() as link:
        last = link.run(trace_lines(SMALL), lambda status, sent: None)
    assert last.done == 6
    assert machine.panel.burnt() == []


def test_the_stop_button_on_the_machine_works_without_the_link(machine: Machine) -> None:
    def tick(status: Status, sent: int) -> None:
        machine.panel.press("stop" if status.state == "running" else "start")

    with machine.link() as link:
        assert link.run(run_lines(SMALL), tick).state == "stopped"


def test_a_second_sender_is_turned_away_while_a_job_waits(machine: Machine) -> None:
    with machine.link() as first, machine.link() as second:
        first.write("M0")
        assert first.read(1) == "ok"
        second.write("G0 X10 Y10")
        assert second.read(1) == "error: the machine is busy with another job"
        assert second.status().state in ("waiting", "running")


def test_a_line_beyond_the_bed_stops_the_job_with_a_sentence(machine: Machine) -> None:
    with machine.link() as link, pytest.raises(Refused, match="beyond the bed"):
        link.run(["G0 X10 Y10", "G0 X4000 Y10"], lambda status, sent: None)


def test_a_machine_that_is_unplugged_is_told_as_such(machine: Machine) -> None:
    def tick(status: Status, sent: int) -> None:
        machine.process.kill()
        machine.process.wait()

    with machine.link() as link, pytest.raises(LinkLost, match=r"unplugged|broke"):
        link.run(run_lines(SMALL), tick)
    with pytest.raises(LinkLost, match="switched on"):
        machine.link()


def test_a_broken_connection_stops_the_machine(machine: Machine) -> None:
    with machine.link() as link:
        for line in run_lines(plan(tag(copies=2)))[:20]:
            link.write(line)
            link.read(1)
        machine.panel.press("start")
    with machine.link() as link:
        assert until(link, lambda status: status.state == "stopped").power == 0


@pytest.mark.parametrize(
    "line", ["HELLO", "G1 X1 Y1", "G99", "G2 X10 Y0", "G2 X10 Y0 I1 J0 F100", "G1 Q5", "X", "G0 X-5"]
)
def test_lines_a_controller_cannot_carry_out(line: str) -> None:
    reader = Interpreter(400, 400, 200, feed=0 if line == "G1 X1 Y1" else 10)
    with pytest.raises(Refused):
        reader.read(line)


@pytest.mark.parametrize(
    ("word", "middle"), [("G2", (10, 15)), ("G3", (10, 5))]
)  # clockwise from the left goes over the top
def test_half_turns_go_the_right_way_round(word: str, middle: tuple[float, float]) -> None:
    reader = Interpreter(400, 400, 200, position=(5, 10), feed=10)
    (move,) = reader.read(f"{word} X15 Y10 I5 J0")
    assert isinstance(move, Move)
    assert move.middle == pytest.approx(middle)


def test_three_quarter_turns_keep_their_long_way() -> None:
    reader = Interpreter(400, 400, 200, position=(20, 10), feed=10)
    (move,) = reader.read("G3 X10 Y0 I-10 J0")
    assert isinstance(move, Move)
    assert move.middle == pytest.approx((10 - 10 * 0.70710678, 10 + 10 * 0.70710678))


def until(link: Link, good: Callable[[Status], bool]) -> Status:
    """The first status that is as wanted; a machine that never comes to it fails the test."""
    found: list[Status] = []

    def there() -> bool:
        found.append(link.status())
        return good(found[-1])

    wait_until(there)
    return found[-1]


LONG_LINES = ["M4 S0", "G1 X300 F600 S320", "G1 X0 S320"]


def test_a_machine_whose_sender_falls_silent_puts_its_tool_off_and_goes_on_when_it_speaks() -> None:
    machine = Machine(rate=1)
    try:
        with machine.link() as sender, machine.link() as looker:
            for line in LONG_LINES:
                sender.write(line)
            until(looker, lambda status: status.power > 0)
            held = until(looker, lambda status: status.state == "holding")  # nobody told it to
            assert held.power == 0
            sender.write("STATUS")
            assert until(looker, lambda status: status.state == "running").x >= held.x
    finally:
        ended(machine.process)


def test_a_machine_that_waits_for_lines_has_its_tool_off(machine: Machine) -> None:
    with machine.link() as sender, machine.link() as looker:
        for line in ("M4 S0", "G1 X5 F6000 S500"):
            sender.write(line)
        starved = until(looker, lambda status: status.done == 1)
        assert (starved.state, starved.power) == ("running", 0)


def test_any_connection_can_stop_a_machine_at_once_and_what_was_held_stays_off() -> None:
    machine = Machine(rate=1)
    try:
        with machine.link() as sender, machine.link() as other:
            for line in LONG_LINES:
                sender.write(line)
            until(other, lambda status: status.power > 0)
            assert other.command("HOLD").power == 0
            stopped = other.command("STOP")
            assert (stopped.state, stopped.power) == ("stopped", 0)
            time.sleep(0.1)
            assert other.status().power == 0
    finally:
        ended(machine.process)


def test_its_light_shows_where_the_head_is_until_a_job_begins(machine: Machine) -> None:
    there = driver_at(Endpoint("127.0.0.1", machine.port, machine.panel_port))
    led = there.lead(go_lines(30, 20), lambda status, sent: None)
    assert (led.state, led.light, led.power) == ("idle", True, 0)
    lit = []

    def press(status: Status, sent: int) -> None:
        lit.append(status.light)
        if status.state == "waiting":
            machine.panel.press("start")

    there.send(run_lines(SMALL), press)
    assert lit
    assert not lit[-1]
    assert not there.greet().light


def test_a_head_that_goes_down_measures_how_thick_the_sheet_is(machine: Machine) -> None:
    cabin = Machine(15, "cabin-laser")
    try:
        with cabin.link() as link:
            with pytest.raises(Refused, match="nothing lies under its head"):
                link.measure()
            cabin.panel.lay(3.08)
            assert link.measure() == 3.08
            link.write("G0 X300")
            assert link.read(2) == "ok"
            with pytest.raises(Refused, match="a job is on it"):
                link.measure()
    finally:
        ended(cabin.process)
    with machine.link() as link, pytest.raises(Refused, match="does not go up and down"):
        link.measure()
