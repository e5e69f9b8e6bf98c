"""A starter: a ready piece, or a few that belong together, made of ordinary parts by ordinary edits."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from foliant.core.design import Design, Stock, Ticket, apply, read_edit
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.quantities import Quantity, quantity_of
from foliant.core.remembering import remembered
from foliant.core.starters.following import Following
from foliant.core.units import Unit

Edit = dict[str, Any]


@dataclass(frozen=True, eq=False)
class Starter:
    """A ready design.

    key, name  how it is named to the command line, and to makers
    about      what it is, in a few words
    size       how wide and high its first piece is as it comes, mm
    edits      what makes it from an empty project: pieces and parts are numbered as they come, `p1`, `a2`, `a3` …
    asks       the addresses of the values that it asks for, words first
    says       what its words say until others are typed, in the order in which it asks for them
    ends       what is done once those are typed
    """

    key: str
    name: str
    about: str
    size: tuple[float, float]
    edits: tuple[Edit, ...] = ()
    asks: tuple[str, ...] = ()
    says: tuple[str, ...] = ()
    ends: tuple[Edit, ...] = ()

    def begins(self, thickness: float) -> tuple[Edit, ...]:
        """What makes it from an empty project, for stock so thick, mm."""
        return self.edits

    def design(self, values: Sequence[str] = (), stock: Stock | None = None, unit: Unit = "mm") -> Design:
        """The project that it begins, with values typed for what it asks for, in that order; raises `Refused`.

        unit  what bare lengths among them are in
        """
        if len(values) > len(self.asks):
            raise Refused(f"{self.name} asks for {len(self.asks)} values, and {len(values)} were given.")
        return _begun(self, tuple(values), stock or Stock(), unit)

    def asked(self, stock: Stock | None = None, unit: Unit = "mm") -> list[tuple[Quantity, str]]:
        """What it asks for, as quantities, and what each is as it comes, as it would be typed."""
        design = replace(self, ends=()).design((), stock, unit)
        return [_asked(design, address) for address in self.asks]


def _asked(design: Design, address: str) -> tuple[Quantity, str]:
    kind, one, field = (*address.split(), "", "", "")[:3]
    models: list[Frozen] = [piece for piece in design.pieces if piece.id == one]
    for part in (part for piece in design.pieces for part in piece.parts if part.id == one):
        models = [part.shape, part] if kind == "part" else [getattr(part.treatments, kind, None) or part]
    model = next((model for model in models if field in type(model).model_fields), None)
    if model is None:
        raise Refused("A value that it asks for is no longer there.")
    quantity, found = quantity_of(type(model), field), getattr(model, field)  # refused where it cannot be typed
    return quantity, found if isinstance(found, str) else quantity.show(found, design.unit)


@remembered
def _begun(starter: Starter, values: tuple[str, ...], stock: Stock, unit: Unit) -> Design:
    """Kept: letters that are fitted take a second."""
    design = Design(stock=stock, ticket=Ticket(kerf="on"))
    given = (*values, *starter.says[len(values) :])
    asked = [typed(*address.rpartition(" ")[::2], text) for address, text in zip(starter.asks, given, strict=False)]
    named = {"do": "rename", "name": starter.name}
    following = Following(_by_part(starter.asks, values), unit)
    for edit in starter.begins(stock.actual):
        design = apply(design, read_edit(following.edit(edit, f"a{design.serial + 1}")))
    design = design.model_copy(update={"unit": unit})
    for edit in (*asked, *starter.ends, named):
        design = apply(design, read_edit(edit))
    return design


def _by_part(asks: Sequence[str], values: Sequence[str]) -> dict[str, dict[str, str]]:
    """What is typed for the values of parts, by the part and the field."""
    found: dict[str, dict[str, str]] = {}
    for address, text in zip(asks, values, strict=False):
        of, _, field = address.rpartition(" ")
        if of.startswith("part "):
            found.setdefault(of.removeprefix("part "), {})[field] = text
    return found


def piece(name: str) -> Edit:
    """A new piece."""
    return {"do": "add-piece", "name": name}


def put(kind: str, on: str = "p1", onto: str = "", **more: Any) -> Edit:
    """A part put on a piece and held where it lands; what is no place, turn or role is a value of its shape."""
    known: Edit = {key: more.pop(key) for key in ("x", "y", "rotation", "role") if key in more}
    where: Edit = {"piece": on, "onto": [onto] if onto else [], "held": True}
    return {"do": "add-part", "kind": kind, **where, **known, "values": more}


def do(how: str, /, *parts: str, on: str = "p1", **more: Any) -> Edit:
    """Something done with parts of a piece."""
    return {"do": how, "piece": on, "parts": list(parts), **more}


def typed(of: str, field: str, text: str) -> Edit:
    """A value typed."""
    return {"do": "change", "of": of, "values": {field: text}}
