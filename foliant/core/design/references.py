"""References: the nine points of a box and the visual centre, by which a part is placed and sized."""

from typing import Annotated, Literal

from foliant.core.quantities import Quantity

Bounds = tuple[float, float, float, float]
Point = tuple[float, float]
Reference = Literal[
    "top-left", "top", "top-right", "left", "middle", "right", "bottom-left", "bottom", "bottom-right", "visual"
]
BOX_REFERENCES: dict[Reference, tuple[float, float]] = {
    "top-left": (0, 0),
    "top": (0.5, 0),
    "top-right": (1, 0),
    "left": (0, 0.5),
    "middle": (0.5, 0.5),
    "right": (1, 0.5),
    "bottom-left": (0, 1),
    "bottom": (0.5, 1),
    "bottom-right": (1, 1),
}
_SAYS = {
    "top-left": "upper left corner",
    "top": "upper edge",
    "top-right": "upper right corner",
    "left": "left edge",
    "middle": "middle",
    "right": "right edge",
    "bottom-left": "lower left corner",
    "bottom": "lower edge",
    "bottom-right": "lower right corner",
    "visual": "visual centre",
}
ReferencePoint = Annotated[Reference, Quantity("choice", "The point it is placed by", choices=tuple(_SAYS.items()))]


def point_of(bounds: Bounds, reference: Reference) -> Point:
    """The reference point of a box; its middle stands in for the visual centre."""
    across, down = BOX_REFERENCES.get(reference, (0.5, 0.5))
    left, top, right, bottom = bounds
    return left + (right - left) * across, top + (bottom - top) * down


def union(boxes: list[Bounds]) -> Bounds:
    """The box round boxes, of which there is at least one."""
    left, top, right, bottom = zip(*boxes, strict=True)
    return min(left), min(top), max(right), max(bottom)
