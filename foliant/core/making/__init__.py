"""Making: every single thing that is wanted, from the pieces and the rows of the roster."""

from foliant.core.making.binding import Bound, bound_rows, tied_pieces, untied
from foliant.core.making.instances import Identity, Instance, make

__all__ = ["Bound", "Identity", "Instance", "bound_rows", "make", "tied_pieces", "untied"]
