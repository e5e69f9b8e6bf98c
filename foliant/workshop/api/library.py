"""Starters and what a maker keeps: their pictures, what they ask for, beginning with them, keeping more."""

from typing import Any

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Field, Router, Schema

from foliant.core.design.edits.benches import from_the_shelf
from foliant.core.design.edits.pieces import pieces_text
from foliant.workshop.actions import CreateProject, KeepAsJig, KeepMotif, KeepStarter, PutKeptAway, RenameKept
from foliant.workshop.actions.projects import first_design
from foliant.workshop.library import starter_of
from foliant.workshop.makers import maker_of, own
from foliant.workshop.models import Keepsake, shop_of
from foliant.workshop.presenters.starters import begun, kept_view, starter_cards, starter_view, words_asked

router = Router()


class ValuesIn(Schema):
    """What is typed for what a starter asks for, in that order."""

    values: list[str] = Field([], max_length=20)


class KeepPieceIn(Schema):
    """A name for a piece that is kept, and the addresses of the values that it will ask for."""

    name: str = ""
    asks: list[str] = Field([], max_length=20)


class KeepPartsIn(Schema):
    """Parts of a piece that are kept as a motif, and its name."""

    parts: list[str] = Field(min_length=1, max_length=200)
    name: str = ""


class NameIn(Schema):
    """Another name."""

    name: str


@router.get("/starters")
def get_starters(request: HttpRequest) -> dict[str, Any]:
    """Every starter, the maker's own first."""
    maker = maker_of(request)
    return {"starters": starter_cards(maker, shop_of(maker.pk).unit)}


@router.post("/starters/{key}")
def post_starter(request: HttpRequest, key: str, data: ValuesIn) -> dict[str, Any]:
    """What a starter asks for, as a sentence, and how it looks with these values."""
    first = first_design(shop_of(maker_of(request).pk))
    return starter_view(starter_of(request.user, key), tuple(data.values), first.stock, first.unit)


@router.post("/starters/{key}/projects")
def post_starter_project(request: HttpRequest, key: str, data: ValuesIn) -> dict[str, Any]:
    """Begin a project with a starter."""
    shop = shop_of(maker_of(request).pk)
    first, starter = first_design(shop), starter_of(request.user, key)
    design = from_the_shelf(begun(starter, tuple(data.values), first.stock, first.unit), shop)
    design = design.model_copy(update={"nudge": first.nudge, "ticket": first.ticket})
    project = CreateProject(request.user, design, "begin with a starter").execute()
    return {"id": project.pk, "words": words_asked(starter)}


@router.get("/starters/{key}/pieces")
def get_starter_pieces(request: HttpRequest, key: str) -> dict[str, Any]:
    """The pieces of a starter as text, to be put into a project, and the value that is typed first, by its order."""
    first = first_design(shop_of(maker_of(request).pk))
    starter = starter_of(request.user, key)
    design = begun(starter, (), first.stock, first.unit)
    return {"text": pieces_text(design, [piece.id for piece in design.pieces])}


@router.get("/projects/{int:project_id}/pieces/{piece}/copy")
def get_copy(request: HttpRequest, project_id: int, piece: str) -> dict[str, Any]:
    """A piece as text, to be put into another project."""
    return {"text": pieces_text(own(request, project_id).design, [piece])}


@router.post("/projects/{int:project_id}/pieces/{piece}/keep")
def post_keep(request: HttpRequest, project_id: int, piece: str, data: KeepPieceIn) -> dict[str, Any]:
    """Keep a piece as a starter."""
    return kept_view(KeepStarter(own(request, project_id), piece, data.name, tuple(data.asks)).execute())


@router.post("/projects/{int:project_id}/pieces/{piece}/jig")
def post_jig(request: HttpRequest, project_id: int, piece: str) -> dict[str, Any]:
    """Keep a piece as a jig."""
    state = KeepAsJig(own(request, project_id), piece).execute()
    jig = state.shop.jigs[-1]
    return {"name": jig.name, "slots": len(jig.slots)}


@router.post("/projects/{int:project_id}/pieces/{piece}/motif")
def post_motif(request: HttpRequest, project_id: int, piece: str, data: KeepPartsIn) -> dict[str, Any]:
    """Keep shapes as a motif."""
    return kept_view(KeepMotif(own(request, project_id), piece, data.name, tuple(data.parts)).execute())


@router.get("/library")
def get_library(request: HttpRequest) -> dict[str, Any]:
    """All that the maker keeps, also what is put away."""
    return {"kept": [kept_view(one) for one in Keepsake.objects.filter(owner=maker_of(request))]}


@router.post("/library/{int:kept_id}/name")
def post_name(request: HttpRequest, kept_id: int, data: NameIn) -> dict[str, Any]:
    """Call it by another name."""
    return kept_view(RenameKept(_kept(request, kept_id), data.name).execute())


@router.delete("/library/{int:kept_id}")
def delete_kept(request: HttpRequest, kept_id: int) -> dict[str, Any]:
    """Put it away; what projects took from it stays theirs."""
    return kept_view(PutKeptAway(_kept(request, kept_id)).execute())


@router.post("/library/{int:kept_id}/restore")
def restore_kept(request: HttpRequest, kept_id: int) -> dict[str, Any]:
    """Bring it back."""
    return kept_view(PutKeptAway(_kept(request, kept_id), away=False).execute())


def _kept(request: HttpRequest, kept_id: int) -> Keepsake:
    return get_object_or_404(Keepsake, owner=maker_of(request), pk=kept_id)
