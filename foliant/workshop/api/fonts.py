"""Fonts: the maker's own and the library's."""

from typing import Any

from django.http import Http404, HttpRequest
from django.shortcuts import get_object_or_404
from ninja import File, Form, Router, Schema, UploadedFile

from foliant.core.errors import Refused
from foliant.core.lettering.intake import LARGEST
from foliant.workshop.actions import AddFont, MarkFont, PutFontAway
from foliant.workshop.models import Typeface
from foliant.workshop.owning import own_key, stored_key
from foliant.workshop.presenters import fonts

router = Router()


class FontMarkIn(Schema):
    """What a maker thinks of a font."""

    favourite: bool | None = None
    taken: bool = False


@router.get("/fonts")
def get_fonts(request: HttpRequest, words: str = "") -> dict[str, Any]:
    """The fonts that the maker can choose from, each with a picture of these words."""
    return fonts.fonts_view(request.user, words[:200])


@router.post("/fonts")
def post_font(request: HttpRequest, file: File[UploadedFile], licence: Form[str] = "") -> dict[str, Any]:
    """Add a font file to the maker's own."""
    if (file.size or 0) > LARGEST:
        raise Refused(
            f"The font file is {(file.size or 0) / 1e6:.0f} MB large; up to {LARGEST / 1e6:.0f} MB can be added."
        )
    typeface = AddFont(request.user, file.read(), licence).execute()
    return {"key": own_key(typeface.key, typeface.owner_id), "name": typeface.name, "licence": typeface.licence}


@router.post("/fonts/{key}/mark")
def post_font_mark(request: HttpRequest, key: str, data: FontMarkIn) -> dict[str, Any]:
    """Note that the maker likes a font, or took it."""
    if not fonts.is_offered(request.user, key):
        raise Http404
    use = MarkFont(request.user, key, data.favourite, data.taken).execute()
    return {"key": use.key, "favourite": use.favourite}


@router.delete("/fonts/{key}")
def delete_font(request: HttpRequest, key: str) -> dict[str, Any]:
    """Put one of the maker's own fonts away; designs that name it keep it."""
    PutFontAway(get_object_or_404(Typeface, owner=request.user, key=stored_key(key))).execute()
    return {"away": key}


@router.post("/fonts/{key}/restore")
def restore_font(request: HttpRequest, key: str) -> dict[str, Any]:
    """Bring back a font that was put away."""
    PutFontAway(get_object_or_404(Typeface, owner=request.user, key=stored_key(key)), away=False).execute()
    return {"restored": key}
