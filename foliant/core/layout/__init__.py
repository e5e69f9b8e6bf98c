"""Layout: where the instances that are to be made lie on the sheet."""

from foliant.core.layout.rows import Laid, Layout, lay_out

__all__ = ["Laid", "Layout", "lay_out"]
