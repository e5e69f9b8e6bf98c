"""Tracing: a picture as shapes in true curves: its areas, its outer outlines, or the middle of its lines."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from contourpy import LineType, contour_generator
from numpy.typing import NDArray

from foliant.core.errors import Refused
from foliant.core.paths import Path, join
from foliant.core.paths.fitting import through
from foliant.core.paths.nesting import alternating, chosen_contours, depths
from foliant.core.seeing.album import find_picture
from foliant.core.seeing.burning import Dots, Pictured, count_of_dots, dots_of
from foliant.core.seeing.thinning import chains_of, thinned

What = Literal["areas", "outer", "middle"]
WHATS: dict[What, str] = {
    "areas": "its areas",
    "outer": "only its outer outlines",
    "middle": "the middle of its lines",
}
MOST_TONES = 6
MOST_TRACED = 1_200_000
"""Dots that are looked at."""

_MOST_POINTS = 300_000
_MOST_CONTOURS = 3000
_BLUR = 0.5
"""How far, in dots, greys are made even, so that a dot that is astray bends no line."""

_FINER = 2
"""So many dots are laid in the place of one, by the curve of greys through them: an opening of a dot stays one."""

_BLUNT = 1.6
"""How far, in dots, about a corner its sides are rounded off."""

_GREYS = (40, 215)
_MOSTLY = 0.35


@dataclass(frozen=True)
class Tracing:
    """How a picture is traced.

    what     what of it
    dark     what is at least so dark counts, percent
    tones    how many tones are told apart, the darkest last
    speck    nothing smaller than this is kept, mm
    smooth   how far, mm, its curves may lie off what is seen
    corner   what turns by more than this is a corner, degrees
    inverted whether light counts as dark
    """

    what: What = "areas"
    dark: float = 50.0
    tones: int = 1
    speck: float = 0.6
    smooth: float = 0.05
    corner: float = 40.0
    inverted: bool = False


def traced(pictured: Pictured, how: Tracing) -> tuple[Path, ...]:
    """The tones of a picture as paths where it lies, the lightest first; those of which nothing is seen are empty.
    Raises `Refused` where the picture is not here, or where it would be more than can be told.
    """
    dots = _dots(pictured)
    levels = [255 * (how.dark + (100 - how.dark) * step / how.tones) / 100 for step in range(how.tones)]
    darkness = darkness_of(pictured, how)
    if how.what == "middle":
        even = _even(darkness)
        return tuple(_middle(even >= level, dots, how) for level in levels)
    even = _even(darkness, _FINER)
    return tuple(_areas(even, level, dots, how) for level in levels)


def darkness_of(pictured: Pictured, how: Tracing) -> NDArray[np.uint8]:
    """How dark the dots of a picture are, or how light where light is traced; raises `Refused` where it is not here."""
    darkness = _dots(pictured).darkness
    return 255 - darkness if how.inverted else darkness


def _dots(pictured: Pictured) -> Dots:
    picture = find_picture(pictured.look.picture)
    if picture is None:
        raise Refused("The picture is not here, so it cannot be traced; bring it in again.")
    return dots_of(pictured, _spacing(pictured, picture.size[0]), "grey")


def is_photograph(darkness: NDArray[np.uint8]) -> bool:
    """Whether much of a picture is neither light nor dark, so that it is rather burnt as it is."""
    between = (darkness > _GREYS[0]) & (darkness < _GREYS[1])
    seen = darkness > _GREYS[0]
    return bool(between.sum() > _MOSTLY * max(1, seen.sum()))


def usual_darkness(darkness: NDArray[np.uint8]) -> float:
    """The darkness, percent, that parts the light from the dark of a picture best (N. Otsu, 1979)."""
    counts = np.bincount(darkness.ravel(), minlength=256).astype(np.float64)
    levels = np.arange(256)
    below = np.cumsum(counts)
    above = below[-1] - below
    total = np.cumsum(counts * levels)
    with np.errstate(divide="ignore", invalid="ignore"):
        between = below * above * (total / below - (total[-1] - total) / above) ** 2
    best = np.flatnonzero(between == np.nanmax(between)) if np.isfinite(between).any() else np.array([127])
    return float(np.clip(round((float(best.mean()) + 0.5) / 2.55), 2, 98))


def dots_traced(pictured: Pictured) -> int:
    """How many dots of a picture are looked at; 0 where it is not here."""
    picture = find_picture(pictured.look.picture)
    return count_of_dots(pictured, _spacing(pictured, picture.size[0])) if picture else 0


def _spacing(pictured: Pictured, pixels: int) -> float:
    """How far apart dots are looked at, mm: as far as the picture's own are, unless those are too many."""
    own = pictured.look.width / pixels
    many = count_of_dots(pictured, own)
    return float(own * max(1.0, (many / MOST_TRACED) ** 0.5))


