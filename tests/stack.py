"""The whole of Foliant as makers run it: server, worker and simulated machines, on free ports."""

import json
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import urllib.error
import urllib.request
import zlib
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, BrowserContext, Page, sync_playwright

from foliant.core.equipment import SHIPPED
from tests.patience import FOREVER, wait_until
from tests.ports import BELOW, free_run_of_ports
from tests.processes import ended, started

CHROMIUM = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--js-flags=--no-maglev --no-turbofan",
]  # fmt: skip


_MACHINE_PORTS = 2 * len(SHIPPED.machines) + 1
"""Two for each simulated machine, and one for all cameras."""

TOKEN = "q" * 32
"""With which requests say that they come from the page."""

Place = tuple[int, int, str]
"""Where a stack is: the port of its pages, the first one of its machines, and the folder of its data."""


def free_place(among: range) -> Place:
    """Where nothing is yet."""
    port = free_run_of_ports(1 + _MACHINE_PORTS, among)
    return port, port + 1, tempfile.mkdtemp(prefix="foliant-stack-")


class Stack:
    """A running Foliant. `rate` is how fast the simulated machines live, where it has any."""

    def __init__(
        self,
        rate: float,
        machines: bool = True,
        place: Place | None = None,
        among: range = BELOW,
        look_every: float = 0.2,
    ) -> None:
        """A stack that is to be started, its ports among these; or, at a `place`, one that somebody else starts.

        `look_every` is how often, in s, its helpers look for work.
        """
        self.is_ours = place is None
        self.place = place or free_place(among)
        self.port, self.machine_port, data = self.place
        self.address = f"http://127.0.0.1:{self.port}"
        self.data = Path(data)
        self.machines = machines
        self.environment = {
            **os.environ,
            "FOLIANT_DATA": data,
            "FOLIANT_DEMO": "1",
            "FOLIANT_MACHINE_PORT": str(self.machine_port),
            "FOLIANT_MACHINE_RATE": str(rate),
            "FOLIANT_LOOK_EVERY": str(look_every),
            "FOLIANT_MACHINE_NETWORKS": "127.0.0.0/8",
            "DJANGO_SETTINGS_MODULE": "foliant.site.settings",
        }
        self.process: subprocess.Popen[bytes] | None = None
        self.making: subprocess.Popen[str] | None = None

    def start(self) -> None:
        """Start every part."""
        command = [sys.executable, "manage.py", "serve", "--port", str(self.port)]
        command += [] if self.machines else ["--no-machines"]
        self.process = started(command, env=self.environment, stdout=subprocess.DEVNULL)

    def wait(self) -> None:
        """Until the first page answers, and every simulated machine."""
        wait_until(self._answers, "Foliant did not start")

    def _answers(self) -> bool:
        try:
            urllib.request.urlopen(f"{self.address}/enter/", timeout=FOREVER)
            for number in range(0, _MACHINE_PORTS, 2) if self.machines else ():
                socket.create_connection(("127.0.0.1", self.machine_port + number), timeout=FOREVER).close()
        except (urllib.error.URLError, OSError):
            return False
        return True

    def new_maker(self) -> str:
        """The session of a maker who has entered, has the demo world, and knows nothing of what others did."""
        if self.making is None:
            streams = {"stdin": subprocess.PIPE, "stdout": subprocess.PIPE, "text": True}
            self.making = started([sys.executable, "-m", "tests.makers"], env=self.environment, **streams)
        assert self.making.stdin
        assert self.making.stdout
        self.making.stdin.write("\n")
        self.making.stdin.flush()
        session = self.making.stdout.readline().strip()
        assert session
        return session

    @property
    def stored(self) -> int:
        """How many bytes all that is stored takes."""
        return sum(file.stat().st_size for file in self.data.glob("foliant.sqlite3*"))

    def part(self, word: str) -> int:
        """The process id of a part of the stack, by a word of its command line."""
        ours = f"FOLIANT_DATA={self.data}\0".encode()
        found = []
        for folder in Path("/proc").glob("[0-9]*"):
            with suppress(OSError):
                command = (folder / "cmdline").read_bytes().replace(b"\0", b" ")
                if word.encode() in command and ours in (folder / "environ").read_bytes():
                    found.append(int(folder.name))
        if not found:
            raise LookupError(word)
        return min(found)  # the one that started the others

    def kill(self, word: str) -> None:
        """Pull the plug on a part, as a power cut would."""
        os.kill(self.part(word), signal.SIGKILL)

    @contextmanager
    def held_up(self, word: str) -> Iterator[None]:
        """A part that gets no time at all for a while, as on a machine that does too much else."""
        os.kill(self.part(word), signal.SIGSTOP)
        try:
            yield
        finally:
            os.kill(self.part(word), signal.SIGCONT)

    def damage(self, page: Page) -> None:
        """Store of the open project what another version might have: a last piece that this one cannot read."""
        project = int(page.url.split("/")[-3])
        with sqlite3.connect(self.data / "foliant.sqlite3", timeout=20) as database:
            query = "SELECT id, packed FROM workshop_revision WHERE project_id = ? ORDER BY number DESC LIMIT 1"
            key, packed = database.execute(query, (project,)).fetchone()
            document = json.loads(zlib.decompress(packed))
            document["pieces"][-1]["parts"][0]["shape"]["kind"] = "hologram"
            # As of another moment, since what was read once is kept.
            store = "UPDATE workshop_revision SET packed = ?, created = datetime('now') WHERE id = ?"
            database.execute(store, (zlib.compress(json.dumps(document).encode()), key))
        database.close()
        page.reload()

    def stop(self) -> None:
        """Stop all that was started here, and forget what was stored."""
        if self.making is not None:
            ended(self.making)
        if self.process is not None:
            ended(self.process)
        if self.is_ours:
            shutil.rmtree(self.data)


@contextmanager
def running_stack(rate: float = 100, place: Place | None = None) -> Iterator[Stack]:
    """Foliant, started and stopped; or the one at a place, which somebody else starts and stops."""
    stack = Stack(rate, place=place)
    try:
        if place is None:
            stack.start()
        stack.wait()
        yield stack
    finally:
        stack.stop()


@contextmanager
def chromium() -> Iterator[Browser]:
    """Debian's Chromium."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=CHROMIUM, timeout=1000 * FOREVER
        )
        yield browser
        browser.close()


def new_context(browser: Browser, **more: Any) -> BrowserContext:
    """A browser that nothing is known to yet, with a window of 1280 × 800."""
    context = browser.new_context(**{"viewport": {"width": 1280, "height": 800}, **more})
    context.set_default_timeout(1000 * FOREVER)
    return context


@contextmanager
def entered_as(browser: Browser, stack: Stack, session: str, **more: Any) -> Iterator[BrowserContext]:
    """The browser of a maker who has entered, by their session."""
    context = new_context(browser, base_url=stack.address, **more)
    enter_as(context, stack, session)
    yield context
    context.close()


def enter_as(context: BrowserContext, stack: Stack, session: str) -> None:
    """From here on a browser is that of this maker."""
    cookies = {"sessionid": session, "csrftoken": TOKEN}
    context.clear_cookies()
    context.add_cookies([{"name": name, "value": value, "url": stack.address} for name, value in cookies.items()])


def enter(browser: Browser, stack: Stack) -> Page:
    """A page of somebody who enters by the door, as the demo maker."""
    page = new_context(browser).new_page()
    page.goto(stack.address)
    page.get_by_role("button", name="Enter the demo workshop").click()
    page.wait_for_url(f"{stack.address}/")
    return page
