"""What every work offers: its settings, what it takes, the moves it makes, and how it is drawn."""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar

import numpy as np
from numpy.typing import NDArray

from foliant.core.frozen import Frozen
from foliant.core.paths import CUBIC, LINE, Path, Region, curves
from foliant.core.paths.flatten import flatten
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.seeing import Pictured
from foliant.core.units import Speeds, format_speed

Floats = NDArray[np.float64]

CHORD = 0.015
"""How far, in mm, a cubic lies from the chords of the arcs that stand for it, which lie nearer: within a hundredth."""

TOGETHER = 1e-6
"""Ends that lie so near each other, in mm, need no travel between."""

_OF_A_CUBIC = 8
"""About how many moves more than one a cubic takes."""


class Settings(Frozen):
    """How a work is done: power in % (force, for a blade), and how often it is gone over.

    depth  how deep a turning cutter goes, mm; None for through, or of what marks the face a little
    focus  how far over the surface a head that can go up and down has its focus, mm; inside it where that is negative
    """

    power: Annotated[float, Quantity("percent", "Power", 0.1, 100)]
    passes: Annotated[int, Quantity("count", "The number of passes", 1, 50)] = 1
    depth: Annotated[float | None, sized("How deep it goes", 0.05, 60)] = None
    focus: Annotated[float, sized("The focus over the surface", -30, 30)] = 0.0

    @property
    def pace(self) -> float:
        """The speed while it works, mm/s; of one that works standing still, any."""
        return 1.0

    @abstractmethod
    def sentence(self) -> Sequence[Bit]:
        """The settings as a phrase, its values in place."""

    @abstractmethod
    def briefly(self, speeds: Speeds = "mm/s") -> str:
        """The settings in a few words, to be read only."""

    def _times(self) -> list[Bit]:
        return [Value("passes"), " pass" if self.passes == 1 else " passes"]

    def _passes(self) -> str:
        return f"{self.passes} pass{'' if self.passes == 1 else 'es'}"


class MovingSettings(Settings):
    """Of a work that is done on the way: the same, and the speed in mm/s."""

    speed: Annotated[float, Quantity("speed", "Speed", 0.1, 2000)]

    @property
    def pace(self) -> float:
        return self.speed

    def sentence(self) -> Sequence[Bit]:
        return [Value("power"), " power at ", Value("speed"), ", ", *self._times()]

    def briefly(self, speeds: Speeds = "mm/s") -> str:
        return f"{self.power:g} % at {format_speed(self.speed, speeds)}, {self._passes()}"


@dataclass(frozen=True, eq=False)
class Marks:
    """What an operation takes of one piece, in the piece's own coordinates: areas, lines to follow, and pictures."""

    area: Region
    lines: Path
    pictures: tuple[Pictured, ...] = ()

    def __bool__(self) -> bool:
        return bool(len(self.area.path) or len(self.lines) or self.pictures)


@dataclass(frozen=True, eq=False)
class Moves:
    """Moves made in one go.

    kinds    (n,)      LINE or ARC
    points   (n, 4, 2) as in `Path`, mm
    working  (n,)      False where the tool only travels, from one stroke to the next
    dwell    (n,)      s spent at the end of each with the tool on
    share    (n,)      how much of the power each has, 0 to 1; None where all have all of it
    z        (n,)      the height over the surface that the head goes to and nowhere else, mm, for as long as it dwells;
                       nan for moves that are none such, None where all are
    """

    kinds: NDArray[np.uint8]
    points: Floats
    working: NDArray[np.bool_]
    dwell: Floats
    share: Floats | None = None
    z: Floats | None = None

    def __len__(self) -> int:
        return len(self.kinds)

    @classmethod
    def along(
        cls,
        kinds: NDArray[np.uint8],
        points: Floats,
        dwell: float | Floats = 0.0,
        working: NDArray[np.bool_] | None = None,
        share: Floats | None = None,
        z: Floats | None = None,
    ) -> "Moves":
        """Moves that work unless said otherwise, each with a wait of `dwell` s at its end; wherever one does not begin
        where the last has ended, the tool travels between.
        """
        gaps = np.flatnonzero(np.hypot(*(points[1:, 0] - points[:-1, 3]).T) > TOGETHER) + 1
        travel = points[gaps - 1][:, [3, 3, 3, 3]]
        travel[:, 2:] = points[gaps, :1]
        return cls(
            np.insert(kinds, gaps, LINE),
            np.insert(points, gaps, travel, axis=0),
            np.insert(np.ones(len(kinds), np.bool_) if working is None else working, gaps, False),
            np.insert(np.broadcast_to(np.asarray(dwell, float), len(kinds)), gaps, 0.0),
            None if share is None else np.insert(share, gaps, 0.0),
            None if z is None else np.insert(z, gaps, np.nan),
        )


