"""The maker's shop: its state, edits and history, and the shop file."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema, UploadedFile

from foliant.core.drawings.intake import LARGEST as LARGEST_DRAWING
from foliant.core.equipment import ShopEdit
from foliant.core.errors import Refused
from foliant.core.formats.json_file import LARGEST
from foliant.core.formats.recipes_csv import write_recipes
from foliant.core.formats.shop_file import write_shop
from foliant.core.ticket.cards import usual_card
from foliant.workshop.actions import ApplyShopEdit, BringJig, CreateProject, OpenShop, TakeRecipeList, WalkShop
from foliant.workshop.computing import LIGHT, work_out
from foliant.workshop.makers import maker_of
from foliant.workshop.models import shop_of
from foliant.workshop.presenters.workshop import found, shop_state

router = Router()


class ShopEditIn(Schema):
    """An edit of the shop with the state it was made on."""

    revision: int
    edit: ShopEdit


class CardIn(Schema):
    """What a test card is for: a machine, a material, and a work of those that cards test, or `gauge`."""

    machine: str
    material: str
    work: str


class ShopRevisionIn(Schema):
    """The state that the page shows."""

    revision: int


@router.get("/shop")
def get_shop(request: HttpRequest) -> dict[str, Any]:
    """The whole state of the shop."""
    return shop_state(maker_of(request))


@router.post("/shop/edits")
def post_shop_edit(request: HttpRequest, data: ShopEditIn) -> dict[str, Any]:
    """Apply an edit; answers with the shop as it is then."""
    ApplyShopEdit(maker_of(request), data.revision, data.edit).execute()
    return shop_state(maker_of(request))


@router.post("/shop/undo")
def post_shop_undo(request: HttpRequest, data: ShopRevisionIn) -> dict[str, Any]:
    """Go back one state."""
    return _walk(request, data.revision, "undo")


@router.post("/shop/redo")
def post_shop_redo(request: HttpRequest, data: ShopRevisionIn) -> dict[str, Any]:
    """Go forward one state."""
    return _walk(request, data.revision, "redo")


@router.post("/shop/cards")
def post_card(request: HttpRequest, data: CardIn) -> dict[str, Any]:
    """Begin a project with a test card for a machine and a material, or with a gauge for the width of the cut."""
    shop = shop_of(maker_of(request).pk)
    design = work_out(LIGHT + 1, usual_card, shop, data.machine, data.material, data.work)
    return {"id": CreateProject(request.user, design, "begin with a test card").execute().pk}


@router.post("/shop/jigs")
def post_jig_file(request: HttpRequest, file: File[UploadedFile]) -> dict[str, Any]:
    """Keep the drawing of a jig."""
    if (file.size or 0) > LARGEST_DRAWING:
        raise Refused(
            f"The file is {(file.size or 0) / 1e6:.0f} MB large; at most {LARGEST_DRAWING / 1e6:.0f} MB are read."
        )
    BringJig(maker_of(request), file.read(), file.name or "").execute()
    return shop_state(maker_of(request))


@router.get("/shop/recipes")
def get_recipes(request: HttpRequest, words: str = "") -> dict[str, Any]:
    """The recipes that words fit."""
    return {"found": found(shop_of(maker_of(request).pk), words[:100])}


@router.get("/shop/recipes.csv")
def get_recipes_file(request: HttpRequest) -> HttpResponse:
    """Every recipe as CSV."""
    response = HttpResponse(write_recipes(shop_of(maker_of(request).pk)), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="recipes.csv"'
    return response


@router.post("/shop/recipes.csv")
def post_recipes_file(request: HttpRequest, file: File[UploadedFile]) -> dict[str, Any]:
    """Take the recipes of a list, in place of those for the same."""
    TakeRecipeList(maker_of(request), file.read()).execute()
    return shop_state(maker_of(request))


def _walk(request: HttpRequest, revision: int, way: Literal["undo", "redo"]) -> dict[str, Any]:
    WalkShop(maker_of(request), revision, way).execute()
    return shop_state(maker_of(request))


@router.get("/shop/file")
def get_shop_file(request: HttpRequest) -> HttpResponse:
    """The shop as a file."""
    response = HttpResponse(write_shop(shop_of(maker_of(request).pk)), content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="shop.json"'
    return response


@router.post("/shop/file")
def post_shop_file(request: HttpRequest, file: File[UploadedFile]) -> dict[str, Any]:
    """Open a shop file in place of the shop; undo brings that back."""
    if (file.size or 0) > LARGEST:
        raise Refused(f"This file has {(file.size or 0) / 1e6:.0f} MB; a shop file has at most {LARGEST / 1e6:.0f} MB.")
    OpenShop(maker_of(request), file.read()).execute()
    return shop_state(maker_of(request))
