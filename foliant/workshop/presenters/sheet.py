"""The sheet as the last four stations draw it, and what the Sheet station says of it."""

from typing import Any

import shapely

from foliant.core.design import Design, resolve
from foliant.core.design.binding import tied_pieces
from foliant.core.equipment import Shop
from foliant.core.layout import Laid, lay_out, out_of_place, room_left
from foliant.core.pricing import QUANTITIES, price, price_of_many
from foliant.core.ticket import Job
from foliant.core.units import format_duration, format_length
from foliant.workshop.presenters.scene import drawing
from foliant.workshop.presenters.spec import laying_sentence, sheet_sentence, text, value


def sheet_view(design: Design, shop: Shop) -> dict[str, Any]:
    """The stock, what is gone of it, every instance on it, and the drawing of each piece once."""
    layout = lay_out(design)
    stock = design.stock
    return {
        "width": stock.width,
        "height": stock.height,
        "margin": design.sheet.margin,
        "gone": [shapely.get_coordinates(part.exterior).round(3).tolist() for part in layout.gone],
        "material": material_view(design, shop),
        "pieces": {_drawn(laid): drawing(laid.piece) for laid in layout.instances},
        "instances": instances_view(design),
    }


def instances_view(design: Design) -> list[dict[str, Any]]:
    """Every instance on the sheet: where it lies, how it was put there, and whether it is in the way of another."""
    layout = lay_out(design)
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


def costs(job: Job) -> dict[str, Any] | None:
    """What the sheet costs, by what it is paid for, each and all; nothing where nothing lies on it."""
    found, money = price(job), job.shop.rates.currency
    if not found.pieces:
        return None
    rows = [
        ("material by area", found.material),
        (f"{format_duration(found.seconds)} of machine", found.machine),
        ("work and setup", found.maker),
    ]
    many = next(count for count in QUANTITIES if count > found.pieces or count == QUANTITIES[-1])
    sheet = value("stock", job.design.stock, "price", job.design.unit)
    width, height = room_left(job.layout)
    unit = job.design.unit
    left = f"{format_length(int(width), unit, with_unit=False)} × {format_length(int(height), unit)}"
    after = f"; after this run {left} are left in one piece" if width and height else ""
    return {
        "currency": money,
        "rows": [[name, f"{amount / found.pieces:.2f}", f"{amount:.2f}"] for name, amount in rows],
        "total": [
            f"{found.pieces} piece{'' if found.pieces == 1 else 's'}", f"{found.each:.2f}", f"{found.total:.2f}"
        ],
        "says": [
            text(f"{many} would cost "),
            text(f"{price_of_many(job, many).each:.2f} {money}", "name"),
            text(" each. A sheet costs "),
            sheet,
            text(f" {money}{after}."),
        ],
    }  # fmt: skip


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
        "laying": laying_sentence(design.sheet, unit),
        "rows": rows,
        "placed": placed,
        "used": round(layout.used * 100),
        "leftOver": sum(left_over.values()),
        "put": sum(instance.place is not None and not instance.locked for instance in layout.instances),
        "outdated": sum(instance.outdated for instance in layout.instances),
    }
