"""Packing: shapes laid close together on an area of any outline, never nearer than the gap.

It knows shapes and numbers only; `layout` says what they are. A raster of the free area finds places, exact geometry
settles and proves them, and a search goes on improving as long as it is let.
"""

from foliant.core.packing.arrays import Offset, Way, array
from foliant.core.packing.greedy import fill, quick
from foliant.core.packing.search import improving
from foliant.core.packing.task import Bed, Packed, Put, Stamp, Task
from foliant.core.packing.touching import proved_clear

__all__ = [
    "Bed",
    "Offset",
    "Packed",
    "Put",
    "Stamp",
    "Task",
    "Way",
    "array",
    "fill",
    "improving",
    "proved_clear",
    "quick",
]
