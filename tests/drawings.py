"""Drawings for tests: icons of three packages, and renderings that ours are held against."""

import gzip
import io
import json
from pathlib import Path

import numpy as np
import resvg_py
from PIL import Image

from foliant.core.drawings.areas import painted
from foliant.core.drawings.drawing import CSS_INCH, MM
from foliant.core.drawings.svg import read_svg
from foliant.core.paths.data import path_data

ICONS = ("bootstrap-icons", "lucide-static", "tabler-icons")
_FOLDER = Path(__file__).parent / "data" / "icons"


def svg(inside: str, size: str = 'width="100mm" height="60mm" viewBox="0 0 100 60"') -> bytes:
    """An SVG file."""
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{inside}</svg>'.encode()


def icons(package: str) -> dict[str, str]:
    """The icons of a package by their names."""
    return json.loads(gzip.decompress((_FOLDER / f"{package}.json.gz").read_bytes()))


def overlap(icon: str, side: float, width: int) -> float:
    """How much of an icon on a square, `side` user units wide, is painted by ours and by a renderer alike: what both
    paint as a share of what either does, in a picture so many pixels wide.
    """
    paths = [path for item in read_svg(icon.encode()).items for path in painted(item)]
    millimetres = side * MM / CSS_INCH
    data = "".join(f'<path d="{path_data(path)}"/>' for path in paths)
    ours = svg(data, f'width="{side}" height="{side}" viewBox="0 0 {millimetres} {millimetres}"').decode()
    one, other = (_covered(text, width) for text in (icon, ours))
    return float((one & other).sum() / max(1, (one | other).sum()))


def _covered(text: str, width: int) -> np.ndarray:
    picture = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=text, width=width))))
    return np.asarray(picture.convert("RGBA"))[..., 3] > 60
