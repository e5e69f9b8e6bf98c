"""The link against controllers that misbehave."""

import socket
import threading
import time
import tracemalloc
from collections.abc import Callable, Iterator

import pytest

from foliant.core.errors import Refused
from foliant.core.machine import Link, LinkLost, Panel, Status
from foliant.core.machine import link as link_module
from foliant.core.machine.programs import pack_lines, read_lines

Serve = Callable[[Callable[[str], str | None]], int]


@pytest.fixture(name="serve")
def _serve() -> Iterator[Serve]:
    """Starts a controller that answers each line by a function; None closes the connection, "" says nothing."""
    listening = socket.create_server(("127.0.0.1", 0))

    def start(answer: Callable[[str], str | None]) -> int:
        def run() -> None:
            connection, _ = listening.accept()
            with connection, connection.makefile("rw") as stream:
                for line in stream:
                    said = answer(line.strip())
                    if said is None:
                        return
                    if said:
                        stream.write(said + "\n")
                        stream.flush()

        threading.Thread(target=run, daemon=True).start()
        return int(listening.getsockname()[1])

    yield start
    listening.close()


def idle(line: str) -> str:
    return "status state=idle x=0 y=0 power=0 done=3 clock=1.5" if line == "STATUS" else "ok"


def nothing(status: Status, sent: int) -> None:
    return None


def test_a_controller_that_answers_is_heard_out(serve: Serve) -> None:
    with Link("127.0.0.1", serve(idle)) as link:
        assert link.status() == Status("idle", 0, 0, 0, 3, 1.5)
        assert link.run(["G21", "G90"], nothing).done == 3


def test_a_long_program_is_kept_small_and_sent_in_little_memory() -> None:
    lines = lambda: (f"G1 X{number % 400} Y{number // 400 % 400}" for number in range(100_000))  # noqa: E731
    packed = pack_lines(lines())
    assert len(packed) < 700_000
    tracemalloc.start()
    assert all(one == other for one, other in zip(read_lines(packed), lines(), strict=True))
    assert tracemalloc.get_traced_memory()[1] < 2_000_000
    tracemalloc.stop()
    assert list(read_lines(b"")) == []


def test_nobody_at_the_address() -> None:
    with socket.create_server(("127.0.0.1", 0)) as taken:
        port = taken.getsockname()[1]
    with pytest.raises(LinkLost, match="switched on and plugged in"):
        Link("127.0.0.1", port)
    with pytest.raises(LinkLost, match="panel"):
        Panel("127.0.0.1", port).press("start")


@pytest.mark.parametrize(
    "says", ["status state=idle", "status x=a y=b state=idle power=0 done=0 clock=0", "status hello"]
)
def test_another_kind_of_server_at_the_address(serve: Serve, says: str) -> None:
    with Link("127.0.0.1", serve(lambda line: says)) as link, pytest.raises(LinkLost, match="right address"):
        link.status()


def test_a_controller_that_hangs_up(serve: Serve) -> None:
    with Link("127.0.0.1", serve(lambda line: None)) as link, pytest.raises(LinkLost, match="unplugged"):
        link.run(["G21"], nothing)


def test_a_controller_that_falls_silent(serve: Serve, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(link_module, "SILENCE", 0.4)
    with Link("127.0.0.1", serve(lambda line: "")) as link, pytest.raises(LinkLost, match="not answered"):
        link.run(["G21"], nothing)


def test_who_was_held_up_has_no_connection_although_an_answer_waits(
    serve: Serve, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(link_module, "SILENCE", 1.5)
    held: list[int] = []

    def answer(line: str) -> str:
        return "status state=waiting x=0 y=0 power=0 done=0 clock=0\nok" if line == "STATUS" else ""

    def held_up(status: Status, sent: int) -> None:
        assert not held, "it went on"
        held.append(sent)
        time.sleep(2)  # as one that gets no time at all; the machine has answered meanwhile

    with Link("127.0.0.1", serve(answer)) as link, pytest.raises(LinkLost, match="Foliant was held up"):
        link.run(["G21", "G1 X5"], held_up)


def test_what_holds_foliant_up_is_not_taken_for_the_machines_silence(monkeypatch: pytest.MonkeyPatch) -> None:
    now = [0.0]
    monkeypatch.setattr(link_module.time, "monotonic", lambda: now[0])
    listening = link_module.Listening()

    def hears_nothing(times: int, every: float) -> None:
        for _ in range(times):
            now[0] += every
            listening.take(None)

    hears_nothing(10, every=4.0)  # nobody gets any time, the machine neither
    with pytest.raises(LinkLost, match="not answered for 5 seconds"):
        hears_nothing(100, every=0.05)


def test_a_refused_line_is_named(serve: Serve) -> None:
    def answer(line: str) -> str:
        return "error: no such word" if line == "G99" else idle(line)

    with Link("127.0.0.1", serve(answer)) as link, pytest.raises(Refused, match=r"line 2 \(“G99”\): no such word"):
        link.run(["G21", "G99", "G90"], nothing)


def test_a_command_is_passed_on_while_an_answer_is_awaited(serve: Serve) -> None:
    heard: list[str] = []

    def answer(line: str) -> str:
        heard.append(line)
        state = "stopped" if "STOP" in heard else "running"
        return f"status state={state} x=0 y=0 power=0 done=0 clock=0" if line in ("STATUS", "STOP") else ""

    with Link("127.0.0.1", serve(answer)) as link:
        last = link.run(["G1 X5"], lambda status, sent: "STOP" if status.state == "running" else None)
    assert last.state == "stopped"
    assert heard[0] == "G1 X5"
    assert "STOP" in heard


def test_how_the_job_before_ended_is_not_how_this_one_does(serve: Serve) -> None:
    heard: list[str] = []
    states: list[str] = []

    def answer(line: str) -> str:
        heard.append(line)
        if line != "STATUS":
            return ""  # taken a moment later, as on a busy machine
        if heard.count("STATUS") < 3:
            return "status state=stopped x=0 y=0 power=0 done=9 clock=0"
        return "ok" if heard.count("STATUS") == 3 else idle(line)

    with Link("127.0.0.1", serve(answer)) as link:
        last = link.run(["G1 X5"], lambda status, sent: states.append(status.state))
    assert (states, last.state) == (["receiving", "receiving", "idle"], "idle")
