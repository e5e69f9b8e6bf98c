"""Pictures: the maker's own, and how they will be burnt."""

from typing import Annotated

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Query, Router, Schema
from pydantic import Field

from foliant.workshop.models import PictureFile
from foliant.workshop.owning import own_key, stored_key
from foliant.workshop.presenters.pictures import burnt_picture

router = Router()

_FOR_EVER = "private, max-age=31536000, immutable"


class BurntIn(Schema):
    """A picture's values and those of the work that burns it, whose bounds the core knows; and the colour of burnt."""

    whole_width: float
    whole_height: float
    brightness: float = 0
    contrast: float = 0
    gamma: float = 1
    sharpen: float = 0
    inverted: str = "no"
    interval: float = 0.1
    tone: str = "grey"
    ink: Annotated[str, Field(pattern="^#[0-9a-f]{6}$")] = "#000000"


@router.get("/pictures/{key}/burnt.png")
def get_burnt(request: HttpRequest, key: str, asked: Query[BurntIn]) -> HttpResponse:
    """A picture as it will be burnt, in the colour of what is burnt; what this address shows never changes."""
    found = get_object_or_404(PictureFile, owner=request.user, key=stored_key(key))
    if own_key(found.key, found.owner_id) != key:
        raise Http404
    response = HttpResponse(burnt_picture(key, **asked.dict()), content_type="image/png")
    response["Cache-Control"] = _FOR_EVER
    return response
