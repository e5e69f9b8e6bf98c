"""Starters as makers choose one: true pictures with their sizes, and what they ask for in a sentence."""

from typing import Any

from foliant.core.design import Design, Stock, resolve
from foliant.core.design.benches import every_bench
from foliant.core.design.budget import weight
from foliant.core.design.raising import raised_on
from foliant.core.equipment import SHIPPED
from foliant.core.paths import join
from foliant.core.paths.data import path_data
from foliant.core.quantities import Quantity
from foliant.core.remembering import remembered
from foliant.core.starters import Starter
from foliant.core.units import Unit, format_length
from foliant.workshop.computing import LIGHT, work_out
from foliant.workshop.library import starters_of
from foliant.workshop.models import Keepsake
from foliant.workshop.presenters.scene import size_of
from foliant.workshop.presenters.spec import Bit, text

_GAP = 6.0  # mm between pieces that belong together
_SHOWN = 3
_LINE = 'vector-effect="non-scaling-stroke"'
_LONGEST = 200


def starter_cards(user: Any, unit: Unit) -> list[dict[str, Any]]:
    """Every starter with its name, what it is, and the size of its first piece; those of one's own come first."""
    return [
        {
            "key": starter.key,
            "name": starter.name,
            "about": starter.about,
            "size": f"{format_length(starter.size[0], unit, with_unit=False)} × {format_length(starter.size[1], unit)}",
        }
        for starter in starters_of(user)
    ]


def starter_view(starter: Starter, values: tuple[str, ...], stock: Stock, unit: Unit) -> dict[str, Any]:
    """What a starter asks for as a sentence with these values in it, its picture so, and how large it is then."""
    asked = starter.asked(stock, unit)
    svg, size = work_out(_weight(starter, values), _look, starter, values, stock, unit)
    bits: list[Bit] = [text(f"{starter.name}", "name"), text(f" {starter.about}" if starter.about else "")]
    for at, (quantity, first) in enumerate(asked):
        shown = _said(quantity, values[at], unit) if at < len(values) else first
        label = quantity.label
        bits.append(text("; " if at else ": "))
        bits.append(text(f"{label[:1].lower()}{label[1:]} "))
        choices = {"choices": quantity.choices} if quantity.choices else {}
        said = dict(quantity.choices).get(shown, shown).replace("\n", " / ")
        bits.append(
            {
                "of": f"starter {at}",
                "field": "text" if quantity.kind == "words" else "value",
                "at": at,
                "kind": quantity.kind,
                "label": label,
                "text": said or "…",
                "raw": shown,
                "edit": {"at": at},
                **choices,
            }
        )
    return {"sentence": bits, "svg": svg, "size": size, "words": words_asked(starter)}


def _said(quantity: Quantity, typed: str, unit: Unit) -> str:
    """A typed value as it reads once it is kept."""
    return typed if quantity.kind in ("words", "choice") else quantity.show(quantity.read(typed, unit), unit)


def begun(starter: Starter, values: tuple[str, ...], stock: Stock, unit: Unit) -> Design:
    """The project that a starter begins; raises `Refused`."""
    return work_out(_weight(starter, values), starter.design, values, stock, unit)


def _look(starter: Starter, values: tuple[str, ...], stock: Stock, unit: Unit) -> tuple[str, str]:
    """How a starter looks with values typed, and how large it is."""
    design = starter.design(values, stock, unit)
    return _picture(design), size_of(resolve(design.pieces[0]).bounds, unit)


def _weight(starter: Starter, values: tuple[str, ...]) -> int:
    """How much there is to work out: of long words it is not known before they are set."""
    return LIGHT + 1 if sum(map(len, values)) > _LONGEST else sum(map(weight, starter.design().pieces))


def words_asked(starter: Starter) -> list[str]:
    """The parts whose words it asks for, by their ids."""
    return [address.split()[1] for address in starter.asks if address.endswith(" text")]


def kept_view(one: Keepsake) -> dict[str, Any]:
    """Something that a maker keeps."""
    found = {"id": one.pk, "kind": one.kind, "name": one.name, "away": one.put_away is not None}
    return {**found, "contours": one.content["contours"]} if one.kind == Keepsake.Kind.MOTIF else found


@remembered
def starter_picture(starter: Starter) -> str:
    """The first pieces of a starter as an SVG drawing, in the first material that ships."""
    return _picture(starter.design())


def _picture(design: Design) -> str:
    stuff = SHIPPED.materials[0]
    x, high, drawn = 0.0, 0.0, []
    stuffs = {there.bench: SHIPPED.material(there.stock.material) for there in every_bench(design)}
    for piece in [piece for piece in design.pieces if not piece.raises][:_SHOWN]:
        resolved = resolve(piece)
        left, top, right, bottom = resolved.bounds
        outline, engraved = path_data(resolved.outline.path, 2), path_data(resolved.engraved.path, 2)
        lines = path_data(join([resolved.scored, resolved.slits, resolved.strokes]), 2)
        raised = "".join(
            f'<path d="{path_data(resolve(one).outline.path, 2)}" fill="{stuffs[one.bench].face}"/>'
            for one in raised_on(design, piece)
        )
        drawn.append(
            f'<g transform="translate({x - left:.2f} {-top:.2f})">'
            f'<path d="{outline}" fill="{stuff.face}" stroke="{stuff.edge}" {_LINE}/>'
            f'<path d="{engraved}" fill="{stuff.mark}"/>'
            f'<path d="{lines}" fill="none" stroke="{stuff.mark}" {_LINE}/>{raised}</g>'
        )
        x, high = x + right - left + _GAP, max(high, bottom - top)
    box = f"-1 -1 {x - _GAP + 2:.2f} {high + 2:.2f}"
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}">{"".join(drawn)}</svg>'
