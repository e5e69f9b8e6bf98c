"""Another packer beside the raster's: `spyrrow`, which knows neither openings nor what is taken, but packs a plain
strip closely. What it finds is proved here like all else.

What lies in an opening goes along with what it lies in, as one thing.
"""

import json
import logging
import subprocess
import sys
import threading
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path
from queue import Empty, SimpleQueue
from typing import Any

import numpy as np
import shapely

from foliant.core.packing.greedy import Way, fill, largest_first, reach_of
from foliant.core.packing.task import Packed, Put, filled_in, lying
from foliant.core.packing.touching import proved_clear

logger = logging.getLogger("foliant.packing")

_SOLVER = Path(__file__).with_name("strip_solver.py")
_MORE = 0.004
"""What it is told more than the gap, mm: it reckons in single precision."""


@dataclass(eq=False)
class Bundle:
    """Something with what lies in its openings, as (stamp, turn, x, y) as seen from it."""

    stamp: int
    inside: list[tuple[int, float, float, float]] = field(default_factory=list)


class Strip:
    """The solver at work on what lies on a bed; `answers` gives what it has found since it was last asked."""

    def __init__(self, best: Packed, seconds: float, seed: int) -> None:
        self._task = best.task
        self._bundles = bundles_of(best)
        self._answers: SimpleQueue[dict[str, Any]] = SimpleQueue()
        self._process = subprocess.Popen(
            [sys.executable, str(_SOLVER)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
            text=True,
        )  # fmt: skip
        threading.Thread(target=self._listen, args=(self._asked(seconds, seed),), daemon=True).start()

    def answers(self) -> list[Packed]:
        """The newest answer, proved, if there is one."""
        newest = None
        while True:
            try:
                newest = self._answers.get_nowait()
            except Empty:
                return [self._proved(newest["placed"])] if newest else []

    def stop(self) -> None:
        """End it."""
        self._process.kill()
        self._process.wait()

    def _listen(self, asked: str) -> None:
        process = self._process
        if process.stdin is None or process.stdout is None:
            return
        try:
            with process.stdin as wants:
                wants.write(asked)
        except OSError:
            return  # it was stopped already
        for line in process.stdout:
            self._answers.put(json.loads(line))
        if process.wait() > 0:
            logger.warning("The strip solver ended with %s", process.returncode)

    def _asked(self, seconds: float, seed: int) -> str:
        task = self._task
        _, top, _, bottom = task.bed.inner
        plain = Counter(bundle.stamp for bundle in self._bundles if not bundle.inside)
        items = [[f"s{stamp}", *self._item(stamp, count)] for stamp, count in plain.items()]
        items += [[f"b{i}", *self._item(bundle.stamp, 1)] for i, bundle in enumerate(self._bundles) if bundle.inside]
        room = {"height": bottom - top + 2 * task.gap + _MORE, "gap": task.gap + _MORE}
        return json.dumps({**room, "seconds": max(1, round(seconds)), "seed": seed, "items": items})

    def _item(self, stamp: int, count: int) -> tuple[list[list[float]], int, list[float]]:
        shape = filled_in(self._task.stamps[stamp].plain)
        if shape.geom_type != "Polygon":
            shape = shapely.convex_hull(shape)
        return shapely.get_coordinates(shape)[:-1].tolist(), count, list(self._task.stamps[stamp].turns)

    def _proved(self, placed: list[tuple[str, float, float, float]]) -> Packed:
        """An answer with everything that is proved clear; what is not finds another place, if there is one."""
        task = self._task
        edge = task.bed.margin - task.gap  # it keeps the gap from the edge too, which nobody asked for
        puts: list[Put] = []
        for name, turn, x, y in placed:
            bundle = Bundle(int(name[1:])) if name[0] == "s" else self._bundles[int(name[1:])]
            turn = min(task.stamps[bundle.stamp].turns, key=lambda known: abs((known - turn + 180) % 360 - 180))
            puts += unbundled(bundle, turn, x + edge, y + edge)
        shapes = lying(task, puts)
        clear = proved_clear(
            [filled_in(shape) for shape in shapes] if not task.inside else shapes, task.gap, task.bed.inner
        )
        kept = [put for put, proved in zip(puts, clear, strict=True) if proved]
        missing = Counter(task.wanted) - Counter(put.stamp for put in kept)
        if not missing:
            return Packed(task, tuple(kept), reach_of(task, kept))
        order = tuple(stamp for stamp in dict.fromkeys(largest_first(task)) for _ in range(missing[stamp]))
        return fill(task, Way(order), kept=tuple(kept))


def bundles_of(best: Packed) -> list[Bundle]:
    """What lies on a bed, each with what lies in its openings."""
    task, puts = best.task, best.puts
    shapes = lying(task, puts)
    around = [filled_in(shape) for shape in shapes]
    open_ones = [i for i in range(len(puts)) if around[i].area > shapes[i].area + 1e-6]
    within: dict[int, int] = {}
    for i in sorted(open_ones, key=lambda i: -around[i].area):  # the smallest that holds it has the last word
        held = shapely.contains_properly(around[i], shapes)
        within |= {int(j): i for j in np.flatnonzero(held) if j != i}
    bundles = {i: Bundle(put.stamp) for i, put in enumerate(puts) if i not in within}
    for j in within:
        root = j
        while root in within:
            root = within[root]
        host = puts[root]
        dx, dy = _turned(puts[j].x - host.x, puts[j].y - host.y, -host.turn)
        bundles[root].inside.append((puts[j].stamp, (puts[j].turn - host.turn) % 360, dx, dy))
    return list(bundles.values())


def unbundled(bundle: Bundle, turn: float, x: float, y: float) -> list[Put]:
    """A bundle laid down: the thing itself, then what lies in it."""
    puts = [Put(bundle.stamp, turn, x, y)]
    for stamp, turn_there, dx, dy in bundle.inside:
        across, down = _turned(dx, dy, turn)
        puts.append(Put(stamp, (turn_there + turn) % 360, x + across, y + down))
    return puts


def _turned(x: float, y: float, turn: float) -> tuple[float, float]:
    angle = np.deg2rad(turn)
    return float(x * np.cos(angle) - y * np.sin(angle)), float(x * np.sin(angle) + y * np.cos(angle))
