"""The sheet as the last four stations draw it, and what the Sheet station says of it."""

from typing import Any

from foliant.core.design import Design, resolve
from foliant.core.design.binding import tied_pieces
from foliant.core.equipment import Shop
from foliant.core.layout import Laid, lay_out
from foliant.core.pricing import price
from foliant.core.ticket import Job
from foliant.core.units import format_length
from foliant.workshop.presenters.scene import drawing
from foliant.workshop.presenters.spec import Bit, sheet_sentence, text, value


def sheet_view(design: Design, shop: Shop) -> dict[str, Any]:
    """The stock, every instance on it, and the drawing of each piece once."""
    layout = lay_out(design)
    stock = design.stock
    return {
        "width": stock.width,
        "height": stock.height,
        "margin": design.sheet.margin,
        "material": material_view(design, shop),
        "pieces": {_drawn(laid): drawing(laid.piece) for laid in layout.instances},
        "instances": [
            {
                "piece": instance.piece.id,
                "row": instance.instance.row,
                "drawn": _drawn(instance),
                "number": instance.number,
                "label": instance.label,
                "shift": list(instance.shift),
                "bounds": list(instance.bounds),
                "byHand": instance.by_hand,
            }
            for instance in layout.instances
        ],
    }


def _drawn(laid: Laid) -> str:
    """Under what name the drawing of an instance is sent: all of a piece, or of a row of it, share one."""
    return f"{laid.piece.id} {laid.instance.row}".strip()


def price_sentence(job: Job) -> list[Bit]:
    """What the sheet costs; nothing where nothing lies on it."""
    found, money = price(job), job.shop.rates.currency
    if not found.pieces:
        return []
    sheet = value("stock", job.design.stock, "price", job.design.unit)
    each = f" {money}, {found.each:.2f} {money} a piece" if found.pieces > 1 else f" {money}"
    of_sheet = [text(f"{found.material:.2f} of a sheet for "), sheet]
    if not found.material:
        of_sheet = [text("the sheet, at "), sheet, text(", is not counted yet")]
    return [
        text("It costs "),
        text(f"{found.total:.2f}", "name"),
        text(f"{each}: "),
        *of_sheet,
        text(f", {found.machine:.2f} of the machine’s time and {found.maker:.2f} of yours."),
    ]


def material_view(design: Design, shop: Shop) -> dict[str, str]:
    """The colours of the stock."""
    stuff = shop.material(design.stock.material)
    thick = format_length(design.stock.thickness, design.unit)
    return {
        "name": f"{thick} {stuff.name}",
        "face": stuff.face,
        "mark": stuff.mark,
        "edge": stuff.edge,
        "grain": stuff.grain,
    }


def sheet_words(design: Design, shop: Shop) -> dict[str, Any]:
    """What the Sheet station says: the sentence, the yield, and each piece with what found no room."""
    layout = lay_out(design)
    left_over = {piece.id: count for piece, count in layout.left_over}
    unit, tied = design.unit, tied_pieces(design)
    rows = []
    for piece in design.pieces:
        if not piece.parts:
            continue
        left, top, right, bottom = resolve(piece).bounds
        missing = left_over.get(piece.id, 0)
        each = piece.id in tied
        rows.append(
            {
                "id": piece.id,
                "name": piece.name,
                "size": f"{format_length(right - left, unit, with_unit=False)} × {format_length(bottom - top, unit)}",
                "copies": value(f"piece {piece.id}", piece, "copies", unit),
                "each": "a row" if each else "",
                "missing": missing,
                "says": f"{missing} without room"
                if missing
                else ("fits" if piece.copies == 1 and not each else "all fit"),
            }
        )
    placed = len(layout.instances)
    return {
        "spec": sheet_sentence(design, shop, layout),
        "rows": rows,
        "placed": placed,
        "used": round(layout.used * 100),
        "leftOver": sum(left_over.values()),
        "byHand": sum(instance.by_hand for instance in layout.instances),
    }
