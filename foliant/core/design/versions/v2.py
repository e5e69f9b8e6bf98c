"""From version 2: an instance was put by the left and top of its bounds, which drift when its piece grows."""

from foliant.core.design.lying import instance_piece, turned_bounds
from foliant.core.design.model import Design, Place


def with_origins(design: Design) -> Design:
    """A design whose places are those of version 2, with them as version 3 has them: by the piece's origin. What lay
    somewhere and is no longer wanted, or cannot be worked out, goes back to its row.
    """
    sheet = design.sheet
    places = tuple(found for place in sheet.places if (found := _by_origin(design, place)))
    return design.model_copy(update={"sheet": sheet.model_copy(update={"places": places})})


def _by_origin(design: Design, place: Place) -> Place | None:
    piece = instance_piece(design, *place.of)
    if piece is None:
        return None
    left, top, _, _ = turned_bounds(piece, 0.0)
    return place.model_copy(update={"x": round(place.x - left, 6), "y": round(place.y - top, 6)})
