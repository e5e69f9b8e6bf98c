"""`make steady`: all that CI runs, some times over, beside processes that keep the processors busy.

What passes only on a quiet machine fails here. How long each run took is printed; the first that fails ends it.
"""

import argparse
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager

from tests.processes import ROOT, ended, started


@contextmanager
def busy() -> Iterator[None]:
    """A process that takes all the time it can get."""
    process = started([sys.executable, "-c", "while True: pass"])
    try:
        yield
    finally:
        ended(process)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--runs", type=int, default=5)
    parser.add_argument("--busy", type=int, default=3, help="how many processes are kept busy")
    wanted = parser.parse_args()
    with ExitStack() as beside:
        for _ in range(wanted.busy):
            beside.enter_context(busy())
        for number in range(1, wanted.runs + 1):
            begun = time.monotonic()
            result = subprocess.run(["make", "test"], cwd=ROOT, text=True, capture_output=True)
            took, last = time.monotonic() - begun, (result.stdout.strip().splitlines() or [""])[-1]
            print(f"run {number} of {wanted.runs}: {took / 60:.1f} minutes, {last}", flush=True)
            if result.returncode:
                print(result.stdout[-20_000:], result.stderr[-5_000:])
                return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
