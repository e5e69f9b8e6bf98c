"""Pictures for tests, and an album that holds them."""

import hashlib
import io
from functools import cache

import numpy as np
from PIL import Image

from foliant.core.seeing import add_finder
from foliant.core.seeing.intake import plain_picture

_album: dict[str, bytes] = {}
add_finder(lambda key: _album.get(key))


def encoded(pixels: np.ndarray, form: str = "PNG", **more: object) -> bytes:
    """Pixels as the bytes of a file."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, form, **more)
    return out.getvalue()


@cache
def _taken(data: bytes) -> bytes:
    return plain_picture(data)[0]


def kept(pixels: np.ndarray) -> str:
    """The key of a picture that was taken in and put in the album."""
    data = _taken(encoded(pixels))
    key = f"{hashlib.sha256(data).hexdigest()[:12]}.png"
    _album[key] = data
    return key


def waves(wide: int = 400, high: int = 300) -> np.ndarray:
    """Soft greys from nearly black to nearly white."""
    y, x = np.mgrid[0:high, 0:wide]
    return np.round(127 + 100 * np.sin(x * 12 / wide) * np.cos(y * 11 / high)).astype(np.uint8)
