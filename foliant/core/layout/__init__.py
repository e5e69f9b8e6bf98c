"""Layout: the instances that are to be made, and where they lie on the sheet."""

from foliant.core.layout.instances import Identity, Instance, make
from foliant.core.layout.rows import Laid, Layout, lay_out

__all__ = ["Identity", "Instance", "Laid", "Layout", "lay_out", "make"]
