"""Packing and filling as the Sheet station shows them."""

from typing import Any

from django.utils import timezone

from foliant.core.design import Design, Piece, read_edit
from foliant.core.design.benches import cut_here
from foliant.core.design.binding import tied_pieces
from foliant.core.design.edits.sheet import PutPacked
from foliant.core.equipment import Shop
from foliant.core.layout import at_sheet, fit_on_a_sheet, lay_out, more_of
from foliant.core.paths.path import similarity
from foliant.core.pricing import price_csv
from foliant.core.ticket import plan_all
from foliant.workshop.computing import planned
from foliant.workshop.models import Packing, Project, unpack
from foliant.workshop.presenters.scene import drawing
from foliant.workshop.presenters.sheet import instances_view


def packing_view(project: Project, packing: Packing | None, seen: int = 0, sheet: int = 1) -> dict[str, Any]:
    """How packing stands: `instances` are what the best answer lays out, where it is newer than what was seen."""
    if packing is None or packing.over:
        return {"state": "", "answers": 0}
    begun = packing.begun or timezone.now()
    share = min((timezone.now() - begun).total_seconds() / packing.seconds, 1.0)
    lost = "The helper that packs has stopped; begin again." if packing.silent else ""
    told: dict[str, Any] = {
        "state": "failed" if lost else packing.state,
        "busy": packing.busy,
        "percent": round(100 * share),
        "answers": packing.answers,
        "placed": packing.placed,
        "wanted": packing.wanted,
        "says": _says(packing),
        "message": lost or packing.message,
    }
    if packing.busy and packing.answers > seen and project.current == packing.revision:
        told["instances"] = planned(_laid_out, project.design, project.shop, bytes(packing.edit), sheet)
    return told


def _laid_out(design: Design, shop: Shop, packed: bytes, sheet: int) -> list[dict[str, Any]]:
    edit = read_edit(unpack(packed))
    assert isinstance(edit, PutPacked)
    design, own = at_sheet(design, sheet)
    if edit.bench != design.bench:
        return []
    laid = design.model_copy(update={"sheet": design.sheet.model_copy(update={"places": edit.places})})
    layout = lay_out(laid, own)
    return instances_view(layout) if layout.number == own else []


def _says(packing: Packing) -> str:
    if packing.state == Packing.State.WAITING:
        return "waiting for its turn"
    if not packing.answers:
        return "looking for places"
    left = packing.wanted - packing.placed
    placed = (
        f"{packing.placed} of {packing.wanted} placed"
        if left
        else f"{packing.density:.1%} of its strip".replace("%", " %")
    )
    return f"{placed} · still finding better" if packing.state == Packing.State.PACKING else placed


def filling(design: Design, sheet: int) -> list[dict[str, Any]]:
    """How many more of each piece what is left of a sheet takes, of those that do not come once a row, and where the
    next would lie; and how many a whole sheet takes.
    """
    design, sheet = at_sheet(design, sheet)
    tied = tied_pieces(design)
    pieces = [piece for piece in cut_here(design) if piece.parts and piece.id not in tied]
    return [_room_for(design, piece, sheet) for piece in pieces]


def _room_for(design: Design, piece: Piece, sheet: int) -> dict[str, Any]:
    puts = more_of(design, piece, sheet).puts
    whole = fit_on_a_sheet(design, piece)
    room = {"piece": piece.id, "name": piece.name, "more": len(puts), "whole": whole, "next": None}
    if puts:
        first = puts[0]
        turned = [round(value, 6) for value in similarity(first.turn, dx=first.x, dy=first.y)]
        room["next"] = {"matrix": turned, "d": drawing(piece)["outline"]}
    return room


def prices_file(design: Design, shop: Shop, by: str) -> str:
    """The prices as CSV."""
    return price_csv(plan_all(design, shop), by)
