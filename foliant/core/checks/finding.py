"""A finding: something about the job that the maker should know, and where."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from foliant.core.design import Edit
from foliant.core.paths import EMPTY, LINE, Path, join
from foliant.core.units import Unit, format_length

Bounds = tuple[float, float, float, float]


@dataclass(frozen=True, eq=False)
class Fix:
    """An edit that mends a finding, and what the button that does it says."""

    says: str
    edit: Edit


@dataclass(frozen=True, eq=False)
class Finding:
    """What is wrong, in plain words, and the place on the drawing.

    check     the name of the check
    level     "stop" would spoil the job, "look" is worth a look
    title     a few words
    sentence  what, where, and what to do
    station   where it is mended: "shape", "sheet" or "ticket"
    piece     the id of the piece concerned, or ""
    place     bounds on the sheet (mm) to show, or None where nothing lies on the sheet
    spot      the bad places as paths on the sheet, to mark them
    fixes     edits that mend it, the best first
    row       the id of the row of the roster concerned, or ""
    """

    check: str
    level: Literal["stop", "look"]
    title: str
    sentence: str
    station: Literal["shape", "sheet", "ticket"]
    piece: str = ""
    place: Bounds | None = None
    spot: Path = EMPTY
    fixes: tuple[Fix, ...] = ()
    row: str = ""


def say(millimetres: float, unit: Unit) -> str:
    """A length as findings say it: tenths of a millimetre, or hundredths of an inch, are enough."""
    step = 0.1 if unit == "mm" else 0.254
    return format_length(round(millimetres / step) * step, unit)


def outlines(shapes: Iterable[shapely.Geometry]) -> Path:
    """The outer edges of polygons as a path, to mark a place."""
    rings = [shape.exterior for shape in shapes if shape.geom_type == "Polygon"]
    return join(_polyline(np.asarray(ring.coords), closed=True) for ring in rings)


def chains(lines: shapely.Geometry) -> Path:
    """Lines as a path, to mark them."""
    merged = shapely.line_merge(shapely.multilinestrings([one for one in shapely.get_parts(lines) if one.length > 0]))
    return join(_polyline(np.asarray(line.coords), closed=False) for line in shapely.get_parts(merged))


def _polyline(points: NDArray[np.float64], closed: bool) -> Path:
    segments = np.stack([points[:-1], points[:-1], points[1:], points[1:]], axis=1)
    return Path(np.full(len(segments), LINE, np.uint8), segments, np.zeros(1, np.int64), np.array([closed]))
