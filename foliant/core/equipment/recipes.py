"""Recipes: tested settings for one work on one material, thickness and machine."""

from typing import Annotated

from pydantic import model_validator

from foliant.core.equipment.names import Key
from foliant.core.errors import Refused
from foliant.core.frozen import Figures, Frozen, whole
from foliant.core.quantities import Quantity, build, quantity_of, sized
from foliant.core.units import Unit
from foliant.core.works import Settings, find_work

NEAR = 0.15
"""How far, in mm, a stock's thickness may lie from a recipe's."""

_LONGEST = 120
_WRITTEN = 0.005

GUESSED = "a guess from"


def _check_origin(text: str) -> str:
    plain = " ".join(text.split())
    if len(plain) > _LONGEST:
        raise Refused(f"Where a recipe comes from is said in at most {_LONGEST} characters.")
    return plain


class Recipe(Frozen):
    """Settings with what they are for; thickness in mm.

    origin  where it comes from, in words: shipped, tested on a day, a run that went well
    """

    key: Key
    machine: Key
    material: Key
    thickness: Annotated[float, sized("The thickness", 0.05, 50)]
    work: Annotated[str, Quantity("words", "The work", check_text=lambda key: find_work(key).key)]
    values: Figures
    origin: Annotated[str, Quantity("words", "Where it comes from", check_text=_check_origin)] = ""

    @model_validator(mode="after")
    def _values_are_of_its_work(self) -> "Recipe":
        build(find_work(self.work).settings, dict(self.values))
        return self

    @property
    def settings(self) -> Settings:
        """The values as settings of its work."""
        return build(find_work(self.work).settings, {name: whole(value) for name, value in self.values})

    @property
    def name(self) -> str:
        """What the ticket calls it."""
        return f"{find_work(self.work).verb.capitalize()} recipe"

    def with_settings(self, typed: dict[str, object], unit: Unit) -> "Recipe":
        """The recipe with typed settings; raises `Refused`."""
        kind = find_work(self.work).settings
        values: dict[str, object] = dict(self.values)
        for field, raw in typed.items():
            quantity = quantity_of(kind, field)
            values[field] = quantity.check(quantity.read(raw, unit), unit)
        return build(Recipe, {**dict(self), "values": values, "origin": "changed by you"})

    @property
    def guessed(self) -> bool:
        """Whether nobody has tried it yet."""
        return self.origin.startswith(GUESSED)

    def is_for(self, machine: str, material: str, thickness: float, work: str) -> bool:
        """Whether it is for just that, its thickness (mm) within what a list writes."""
        same = (self.machine, self.material, self.work) == (machine, material, work)
        return same and abs(self.thickness - thickness) < _WRITTEN

    def suits(self, thickness: float) -> bool:
        """Whether it is for stock so thick, mm."""
        return abs(self.thickness - thickness) <= NEAR
