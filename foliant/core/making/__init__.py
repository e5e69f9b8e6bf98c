"""Making: every single thing that is wanted, from the pieces and the rows of the roster."""

from foliant.core.making.binding import Bound, bind, bound_rows, tied, untied
from foliant.core.making.instances import Identity, Instance, make

__all__ = ["Bound", "Identity", "Instance", "bind", "bound_rows", "make", "tied", "untied"]
