"""The demo world's photograph: the moon over the dome, made up with a few waves and many small craters."""

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageFilter

Floats = NDArray[np.float64]

WIDE, HIGH = 1600, 1200


def moon_over_the_dome() -> bytes:
    """The picture as PNG."""
    chance = np.random.default_rng(1729)
    x, y = np.meshgrid(np.arange(WIDE) / HIGH, np.arange(HIGH) / HIGH)
    sky = 0.12 + 0.3 * y + 0.02 * chance.standard_normal(x.shape)
    for _ in range(160):
        sky += chance.uniform(0.2, 0.9) * _spot(x, y, chance.uniform(0, 1.34), chance.uniform(0, 0.8), 0.0012)
    sky += 0.35 * _spot(x, y, 0.72, 0.42, 0.42)
    light = _with_moon(sky, x, y, chance)
    hill = 0.86 + 0.03 * np.sin(4 * x + 1) + 0.012 * np.sin(17 * x)
    light = np.where(y > hill, 0.05 + 0.04 * (y - hill), light)
    return _written(_with_dome(light, x, y))


def _spot(x: Floats, y: Floats, left: float, top: float, size: float) -> Floats:
    return np.asarray(np.exp(-((x - left) ** 2 + (y - top) ** 2) / (2 * size**2)))


def _with_moon(light: Floats, x: Floats, y: Floats, chance: np.random.Generator) -> Floats:
    across, down = (x - 0.72) / 0.3, (y - 0.42) / 0.3
    far = across**2 + down**2
    bulge = np.sqrt(np.clip(1 - far, 0, 1))
    lit = np.clip(0.35 + 0.75 * (0.75 * bulge - 0.45 * across - 0.2 * down), 0.05, 1)
    seas = np.zeros_like(x)
    for _ in range(9):
        left, top = chance.uniform(-0.6, 0.6, 2)
        seas += _spot(across, down, left, top, chance.uniform(0.12, 0.28))
    face = lit * (1 - 0.38 * np.clip(seas, 0, 1.2))
    for _ in range(90):
        left, top = chance.uniform(-0.9, 0.9, 2)
        size = 0.012 + 0.05 * chance.random() ** 3
        face += 0.16 * (
            _spot(across, down, left, top, size) - 1.25 * _spot(across, down, left - size / 2, top - size / 3, size)
        )
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
    picture.filter(ImageFilter.GaussianBlur(0.8)).save(out, "PNG")
    return out.getvalue()