def _even(darkness: NDArray[np.uint8], finer: int = 1) -> NDArray[np.float32]:
    """The greys of a picture and two light dots about it, laid so many times finer and made even."""
    padded = np.pad(darkness, 2).astype(np.float32)
    fine = cv2.resize(padded, None, fx=finer, fy=finer, interpolation=cv2.INTER_CUBIC)
    return np.asarray(cv2.GaussianBlur(fine, (0, 0), _BLUR * finer), np.float32)


def _placed(points: NDArray[np.float64], dots: Dots, finer: int = 1) -> NDArray[np.float64]:
    """Where points among dots that are so many times finer lie, mm."""
    own = (points + 0.5) / finer - 0.5 - 2
    return np.asarray(np.array([dots.left, dots.top]) + own * dots.spacing)


def _areas(even: NDArray[np.float32], level: float, dots: Dots, how: Tracing) -> Path:
    """What is darker than a level, or its outer outlines, in mm where it lies."""
    generator = contour_generator(z=even, line_type=LineType.Separate)
    rows = [_placed(np.asarray(line), dots, _FINER) for line in generator.lines(level)]
    large = [row for row in rows if len(row) > 3 and _extent(row) >= how.speck]
    _check([(row, True) for row in large])
    corner = float(np.cos(np.deg2rad(how.corner)))
    path = join(through(row, True, how.smooth, corner, _BLUNT * dots.spacing) for row in large)
    if not len(path):
        return path
    path = alternating(path)
    return chosen_contours(path, depths(path) == 0) if how.what == "outer" else path


def _middle(dark: NDArray[np.bool_], dots: Dots, how: Tracing) -> Path:
    """The middle of what is dark, in mm where it lies."""
    wide = _width_of(dark)
    chains = chains_of(thinned(dark), max(0.8 * wide, how.speck / dots.spacing))
    _check(chains)
    within, corner = max(how.smooth, 0.6 * dots.spacing), float(np.cos(np.deg2rad(how.corner)))
    lines = [through(_placed(points, dots), closed, within, corner) for points, closed in chains]
    return join(line for line in lines if line.length >= how.speck)


def _extent(row: NDArray[np.float64]) -> float:
    return float((row.max(axis=0) - row.min(axis=0)).max())


def _check(lines: list[tuple[NDArray[np.float64], bool]]) -> None:
    if len(lines) > _MOST_CONTOURS or sum(len(line) for line, _ in lines) > _MOST_POINTS:
        raise Refused(
            f"Traced so, this picture comes to {len(lines):,} outlines, and {_MOST_CONTOURS:,} can be told: take "
            "larger specks out, or engrave it as a picture."
        )


def _width_of(dark: NDArray[np.bool_]) -> float:
    """About how wide lines are, in dots: twice their area for each dot of their edge."""
    edge = dark & ~(np.roll(dark, 1, 0) & np.roll(dark, -1, 0) & np.roll(dark, 1, 1) & np.roll(dark, -1, 1))
    return 2 * float(dark.sum()) / max(1.0, float(edge.sum()))
