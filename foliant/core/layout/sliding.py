"""By hand: what is dragged slides along the others at exactly the gap, and snaps to them and to the edges."""

from dataclasses import dataclass

import numpy as np

from foliant.core.design import Design, Sheet
from foliant.core.errors import Refused
from foliant.core.layout.laid import Laid, Layout
from foliant.core.layout.rows import at_sheet, lay_out, lay_sheets
from foliant.core.packing.touching import Bounds, Lying
from foliant.core.remembering import remembered

SNAP = 1.5
"""How near, in mm, something has to come to be drawn to the gap."""

_FAR = 90.0
_ROUND = 16


@dataclass(frozen=True)
class Slid:
    """Where an instance would come to lie: the left and top of its bounds (mm), and whether it lies clear there."""

    x: float
    y: float
    clear: bool


def slid(design: Design, of: tuple[str, str, int], x: float, y: float, sheet: int = 1) -> Slid:
    """Where an instance, as (piece, row, number), comes to lie on a sheet when its left and top are dragged to (x, y):
    there, drawn to the gap of what is near; where that is taken, the nearest place that is clear, if there is one.
    Raises `Refused` where it lies nowhere.
    """
    design, sheet = at_sheet(design, sheet)
    layout = lay_out(design, sheet)
    identity = (of[0], "", *of[1:])
    every = (one for sheet in lay_sheets(design) for one in sheet.instances)
    laid = next((one for one in every if one.instance.identity == identity), None)
    if laid is None:
        raise Refused("That instance is no longer on the sheet.")
    lies = _others(layout, laid, design.sheet)
    shape = laid.resolved.outline.shape
    left, top, _, _ = laid.resolved.bounds
    at = lies.nearest(shape, x - left, y - top, _FAR, _ROUND)
    if at is None:
        return Slid(x, y, False)
    across, down = lies.drawn(shape, *at, SNAP)
    return Slid(round(across + left, 4), round(down + top, 4), True)


@remembered
def _others(layout: Layout, laid: Laid, sheet: Sheet) -> Lying:
    inner: Bounds = (sheet.margin, sheet.margin, layout.width - sheet.margin, layout.height - sheet.margin)
    lies = Lying(inner, sheet.gap, inside=True)
    for other in layout.instances:
        if other is not laid:
            lies.add(other.shape_on_sheet())
    for shape in layout.gone:
        lies.add(shape)
    return lies


def out_of_place(layout: Layout) -> frozenset[int]:
    """The numbers of those on the sheet that lie over others, over what is gone, or off the sheet."""
    boxes = np.array([laid.bounds for laid in layout.instances]).reshape(-1, 4)
    limits = np.array([layout.width, layout.height])
    off = ((boxes[:, :2] < -1e-3) | (boxes[:, 2:] > limits + 1e-3)).any(axis=1)
    found = set(np.flatnonzero(off).tolist())
    lies = Lying((-np.inf, -np.inf, np.inf, np.inf), 0.0, inside=True)
    shapes = [laid.shape_on_sheet() for laid in layout.instances]
    for shape in (*shapes, *layout.gone):
        lies.add(shape)
    return frozenset(found | lies.overlapping(len(shapes)))
