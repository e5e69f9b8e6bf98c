"""The sheet of marks: burnt over the whole bed, or printed, it shows a camera where the bed is."""

from collections.abc import Iterator

import numpy as np
import shapely

from foliant.core.design import Design, Operation, Part, Piece, Sheet, Stock, Ticket, apply, read_edit
from foliant.core.design.shapes import Drawn
from foliant.core.design.shapes.rectangle import Rectangle
from foliant.core.equipment import Shop
from foliant.core.equipment.materials import contrast
from foliant.core.errors import Refused
from foliant.core.eye import marks
from foliant.core.paths import PathPen

_DARK = "#000000"
_COARSE = 0.25
"""How far the lines of their engraving lie apart, mm: a camera sees no more."""


def marks_sheet(shop: Shop, machine: str) -> Design:
    """A design of the marks for a machine's bed, on a sheet as large as that of the palest material there is: they are
    engraved where the eye looks for them, and nothing is cut. Raises `Refused` where there is no such machine.
    """
    if not shop.has_machine(machine):
        raise Refused("That machine is no longer in the workshop.")
    head = shop.machine(machine)
    material = max(shop.materials, key=lambda one: contrast(one.face, _DARK))
    width, height = head.bed_width, head.bed_height
    sheet = Sheet()
    inner = {"width": width - 2 * sheet.margin, "height": height - 2 * sheet.margin}
    middle = {"x": width / 2, "y": height / 2}
    pen = PathPen()
    for outline in _outlines(width, height):
        start, *rest = outline.tolist()
        pen.moveTo(start)
        for corner in rest:
            pen.lineTo(corner)
        pen.closePath()
    path = pen.path().moved(-width / 2, -height / 2)
    parts = (
        Part(id="a1", roles=("adds",), shape=Rectangle(**inner), **middle),
        Part(id="a2", roles=("engraves",), shape=Drawn.of(path), **middle),
    )
    stock = Stock(material=material.key, thickness=material.thicknesses[0], width=width, height=height)
    uncut = Operation(id="outer", work="cut", on=False)
    ticket = Ticket(machine=machine, operations=(uncut,))
    piece = Piece(id="p1", name="Marks", parts=parts)
    design = Design(name=f"Marks for {head.name}"[:80], serial=1000, pieces=(piece,), stock=stock, ticket=ticket)
    return apply(design, read_edit({"do": "change", "of": "operation engrave", "values": {"interval": _COARSE}}))


def _outlines(width: float, height: float) -> Iterator[np.ndarray]:
    """The corners (n, 2) of every outline of the marks on the sheet, mm from its left and top."""
    cell = marks.WIDE / marks.CELLS
    for number, left, near in marks.grid(width, height):
        top = height - near - marks.WIDE
        at = [(left + column * cell, top + row * cell) for row, column in np.argwhere(marks.pattern(number))]
        dark = shapely.union_all([shapely.box(x, y, x + cell, y + cell) for x, y in at], grid_size=1e-4)
        for part in shapely.get_parts(dark):
            for ring in (part.exterior, *part.interiors):
                yield shapely.get_coordinates(ring.simplify(0))[:-1]
