"""Cutting letters and pictograms from another material, to be applied to the piece that they are drawn on."""

from typing import Annotated, Literal, Self

from pydantic import Field

from foliant.core.braille.sizes import RAISED
from foliant.core.design.benches import on_bench
from foliant.core.design.edits.benches import from_shelf, with_bench
from foliant.core.design.edits.command import PartsCommand, with_design
from foliant.core.design.edits.project import unused_name
from foliant.core.design.edits.putting import Holder, put
from foliant.core.design.edits.sheet import still_clear
from foliant.core.design.model import MOST_PLACES, BenchIfAny, Design, Part, Piece, Place, Stock
from foliant.core.design.placing import part_region
from foliant.core.design.raising import kept_up, name_of, raised_on
from foliant.core.design.shapes import Braille
from foliant.core.equipment import ShelfSheet, Shop
from foliant.core.equipment.materials import contrast
from foliant.core.errors import Refused

_HIGHEST = 4.0

USUAL = Stock(material="slate-acrylic")
"""What raised parts are cut from where nothing is known of what there is."""

Ground = Literal["scored", "engraved", "bare"]
_ROLES = {"scored": "scores", "engraved": "engraves", "bare": "guides"}


class RaiseParts(PartsCommand):
    """Cut parts out of another material, to be applied where they are drawn: there their place is scored, engraved
    shallow, or left bare. Each is a piece of its own, cut as often as what it is applied to, and follows what is drawn.

    onto   the bench that they are cut on; "" for that of what is raised on the piece already, or a new one
    stock  what a new bench is of; without it, what of the shelf stands out best from the piece's own
    places where they lie on that bench, found out as packing finds it; what has none lies in rows
    """

    do: Literal["raise-parts"]
    place: Ground = "scored"
    onto: BenchIfAny = ""
    stock: Stock | None = None
    places: Annotated[tuple[Place, ...], Field(max_length=MOST_PLACES)] = ()

    def with_shop(self, shop: Shop, design: Design) -> Self:
        """The sheets on the shelf that stand out best from what the piece is cut from."""
        if self.stock or self.onto:
            return self
        best = standing_out(shop, design.stock.material)
        return self.model_copy(update={"stock": from_shelf(best)}) if best else self

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        if piece.raises:
            raise Refused(f"{piece.name} is cut out to be applied itself: nothing is raised on it.")
        parts = self.free(design)
        known = raised_on(design, piece)
        taken = {other.raises for other in known}
        for part in parts:
            _check(part, taken)
        for part in parts:
            made = {"made": "dots"} if isinstance(part.shape, Braille) else {}
            design = put(design, Holder("part", (part.id,)), {"roles": (_ROLES[self.place],), **made})
        onto = self.onto
        if not onto and known:
            onto = known[0].bench
        elif not onto:
            design, onto = with_bench(design, self.stock or USUAL)
        source, serial = design.piece(self.piece), design.serial
        for part in parts:
            own = {"id": f"p{serial + 1}", "name": unused_name(name_of(part), design)}
            copy = part.model_copy(update={"id": f"a{serial + 2}", "across": None, "down": None, "group": None})
            new = Piece(**own, bench=onto, raises=part.id, parts=(copy,))
            serial += 2
            design = with_design(design, pieces=(*design.pieces, kept_up(new, source)), serial=serial)
        return self._laid(on_bench(design, onto)) if self.places else design

    def _laid(self, design: Design) -> Design:
        stay = design.sheet.places
        places = (*stay, *still_clear(design, stay, self.places))
        return with_design(design, sheet=design.sheet.model_copy(update={"places": places}))

    def says(self, design: Design) -> str:
        return f"raise {self.named(design)}"


def standing_out(shop: Shop, ground: str) -> ShelfSheet | None:
    """What of the shelf stands out best from a material, by its key: whole sheets as thick as letters are raised."""
    face = shop.material(ground).face
    sheets = [one for one in shop.shelf if RAISED <= one.thickness <= _HIGHEST and one.count and not one.used]
    return max(sheets, key=lambda one: contrast(shop.material(one.material).face, face), default=None)


def _check(part: Part, taken: set[str]) -> None:
    label = part.shape.label()[:40]
    if part.id in taken:
        raise Refused(f"{label} is cut out and applied already.")
    if not len(part_region(part).path):
        raise Refused(f"{label} bounds no area that could be cut out and applied.")
