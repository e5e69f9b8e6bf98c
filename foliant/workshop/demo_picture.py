"""The demo world's photograph: the moon over the dome, made up with a few waves and many small craters."""

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageFilter

Floats = NDArray[np.float64]

WIDE, HIGH = 1200, 900
_FAR = 4.0
"""Farther off than so many times its size a soft spot is not seen."""


def moon_over_the_dome() -> bytes:
    """The picture as PNG."""
    chance = np.random.default_rng(1729)
    x, y = np.arange(WIDE) / HIGH, np.arange(HIGH)[:, None] / HIGH
    light = 0.12 + 0.3 * y + 0.02 * chance.standard_normal((HIGH, WIDE))
    for _ in range(160):
        left, top = chance.uniform(0, 1.34), chance.uniform(0, 0.8)
        _brighten(light, x, y, (left, top), 0.0016, chance.uniform(0.2, 0.9))
    _brighten(light, x, y, (0.72, 0.42), 0.42, 0.35)
    light = _with_moon(light, x, y, chance)
    hill = 0.86 + 0.03 * np.sin(4 * x + 1) + 0.012 * np.sin(17 * x)
    light = np.where(y > hill, 0.05 + 0.04 * (y - hill), light)
    return _written(_with_dome(light, x, y))


def _brighten(light: Floats, x: Floats, y: Floats, at: tuple[float, float], size: float, by: float) -> None:
    """A soft spot on the light, whose columns lie at `x` and rows at `y`."""
    axes = [(y.ravel(), at[1]), (x.ravel(), at[0])]
    rows, columns = (np.abs(axis - middle) < _FAR * size for axis, middle in axes)
    down, across = (np.exp(-((axis - middle) ** 2) / (2 * size**2)) for axis, middle in axes)
    light[np.ix_(rows, columns)] += by * np.outer(down[rows], across[columns])


def _with_moon(light: Floats, x: Floats, y: Floats, chance: np.random.Generator) -> Floats:
    across, down = (x - 0.72) / 0.3, (y - 0.42) / 0.3
    far = across**2 + down**2
    bulge = np.sqrt(np.clip(1 - far, 0, 1))
    lit = np.clip(0.35 + 0.75 * (0.75 * bulge - 0.45 * across - 0.2 * down), 0.05, 1)
    seas = np.zeros_like(light)
    for _ in range(9):
        left, top = chance.uniform(-0.6, 0.6, 2)
        _brighten(seas, across, down, (left, top), chance.uniform(0.12, 0.28), 1.0)
    face = lit * (1 - 0.38 * np.clip(seas, 0, 1.2))
    for _ in range(90):
        left, top = chance.uniform(-0.9, 0.9, 2)
        size = 0.012 + 0.05 * chance.random() ** 3
        _brighten(face, across, down, (left, top), size, 0.16)
        _brighten(face, across, down, (left - size / 2, top - size / 3), size, -0.2)
    return np.where(far < 1, face, light)


def _with_dome(light: Floats, x: Floats, y: Floats) -> Floats:
    across, down = (x - 0.3) / 0.17, (y - 0.8) / 0.17
    dome = (across**2 + down**2 < 1) & (down < 0)
    wall = (abs(across) < 0.94) & (down >= 0) & (down < 0.6)
    slit = (abs(across - 0.28 - 0.1 * down) < 0.09) & dome & (down < -0.12)
    shade = 0.42 + 0.3 * np.clip(across * 0.8 - down * 0.25, -1, 1)
    light = np.where(dome, shade, light)
    light = np.where(wall, 0.3 + 0.22 * np.clip(across, -1, 1), light)
    return np.where(slit, 0.03, light)


def _written(light: Floats) -> bytes:
    picture = Image.fromarray(np.round(255 * np.clip(light, 0, 1)).astype(np.uint8))
    out = io.BytesIO()
    picture.filter(ImageFilter.GaussianBlur(0.7)).save(out, "PNG")
    return out.getvalue()
