"""Layout: instances of pieces on the sheet."""

from foliant.core.layout.rows import Instance, Layout, lay_out

__all__ = ["Instance", "Layout", "lay_out"]
