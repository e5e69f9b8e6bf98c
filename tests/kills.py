"""Runs that are broken off anywhere: a helper, the server, the link or the machine is killed at a random moment.

`make kills` breaks 500 of them, on all machines that ship at once, and judges each: its tool is off, it is not
forgotten, it is gone on with to its end, and no more than the overlap is burnt twice. What a machine burnt it tells
itself: it writes down every step that it makes.
"""

import argparse
import asyncio
import random
import socket
import sys
import threading
import time
from collections import Counter, defaultdict
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from foliant.core.design import Design
from foliant.core.equipment import SHIPPED
from foliant.core.machine import LinkLost, Panel, driver_at
from foliant.core.machine.driver import Endpoint
from foliant.core.machine.drivers import simulator_of
from foliant.core.machine.interpreter import Move, segments
from foliant.core.machine.resuming import OVERLAP
from foliant.core.machine.simulator import serve
from foliant.core.paths import curves
from tests.load import Caller
from tests.making import edited, one_piece, put
from tests.patience import FOREVER
from tests.ports import free_ports
from tests.processes import started
from tests.stack import Stack

WHAT = ("helper", "server", "link", "machine")


# The machines


def machine(key: str, port: int, panel_port: int, track: Path) -> None:
    """A simulated machine that writes down every step: the number of its job and of the move, the share of that, its
    length and its power.
    """
    made = simulator_of(SHIPPED.machine(key), 1.0)
    file = track.open("a", buffering=1)
    plain_step, plain_begin = made._stand_at, made.begin

    def stand_at(move: Move, share: float) -> None:
        plain_step(move, share)
        length = float(curves.lengths(*segments([move]))[0])
        file.write(f"{made.done} {share:.6f} {length:.4f} {move.power:g}\n")

    def begin(writer: asyncio.StreamWriter) -> None:
        plain_begin(writer)
        file.write("begin\n")

    made._stand_at, made.begin = stand_at, begin  # type: ignore[method-assign]
    asyncio.run(serve(made, port, panel_port))


class Bench:
    """A machine that can be killed, behind a link that can be cut."""

    def __init__(self, key: str, port: int, track: Path) -> None:
        self.key, self.track = key, track
        track.touch()
        self.panel = Panel("127.0.0.1", port + 1)
        self._panel_port = port + 1
        (self._port,) = free_ports(1)
        self._cables: list[socket.socket] = []
        self._server = socket.create_server(("127.0.0.1", port))
        threading.Thread(target=self._plug, daemon=True).start()
        self.on()

    def on(self) -> None:
        command = [sys.executable, "-m", "tests.kills", "--machine", self.key, str(self._port)]
        self.process = started([*command, str(self._panel_port), str(self.track)])
        until = time.monotonic() + 60
        while time.monotonic() < until:
            with suppress(OSError):
                socket.create_connection(("127.0.0.1", self._port), 1).close()
                return
            time.sleep(0.05)

    def off(self) -> None:
        self.process.kill()
        self.process.wait()

    def cut(self) -> None:
        """The link breaks."""
        for end in self._cables:
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)

    def _plug(self) -> None:
        while True:
            near, _ = self._server.accept()
            try:
                far = socket.create_connection(("127.0.0.1", self._port), 2)
            except OSError:
                near.close()
                continue
            far.settimeout(None)
            self._cables = [*self._cables[-8:], near, far]
            for one, other in ((near, far), (far, near)):
                one.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
                threading.Thread(target=_carry, args=(one, other), daemon=True).start()

    def jobs(self) -> list[float]:
        """How much each of its jobs burnt, mm."""
        jobs: list[dict[int, float]] = []
        for line in self.track.read_text().splitlines():
            words = line.split()
            if line == "begin":
                jobs.append(defaultdict(float))
            elif len(words) == 4 and jobs and float(words[3]) > 0:
                move = int(words[0])
                jobs[-1][move] = max(jobs[-1][move], float(words[1]) * float(words[2]))
        return [sum(job.values()) for job in jobs]

    def tool_off(self) -> bool:
        """Whether it says that its tool is off."""
        driver = driver_at(Endpoint("127.0.0.1", self._port), SHIPPED.machine(self.key).language)
        return driver.greet().power == 0


def _carry(one: socket.socket, other: socket.socket) -> None:
    with suppress(OSError):
        while found := one.recv(4096):
            other.sendall(found)
    for end in (one, other):
        with suppress(OSError):
            end.shutdown(socket.SHUT_RDWR)


# What is broken off


def job_for(key: str) -> Design:
    """A piece that keeps a machine busy for some six seconds."""
    ticket = {"do": "change", "of": "ticket", "values": {"machine": key}}
    if key == "bench-laser":
        plate = put("rectangle", width=7, height=5, x=3.5, y=2.5, corners="rounded", corner=1)
        return edited(one_piece(plate, put("words", text="I", cap_height=2, x=3.5, y=2.5)), ticket)
    plate = put("rectangle", width=40, height=20, x=20, y=10, corners="rounded", corner=3)
    if key == "desk-cutter":
        words = [put("words", text="OR", cap_height=9, x=20, y=10, role="scores")]
        card = {"do": "change", "of": "stock", "values": {"material": "ivory-card", "thickness": 0.4}}
        return edited(one_piece(plate, *words), card, ticket)
    return edited(one_piece(plate, put("words", text="I", cap_height=4, x=20, y=10)), ticket)


@dataclass
class Judged:
    """What became of the broken runs."""

    tried: Counter[str] = field(default_factory=Counter)
    faults: list[str] = field(default_factory=list)
    twice: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))


