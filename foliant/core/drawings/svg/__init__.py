"""Reading SVG: its tree, its styles, its shapes, and what is drawn by them."""

from foliant.core.drawings.svg.reader import read_svg

__all__ = ["read_svg"]
