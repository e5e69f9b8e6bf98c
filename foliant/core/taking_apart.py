"""Taking apart: a file that somebody brings, looked at in a process of its own, with bounds on its memory and time: a
file can be made to harm.
"""

import json
import os
import resource
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from foliant.core.errors import Refused

_SECONDS = 25
_TOO_LARGE = "This file takes more memory to read than there is for one; save it smaller."


def taken_apart(module: str, data: bytes, damaged: str) -> tuple[bytes, dict[str, Any]]:
    """What the main function of a module, see `answer`, makes of the bytes of a file: a plain file, and what it says of
    it. Raises `Refused` with its sentence, or with `damaged` where it comes to nothing.
    """
    with tempfile.TemporaryDirectory() as folder:
        came, plain = Path(folder) / "came", Path(folder) / "plain"
        came.write_bytes(data)
        command = [sys.executable, "-m", module, str(came), str(plain)]
        try:
            done = subprocess.run(command, capture_output=True, timeout=2 * _SECONDS, check=False)
            found = json.loads(done.stdout.decode() or "{}")
        except (subprocess.TimeoutExpired, ValueError):
            raise Refused(damaged) from None
        if "refused" in found or not plain.is_file() or done.returncode:
            raise Refused(found.get("refused", damaged))
        return plain.read_bytes(), found


def answer(make: Callable[[bytes], tuple[bytes, dict[str, Any]]], memory: int, damaged: str) -> None:
    """In that process: make the plain file of the one that came, within so many bytes of memory."""
    came, plain = sys.argv[1:3]
    os.nice(5)  # a page is never kept waiting for it
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (_SECONDS, _SECONDS))
    try:
        data, says = make(Path(came).read_bytes())
    except Refused as refused:
        says = {"refused": str(refused)}
    except MemoryError:
        says = {"refused": _TOO_LARGE}
    except Exception:  # a broken file can break anywhere
        says = {"refused": damaged}
    else:
        Path(plain).write_bytes(data)
    sys.stdout.write(json.dumps(says))
