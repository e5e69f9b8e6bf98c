"""Burning: how dark each dot of a placed picture is to be, on level rows so far apart as it is burnt."""

from dataclasses import dataclass

import numpy as np
import shapely
from fontTools.misc.transform import Transform
from PIL import Image

from foliant.core.errors import Refused
from foliant.core.paths import Affine, Path, Region, join
from foliant.core.paths.cells import mask_of
from foliant.core.remembering import remembered
from foliant.core.seeing.album import Picture, find_picture
from foliant.core.seeing.dithering import DITHERS, Darkness
from foliant.core.seeing.tones import Tones

MOST_DOTS = 60_000_000
"""More dots than that, in one picture, are not worked out."""

_LEVEL = 1e-9


@dataclass(frozen=True)
class Look:
    """A picture as it is drawn: its key in the album, its tones, and how wide and high all of it is, mm."""

    picture: str
    tones: Tones
    width: float
    height: float


@dataclass(frozen=True, eq=False)
class Pictured:
    """A picture at its place.

    look    what it shows, the middle of the whole picture at the origin
    matrix  from there to where it lies
    region  what of it is burnt, where it lies
    """

    look: Look
    matrix: Affine
    region: Region

    def transformed(self, matrix: Affine) -> "Pictured":
        """It under a map."""
        a, b, c, d, e, f = matrix
        moved = np.array([[a, b], [c, d]])
        shape = shapely.transform(self.region.shape, lambda points: points @ moved + (e, f))
        region = Region(self.region.path.transformed(matrix), shape, self.region.rough.transformed(matrix))
        return Pictured(self.look, tuple(Transform(*matrix).transform(self.matrix)), region)


@dataclass(frozen=True, eq=False)
class Dots:
    """How dark each dot is, (rows, columns), and where the middle of the first one lies, mm; `spacing` mm apart."""

    darkness: Darkness
    left: float
    top: float
    spacing: float


def frames(pictures: tuple[Pictured, ...]) -> Path:
    """The edges of pictures."""
    return join(one.region.path for one in pictures)


def count_of_dots(pictured: Pictured, spacing: float) -> int:
    """How many dots there are in the box of a picture."""
    left, top, right, bottom = pictured.region.path.bounds
    return max(1, round((right - left) / spacing)) * max(1, round((bottom - top) / spacing))


@remembered
def dots_of(pictured: Pictured, spacing: float, dither: str) -> Dots:
    """The dots of a picture, `spacing` mm apart, its greys told in one of the ways of `DITHERS`; none are dark where
    the picture is not here. Raises `Refused` where there are too many.
    """
    if count_of_dots(pictured, spacing) > MOST_DOTS:
        raise Refused("The picture has too many dots to be worked out: burn it with lines farther apart.")
    left, top, right, bottom = pictured.region.path.bounds
    columns, rows = max(1, round((right - left) / spacing)), max(1, round((bottom - top) / spacing))
    x0, y0 = (left + right - columns * spacing) / 2, (top + bottom - rows * spacing) / 2
    picture = find_picture(pictured.look.picture)
    if picture is None:
        return Dots(np.zeros((rows, columns), np.uint8), x0 + spacing / 2, y0 + spacing / 2, spacing)
    darkness = _darkness(picture, pictured, (x0, y0, spacing), (columns, rows))
    darkness[~mask_of(pictured.region.shape, x0, y0, rows, columns, spacing)] = 0
    return Dots(DITHERS[dither](darkness), x0 + spacing / 2, y0 + spacing / 2, spacing)


def _darkness(
    picture: Picture, pictured: Pictured, grid: tuple[float, float, float], size: tuple[int, int]
) -> Darkness:
    """How dark the dots are on a grid that begins at x, y with dots so large, before they are told in any way."""
    x0, y0, spacing = grid
    look = pictured.look
    wide, high = picture.size
    to_pixels = Transform(wide / look.width, 0, 0, high / look.height, wide / 2, high / 2)
    to_picture = to_pixels.transform(Transform(*pictured.matrix).inverse()).transform((spacing, 0, 0, spacing, x0, y0))
    grey = look.tones.toned(_sampled(picture.grey, to_picture, size))
    darkness = 255 - np.asarray(grey, np.uint8)
    if picture.cover is not None:
        covered = np.asarray(_sampled(picture.cover, to_picture, size), np.float32)
        darkness = np.asarray(np.round(darkness * covered / 255), np.uint8)
    return darkness.copy()


def _sampled(image: Image.Image, to_image: Transform, size: tuple[int, int]) -> Image.Image:
    """`size` dots of an image by the map from dots to its pixels, each as light as what it lies over on the whole."""
    a, b, c, d, _, _ = to_image
    turned = abs(a) < _LEVEL and abs(d) < _LEVEL
    if not turned and not (abs(b) < _LEVEL and abs(c) < _LEVEL):
        return _sampled_aslant(image, to_image, size)
    corners = [to_image.transformPoint(corner) for corner in ((0, 0), size)]
    (x0, x1), (y0, y1) = (sorted(column) for column in zip(*corners, strict=True))
    box = max(x0, 0.0), max(y0, 0.0), min(x1, image.width), min(y1, image.height)
    straight = image.resize(size[::-1] if turned else size, Image.Resampling.HAMMING, box)
    if turned:
        straight = straight.transpose(Image.Transpose.TRANSPOSE)
    across, down = (b, c) if turned else (a, d)
    if across < 0:
        straight = straight.transpose(Image.Transpose.FLIP_LEFT_RIGHT)
    return straight.transpose(Image.Transpose.FLIP_TOP_BOTTOM) if down < 0 else straight


def _sampled_aslant(image: Image.Image, to_image: Transform, size: tuple[int, int]) -> Image.Image:
    """The same where the rows run aslant over the image: first as fine as the dots, then turned."""
    a, b, c, d, _, _ = to_image
    across, down = max(1.0, float(np.hypot(a, c))), max(1.0, float(np.hypot(b, d)))
    fine = max(1, round(image.width / across)), max(1, round(image.height / down))
    shrunk = image.resize(fine, Image.Resampling.HAMMING, reducing_gap=3.0)
    a, b, c, d, e, f = Transform(fine[0] / image.width, 0, 0, fine[1] / image.height, 0, 0).transform(to_image)
    return shrunk.transform(size, Image.Transform.AFFINE, (a, c, e, b, d, f), Image.Resampling.BICUBIC, fillcolor=255)
