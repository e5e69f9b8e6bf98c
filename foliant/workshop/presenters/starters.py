"""Starters as makers choose one: true pictures with their sizes."""

from typing import Any

from foliant.core.design import resolve
from foliant.core.equipment import SHIPPED
from foliant.core.formats.svg import path_data
from foliant.core.paths import join
from foliant.core.remembering import remembered
from foliant.core.starters import STARTERS, Starter
from foliant.core.units import Unit, format_length

_GAP = 6.0  # mm between pieces that belong together
_SHOWN = 3
_LINE = 'vector-effect="non-scaling-stroke"'


def starter_cards(unit: Unit) -> list[dict[str, Any]]:
    """Every starter with its name, what it is, and the size of its first piece."""
    return [
        {
            "key": starter.key,
            "name": starter.name,
            "about": starter.about,
            "size": f"{format_length(starter.size[0], unit, with_unit=False)} × {format_length(starter.size[1], unit)}",
        }
        for starter in STARTERS
    ]


@remembered
def starter_picture(starter: Starter) -> str:
    """The first pieces of a starter as an SVG drawing, in the first material that ships."""
    stuff = SHIPPED.materials[0]
    x, high, drawn = 0.0, 0.0, []
    for piece in starter.design().pieces[:_SHOWN]:
        resolved = resolve(piece)
        left, top, right, bottom = resolved.bounds
        outline, engraved = path_data(resolved.outline.path, 2), path_data(resolved.engraved.path, 2)
        lines = path_data(join([resolved.scored, resolved.slits, resolved.strokes]), 2)
        drawn.append(
            f'<g transform="translate({x - left:.2f} {-top:.2f})">'
            f'<path d="{outline}" fill="{stuff.face}" stroke="{stuff.edge}" {_LINE}/>'
            f'<path d="{engraved}" fill="{stuff.mark}"/>'
            f'<path d="{lines}" fill="none" stroke="{stuff.mark}" {_LINE}/></g>'
        )
        x, high = x + right - left + _GAP, max(high, bottom - top)
    box = f"-1 -1 {x - _GAP + 2:.2f} {high + 2:.2f}"
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}">{"".join(drawn)}</svg>'
