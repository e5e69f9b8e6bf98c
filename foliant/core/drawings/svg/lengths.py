"""Lengths, lists of numbers, transforms and view boxes of SVG, in user units."""

import math
import re
from collections.abc import Mapping

from fontTools.misc.transform import Transform

from foliant.core.drawings.drawing import CSS_INCH, MM
from foliant.core.paths import Affine

UNITS: Mapping[str, float] = {
    "": 1.0,
    "px": 1.0,
    "in": CSS_INCH,
    "mm": CSS_INCH / MM,
    "cm": 10 * CSS_INCH / MM,
    "q": CSS_INCH / MM / 4,
    "pt": CSS_INCH / 72,
    "pc": CSS_INCH / 6,
}
_NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
_LENGTH = re.compile(rf"\s*({_NUMBER})\s*([a-zA-Z%]*)\s*")
_NUMBERS = re.compile(_NUMBER)
_STEPS = re.compile(r"([a-zA-Z]+)\s*\(([^)]*)\)")


def length(text: str | None, whole: float, default: float = 0.0, em: float = 16.0) -> float:
    """A length in user units; what is no length is the default. `whole` is what percentages are of."""
    found = _LENGTH.fullmatch(text or "")
    if not found:
        return default
    number, unit = float(found.group(1)), found.group(2).lower()
    if unit == "%":
        return number / 100 * whole
    if unit in ("em", "rem"):
        return number * em
    if unit in ("ex", "ch"):
        return number * em / 2
    return number * UNITS.get(unit, 1.0)


def unit_of(text: str | None) -> str:
    """The unit that a length is written in; "" for none, or for no length."""
    found = _LENGTH.fullmatch(text or "")
    return found.group(2).lower() if found else ""


def numbers(text: str | None) -> list[float]:
    """All numbers of a list, however they are set apart."""
    return [float(one) for one in _NUMBERS.findall(text or "")]


def transform_of(text: str | None) -> Affine:
    """A transform; what of it cannot be read is left out."""
    whole = Transform()
    for name, inside in _STEPS.findall(text or ""):
        values = _arguments(inside)
        match name.lower(), len(values):
            case "matrix", 6:
                a, b, c, d, e, f = values
                whole = whole.transform((a, b, c, d, e, f))
            case (("translate" | "translate3d"), (1 | 2 | 3)):
                whole = whole.translate(values[0], values[1] if len(values) > 1 else 0)
            case "translatex", 1:
                whole = whole.translate(values[0], 0)
            case "translatey", 1:
                whole = whole.translate(0, values[0])
            case "scale", (1 | 2):
                whole = whole.scale(values[0], values[-1])
            case "rotate", 1:
                whole = whole.rotate(math.radians(values[0]))
            case "rotate", 3:
                whole = whole.translate(*values[1:]).rotate(math.radians(values[0])).translate(-values[1], -values[2])
            case "skewx", 1:
                whole = whole.skew(math.radians(values[0]), 0)
            case "skewy", 1:
                whole = whole.skew(0, math.radians(values[0]))
    return (whole[0], whole[1], whole[2], whole[3], whole[4], whole[5])


def _arguments(text: str) -> list[float]:
    """The numbers of a step: lengths of styles in user units, angles in degrees."""
    found = []
    for number, unit in re.findall(rf"({_NUMBER})\s*([a-zA-Z]*)", text):
        factor = {"rad": 180 / math.pi, "turn": 360.0, "grad": 0.9}.get(unit.lower(), UNITS.get(unit.lower(), 1.0))
        found.append(float(number) * factor)
    return found


def view_transform(box: list[float], width: float, height: float, aspect: str | None) -> Affine:
    """The map from a view box to a port of a width and height, as `preserveAspectRatio` says."""
    left, top, wide, high = box
    across, down = width / wide, height / high
    how = (aspect or "xMidYMid meet").split()
    if how[0] == "none":
        return (across, 0.0, 0.0, down, -left * across, -top * down)
    scale = max(across, down) if "slice" in how else min(across, down)
    share = {"min": 0.0, "mid": 0.5, "max": 1.0}
    x = share.get(how[0][1:4].lower(), 0.5) * (width - wide * scale)
    y = share.get(how[0][5:8].lower(), 0.5) * (height - high * scale)
    return (scale, 0.0, 0.0, scale, x - left * scale, y - top * scale)
