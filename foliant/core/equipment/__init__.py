"""What stands in the workshop: the materials it stocks and the machines it runs."""

from foliant.core.equipment.machines import MACHINES, MachineProfile, machine_profile
from foliant.core.equipment.materials import MATERIALS, Material, material

__all__ = ["MACHINES", "MATERIALS", "MachineProfile", "Material", "machine_profile", "material"]
