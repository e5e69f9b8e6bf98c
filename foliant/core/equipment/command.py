"""What all edits of a shop share."""

from foliant.core.equipment.shop import Shop
from foliant.core.frozen import Frozen


class ShopCommand(Frozen):
    """An edit of the shop: `apply` gives the new shop or raises `Refused`; `says` names it for undo."""

    def apply(self, shop: Shop) -> Shop:
        raise NotImplementedError

    def says(self, shop: Shop) -> str:
        raise NotImplementedError
