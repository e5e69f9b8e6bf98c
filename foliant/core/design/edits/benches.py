"""Edits of what pieces are cut from, in a project of several materials."""

from typing import Annotated, Literal, Self

from pydantic import Field

from foliant.core.design.benches import on_bench
from foliant.core.design.edits.command import Command, with_design, with_places_if
from foliant.core.design.model import MOST_BENCHES, MOST_PIECES, Bench, BenchIfAny, Design, Stock
from foliant.core.design.names import Identifier
from foliant.core.equipment import ShelfSheet, Shop
from foliant.core.errors import Refused


class CutFrom(Command):
    """Cut pieces from another material: that of the bench `onto`, or from stock that is new to the project, which then
    has a bench of its own with sheets and a ticket. They leave the sheets that they were laid on. Sheets on the shelf
    may be named by their key instead: see `with_shop`.
    """

    do: Literal["cut-from"]
    pieces: Annotated[tuple[Identifier, ...], Field(min_length=1, max_length=MOST_PIECES)]
    onto: BenchIfAny = ""
    stock: Stock | None = None
    shelf: Annotated[str, Field(max_length=40)] = ""

    def with_shop(self, shop: Shop, design: Design) -> Self:
        """What the design needs to know of the sheets that are named is written into it."""
        if not self.shelf:
            return self
        found = next((sheet for sheet in shop.shelf if sheet.key == self.shelf), None)
        if found is None:
            raise Refused("Those sheets are no longer on the shelf.")
        return self.model_copy(update={"stock": from_shelf(found), "shelf": ""})

    def apply(self, design: Design) -> Design:
        design = on_bench(design)
        onto = self.onto
        if self.stock:
            design, onto = with_bench(design, self.stock)
        elif onto not in {design.bench, *(bench.id for bench in design.benches)}:
            raise Refused("That material is no longer in the project.")
        moved = {design.piece(one).id for one in self.pieces if design.piece(one).bench != onto}
        pieces = tuple(
            piece.model_copy(update={"bench": onto, "operations": ()}) if piece.id in moved else piece
            for piece in design.pieces
        )
        return with_places_if(with_design(design, pieces=pieces), lambda place: place.piece not in moved)

    def says(self, design: Design) -> str:
        name = design.piece(self.pieces[0]).name if len(self.pieces) == 1 else f"{len(self.pieces)} pieces"
        return f"cut {name} from another material"


def from_shelf(sheet: ShelfSheet) -> Stock:
    """Stock as a design keeps it: what it needs to know of sheets on the shelf."""
    names = ("material", "width", "height", "thickness", "measured", "price", "used")
    return Stock(source=sheet.key, **{name: getattr(sheet, name) for name in names})


def from_the_shelf(design: Design, shop: Shop) -> Design:
    """The design with what its further benches are of taken from the shelf, where there are such sheets."""

    def taken(bench: Bench) -> Bench:
        like = (bench.stock.material, bench.stock.thickness)
        found = next((one for one in shop.shelf if (one.material, one.thickness) == like and not one.used), None)
        return bench.model_copy(update={"stock": from_shelf(found)}) if found and not bench.stock.source else bench

    return design.model_copy(update={"benches": tuple(map(taken, design.benches))})


def with_bench(design: Design, stock: Stock) -> tuple[Design, str]:
    """The design with a bench for this stock, on the machine of the first one, and the bench's id."""
    if len(design.benches) >= MOST_BENCHES:
        raise Refused(f"A project is cut from at most {MOST_BENCHES + 1} materials.")
    own = f"s{design.serial + 1}"
    ticket = design.ticket.model_copy(update={"operations": (), "order": ()})
    sheet = design.sheet.model_copy(update={"places": (), "jig": None, "off": ()})
    bench = Bench(id=own, stock=stock, sheet=sheet, ticket=ticket)
    return with_design(design, benches=(*design.benches, bench), serial=design.serial + 1), own
