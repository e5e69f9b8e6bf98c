"""A drawing: what a file of another program holds, told plainly, before it is decided what becomes of it."""

import io
import json
from collections import Counter
from dataclasses import asdict, dataclass, replace
from functools import cached_property
from typing import Any, Literal

import numpy as np

from foliant.core.paths import Affine, Caps, Joins, Path, join

CSS_INCH = 96.0
"""User units to the inch where a file says nothing else."""

MM = 25.4

BINARY_DXF = b"\r\n\x1a\x00"
"""What ends the first line of a binary DXF file, 18 bytes in."""

WIDE = 1 / 50
"""A line as wide as this share of the whole drawing is meant as the area that it covers."""


@dataclass(frozen=True, eq=False)
class Item:
    """One thing that is drawn: a path in mm, y down, and how.

    fill      the colour of its area as #rrggbb, "" where there is none
    odd       whether it is filled by the even-odd rule, else by the nonzero one
    stroke    the colour of its line, "" where there is none
    width     how wide that is, mm; 0 for as thin as can be
    ends, joins  how its line ends and turns corners
    layer     the layer or group that it lies on, "" for none
    """

    path: Path
    fill: str = ""
    odd: bool = False
    stroke: str = ""
    width: float = 0.0
    ends: Caps = "flat"
    joins: Joins = "sharp"
    layer: str = ""


@dataclass(frozen=True)
class Written:
    """Words in a file: where their line begins, or is centred or ends, and their look.

    x, y      that point on their baseline, mm
    size      of the font, mm to the em
    rotation  degrees clockwise on the page
    width     how wide they are drawn, mm, where the file tells; else 0
    """

    text: str
    x: float
    y: float
    size: float
    family: str = ""
    bold: bool = False
    italic: bool = False
    anchor: Literal["start", "middle", "end"] = "start"
    rotation: float = 0.0
    flipped: bool = False
    width: float = 0.0
    colour: str = "#000000"
    layer: str = ""


@dataclass(frozen=True, eq=False)
class Drawing:
    """What a file holds.

    unit    the unit in which the file says its size, "" where it says none and one had to be taken
    meanings  where it says none, what its units could be, each with how many times as large that makes it; first what
            was taken
    unread  what could not be read or was left out, each as a plural noun and how many
    """

    items: tuple[Item, ...]
    texts: tuple[Written, ...] = ()
    unit: str = ""
    meanings: tuple[tuple[str, float], ...] = ()
    unread: tuple[tuple[str, int], ...] = ()

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """The box round all that is drawn, mm: to the middle of thin lines, to the edge of wide ones."""
        left, top, right, bottom = join(item.path for item in self.items).bounds
        wide = WIDE * max(right - left, bottom - top)
        for item in self.items:
            if item.stroke and item.width >= wide:
                box, half = item.path.bounds, item.width / 2
                left, top = min(left, box[0] - half), min(top, box[1] - half)
                right, bottom = max(right, box[2] + half), max(bottom, box[3] + half)
        return (left, top, right, bottom)

    @property
    def widest_thin(self) -> float:
        """From which width on, mm, a line is meant as the area that it covers."""
        left, top, right, bottom = self.bounds
        return WIDE * max(right - left, bottom - top)

    def resized(self, factor: float) -> "Drawing":
        """The drawing so many times as large."""
        if factor == 1:
            return self
        matrix = (factor, 0.0, 0.0, factor, 0.0, 0.0)
        items = tuple(
            replace(item, path=item.path.transformed(matrix), width=item.width * factor) for item in self.items
        )
        texts = tuple(
            replace(one, x=one.x * factor, y=one.y * factor, size=one.size * factor, width=one.width * factor)
            for one in self.texts
        )
        return replace(self, items=items, texts=texts)


class Notes:
    """Counts what could not be read, as a reader goes on."""

    def __init__(self) -> None:
        self._count: Counter[str] = Counter()

    def add(self, what: str, count: int = 1) -> None:
        """So many of something named by a plural noun."""
        self._count[what] += count

    def told(self) -> tuple[tuple[str, int], ...]:
        """All of it, in the order in which it was met."""
        return tuple(self._count.items())


def packed(drawing: Drawing) -> bytes:
    """A drawing as bytes that hold nothing but numbers and text."""
    paths = [item.path for item in drawing.items]
    whole = join(paths)
    looks = [{key: value for key, value in vars(item).items() if key != "path"} for item in drawing.items]
    rest = {
        "items": looks,
        "contours": [len(path.starts) for path in paths],
        "texts": [asdict(text) for text in drawing.texts],
        "unit": drawing.unit,
        "meanings": drawing.meanings,
        "unread": drawing.unread,
    }
    out = io.BytesIO()
    plain = np.frombuffer(json.dumps(rest).encode(), np.uint8)
    np.savez_compressed(
        out, rest=plain, kinds=whole.kinds, points=whole.points, starts=whole.starts, closed=whole.closed
    )
    return out.getvalue()


def unpacked(data: bytes) -> Drawing:
    """The drawing that was packed so."""
    with np.load(io.BytesIO(data), allow_pickle=False) as held:
        rest: dict[str, Any] = json.loads(held["rest"].tobytes().decode())
        whole = Path(held["kinds"], held["points"], held["starts"], held["closed"])
    items, begin = [], 0
    ends = np.append(whole.starts, len(whole))
    for look, count in zip(rest["items"], rest["contours"], strict=True):
        first, last = ends[begin], ends[begin + count]
        path = Path(
            whole.kinds[first:last],
            whole.points[first:last],
            whole.starts[begin : begin + count] - first,
            whole.closed[begin : begin + count],
        )
        items.append(Item(path, **look))
        begin += count
    texts = tuple(Written(**text) for text in rest["texts"])
    meanings, unread = (tuple((says, number) for says, number in rest[key]) for key in ("meanings", "unread"))
    return Drawing(tuple(items), texts, rest["unit"], meanings, unread)


def scale_of(matrix: Affine) -> float:
    """How many times as large things become under an affine map, taken over all directions."""
    a, b, c, d, _, _ = matrix
    return float(abs(a * d - b * c) ** 0.5)
