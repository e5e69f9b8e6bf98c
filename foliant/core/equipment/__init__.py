"""What stands in a workshop: materials, machines, what works, what lies on the shelf, and what time costs."""

from foliant.core.equipment.edits import ShopEdit, read_shop_edit
from foliant.core.equipment.jigs import Jig
from foliant.core.equipment.machines import SIMULATED, MachineProfile
from foliant.core.equipment.materials import Material
from foliant.core.equipment.recipes import Recipe
from foliant.core.equipment.shipped import SHIPPED
from foliant.core.equipment.shop import Shop
from foliant.core.equipment.stock import Rates, ShelfSheet, Used, gone

__all__ = [
    "SHIPPED",
    "SIMULATED",
    "Jig",
    "MachineProfile",
    "Material",
    "Rates",
    "Recipe",
    "ShelfSheet",
    "Shop",
    "ShopEdit",
    "Used",
    "gone",
    "read_shop_edit",
]
