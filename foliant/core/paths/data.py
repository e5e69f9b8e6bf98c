"""Path data of SVG: a path as text, and text as a path."""

import re

import numpy as np

from foliant.core.errors import Refused
from foliant.core.paths import curves
from foliant.core.paths.path import ARC, CUBIC, LINE, Path
from foliant.core.paths.pens import PathPen, Point

_TOKEN = re.compile(r"([MLCAZ])|([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)|[\s,]+")
_FOREIGN = "This is no path data of Foliant's: it has M, L, C, A and Z, with numbers between."
_LARGEST = 20_000.0
"""mm"""


def path_data(path: Path, places: int = 4) -> str:
    """SVG path data of a path in mm, arcs as `A`, numbers rounded to `places` decimals.

    The radius of an arc is that of its rounded points, rounded down: a reader widens what is too small for its chord,
    but half a turn whose radius is a millionth too large is bent flat by hundredths of a millimetre.
    """
    if not len(path):
        return ""
    points = np.round(path.points, places) + 0.0  # + 0.0 turns -0 into 0
    radii, clockwise = np.zeros(len(path)), np.zeros(len(path), bool)
    arcs = path.kinds == ARC
    if arcs.any():
        _, radii[arcs], _, sweeps = curves.circles(points[arcs])
        clockwise[arcs] = sweeps > 0
    straight = ~np.isfinite(radii)  # so small or so slight that its rounded points are in line
    kinds, rows = np.where(straight, LINE, path.kinds).tolist(), points.reshape(-1, 8).tolist()
    flags, sizes = clockwise.tolist(), (np.floor(np.where(straight, 0.0, radii) * 1e6) / 1e6).tolist()
    out: list[str] = []
    for segments, closed in path.contours():
        out.append("M%.8g %.8g" % tuple(rows[segments.start][:2]))  # noqa: UP031  # twice as fast as an f-string
        last = segments.stop - 1
        for i in range(segments.start, segments.stop):
            row = rows[i]
            if kinds[i] == CUBIC:
                out.append("C%.8g %.8g %.8g %.8g %.8g %.8g" % tuple(row[2:]))  # noqa: UP031
            elif kinds[i] == ARC:
                out.append("A%.9g %.9g 0 0 %d %.8g %.8g" % (sizes[i], sizes[i], flags[i], row[6], row[7]))  # noqa: UP031
            elif not (closed and i == last):  # the last line home is what Z draws
                out.append("L%.8g %.8g" % (row[6], row[7]))  # noqa: UP031
        if closed:
            out.append("Z")
    return "".join(out)


def path_from(data: str) -> Path:
    """The path of path data that has only M, L, C, A with round arcs, and Z; raises `Refused` for any other."""
    pen, is_open = PathPen(), False
    here = first = (0.0, 0.0)
    for command, numbers in _steps(data):
        if command != "M" and not is_open:
            raise Refused(_FOREIGN)
        points = list(zip(numbers[::2], numbers[1::2], strict=False))
        if command == "M":
            if is_open:
                pen.endPath()
            pen.moveTo(points[0])
            here = first = points[0]
            is_open = True
        elif command == "L":
            pen.lineTo(points[0])
        elif command == "C":
            pen.curveTo(*points)
        elif command == "A":
            end = (numbers[5], numbers[6])
            pen.arcTo(_halfway(here, end, numbers[0], numbers[4] > 0), end)
        else:
            pen.closePath()
            is_open = False
        here = first if command == "Z" else (numbers[-2], numbers[-1])
    if is_open:
        pen.endPath()
    return pen.path()


_COUNT = {"M": 2, "L": 2, "C": 6, "A": 7, "Z": 0}


def _steps(data: str) -> list[tuple[str, list[float]]]:
    found: list[tuple[str, list[float]]] = []
    at = 0
    for token in _TOKEN.finditer(data):
        if token.start() != at:
            raise Refused(_FOREIGN)
        at = token.end()
        if token[1]:
            found.append((token[1], []))
        elif token[2]:
            number = float(token[2])
            if not found or abs(number) > _LARGEST:
                raise Refused(_FOREIGN)
            found[-1][1].append(number)
    if at != len(data) or any(len(numbers) != _COUNT[command] for command, numbers in found):
        raise Refused(_FOREIGN)
    return found


def _halfway(start: Point, end: Point, radius: float, clockwise: bool) -> Point:
    """The point half-way along an arc of at most half a turn."""
    across, down = end[0] - start[0], end[1] - start[1]
    chord = float(np.hypot(across, down))
    if chord <= 0:
        return end
    radius = max(radius, chord / 2)
    rise = radius - float(np.sqrt(max(0.0, radius**2 - chord**2 / 4)))
    way = rise / chord if clockwise else -rise / chord
    return ((start[0] + end[0]) / 2 + down * way, (start[1] + end[1]) / 2 - across * way)
