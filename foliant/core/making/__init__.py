"""Making: every single thing that is wanted, from the pieces and the rows of the roster."""

from foliant.core.making.instances import Identity, Instance, made_here, make

__all__ = ["Identity", "Instance", "made_here", "make"]
