"""Seeing: pictures of makers, and how dark each dot of them is to be burnt."""

from foliant.core.seeing.album import Picture, add_finder, among, beside, check_picture, find_picture
from foliant.core.seeing.burning import Look, Pictured, count_of_dots, dots_of, frames
from foliant.core.seeing.dithering import DITHERS
from foliant.core.seeing.showing import Burnt, as_burnt
from foliant.core.seeing.tones import Tones

__all__ = [
    "DITHERS",
    "Burnt",
    "Look",
    "Picture",
    "Pictured",
    "Tones",
    "add_finder",
    "among",
    "as_burnt",
    "beside",
    "check_picture",
    "count_of_dots",
    "dots_of",
    "find_picture",
    "frames",
]
