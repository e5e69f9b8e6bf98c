"""Processes that tests start. None outlives the test process, however that ends."""

import shutil
import subprocess
from collections.abc import Sequence
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]

_TIED = ["setpriv", "--pdeathsig", "TERM"] if shutil.which("setpriv") else []
"""Has the kernel end a process when the one that started it is gone, of which an interrupted run says nothing else."""


def started(command: Sequence[str], **options: Any) -> subprocess.Popen[Any]:
    """A process in the project's folder."""
    return subprocess.Popen([*_TIED, *command], cwd=ROOT, **options)


def ended(process: subprocess.Popen[Any], seconds: float = 10) -> None:
    """Have a process end: it is asked to, and if it does not, it is made to."""
    process.terminate()
    try:
        process.wait(seconds)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()
