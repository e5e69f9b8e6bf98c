"""Begun sheets: what a run took is gone of its sheet, and the rest stands on the shelf."""

from typing import Literal

import shapely

from foliant.core.equipment.command import ShopCommand
from foliant.core.equipment.names import Key, Note, key_for
from foliant.core.equipment.shop import Shop
from foliant.core.equipment.stock import MOST_CORNERS, MOST_USED, Outline, ShelfSheet, Used
from foliant.core.errors import Refused
from foliant.core.quantities import build

_COARSE = 0.1
"""How far outside what is gone its outline may be told, mm, where it has many corners."""


class TakeFromSheet(ShopCommand):
    """Take what was cut out of a sheet: one that was begun has less; of whole ones one is begun, and there is one less.

    sheet  the sheet as it was before, its key that of the sheets on the shelf it was taken from, if it was
    taken  the outlines of what was cut out of it
    note   what the rest is remembered by
    """

    do: Literal["take-from-sheet"]
    sheet: ShelfSheet
    taken: Used
    note: Note = ""

    def apply(self, shop: Shop) -> Shop:
        if not shop.has_material(self.sheet.material):
            raise Refused(f"There is no material “{self.sheet.material}” in the workshop.")
        source = next((sheet for sheet in shop.shelf if sheet.key == self.sheet.key), None)
        if source and source.used:
            less = source.model_copy(update={"used": _together((*source.used, *self.taken)), "note": self.note})
            return _with_shelf(shop, [less if sheet is source else sheet for sheet in shop.shelf])
        begun = self.begun(shop)
        if source is None:
            return _with_shelf(shop, [begun, *shop.shelf])
        fewer = source.model_copy(update={"count": max(0, source.count - 1)})
        at = shop.shelf.index(source)
        return _with_shelf(shop, [*shop.shelf[:at], begun, fewer, *shop.shelf[at + 1 :]])

    def begun(self, shop: Shop) -> ShelfSheet:
        """The rest of a sheet that was whole, or of one that is not on the shelf."""
        key = key_for(f"{self.sheet.material}-begun", {sheet.key for sheet in shop.shelf})
        used = _together((*self.sheet.used, *self.taken))
        return self.sheet.model_copy(update={"key": key, "count": 1, "used": used, "note": self.note})

    def says(self, shop: Shop) -> str:
        return f"mark what was cut out of {shop.material(self.sheet.material).name}"


class GiveBack(ShopCommand):
    """Mark what a run took as there after all. What others took of the same sheet stays gone; where that is nothing,
    the sheet is a whole one again, among those like it.
    """

    do: Literal["give-back"]
    sheet: Key
    taken: Used

    def apply(self, shop: Shop) -> Shop:
        begun = next((sheet for sheet in shop.shelf if sheet.key == self.sheet), None)
        if begun is None or not set(self.taken) <= set(begun.used):
            raise Refused("What that run took is no longer marked as gone on the shelf.")
        left = tuple(outline for outline in begun.used if outline not in set(self.taken))
        alike = next((sheet for sheet in shop.shelf if not left and _whole_like(sheet, begun)), None)
        if alike is None:
            less = begun.model_copy(update={"used": left})
            return _with_shelf(shop, [less if sheet is begun else sheet for sheet in shop.shelf])
        more = alike.model_copy(update={"count": alike.count + 1})
        return _with_shelf(shop, [more if sheet is alike else sheet for sheet in shop.shelf if sheet is not begun])

    def says(self, shop: Shop) -> str:
        return "mark a sheet as not cut"


def _whole_like(sheet: ShelfSheet, begun: ShelfSheet) -> bool:
    """Whether these are whole sheets of which the begun one could be."""
    names = ("material", "width", "height", "thickness", "measured", "price")
    return not sheet.used and all(getattr(sheet, name) == getattr(begun, name) for name in names)


def outlines_of(shapes: list[shapely.Geometry]) -> Used:
    """Areas that are gone as outlines, without their openings: what is cut out takes along what lies in it."""
    rings = [part.exterior for shape in shapes for part in shapely.get_parts(shape) if part.area > 0]
    return tuple(_outline(ring) for ring in rings)


def _together(used: Used) -> Used:
    """What is gone, told by no more outlines than a sheet keeps: then those that touch become one."""
    if len(used) <= MOST_USED:
        return used
    whole = shapely.union_all([shapely.buffer(shapely.Polygon(outline), 2.0, quad_segs=2) for outline in used])
    return outlines_of(list(shapely.get_parts(whole)))[:MOST_USED]


def _outline(ring: shapely.Geometry) -> Outline:
    area = shapely.Polygon(ring)
    coarse = _COARSE
    while shapely.get_num_coordinates(area.exterior) > MOST_CORNERS:
        grown = shapely.buffer(shapely.Polygon(ring), coarse, quad_segs=2)
        area = shapely.Polygon(shapely.simplify(grown, 0.9 * coarse).exterior)
        coarse *= 2
    corners = shapely.get_coordinates(area.exterior)[:-1].round(3)
    return tuple((float(x), float(y)) for x, y in corners)


def _with_shelf(shop: Shop, shelf: list[ShelfSheet]) -> Shop:
    return build(Shop, {**dict(shop), "shelf": tuple(shelf)})
