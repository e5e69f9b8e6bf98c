"""Projects as cards: true small pictures of the pieces."""

from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone
from django.utils.timesince import timesince

from foliant.core.design import resolve
from foliant.core.design.benches import on_bench
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.workshop.computing import LIGHT, weight_of
from foliant.workshop.models import Project
from foliant.workshop.presenters.scene import drawing, raised_view
from foliant.workshop.presenters.sheet import material_view

MOST_PICTURES = 3


def card(project: Project, shop: Shop) -> dict[str, Any]:
    """What a card shows of a project. One that is heavy to draw, or cannot be read, stands without its pictures."""
    try:
        design = project.design
    except Refused as refusal:
        return {"project": project, "pictures": [], "changed": _ago(project.changed), "trouble": str(refusal)}
    if weight_of(design) > LIGHT:
        drawn = []
        count = len(design.pieces)
    else:
        drawn = [piece for piece in design.pieces if len(resolve(piece).outline.path) and not piece.raises]
        count = len(drawn)
    return {
        "project": project,
        "pictures": [
            {
                **_picture(piece),
                "raised": raised_view(design, piece, shop),
                "material": material_view(on_bench(design, piece.bench), shop),
            }
            for piece in drawn[:MOST_PICTURES]
        ],
        "material": material_view(design, shop),
        "changed": _ago(project.changed),
        "pieces": f"{count} piece{'' if count == 1 else 's'}",
        "hidden": max(0, len(drawn) - MOST_PICTURES),
        "large": weight_of(design) > LIGHT,
    }


def _ago(moment: datetime) -> str:
    """When that was, in words."""
    return "just now" if timezone.now() - moment < timedelta(minutes=1) else f"{timesince(moment, depth=1)} ago"


def _picture(piece: Any) -> dict[str, Any]:
    left, top, right, bottom = resolve(piece).bounds
    edge = max(right - left, bottom - top) * 0.02
    box = f"{left - edge:.2f} {top - edge:.2f} {right - left + 2 * edge:.2f} {bottom - top + 2 * edge:.2f}"
    return {"name": piece.name, "box": box, **drawing(piece)}
