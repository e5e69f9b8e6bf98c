"""What the camera over a machine sees, as the Run station shows it."""

import base64
from typing import Any

import cv2

from foliant.core.design import Design
from foliant.core.errors import Refused
from foliant.core.eye.finding import Found, find_stock, is_like
from foliant.core.eye.lens import Lens
from foliant.core.eye.straightening import read_picture, straightened
from foliant.core.program.lie import Lie
from foliant.core.units import format_length
from foliant.workshop.presenters.runs import lies_view

_DOTS = 1400
_FINEST, _CLOSER = 3.0, 10.0
_NEAR = 20.0
"""How far to each side of a place a closer look goes, mm."""

_QUALITY = [cv2.IMWRITE_JPEG_QUALITY, 88]


def seen(
    content: bytes, lens: Lens, bed: tuple[float, float], thickness: float, size: tuple[float, float]
) -> tuple[bytes, Found | None, str]:
    """The bed from straight above as a JPEG file, at the height of the sheet's face, with the sheet on it; or what is
    to be said where it is not found. Raises `Refused` where the picture shows nothing.
    """
    picture = read_picture(content)
    width, height = bed
    fine = min(_FINEST, _DOTS / max(bed))
    plain = straightened(picture, lens, 0, 0, width, height, fine, thickness)
    shown = cv2.imencode(".jpg", plain, _QUALITY)[1].tobytes()
    try:
        return shown, find_stock(picture, lens, bed, thickness, size), ""
    except Refused as refusal:
        return shown, None, str(refusal)


def closer(content: bytes, lens: Lens, place: tuple[float, float], thickness: float) -> bytes:
    """A closer look at a place of the bed, mm, as a JPEG file."""
    (x, y), picture = place, read_picture(content)
    plain = straightened(picture, lens, x - _NEAR, y - _NEAR, x + _NEAR, y + _NEAR, _CLOSER, thickness)
    return cv2.imencode(".jpg", plain, _QUALITY)[1].tobytes()


def look_view(design: Design, shown: bytes, found: Found | None, says: str) -> dict[str, Any]:
    """What was seen: the bed from above, and where the design's sheet lies on it, in words too."""
    view: dict[str, Any] = {"picture": f"data:image/jpeg;base64,{base64.b64encode(shown).decode()}", "says": says}
    if found is None:
        return {**view, "found": None}
    unit, other = design.unit, not is_like(found, (design.stock.width, design.stock.height))
    lie = Lie(round(found.x, 3), round(found.y, 3), round(found.turn, 4))
    large = (
        f"{format_length(round(found.width, 1), unit, with_unit=False)} × {format_length(round(found.height, 1), unit)}"
    )
    size = [round(found.width, 1), round(found.height, 1)] if other else None
    return {
        **view,
        "found": {"corners": found.corners.tolist(), "size": size},
        "says": f"A sheet of {large} is seen there, and the design is laid on one of another size." if size else "",
        **lies_view(design, lie),
    }
