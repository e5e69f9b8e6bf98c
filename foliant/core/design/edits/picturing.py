"""Edits of pictures: what masks them, and their tones made even."""

import math
from typing import Literal

import numpy as np

from foliant.core.design.edits.command import PartsCommand, changed, fields, with_piece
from foliant.core.design.model import Design, Part
from foliant.core.design.nodes import contours_of
from foliant.core.design.placing import inverse, part_matrix, part_region
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes import Picture
from foliant.core.errors import Refused
from foliant.core.paths import Affine, Path, combine, intersect
from foliant.core.paths.shapes import rectangle
from foliant.core.quantities import build
from foliant.core.seeing import find_picture

_DARKEST, _LIGHTEST = 1, 99
"""Out of a hundred pixels, where what is burnt most and least begins."""


class MaskPictures(PartsCommand):
    """Show pictures only inside the other parts that are named, or where there are none inside the outline.

    The mask is the picture's from then on, and moves with it: what only marked the face is used up.
    """

    do: Literal["mask-pictures"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        parts = self.free(design)
        pictures = [part for part in parts if isinstance(part.shape, Picture)]
        if not pictures:
            raise Refused("Choose a picture, and what it is to be seen in.")
        others = [part for part in parts if part not in pictures]
        outline = resolve(piece).outline.path if not others else _outline(others)
        masked = {part.id: _masked(part, outline) for part in pictures}
        used = {part.id for part in others if not part.plays("adds", "cuts")}
        left = tuple(masked.get(part.id, part) for part in piece.parts if part.id not in used)
        return with_piece(design, piece.model_copy(update={"parts": left}))

    def says(self, design: Design) -> str:
        return f"mask {self.named(design)}"


class UnmaskPictures(PartsCommand):
    """Show all of pictures again that is not cropped."""

    do: Literal["unmask-pictures"]

    def apply(self, design: Design) -> Design:
        pictures = [part for part in self.free(design) if isinstance(part.shape, Picture) and part.shape.mask]
        if not pictures:
            raise Refused("No picture that is chosen has a mask.")
        return self.replaced(
            design, [changed(part, shape=part.shape.model_copy(update={"mask": ()})) for part in pictures]
        )

    def says(self, design: Design) -> str:
        return f"take the mask off {self.named(design)}"


class EvenTones(PartsCommand):
    """Have the greys of pictures reach from where nothing is burnt to where all is."""

    do: Literal["even-tones"]

    def apply(self, design: Design) -> Design:
        pictures = [part for part in self.free(design) if isinstance(part.shape, Picture)]
        if not pictures:
            raise Refused("Choose a picture, as nothing else has tones.")
        return self.replaced(design, [_even(part) for part in pictures])

    def says(self, design: Design) -> str:
        return f"even out the tones of {self.named(design)}"


def _outline(parts: list[Part]) -> Path:
    return combine([part_region(part).path for part in parts]).path


def seen_within(picture: Picture, matrix: Affine, outline: Path) -> Picture | None:
    """A picture that lies under a map, seen only inside an outline; None where nothing of it would be."""
    whole = rectangle(picture.whole_width, picture.whole_height)
    seen = intersect([[outline.transformed(inverse(matrix))], [whole]]).path
    return build(Picture, {**fields(picture), "mask": contours_of(seen)}) if len(seen) else None


def _masked(part: Part, outline: Path) -> Part:
    assert isinstance(part.shape, Picture)
    seen = seen_within(part.shape, part_matrix(part), outline)
    if seen is None:
        name = part.shape.label()[:40]
        raise Refused(f"{name} lies nowhere inside, so nothing would be seen of it: move it there.")
    return changed(part, shape=seen)


def _even(part: Part) -> Part:
    picture = part.shape
    assert isinstance(picture, Picture)
    found = find_picture(picture.picture)
    if found is None:
        raise Refused(f"The picture of {picture.label()[:40]} is not here, so its tones are not known.")
    dark, light = np.percentile(np.asarray(found.grey), (_DARKEST, _LIGHTEST)) / 255
    if light - dark < 0.02:
        raise Refused(f"{picture.label()[:40]} is one grey all over, so there is nothing to even out.")
    brightness = 50 - 50 * (light + dark)
    contrast = 400 / math.pi * math.atan(1 / (light - dark)) - 100
    return changed(part, shape=picture.sized(brightness=round(brightness, 1), contrast=round(contrast, 1), gamma=1.0))
