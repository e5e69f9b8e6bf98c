"""A process of its own, so that it can be stopped at any time: `spyrrow` on a strip of one height.

It reads one task from standard input and writes a line for every answer that it finds, each shorter than the last, as
JSON: {"width": mm, "placed": [[name, turn, x, y], …]}. It is run as a file, and knows nothing of the rest.
"""

import json
import sys
import threading

import spyrrow

_LOOK_EVERY = 0.1
_UNUSABLE = (spyrrow.ReportType.ExplInfeas, spyrrow.ReportType.ExplImproving)


def main() -> None:
    """Solve what standard input asks for."""
    asked = json.load(sys.stdin)
    items = [
        spyrrow.Item(name, list(map(tuple, shape)), demand, turns) for name, shape, demand, turns in asked["items"]
    ]
    strip = spyrrow.StripPackingInstance("strip", asked["height"], items)
    how = spyrrow.StripPackingConfig(
        min_items_separation=asked["gap"] or None, total_computation_time=asked["seconds"], seed=asked["seed"]
    )
    reports, done = spyrrow.ProgressQueue(), threading.Event()

    def solve() -> None:
        strip.solve(how, reports)
        done.set()

    threading.Thread(target=solve, daemon=True).start()
    best = float("inf")
    ended = False
    while not ended:
        ended = done.wait(_LOOK_EVERY)
        for kind, found in reports.drain():
            if kind not in _UNUSABLE and found.width < best:
                best = found.width
                placed = [[one.id, one.rotation, *one.translation] for one in found.placed_items]
                print(json.dumps({"width": best, "placed": placed}), flush=True)


if __name__ == "__main__":
    main()
