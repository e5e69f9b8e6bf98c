"""The edit behind every value of a sentence: set typed values of one thing."""

from typing import Literal, Self

from foliant.core.design.edits.adding import with_suiting_words
from foliant.core.design.edits.command import Command, PartsCommand, Values, holder
from foliant.core.design.edits.putting import Holder, put
from foliant.core.design.edits.roster import TieValue, says_columns, without_ties
from foliant.core.design.model import Design
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.quantities import in_speeds


class Change(Command):
    """Set typed values of one thing; `of` names it, see `Holder`. Those that name a column of the roster in braces come
    from it from now on; those that came from it and name none no longer do.
    """

    do: Literal["change"]
    of: str
    values: Values

    def apply(self, design: Design) -> Design:
        of = Holder.read(self.of)
        ties = {field: raw for field, raw in self.values.items() if says_columns(design, of, raw)}
        if ties:
            for field, raw in ties.items():
                design = TieValue(do="tie", of=f"{of} {field}", text=raw).apply(design)
            rest = {field: raw for field, raw in self.values.items() if field not in ties}
            return put(design, of, rest) if rest else design
        done = put(without_ties(design, of, self.values), of, self.values)
        if of.kind != "part" or list(self.values) != ["text"]:
            return done
        piece = holder(design, of.id)
        return with_suiting_words(done, piece.id, piece.part(of.id))

    def says(self, design: Design) -> str:
        return f"change {' and '.join(self.values).replace('_', ' ')}"

    def with_shop(self, shop: Shop, design: Design) -> Self:
        """A material or machine is one of the shop's; a change of material takes a thickness that it is sold in. A bare
        speed is in the maker's unit.
        """
        if self.of.startswith("operation "):
            return self._with_speeds(shop, design)
        machine = str(self.values.get("machine", "")) if self.of == "ticket" else ""
        if machine and not shop.has_machine(machine):
            raise Refused(f"There is no machine “{machine[:40]}” in the workshop.")
        material = str(self.values.get("material", "")) if self.of == "stock" else ""
        if material and not shop.has_material(material):
            raise Refused(f"There is no material “{material[:40]}” in the workshop.")
        if not material or "thickness" in self.values:
            return self
        sold = shop.material(material).sold_like(design.stock.thickness)
        return self.model_copy(update={"values": {**self.values, "thickness": sold}})

    def _with_speeds(self, shop: Shop, design: Design) -> Self:
        settings = design.ticket.operation(self.of.partition(" ")[2]).does.settings
        return self.model_copy(update={"values": in_speeds(settings, self.values, shop.rates.speeds)})


class ChangeParts(PartsCommand):
    """Set the same typed values of several parts."""

    do: Literal["change-parts"]
    values: Values

    def apply(self, design: Design) -> Design:
        for part in self.chosen(design):
            design = put(design, Holder("part", (part.id,)), self.values)
        return design

    def says(self, design: Design) -> str:
        return f"change {' and '.join(self.values).replace('_', ' ')} of {self.named(design)}"
