"""Tones: how a picture is made lighter, harder or sharper before it is burnt."""

import math
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageFilter


@dataclass(frozen=True)
class Tones:
    """What is done to the greys of a picture; as it stands, nothing.

    brightness  −100 to 100
    contrast    −100 (all grey) to 100 (black and white)
    gamma       over 1 the middle greys are lightened
    sharpen     % by which edges are raised, at the fineness at which it is burnt
    inverted    dark for light
    """

    brightness: float = 0.0
    contrast: float = 0.0
    gamma: float = 1.0
    sharpen: float = 0.0
    inverted: bool = False

    def toned(self, grey: Image.Image) -> Image.Image:
        """A picture in greys so."""
        if self.sharpen:
            grey = grey.filter(ImageFilter.UnsharpMask(1.2, round(self.sharpen), 0))
        return grey if self == Tones(sharpen=self.sharpen) else grey.point(self._table())

    def _table(self) -> list[int]:
        """What each of the 256 greys becomes."""
        light = np.arange(256) / 255 + self.brightness / 100
        steep = math.tan((min(self.contrast, 99.9) + 100) / 400 * math.pi)
        light = np.clip((light - 0.5) * steep + 0.5, 0, 1) ** (1 / self.gamma)
        found: list[int] = np.round(255 * (1 - light if self.inverted else light)).astype(int).tolist()
        return found