class Maker:
    """Whoever runs one machine over and over."""

    def __init__(self, stack: Stack, bench: Bench, judged: Judged, lock: threading.Lock, seed: int) -> None:
        self.stack, self.bench, self.judged, self.lock = stack, bench, judged, lock
        self.random = random.Random(seed)
        self.caller = Caller(stack.address)
        self.project = self.caller.opened(job_for(bench.key))
        self.whole = self.lasts = 0.0

    def ask(self, path: str, **body: Any) -> dict[str, Any]:
        """What the server answers, which may be away for a while."""
        until = time.monotonic() + FOREVER
        while True:
            with suppress(OSError, ValueError):
                if body:
                    status, answer = self.caller.post(f"/projects/{self.project}{path}", **body)
                    assert status < 500, (status, answer)
                    return {**answer, "status": status}
                return dict(self.caller.get(f"/projects/{self.project}{path}"))
            assert time.monotonic() < until, "the server stays away"
            time.sleep(0.1)

    def newest(self, *states: str) -> dict[str, Any]:
        """The newest run, once it is in one of those states."""
        until = time.monotonic() + FOREVER
        while True:
            run: dict[str, Any] = self.ask("/runs/newest")["run"]
            if run["state"] in states:
                return run
            if time.monotonic() > until:
                raise TimeoutError(f"run {run['id']} stays {run['state']}")
            time.sleep(0.05)

    def begin(self, path: str = "/runs", **body: Any) -> None:
        until = time.monotonic() + FOREVER
        while (answer := self.ask(path, **body))["status"] != 200:
            assert time.monotonic() < until, answer
            time.sleep(0.3)
        self.newest("waiting")
        self.bench.panel.press("start")

    def measure(self) -> None:
        """How much a run burns that nothing happens to."""
        self.begin(kind="job")
        begun = time.monotonic()
        self.newest("done")
        self.whole, self.lasts = self.bench.jobs()[-1], time.monotonic() - begun
        print(f"{self.bench.key} burns {self.whole:.1f} mm in {self.lasts:.1f} s", flush=True)

    def once(self, what: str) -> None:
        before = len(self.bench.jobs())
        self.begin(kind="job")
        time.sleep(self.random.uniform(0, self.lasts))
        self.strike(what)
        run = self.newest("done", "stopped", "lost")
        if what == "server" and run["state"] != "done":
            self.fault(what, f"a run ended as {run['state']} without the server")
        if not self.bench.tool_off():
            self.fault(what, "its tool is on")
        for _ in range(3):
            if run["state"] == "done":
                break
            if run["goOn"]:
                self.begin(f"/runs/{run['goOn']}/go-on", go="on")
            else:
                self.begin(f"/runs/{run['id']}/again", go="again")
            run = self.newest("done", "stopped", "lost")
        if run["state"] != "done":
            self.fault(what, f"it could not be gone on with: {run['message']}")
        jobs = self.bench.jobs()[before:]
        twice = sum(jobs) - self.whole
        if len(jobs) > 1:
            self.judged.twice[f"{self.bench.key} {what}"].append(twice)
        if twice < -0.2:
            self.fault(what, f"{-twice:.2f} mm are not burnt")
        elif what != "machine" and twice > OVERLAP + 0.2:
            self.fault(what, f"{twice:.2f} mm are burnt twice")

    def strike(self, what: str) -> None:
        if what == "link":
            self.bench.cut()
        elif what == "machine":
            self.bench.off()
            time.sleep(self.random.uniform(0.1, 2))
            self.bench.on()
        else:
            with self.lock, suppress(LookupError, ProcessLookupError):
                self.stack.kill("gunicorn" if what == "server" else f"machine-{self.bench.key}")

    def fault(self, what: str, says: str) -> None:
        self.judged.faults.append(f"{self.bench.key}, {what}: {says}")
        print(self.judged.faults[-1], flush=True)


def broken_off(count: int, seed: int = 1) -> Judged:
    """Break off so many runs, in turn on each of the machines that ship."""
    judged, lock, left = Judged(), threading.Lock(), list(range(count))
    stack = Stack(1, machines=False)
    benches: list[Bench] = []
    try:
        for number, profile in enumerate(SHIPPED.machines):
            track = stack.data / f"{profile.key}.track"
            benches.append(Bench(profile.key, stack.machine_port + 2 * number, track))
        stack.start()
        stack.wait()
        makers = [Maker(stack, bench, judged, lock, seed + number) for number, bench in enumerate(benches)]

        def work(maker: Maker) -> None:
            maker.measure()
            while True:
                with lock:
                    if not left:
                        return
                    what = WHAT[left.pop() % len(WHAT)]
                    judged.tried[what] += 1
                    if len(left) % 20 == 0:
                        print(f"{len(left)} left", flush=True)
                try:
                    maker.once(what)
                except (TimeoutError, AssertionError, LinkLost) as trouble:
                    maker.fault(what, f"forgotten: {trouble}")

        threads = [threading.Thread(target=work, args=(maker,)) for maker in makers]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    finally:
        for bench in benches:
            bench.off()
        stack.stop()
    return judged


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("count", nargs="?", type=int, default=500)
    parser.add_argument("--machine", nargs=4)
    asked = parser.parse_args()
    if asked.machine:
        key, port, panel_port, track = asked.machine
        machine(key, int(port), int(panel_port), Path(track))
        sys.exit()
    found = broken_off(asked.count)
    print(dict(found.tried))
    for name, lengths in sorted(found.twice.items()):
        print(f"{name}: gone on with {len(lengths)} times, at most {max(lengths):.2f} mm twice")
    print("\n".join(found.faults) or "None ended with its tool on, none was forgotten, all were gone on with.")
    sys.exit(bool(found.faults))
