"""`manage.py serve`: the whole of Foliant in one command: server, worker and simulated machines."""

import os
import signal
import subprocess
import sys
import time
from contextlib import suppress
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import DatabaseError

from foliant.core.equipment import SIMULATED
from foliant.workshop.machines import cameras_port, queue_of, simulated_machines
from foliant.workshop.models import Packing, Run
from foliant.workshop.packer import PACKERS_QUEUE

AGAIN_AFTER = 1.0
"""How many seconds pass before a part that has ended is started again."""


class Command(BaseCommand):
    """Starts every part and starts again whichever ends, until it is told to stop."""

    help = "Run the server, the workers and the simulated machines."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--no-machines", action="store_true", help="leave the simulated machines off")

    def handle(self, *args: Any, port: int, no_machines: bool, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        if settings.DEMO:
            call_command("load_demo", verbosity=0)
        parts = _parts(port, machines=not no_machines)
        fed: set[str] = set()  # the feeders of makers' own machines, and the second packer
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
        running = {name: _start(command) for name, command in parts.items()}
        self.stdout.write(f"\n  Foliant is at http://127.0.0.1:{port}\n  Stop it with Ctrl+C.\n")
        self.stdout.flush()
        try:
            while True:
                time.sleep(AGAIN_AFTER)
                wanted = _wanted(fed)
                for name in wanted.keys() - fed:
                    running[name] = _start(wanted[name])
                for name in fed - wanted.keys():  # nothing is sent there any more
                    running.pop(name).terminate()
                fed, parts = set(wanted), {**parts, **wanted}
                for name, process in running.items():
                    if process.poll() is not None:
                        self.stderr.write(f"The {name} ended with {process.returncode}; starting it again.")
                        running[name] = _start(parts[name])
        except KeyboardInterrupt:
            pass
        finally:
            for process in running.values():
                process.terminate()
            for process in running.values():
                try:
                    process.wait(5)
                except subprocess.TimeoutExpired:
                    process.kill()


_OF = "feeder of "
_PACKER = "second packer"


def _parts(port: int, machines: bool) -> dict[str, list[str]]:
    """The command line of every part."""
    python = sys.executable
    parts = {
        "server": [python, "-m", "gunicorn", "foliant.site.wsgi", "--bind", f"127.0.0.1:{port}", "--threads", "64",
                   "--timeout", "120", "--log-level", "warning"],
    }  # fmt: skip
    parts["packer"] = _worker(PACKERS_QUEUE)
    for key in simulated_machines():
        parts[_OF + key] = _worker(queue_of(f"{SIMULATED}:{key}"))
    if machines:
        parts["simulated cameras"] = [python, "-m", "foliant", "camera", "--port", str(cameras_port())]
        for key, address in simulated_machines().items():
            parts[f"simulated {key}"] = [
                python, "-m", "foliant", "machine", "--profile", key, "--port", str(address.port),
                "--panel-port", str(address.panel_port), "--rate", str(settings.MACHINE_RATE),
            ]  # fmt: skip
    return parts


def _worker(queue: str) -> list[str]:
    """The command line of the process that does what waits in a queue: that feeds a machine, or packs sheets."""
    command = [sys.executable, str(settings.BASE / "manage.py"), "db_worker", "--queue-name", queue]
    often = ["--interval", str(settings.LOOK_EVERY), "--no-startup-delay"]
    return [*command, *often, "--no-reload", "--verbosity", "0"]


def _wanted(fed: set[str]) -> dict[str, list[str]]:
    """What is started beside what always runs: the feeders of all machines that somebody has sent something to, and the
    second packer once a sheet has to wait; what there is, while the database is busy.
    """
    with suppress(DatabaseError):
        addresses = Run.objects.filter(state__in=Run.ACTIVE).order_by().values_list("address", flat=True).distinct()
        found = {_OF + address for address in addresses if not address.startswith(f"{SIMULATED}:")}
        if _PACKER in fed or Packing.objects.filter(state=Packing.State.WAITING).exists():
            found.add(_PACKER)  # it stays, so that no packing is ended by it
        return {name: _command(name) for name in found}
    return {name: _command(name) for name in fed}


def _command(name: str) -> list[str]:
    return _worker(PACKERS_QUEUE if name == _PACKER else queue_of(name.removeprefix(_OF)))


def _start(command: list[str]) -> subprocess.Popen[bytes]:
    environment = {**os.environ, "PYTHONUNBUFFERED": "1"}
    return subprocess.Popen(command, cwd=settings.BASE, env=environment)
