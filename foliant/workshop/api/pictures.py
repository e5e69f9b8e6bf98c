"""Pictures: the maker's own, and how they will be burnt."""

from typing import Annotated, Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import File, Query, Router, Schema, UploadedFile
from pydantic import Field

from foliant.core.errors import Refused
from foliant.core.seeing.intake import LARGEST
from foliant.core.works.picture import Tone
from foliant.workshop.actions import AddPicture
from foliant.workshop.models import PictureFile
from foliant.workshop.owning import own_key, stored_key
from foliant.workshop.presenters.pictures import burnt_picture

router = Router()

_FOR_EVER = "private, max-age=31536000, immutable"
Share = Annotated[float, Field(ge=-100, le=100)]
Size = Annotated[float, Field(ge=1, le=3000)]


class BurntIn(Schema):
    """A whole picture, mm, its tones, and how it is burnt."""

    width: Size
    height: Size
    brightness: Share = 0
    contrast: Share = 0
    gamma: Annotated[float, Field(ge=0.1, le=10)] = 1
    sharpen: Annotated[float, Field(ge=0, le=500)] = 0
    inverted: bool = False
    spacing: Annotated[float, Field(ge=0.02, le=5)] = 0.1
    tone: Tone = "grey"
    ink: Annotated[str, Field(pattern="^#[0-9a-f]{6}$")] = "#000000"


@router.post("/pictures")
def post_picture(request: HttpRequest, file: File[UploadedFile]) -> dict[str, Any]:
    """Add a picture to the maker's own."""
    if (file.size or 0) > LARGEST:
        raise Refused(
            f"The picture is {(file.size or 0) / 1e6:.0f} MB large; files of up to {LARGEST / 1e6:.0f} MB can be added."
        )
    found = AddPicture(request.user, file.read(), file.name or "").execute()
    return {"key": own_key(found.key, found.owner_id), "name": found.name}


@router.get("/pictures/{key}/burnt.png")
def get_burnt(request: HttpRequest, key: str, asked: Query[BurntIn]) -> HttpResponse:
    """A picture as it will be burnt, in the colour of what is burnt; what this address shows never changes."""
    found = get_object_or_404(PictureFile, owner=request.user, key=stored_key(key))
    if own_key(found.key, found.owner_id) != key:
        raise Http404
    response = HttpResponse(burnt_picture(key, **asked.dict()), content_type="image/png")
    response["Cache-Control"] = _FOR_EVER
    return response
