"""The slots of a jig as they are drawn."""

from foliant.core.equipment.jigs import Slot


def slot_data(slot: Slot) -> str:
    """The outline of a slot as path data, on its jig."""
    return f"M{'L'.join(f'{x:.2f} {y:.2f}' for x, y in slot.corners)}Z"
