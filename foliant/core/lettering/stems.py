"""Stems: how broad the strokes of a font are, and whether they end in serifs, measured on its capitals."""

from dataclasses import dataclass, replace

import shapely

from foliant.core.lettering.lines import set_lines
from foliant.core.lettering.style import Style
from foliant.core.paths.overlay import fine_shape
from foliant.core.remembering import remembered

_FINE = 0.02  # mm
_HIGH = 20.0  # mm
_SERIF = 1.25  # times the stem: feet that are broader are serifs


@dataclass(frozen=True)
class Stems:
    """The stem of a capital I as a share of its height, and whether a capital H stands on feet."""

    stem: float
    serifs: bool


@remembered
def stems_of(style: Style) -> Stems | None:
    """The strokes of capitals set in a style; None where its font has none."""
    plain = replace(
        style, sized_by="capitals", size=20.0, weight=style.weight * 20 / max(style.size, 1e-6), tracking=0.0
    )
    stem, leg = _across("I", plain, 0.5), _across("H", plain, 0.25)
    if not stem or not leg:
        return None
    return Stems(stem / 20, _across("H", plain, 0.015) > _SERIF * leg)


def _across(letter: str, style: Style, at: float) -> float:
    """How broad the first stroke of a capital is, so far up its height, mm; 0 where there is none."""
    words = set_lines(letter, style)
    if not words.letters:
        return 0.0
    shape = fine_shape(words.letters[0].path, _FINE)
    left, top, right, bottom = shape.bounds if not shape.is_empty else (0.0,) * 4
    y = bottom - at * (bottom - top)
    met = shapely.get_parts(shape.intersection(shapely.LineString([(left - 1, y), (right + 1, y)])))
    return float(min(met, key=lambda one: one.bounds[0]).length) if len(met) else 0.0
