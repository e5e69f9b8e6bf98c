"""The shop: all that a maker owns and knows, as one value that planning, checking and pricing are given."""

from collections.abc import Iterable
from typing import Final, Literal, TypeVar

from pydantic import Field, model_validator

from foliant.core.equipment.jigs import Jig
from foliant.core.equipment.machines import MachineProfile
from foliant.core.equipment.materials import Material
from foliant.core.equipment.names import nearest
from foliant.core.equipment.recipes import Recipe
from foliant.core.equipment.stock import Rates, ShelfSheet
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.units import Unit

FORMAT: Final = "foliant-shop"
VERSION: Final = 1

Item = TypeVar("Item", Material, MachineProfile, Recipe, ShelfSheet, Jig)


class Shop(Frozen):
    """Materials, machines, recipes, the sheets on the shelf, jigs, what time costs, and the unit lengths are typed in.

    A design names materials and machines by key. One that is not there is answered with the nearest, so that a design
    from elsewhere opens; a check says so.
    """

    format: Literal["foliant-shop"] = FORMAT
    version: Literal[1] = VERSION
    unit: Unit = "mm"
    materials: tuple[Material, ...] = Field(min_length=1, max_length=200)
    machines: tuple[MachineProfile, ...] = Field(min_length=1, max_length=50)
    recipes: tuple[Recipe, ...] = Field((), max_length=5000)
    shelf: tuple[ShelfSheet, ...] = Field((), max_length=500)
    jigs: tuple[Jig, ...] = Field((), max_length=100)
    rates: Rates = Rates()

    @model_validator(mode="after")
    def _keys_differ(self) -> "Shop":
        for items, what in (
            (self.materials, "materials"),
            (self.machines, "machines"),
            (self.recipes, "recipes"),
            (self.shelf, "sheets on the shelf"),
            (self.jigs, "jigs"),
        ):
            keys = [item.key for item in items]
            if len(set(keys)) < len(keys):
                raise Refused(f"Two of the {what} in the shop have the same key.")
        return self

    def has_material(self, key: str) -> bool:
        """Whether there is a material of that key."""
        return any(material.key == key for material in self.materials)

    def has_machine(self, key: str) -> bool:
        """Whether there is a machine of that key."""
        return any(machine.key == key for machine in self.machines)

    def material(self, key: str) -> Material:
        """The material of that key, or else the one whose key is the nearest."""
        return _found_or_nearest(key, self.materials)

    def machine(self, key: str) -> MachineProfile:
        """The machine of that key, or else the one whose key is the nearest."""
        return _found_or_nearest(key, self.machines)

    def recipe(self, machine: str, material: str, thickness: float, work: str) -> Recipe | None:
        """The recipe for a work, if there is one for about that thickness (mm)."""
        fitting = (found for found in self.recipes_for(machine, material) if found.work == work)
        near = [found for found in fitting if found.suits(thickness)]
        return min(near, key=lambda found: abs(found.thickness - thickness), default=None)

    def recipes_for(self, machine: str, material: str) -> list[Recipe]:
        """What works with one material on one machine."""
        return [recipe for recipe in self.recipes if (recipe.machine, recipe.material) == (machine, material)]


def _found_or_nearest(key: str, items: Iterable[Item]) -> Item:
    by_key = {item.key: item for item in items}
    return by_key.get(key) or by_key[nearest(key, by_key)]
