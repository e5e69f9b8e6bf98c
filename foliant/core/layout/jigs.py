"""Placing in a jig: the next instance into the next slot, load after load."""

from foliant.core.design import Sheet
from foliant.core.design.model import MOST_SHEETS
from foliant.core.design.turning import turned
from foliant.core.equipment import Jig
from foliant.core.equipment.jigs import Slot
from foliant.core.layout.laid import Laid
from foliant.core.making import Identity, Instance


def in_slots(jig: Jig, sheet: Sheet, wanted: tuple[Instance, ...]) -> dict[Identity, tuple[int, Laid] | None]:
    """For each instance the load and the place where it lies, its middle on that of its slot; None for those beyond the
    last load. Slots that are off stay empty.
    """
    free = [slot for slot in jig.slots if slot.number not in sheet.off]
    there = ((load, slot) for load in range(1, MOST_SHEETS + 1) for slot in free)
    laid: dict[Identity, tuple[int, Laid] | None] = dict.fromkeys(instance.identity for instance in wanted)
    for instance, (load, slot) in zip(wanted, there, strict=False):
        laid[instance.identity] = (load, _in(jig, slot, instance))
    return laid


def _in(jig: Jig, slot: Slot, instance: Instance) -> Laid:
    """An instance in a slot; it is placed by the middle of its bounds."""
    left, top, right, bottom = turned(instance.resolved, jig.turn).bounds
    x, y = slot.x - (left + right) / 2, slot.y - (top + bottom) / 2
    return Laid(instance, round(x, 6), round(y, 6), jig.turn % 360)
