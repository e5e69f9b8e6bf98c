"""Showing: a picture as it will be burnt, as a PNG that is clear wherever nothing is."""

import base64
import io
import math
from dataclasses import dataclass

from PIL import Image

from foliant.core.remembering import remembered
from foliant.core.seeing.burning import Pictured, count_of_dots, dots_of

MOST_SHOWN = 3_000_000
"""Where there are more dots than that, fewer and larger ones are shown."""


@dataclass(frozen=True, eq=False)
class Burnt:
    """A PNG, and where it lies: left, top, width and height, mm."""

    png: bytes
    box: tuple[float, float, float, float]

    @property
    def address(self) -> str:
        """It as an address that holds all of it."""
        return f"data:image/png;base64,{base64.b64encode(self.png).decode()}"


@remembered
def as_burnt(pictured: Pictured, spacing: float, tone: str, ink: str) -> Burnt:
    """A picture in the colour of what is burnt, #rrggbb."""
    many = count_of_dots(pictured, spacing) / MOST_SHOWN
    dots = dots_of(pictured, spacing * math.ceil(math.sqrt(many)) if many > 1 else spacing, tone)
    shown = Image.fromarray(dots.darkness, "P")
    shown.putpalette([int(ink[at : at + 2], 16) for at in (1, 3, 5)] * 256)
    written = io.BytesIO()
    shown.save(written, "PNG", transparency=bytes(range(256)))
    high, wide = dots.darkness.shape
    half = dots.spacing / 2
    return Burnt(written.getvalue(), (dots.left - half, dots.top - half, wide * dots.spacing, high * dots.spacing))