class Work(ABC):
    """One thing that a machine can do with a mark. One file each, all named in `WORKS`.

    key      how files name it
    title    how an operation that does it is called
    verb     what it does: "engrave"
    ink      its colour on drawings, #rrggbb
    swatch   its pattern as SVG path data in a box of 36 × 16, and its stroke width and dashes there
    filled   whether it is drawn as an area
    through  whether it goes through the material, so that what it goes round comes off
    deep     whether it goes as deep as the material is thick where nothing else is said
    parts    whether it parts what it goes round from the waste: goes through the material, or its uppermost layer
    anywhere whether a closed line may be begun anywhere on it, and an open one at either end
    burns    whether it takes a beam or a turning cutter, so that a blade cannot do it
    pictures whether it burns pictures, and nothing else
    settings what it is done with
    """

    key: ClassVar[str]
    title: ClassVar[str]
    verb: ClassVar[str]
    ink: ClassVar[str]
    swatch: ClassVar[tuple[str, float, str]]
    filled: ClassVar[bool] = False
    through: ClassVar[bool] = False
    parts: ClassVar[bool] = False
    deep: ClassVar[bool] = False
    anywhere: ClassVar[bool] = True
    burns: ClassVar[bool] = False
    pictures: ClassVar[bool] = False
    settings: ClassVar[type[Settings]] = MovingSettings

    @abstractmethod
    def fills(self, marks: Marks, settings: Settings, gap: float) -> Sequence[Moves]:
        """The moves that cover the marks' areas or pictures, in stretches that are done one after the other; none where
        it only follows lines. Over less than `gap` mm it is quicker to fly on along a row than to come back.
        """

    @abstractmethod
    def lines(self, marks: Marks) -> Path:
        """The contours that it follows, each in one go, in any order."""

    def whole_sheet(self, settings: Settings) -> bool:
        """Whether it covers the areas of all instances on the sheet as one."""
        return False

    @abstractmethod
    def count(self, marks: Marks, settings: Settings) -> int:
        """About how many moves it takes, reckoned without making them."""

    def along(self, contour: Path, settings: Settings) -> Moves:
        """The moves along one contour, as often as there are passes."""
        kinds, points = as_moves(contour)
        return Moves.along(np.tile(kinds, settings.passes), np.tile(points, (settings.passes, 1, 1)))


def with_force(words: Sequence[Bit]) -> list[Bit]:
    """The settings as they are said of a blade, which has force in place of power."""
    return [word.replace(" power ", " force ") if isinstance(word, str) else word for word in words]


def as_moves(contour: Path) -> tuple[NDArray[np.uint8], Floats]:
    """Lines and arcs as they are, cubics as arcs through three points of each stretch, which go round as much:
    chords would go round less of what bulges, and more of what is hollow.
    """
    if not (contour.kinds == CUBIC).any():
        return contour.kinds, contour.points
    flat = flatten(contour, CHORD)
    keep = (contour.kinds[flat.segment] == CUBIC) | (flat.t0 == 0)
    of, t = flat.segment[keep], (flat.t0 + flat.t1)[keep] / 2
    kinds, points = contour.kinds[of], contour.points[of].copy()
    cubic = np.flatnonzero(kinds == CUBIC)
    middles = curves.evaluate(kinds[cubic], points[cubic], t[cubic])
    kinds[cubic], points[cubic] = curves.short_arcs(flat.points[keep][cubic], middles, flat.ends[keep][cubic])
    return kinds, points


def count_along(path: Path) -> int:
    """About how many moves it takes to follow a path once."""
    return len(path) + _OF_A_CUBIC * int((path.kinds == CUBIC).sum())
