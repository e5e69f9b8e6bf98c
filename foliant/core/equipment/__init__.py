"""What stands in the workshop: the materials it stocks, the machines it runs, what works."""

from foliant.core.equipment.machines import MACHINES, MachineProfile, machine_profile
from foliant.core.equipment.materials import MATERIALS, Material, material
from foliant.core.equipment.recipes import RECIPES, Recipe, find_recipe

__all__ = [
    "MACHINES",
    "MATERIALS",
    "RECIPES",
    "MachineProfile",
    "Material",
    "Recipe",
    "find_recipe",
    "machine_profile",
    "material",
]
