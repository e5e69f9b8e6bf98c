"""The sheet as the last four stations draw it, and what the Sheet station says of it."""

from typing import Any

import shapely

from foliant.core.design import Design, resolve
from foliant.core.design.benches import cut_here
from foliant.core.design.binding import tied_pieces
from foliant.core.design.edits.splitting import is_larger
from foliant.core.equipment import Shop
from foliant.core.layout import Laid, Layout, all_sheets, at_sheet, lay_out, out_of_place
from foliant.core.paths.data import path_data
from foliant.core.ticket.weeding import weeding_path
from foliant.core.units import format_length
from foliant.workshop.presenters.pictures import how_burnt
from foliant.workshop.presenters.scene import drawing, size_of
from foliant.workshop.presenters.slots import slot_data
from foliant.workshop.presenters.spec import cut_from, laying_sentence, sheet_sentence, text, value


def sheet_view(design: Design, shop: Shop, sheet: int = 1) -> dict[str, Any]:
    """A sheet: the stock, what is gone of it, every instance on it, and the drawing of each piece once."""
    sheets = sheets_view(design, shop)
    number = min(sheet, max(len(sheets), 1))
    design, own = at_sheet(design, sheet)
    layout = lay_out(design, own)
    stock = design.stock
    return {
        "width": stock.width,
        "height": stock.height,
        "margin": design.sheet.margin,
        "mirrored": design.ticket.face == "down",
        "gone": [shapely.get_coordinates(part.exterior).round(3).tolist() for part in layout.gone],
        "slots": slots_view(design),
        "marks": marks_view(design),
        "weeding": path_data(weeding_path(layout, design.ticket.weeding, design.ticket.weed), 3),
        "material": material_view(design, shop),
        "pieces": {_drawn(laid): drawing(laid.piece) for laid in layout.instances},
        "number": number,
        "own": layout.number,
        "bench": design.bench,
        "sheets": sheets,
        "instances": instances_view(layout),
    }


def slots_view(design: Design) -> list[dict[str, Any]]:
    """The slots of the jig that pieces are laid into, to be looked at and switched; no machine ever sees them."""
    jig = design.sheet.jig
    if jig is None:
        return []
    return [
        {
            "number": slot.number,
            "d": slot_data(slot),
            "off": slot.number in design.sheet.off,
        }
        for slot in jig.slots
    ]


def marks_view(design: Design) -> list[list[float]]:
    """The marked points of the jig, by which it is found on the bed."""
    jig = design.sheet.jig
    return [[jig.mark_x, jig.mark_y], [jig.other_x, jig.other_y]] if jig else []


def sheets_view(design: Design, shop: Shop) -> list[dict[str, Any]]:
    """Every sheet of the project as a small picture and a few words; none where there is only one."""
    sheets = all_sheets(design)
    return [_small(*one, number, shop) for number, one in enumerate(sheets, 1)] if len(sheets) > 1 else []


def _small(design: Design, layout: Layout, number: int, shop: Shop) -> dict[str, Any]:
    what = "load" if design.sheet.jig else "sheet"
    name = "the begun sheet" if layout.gone else f"{what} {layout.number}"
    stuff = material_view(design, shop)
    several = bool(design.benches)
    boxes = "".join(
        f"M{left:.4g} {top:.4g}H{right:.4g}V{bottom:.4g}H{left:.4g}Z"
        for left, top, right, bottom in (laid.bounds for laid in layout.instances)
    )
    return {
        "number": number,
        "own": layout.number,
        "bench": design.bench,
        "face": stuff["face"],
        "edge": f"M0 0H{layout.width:g}V{layout.height:g}H0Z",
        "name": (stuff["name"] if layout.count == 1 else f"{stuff['name']}, {name}") if several else name,
        "says": f"{counted(len(layout.instances), 'piece')}, {layout.used:.0%} used".replace("%", "\u00a0%"),
        "box": f"0 0 {layout.width:g} {layout.height:g}",
        "d": boxes,
    }


def instances_view(layout: Layout) -> list[dict[str, Any]]:
    """Every instance on a sheet: where it lies, how it was put there, and whether it is in the way of another."""
    wrong = out_of_place(layout)
    return [
        {
            "piece": instance.piece.id,
            "row": instance.instance.row,
            "drawn": _drawn(instance),
            "number": instance.number,
            "label": instance.label,
            "matrix": [round(value, 6) for value in instance.matrix],
            "bounds": list(instance.bounds),
            "turn": instance.turn,
            "put": instance.place is not None,
            "locked": instance.locked,
            "outdated": instance.outdated,
            "wrong": number in wrong,
        }
        for number, instance in enumerate(layout.instances)
    ]


def _drawn(laid: Laid) -> str:
    """Under what name the drawing of an instance is sent: all of a piece, or of a row of it, share one."""
    return f"{laid.piece.id} {laid.instance.row}".strip()


def counted(count: int, what: str) -> str:
    """So many of a thing, in words."""
    return f"{count:,} {what}{'' if count == 1 else 's'}"


def material_view(design: Design, shop: Shop) -> dict[str, Any]:
    """The colours of the stock, and how pictures are burnt on it."""
    stuff = shop.material(design.stock.material)
    thick = format_length(design.stock.thickness, design.unit)
    return {
        "name": f"{thick} {stuff.name}",
        "face": stuff.face,
        "mark": stuff.mark,
        "edge": stuff.edge,
        "grain": stuff.grain,
        **how_burnt(design, shop),
    }


def sheet_words(design: Design, shop: Shop, sheet: int = 1) -> dict[str, Any]:
    """What the Sheet station says: the sentence, the yield, and each piece with what found no room."""
    design, sheet = at_sheet(design, sheet)
    layout = lay_out(design, sheet)
    left_over = {piece.id: count for piece, count in layout.left_over}
    unit, tied, stuff = design.unit, tied_pieces(design), shop.material(design.stock.material).name
    rows = []
    for piece in cut_here(design):
        if not piece.parts:
            continue
        missing = left_over.get(piece.id, 0)
        each = piece.id in tied
        rows.append(
            {
                "id": piece.id,
                "name": piece.name,
                "size": [text(f"{size_of(resolve(piece).bounds, unit)} of "), cut_from(piece, stuff)],
                "copies": value(f"piece {piece.id}", piece, "copies", unit),
                "each": "a row" if each else "",
                "missing": missing,
                "larger": bool(missing) and not each and is_larger(piece, design),
                "says": f"{missing} without room"
                if missing
                else ("fits" if piece.copies == 1 and not each else "all fit"),
            }
        )
    placed = len(layout.instances)
    return {
        "spec": sheet_sentence(design, shop, layout),
        "laying": laying_sentence(design.sheet, shop, unit),
        "rows": rows,
        "placed": placed,
        "used": round(layout.used * 100),
        "leftOver": sum(left_over.values()),
        "put": sum(instance.place is not None and not instance.locked for instance in layout.instances),
        "outdated": sum(instance.outdated for instance in layout.instances),
    }
