"""One maker's worst beside another's running machine and a third's edits: what each of them feels."""

import http.cookiejar
import json
import multiprocessing
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from dataclasses import dataclass, field
from typing import Any
from uuid import uuid4

from foliant.core.design import Design
from foliant.core.formats import write_design
from foliant.core.machine import Link
from tests.making import edited, one_piece, put, tag
from tests.stack import running_stack

LONG = "Quillmoor Observatory opens tonight " * 27


class Caller:
    """A maker of their own, without a browser."""

    def __init__(self, address: str, joins: bool = True) -> None:
        self.address = address
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.opener.open(f"{self.address}/join/").read()
        if not joins:
            return
        password = f"orbit-{uuid4().hex}"
        form = {"username": f"m{uuid4().hex[:12]}", "password1": password, "password2": password}
        self._send("/join/", urllib.parse.urlencode(form).encode(), "application/x-www-form-urlencoded")

    def _send(self, path: str, body: bytes | None, kind: str) -> tuple[int, bytes]:
        token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "")
        headers = {"Content-Type": kind, "X-CSRFToken": token, "Referer": self.address}
        request = urllib.request.Request(f"{self.address}{path}", body, headers)
        try:
            with self.opener.open(request, timeout=60) as response:
                return response.status, response.read()
        except urllib.error.HTTPError as error:
            return error.code, error.read()

    def guess(self, name: str) -> int:
        """Type a wrong password."""
        form = urllib.parse.urlencode({"username": name, "password": uuid4().hex}).encode()
        return self._send("/enter/", form, "application/x-www-form-urlencoded")[0]

    def post(self, path: str, **body: Any) -> tuple[int, Any]:
        status, answer = self._send(f"/api{path}", json.dumps(body).encode(), "application/json")
        return status, json.loads(answer)

    def get(self, path: str) -> Any:
        return json.loads(self._send(f"/api{path}", None, "application/json")[1])

    def opened(self, design: Design) -> int:
        """A project of a design."""
        edge = uuid4().hex
        head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="x.json"\r\n\r\n'
        body = f"{head}{write_design(design)}\r\n--{edge}--\r\n".encode()
        return int(json.loads(self._send("/api/designs", body, f"multipart/form-data; boundary={edge}")[1])["id"])


@dataclass
class Felt:
    """What was felt: seconds of each edit alone and beside the worst, statuses, and what the machine did."""

    alone: list[float] = field(default_factory=list)
    beside: list[float] = field(default_factory=list)
    statuses: set[int] = field(default_factory=set)
    heavy: list[float] = field(default_factory=list)
    stop: float = 0.0
    burning_still: float = 0.0
    end: str = ""


def edits(
    maker: Caller,
    project: int,
    felt: Felt,
    into: list[float],
    seconds: float = 1e6,
    times: int = 10**6,
    pause: float = 0.1,
) -> None:
    """Small edits, one after the other, as a maker types: for so many seconds, or so many times."""
    until = time.monotonic() + seconds
    revision = maker.get(f"/projects/{project}")["revision"]
    number = 0
    while time.monotonic() < until and number < times:
        number += 1
        begun = time.monotonic()
        edit = {"do": "change", "of": "part a4", "values": {"text": f"GUIDE {number}"}}
        status, answer = maker.post(f"/projects/{project}/edits", revision=revision, edit=edit)
        into.append(time.monotonic() - begun)
        felt.statuses.add(status)
        revision = answer.get("revision", revision)
        time.sleep(pause)


def worst(maker: Caller, project: int, felt: Felt, ended: threading.Event) -> None:
    """The heaviest that is allowed, again and again."""
    revision, number = 1, 0
    while not ended.is_set():
        number += 1
        begun = time.monotonic()
        edit = {"do": "change", "of": "part a2", "values": {"text": f"{LONG[: 950 - number]}{number}"}}
        status, answer = maker.post(f"/projects/{project}/edits", revision=revision, edit=edit)
        felt.heavy.append(time.monotonic() - begun)
        felt.statuses.add(status)
        revision = answer.get("revision", revision)


def watch(port: int, felt: Felt, ended: threading.Event) -> None:
    """The machine itself: how long it ever stood still with its tool on."""
    with Link("127.0.0.1", port) as link:
        clock, since = -1.0, time.monotonic()
        while not ended.is_set():
            status = link.status(10)
            if status.clock != clock or status.power == 0:
                clock, since = status.clock, time.monotonic()
            felt.burning_still = max(felt.burning_still, time.monotonic() - since)
            time.sleep(0.02)


