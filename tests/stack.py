"""The whole of Foliant as makers run it: server, worker and simulated machines, on free ports."""

import json
import os
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from foliant.core.equipment import SHIPPED
from tests.ports import free_ports, free_run_of_ports

ROOT = Path(__file__).parents[1]
CHROMIUM = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip


class Stack:
    """A running Foliant. `rate` is how fast the simulated machines live, where it has any."""

    def __init__(self, rate: float, machines: bool = True) -> None:
        (self.port,) = free_ports(1)
        self.address = f"http://127.0.0.1:{self.port}"
        self.machine_port = free_run_of_ports(2 * len(SHIPPED.machines) + 1)
        self.data = Path(tempfile.mkdtemp(prefix="foliant-stack-"))
        self.environment = {
            **os.environ,
            "FOLIANT_DATA": str(self.data),
            "FOLIANT_DEMO": "1",
            "FOLIANT_MACHINE_PORT": str(self.machine_port),
            "FOLIANT_MACHINE_RATE": str(rate),
            "FOLIANT_MACHINE_NETWORKS": "127.0.0.0/8",
            "DJANGO_SETTINGS_MODULE": "foliant.site.settings",
        }
        self.is_new = True
        self.renewing: subprocess.Popen[str] | None = None
        self.machines = machines
        command = [sys.executable, "manage.py", "serve", "--port", str(self.port)]
        command += [] if machines else ["--no-machines"]
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.environment, stdout=subprocess.DEVNULL)

    def wait(self) -> None:
        """Until the first page answers, and every simulated machine."""
        until = time.monotonic() + 240
        while time.monotonic() < until:
            try:
                urllib.request.urlopen(f"{self.address}/enter/", timeout=5)
                for number in range(0, 2 * len(SHIPPED.machines) + 1, 2) if self.machines else ():
                    socket.create_connection(("127.0.0.1", self.machine_port + number), timeout=5).close()
                return
            except (urllib.error.URLError, OSError):
                time.sleep(0.25)
        raise RuntimeError("Foliant did not start")

    def renew(self) -> None:
        """Make the demo world anew, for a demo maker who knows nothing of what was done before."""
        if self.is_new:
            self.is_new = False
            return
        if self.renewing is None:
            command = [sys.executable, "-m", "tests.renewing"]
            streams = {"stdin": subprocess.PIPE, "stdout": subprocess.PIPE, "text": True}
            self.renewing = subprocess.Popen(command, cwd=ROOT, env=self.environment, **streams)
        assert self.renewing.stdin
        assert self.renewing.stdout
        self.renewing.stdin.write("renew\n")
        self.renewing.stdin.flush()
        assert self.renewing.stdout.readline() == "ready\n"

    @property
    def stored(self) -> int:
        """How many bytes all that is stored takes."""
        return sum(file.stat().st_size for file in self.data.glob("foliant.sqlite3*"))

    def part(self, word: str) -> int:
        """The process id of a part of the stack, by a word of its command line."""
        for folder in Path("/proc").iterdir():
            if not folder.name.isdigit():
                continue
            try:
                parent = int((folder / "stat").read_text().rpartition(")")[2].split()[1])
                command = (folder / "cmdline").read_bytes().decode().replace("\0", " ")
            except OSError:
                continue
            if parent == self.process.pid and word in command:
                return int(folder.name)
        raise LookupError(word)

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
        """Stop everything."""
        if self.renewing is not None:
            self.renewing.kill()
            self.renewing.communicate()
        self.process.terminate()
        try:
            self.process.wait(10)
        except subprocess.TimeoutExpired:
            self.process.kill()


@contextmanager
def running_stack(rate: float = 100) -> Iterator[Stack]:
    """Foliant, started and stopped."""
    stack = Stack(rate)
    try:
        stack.wait()
        yield stack
    finally:
        stack.stop()


@contextmanager
def chromium() -> Iterator[Browser]:
    """Debian's Chromium."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        yield browser
        browser.close()


def enter(browser: Browser, stack: Stack) -> Page:
    """A page of 1280 × 800, signed in as the demo maker."""
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.set_default_timeout(120_000)
    page.goto(stack.address)
    page.get_by_role("button", name="Enter the demo workshop").click()
    page.wait_for_url(f"{stack.address}/")
    return page
