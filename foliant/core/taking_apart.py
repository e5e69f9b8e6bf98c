"""Taking apart: a file that somebody brings, looked at in a process of its own, with bounds on its memory and time: a
file can be made to harm.
"""

import json
import os
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

from foliant.core.errors import Refused

_SECONDS = 25
_EVERY = 0.15
"""How often, in s, it is said how far it is."""

Watch = Callable[[float], None]
"""What is told how far it is, from 0 to 1, every now and then; where it raises, the reading is given up."""
_TOO_LARGE = "This file takes more memory to read than there is for one; save it smaller."


def taken_apart(
    module: str, data: bytes, damaged: str, watch: Watch = lambda share: None
) -> tuple[bytes, dict[str, Any]]:
    """What the main function of a module, see `answer`, makes of the bytes of a file: a plain file, and what it says of
    it. Raises `Refused` with its sentence, or with `damaged` where it comes to nothing, and whatever `watch` raises.
    """
    with tempfile.TemporaryDirectory() as folder:
        came, plain, far = (Path(folder) / name for name in ("came", "plain", "far"))
        came.write_bytes(data)
        command = [sys.executable, "-m", module, str(came), str(plain), str(far)]
        with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as process:
            try:
                told = _told(process, far, watch)
            finally:
                process.kill()
        try:
            found = json.loads(told.decode() or "{}")
        except ValueError:
            raise Refused(damaged) from None
        if "refused" in found or not plain.is_file() or process.returncode:
            raise Refused(found.get("refused", damaged))
        return plain.read_bytes(), found


def _told(process: subprocess.Popen[bytes], far: Path, watch: Watch) -> bytes:
    """All that a process says; nothing where it takes too long."""
    ends = time.monotonic() + 2 * _SECONDS
    while time.monotonic() < ends:
        with suppress(subprocess.TimeoutExpired):
            return process.communicate(timeout=_EVERY)[0]
        watch(_share(far))
    return b""


def _share(far: Path) -> float:
    try:
        return float(far.read_text())
    except (OSError, ValueError):
        return 0.0  # nothing is said yet, or just now


class _Teller:
    """In that process: where it is said how far it is, and when it was last."""

    path: Path | None = None
    last = 0.0


def tell(share: float) -> None:
    """In that process: say how far it is, from 0 to 1; as often as one likes."""
    now = time.monotonic()
    if _Teller.path and now - _Teller.last > _EVERY:
        _Teller.last = now
        _Teller.path.write_text(f"{min(share, 1.0):.3f}")


def answer(make: Callable[[bytes], tuple[bytes, dict[str, Any]]], memory: int, damaged: str) -> None:
    """In that process: make the plain file of the one that came, within so many bytes of memory."""
    came, plain, far = sys.argv[1:4]
    _Teller.path = Path(far)
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