def beside_the_worst(seconds: float = 15) -> Felt:
    """Three makers at once; the second one's machine is stopped at the end."""
    felt, ended = Felt(), threading.Event()
    with running_stack(rate=1) as stack:
        heavy, running, typing = Caller(stack.address), Caller(stack.address), Caller(stack.address)
        port = stack.machine_port
        project = running.opened(tag(copies=6))
        mine = typing.opened(tag())
        edits(typing, mine, felt, felt.alone, seconds / 3)
        _, run = running.post(f"/projects/{project}/runs", kind="job")
        while running.get(f"/projects/{project}/runs/newest")["run"]["state"] != "waiting":
            time.sleep(0.1)
        running.post(f"/projects/{project}/machine/panel", button="start")
        words = one_piece(put("words", text=LONG[:900], font="pacifico", cap_height=4, role="adds"))
        theirs = heavy.opened(words)
        threads = [
            threading.Thread(target=worst, args=(heavy, theirs, felt, ended)),
            threading.Thread(target=watch, args=(port, felt, ended)),
        ]
        for thread in threads:
            thread.start()
        edits(typing, mine, felt, felt.beside, seconds)
        begun = time.monotonic()
        stopped = threading.Thread(
            target=running.post, args=(f"/projects/{project}/runs/{run['id']}/command",), kwargs={"command": "STOP"}
        )
        stopped.start()
        with Link("127.0.0.1", port) as link:
            while link.status(10).state != "stopped" and time.monotonic() - begun < 20:
                time.sleep(0.005)
        felt.stop = time.monotonic() - begun
        stopped.join()
        ended.set()
        for thread in threads:
            thread.join()
        for _ in range(100):
            felt.end = running.get(f"/projects/{project}/runs/newest")["run"]["state"]
            if felt.end not in ("running", "sending"):
                break
            time.sleep(0.1)
    return felt


def beside_guessers(count: int = 16, seconds: float = 8) -> Felt:
    """A maker's edits alone, and beside so many who try passwords as fast as they are answered."""
    felt = Felt()
    with running_stack() as stack:
        typing = Caller(stack.address)
        mine = typing.opened(tag())
        edits(typing, mine, felt, felt.alone, seconds)
        # In a process of their own: here they would slow the one who measures.
        guessing = multiprocessing.get_context("spawn").Process(
            target=guess_on, args=(stack.address, count, 2 * seconds)
        )
        guessing.start()
        time.sleep(seconds)
        edits(typing, mine, felt, felt.beside, seconds)
        guessing.join()
    return felt


def guess_on(address: str, count: int, seconds: float) -> None:
    """So many callers who type wrong passwords for so long."""

    def guessing(name: str) -> None:
        caller, until = Caller(address, joins=False), time.monotonic() + seconds
        while time.monotonic() < until:
            caller.guess(name)

    threads = [threading.Thread(target=guessing, args=(f"maker-{number}",)) for number in range(count)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


def many_edits(count: int = 1000) -> tuple[int, list[float]]:
    """By how many bytes the database grows with so many edits of a project of 200 parts; and the time of each, in s."""
    taken: list[float] = []
    with running_stack() as stack:
        maker = Caller(stack.address)
        circles = (put("circle", diameter=2 + i % 7, x=i % 20, y=i // 20) for i in range(197))
        project = maker.opened(edited(tag(), *circles))
        before = stack.stored
        felt = Felt()
        edits(maker, project, felt, taken, times=count, pause=0)
        assert felt.statuses == {200}
        return stack.stored - before, taken


def one_name_each(design: Design, count: int) -> list[float]:
    """The seconds of each answer where so many pieces get other words, one after the other."""
    taken: list[float] = []
    with running_stack() as stack:
        maker = Caller(stack.address)
        project = maker.opened(design)
        revision = maker.get(f"/projects/{project}")["revision"]
        for number, piece in enumerate(design.pieces[:count]):
            edit = {"do": "change", "of": f"part {piece.parts[1].id}", "values": {"text": f"ORRIN {number}"}}
            begun = time.perf_counter()
            status, answer = maker.post(f"/projects/{project}/edits", revision=revision, edit=edit)
            taken.append(time.perf_counter() - begun)
            assert status == 200, answer
            revision = answer["revision"]
    return taken
