"""Pictures as the drawings show them: as they will be burnt on their material."""

from typing import Any
from urllib.parse import urlencode

from foliant.core.design import Design, ResolvedPiece
from foliant.core.design.shapes import Picture
from foliant.core.equipment import Shop
from foliant.core.paths import combine
from foliant.core.paths.data import path_data
from foliant.core.paths.shapes import rectangle
from foliant.core.quantities import build
from foliant.core.remembering import remembered
from foliant.core.seeing import Look, Pictured, as_burnt, find_picture
from foliant.core.ticket import settings_of
from foliant.core.works.picture import PictureSettings

_LEVEL = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


def pictures_view(resolved: ResolvedPiece, guides: bool = False) -> list[dict[str, Any]]:
    """The pictures of a piece: where each is found, where the whole of it lies, and what of it is seen. With `guides`
    also those that are only guides, which are shown faintly.
    """
    faint = [{**_view(pictured), "faint": True} for _, pictured in resolved.guiding] if guides else []
    return faint + [_view(pictured) for _, pictured in resolved.pictures]


def _view(pictured: Pictured) -> dict[str, Any]:
    look = pictured.look
    box = [round(value, 4) for value in (-look.width / 2, -look.height / 2, look.width, look.height)]
    return {
        "href": _address(look) if find_picture(look.picture) else "",
        "box": box,
        "matrix": [round(value, 6) for value in pictured.matrix],
        "d": path_data(pictured.region.path, 3),
    }


def _address(look: Look) -> str:
    tones = look.tones
    asked = {
        "whole_width": f"{look.width:.6g}",
        "whole_height": f"{look.height:.6g}",
        "brightness": f"{tones.brightness:g}",
        "contrast": f"{tones.contrast:g}",
        "gamma": f"{tones.gamma:g}",
        "sharpen": f"{tones.sharpen:g}",
        "inverted": "yes" if tones.inverted else "no",
    }
    return f"/api/pictures/{look.picture}/burnt.png?{urlencode(asked)}"


def how_burnt(design: Design, shop: Shop) -> dict[str, Any]:
    """How pictures are burnt on the bench where a design stands, as the end of such an address; and how far apart their
    rows are, mm.
    """
    _, settings = settings_of(design, shop, design.ticket.operation("picture"))
    how = settings if isinstance(settings, PictureSettings) else None
    ink = shop.material(design.stock.material).mark
    spacing, tone = (how.interval, how.tone) if how else (0.1, "grey")
    return {"burns": urlencode({"interval": spacing, "tone": tone, "ink": ink}), "spacing": spacing}


def burnt_picture(key: str, ink: str, interval: float, tone: str, **values: Any) -> bytes:
    """A whole picture as PNG, clear where nothing is burnt; raises `Refused` where it cannot be so."""
    how = build(PictureSettings, {"power": 100, "speed": 100, "interval": interval, "tone": tone})
    picture = build(Picture, {"picture": key, **values})
    return as_burnt(_whole(picture.look), how.interval, how.tone, ink).png


@remembered
def _whole(look: Look) -> Pictured:
    return Pictured(look, _LEVEL, combine([rectangle(look.width, look.height)]))
