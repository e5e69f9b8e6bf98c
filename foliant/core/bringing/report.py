"""What a drawing holds, said for makers and for programs."""

from collections.abc import Sequence
from typing import Any

from foliant.core.bringing.colours import colour_word
from foliant.core.bringing.groups import KINDS, Group
from foliant.core.design.model import ROLES
from foliant.core.drawings import Drawing
from foliant.core.paths import join
from foliant.core.units import Unit, format_length


def size_of(drawing: Drawing, unit: Unit) -> str:
    """How large a drawing is, and how large it would be if its units were others."""
    left, top, right, bottom = drawing.bounds
    wide, high = right - left, bottom - top
    says = f"{format_length(wide, unit, with_unit=False)} × {format_length(high, unit)}"
    if not drawing.meanings:
        return f"{says}, {unit_of(drawing)}" if drawing.unit else says
    taken, *others = drawing.meanings
    meant = [f"{what} would be {format_length(wide * factor, unit)} wide" for what, factor in others]
    return f"{says}, its units taken as {taken[0]}, as the file says none: {'; '.join(meant)}"


def unit_of(drawing: Drawing) -> str:
    """In which unit the file says its size."""
    return f"as the file says in {_UNITS.get(drawing.unit, drawing.unit)}" if drawing.unit else "the file says no unit"


_UNITS = {"in": "inches", "pt": "points", "pc": "picas", "ft": "feet", "yd": "yards", "q": "quarters of a millimetre"}


def title_of(group: Group) -> str:
    """What a group is called: what it holds, its colour and its layer."""
    kind = KINDS[group.kind]
    on = f" on “{group.layer}”" if group.layer else ""
    return f"{group.count:,} {kind}{'' if group.count == 1 else 's'} in {colour_word(group.colour)}{on}"


def unread_of(drawing: Drawing) -> str:
    """What could not be read, in a sentence; empty where all was."""
    if not drawing.unread:
        return ""
    return f"Left out: {', '.join(f'{count:,} {what}' for what, count in drawing.unread)}."


def report(drawing: Drawing, groups: Sequence[Group]) -> dict[str, Any]:
    """All of it as plain data, lengths in mm."""
    left, top, right, bottom = drawing.bounds
    return {
        "width": round(right - left, 4),
        "height": round(bottom - top, 4),
        "unit": drawing.unit,
        "meanings": [{"as": what, "width": round((right - left) * factor, 4)} for what, factor in drawing.meanings],
        "groups": [_group(group) for group in groups],
        "words": [{"text": text.text, "family": text.family, "x": text.x, "y": text.y} for text in drawing.texts],
        "unread": [{"what": what, "count": count} for what, count in drawing.unread],
    }


def _group(group: Group) -> dict[str, Any]:
    left, top, right, bottom = join(item.path for item in group.items).bounds
    return {
        "key": group.key,
        "holds": KINDS[group.kind],
        "count": group.count,
        "colour": group.colour,
        "layer": group.layer,
        "role": group.role,
        "means": ROLES[group.role],
        "taken_as": group.told,
        "box": [round(side, 4) for side in (left, top, right, bottom)],
    }
