"""Layout: where the instances that are to be made lie on the sheet."""

from foliant.core.layout.filling import filled, fit_on_a_sheet, more_of, room_left
from foliant.core.layout.laid import Laid, Layout
from foliant.core.layout.nesting import nested
from foliant.core.layout.packed import MOST_SECONDS, Packing, packings
from foliant.core.layout.rows import all_sheets, at_sheet, lay_out, lay_sheets
from foliant.core.layout.sliding import Slid, out_of_place, slid

__all__ = [
    "MOST_SECONDS",
    "Laid",
    "Layout",
    "Packing",
    "Slid",
    "all_sheets",
    "at_sheet",
    "filled",
    "fit_on_a_sheet",
    "lay_out",
    "lay_sheets",
    "more_of",
    "nested",
    "out_of_place",
    "packings",
    "room_left",
    "slid",
]
