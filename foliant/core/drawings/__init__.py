"""Drawings of other programs, read plainly: what they hold, at which size, and what could not be read."""

from foliant.core.drawings.drawing import Drawing, Item, Written, packed, unpacked

__all__ = ["Drawing", "Item", "Written", "packed", "unpacked"]
