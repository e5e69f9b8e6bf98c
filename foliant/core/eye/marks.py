"""Marks: a grid of signs, each of them its own, by which a camera learns where the bed is."""

from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray

from foliant.core.errors import Refused
from foliant.core.eye.lens import LEAST_MARKS, Floats, Lens, fit_lens
from foliant.core.eye.lines import Line, meeting
from foliant.core.eye.straightening import at_dots

CELLS = 6
"""A mark is a black square with a pattern of 4 × 4 cells in it."""

WIDE = 15.0
APART = 48.0
"""How wide a mark is, and how far it is from one to the next, mm."""

MOST = 250

Grey = NDArray[np.uint8]


def grid(width: float, height: float) -> list[tuple[int, float, float]]:
    """The marks for a bed so large, mm: the number of each, and where the near left corner of it is. They lie about the
    middle, on as much of the bed as they can.
    """
    apart = APART
    while (count := _count(width, apart) * _count(height, apart)) > MOST:
        apart *= (count / MOST) ** 0.5 * 1.02
    columns, rows = _count(width, apart), _count(height, apart)
    left, near = ((length - (number - 1) * apart - WIDE) / 2 for length, number in ((width, columns), (height, rows)))
    return [
        (row * columns + column, left + column * apart, near + row * apart)
        for row in range(rows)
        for column in range(columns)
    ]


def _count(length: float, apart: float) -> int:
    return max(1, int((length - WIDE * 1.5) / apart) + 1)


def pattern(number: int) -> NDArray[np.bool_]:
    """Which cells of a mark are dark, (CELLS, CELLS), its far row first."""
    return np.asarray(cv2.aruco.generateImageMarker(_signs(), number, CELLS)) < 128


def learn(picture: Grey, width: float, height: float) -> Lens:
    """The lens through which a picture, grey or (h, w, 3), shows the marks for a bed so large, mm; raises `Refused`."""
    found = marks_in(picture)
    if not found:
        raise Refused("No marks are seen: lay the sheet of marks on the bed, face up, and have light on it.")
    there = [one for one in grid(width, height) if one[0] in found]
    if len(there) < LEAST_MARKS:
        raise Refused(
            f"Only {len(there)} of the marks are seen, and {LEAST_MARKS} are needed: uncover more of them, and have "
            "light on the bed."
        )
    points = np.array([(left + WIDE / 2, near + WIDE / 2) for _, left, near in there])
    dots = np.array([found[number] for number, _, _ in there])
    rows, columns = picture.shape[:2]
    return fit_lens(points, dots, (columns, rows))


def marks_in(picture: Grey) -> dict[int, Floats]:
    """The middle (2,) of every mark in a picture, in dots, by its number: where its diagonals meet, as blurred corners
    are seen too far inside.
    """
    grey = cv2.cvtColor(picture, cv2.COLOR_BGR2GRAY) if picture.ndim == 3 else picture
    corners, numbers, _ = cv2.aruco.ArucoDetector(_signs(), cv2.aruco.DetectorParameters()).detectMarkers(grey)
    if numbers is None:
        return {}
    shades = cv2.GaussianBlur(grey, (0, 0), 0.7).astype(np.float32)
    return {
        int(number): _middle(_sharp(shades, four[0].astype(np.float64)))
        for number, four in zip(np.ravel(numbers), corners, strict=True)
    }


def _sharp(shades: NDArray[np.float32], corners: Floats) -> Floats:
    """The corners (4, 2) of a mark where lines along its sides meet, each measured across where it grows dark."""
    sides = [_line(shades, start, end) for start, end in zip(corners, np.roll(corners, -1, axis=0), strict=True)]
    return np.array([meeting(sides[at - 1], sides[at]) for at in range(4)])


def _line(shades: NDArray[np.float32], start: Floats, end: Floats) -> Line:
    """A point and the direction of the side of a mark that runs about from start to end, its inside to the right."""
    length = float(np.hypot(*(end - start)))
    along = (end - start) / length
    inward = np.array([-along[1], along[0]])
    reach = min(3.0, 0.45 * length / CELLS)
    steps = np.linspace(-reach, reach, 25)
    places = np.linspace(0.12, 0.88, 16) * length
    there = start + places[:, None, None] * along + steps[None, :, None] * inward
    seen = at_dots(shades, there.astype(np.float32))
    dark = np.maximum(-np.gradient(seen, axis=1), 0.0)
    dark[dark < 0.3 * dark.max(axis=1, keepdims=True)] = 0.0
    offsets = (dark @ steps) / np.maximum(dark.sum(axis=1), 1e-6)
    x, y, at_x, at_y = np.ravel(cv2.fitLine((start + places[:, None] * along + offsets[:, None] * inward).astype(
        np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01)).astype(np.float64)  # fmt: skip
    return np.array([at_x, at_y]), np.array([x, y])


def _middle(corners: Floats) -> Floats:
    """Where the diagonals of four corners (4, 2) meet."""
    a, b, c, d = corners
    return meeting((a, c - a), (b, d - b))


@cache
def _signs() -> "cv2.aruco.Dictionary":
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_250)
