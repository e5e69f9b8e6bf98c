"""A camera's picture as if it was taken from straight above the bed."""

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from foliant.core.errors import Refused
from foliant.core.eye.lens import Lens

Picture = NDArray[np.uint8]

MOST_DOTS = 30_000_000
_DARK, _FLAT = 8.0, 2.0


def read_picture(content: bytes) -> Picture:
    """A picture file as (h, w, 3), blue first; raises `Refused` where it is none, or shows nothing."""
    data = np.frombuffer(content, np.uint8)
    try:
        found = cv2.imdecode(data, cv2.IMREAD_COLOR) if len(data) else None
    except cv2.error:
        found = None
    if found is None:
        raise Refused("The camera sent no picture: that is neither a JPEG nor a PNG file.")
    if found.shape[0] * found.shape[1] > MOST_DOTS:
        raise Refused("The picture is too large: the eye takes up to 30 million dots.")
    picture = np.asarray(found, np.uint8)
    if picture.mean() < _DARK:
        raise Refused("The picture is black: switch a light on over the bed, or take the cap off the camera.")
    if picture.std() < _FLAT:
        raise Refused("The picture shows nothing: everything in it is alike.")
    return picture


def straightened(
    picture: Picture, lens: Lens, left: float, near: float, right: float, far: float, fine: float, height: float = 0.0
) -> Picture:
    """What a picture shows of a part of the bed, mm, or of a plane so high over it, with `fine` dots to the mm: the far
    left of it is its first dot. What the picture does not show is black. Raises `Refused` where the picture is not of
    that camera.
    """
    check_size(picture, lens)
    columns, rows = max(1, round((right - left) * fine)), max(1, round((far - near) * fine))
    across = left + (np.arange(columns) + 0.5) / fine
    down = far - (np.arange(rows) + 0.5) / fine
    there = np.stack(np.meshgrid(across, down), axis=-1).reshape(-1, 2)
    dots = lens.seen(there, height).reshape(rows, columns, 2).astype(np.float32)
    return np.asarray(at_dots(picture, dots, cv2.BORDER_CONSTANT), np.uint8)


def at_dots(picture: Any, dots: NDArray[np.float32], beyond: int = cv2.BORDER_REPLICATE) -> NDArray[Any]:
    """What a picture (h, w) or (h, w, 3) shows at dots (n, m, 2) of it, between its own smoothly; and beyond it."""
    return np.asarray(cv2.remap(picture, dots, None, cv2.INTER_LINEAR, borderMode=beyond))  # type: ignore[call-overload]


def check_size(picture: Picture, lens: Lens) -> None:
    """Raises `Refused` where a picture is not of the size that the lens was learnt with."""
    rows, columns = picture.shape[:2]
    if (columns, rows) != (lens.width, lens.height):
        raise Refused(
            f"The picture is {columns} × {rows} dots large, and the lens was learnt with {lens.width} × {lens.height}: "
            "have the eye learn its lens again."
        )
