"""Bringing in: files of any kind, what a drawing holds, and taking it onto a piece."""

import json
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import File, Router, Schema, UploadedFile
from pydantic import Field

from foliant.core.bringing import Answers
from foliant.core.bringing.taking import Into
from foliant.core.design import read_edit
from foliant.core.design.budget import weight
from foliant.core.design.edits.pieces import pieces_text
from foliant.core.design.edits.taking_in import came_from
from foliant.core.design.edits.tracing import effort_of_tracing
from foliant.core.design.shapes import Picture
from foliant.core.drawings.intake import LARGEST, format_of
from foliant.core.errors import Refused
from foliant.core.formats.bundle import BEGINS
from foliant.core.lettering import FontEntry
from foliant.core.seeing.intake import is_picture
from foliant.workshop.actions import AddDrawing, AddPicture, TakeDrawing
from foliant.workshop.actions.projects import design_in
from foliant.workshop.computing import work_out
from foliant.workshop.makers import maker_of, own
from foliant.workshop.models import Brought, DrawingFile, Project, Typeface
from foliant.workshop.owning import edit_in_own_keys, own_entry, own_key
from foliant.workshop.presenters import state
from foliant.workshop.presenters.bringing import drawing_view, faults_view, taking, there_says, tracing_view

router = Router()

Said = Annotated[dict[str, str], Field(max_length=2000)]


class AnswersIn(Schema):
    """What is said of a drawing: see `core.bringing.Answers`; a width as it is typed goes before the factor."""

    piece: str = ""
    factor: float = Field(1.0, gt=0, le=1e4)
    width: Annotated[str, Field(max_length=60)] = ""
    roles: Said = {}
    told: Annotated[dict[str, Literal["line", "area"]], Field(max_length=2000)] = {}
    into: Into = "parts"
    again: bool = False


class TakeIn(AnswersIn):
    """The same with the revision that the page shows."""

    revision: int


@router.post("/brought")
def post_brought(request: HttpRequest, file: File[UploadedFile]) -> dict[str, Any]:
    """Take a file in, whatever it is called: a picture, a drawing, or a design, whose pieces come back as text."""
    if (file.size or 0) > LARGEST:
        raise Refused(f"The file is {(file.size or 0) / 1e6:.0f} MB large; at most {LARGEST / 1e6:.0f} MB are read.")
    data, name = file.read(), file.name or ""
    if is_picture(data):
        picture = AddPicture(request.user, data, name).execute()
        return {"kind": "picture", "key": own_key(picture.key, picture.owner_id), "name": picture.name}
    if not format_of(data) and (data.startswith(BEGINS) or data.lstrip()[:1] == b"{"):
        design = design_in(data, request.user)
        return {"kind": "design", "text": pieces_text(design, [piece.id for piece in design.pieces])}
    drawing = AddDrawing(request.user, data, name).execute()
    return {"kind": "drawing", "key": drawing.key, "name": drawing.name}


@router.post("/projects/{int:project_id}/brought/{key}")
def post_drawing(request: HttpRequest, project_id: int, key: str, data: AnswersIn) -> dict[str, Any]:
    """What a drawing holds and what becomes of it, as it is said; `again` for as it was said the last time."""
    project, drawing = own(request, project_id), _drawing(request, key)
    before = Brought.objects.filter(project=project, name=drawing.name).first()
    there = came_from(project.design, drawing.name)
    if data.again and before:
        into = "anew" if there else "parts" if before.answers["into"] == "anew" else before.answers["into"]
        data = AnswersIn(**{**before.answers, "piece": data.piece, "into": into})
    bare, unit = _is_bare(project, data.piece), project.design.unit
    view = work_out(drawing.weight, drawing_view, drawing.read.path, _said(data), bare, unit, _fonts(request))
    told = {"name": drawing.name, "key": key, "before": before is not None, "there": there_says(there)}
    return {**view, **told, "kept": [came.group for _, _, came in there]}


@router.post("/projects/{int:project_id}/brought/{key}/taken")
def post_taken(request: HttpRequest, project_id: int, key: str, data: TakeIn, row: str = "") -> dict[str, Any]:
    """Take it in so; answers with what changed, as an edit does."""
    project, drawing = own(request, project_id), _drawing(request, key)
    before = project.design
    bare, path, said = _is_bare(project, data.piece), drawing.read.path, _said(data)
    edit, factor = work_out(
        drawing.weight, taking, path, said, bare, before.unit, data.piece, drawing.name, _fonts(request)
    )
    answers = Answers(factor, data.roles, data.told, data.into, drawing.name)
    mine = edit_in_own_keys(read_edit(json.loads(edit)), request.user)
    TakeDrawing(project, data.revision, drawing, mine, answers, request.user).execute()
    return state.changed(project, before, row)


@router.get("/projects/{int:project_id}/pieces/{piece}/faults")
def get_faults(request: HttpRequest, project_id: int, piece: str, parts: str = "") -> dict[str, Any]:
    """What there is to clean up in the lines of these parts, or of all that were brought in or drawn."""
    found = own(request, project_id).design.piece(piece)
    return work_out(weight(found), faults_view, found, tuple(one for one in parts.split(",") if one))


@router.get("/projects/{int:project_id}/pieces/{piece}/tracing/{part}")
def get_tracing(request: HttpRequest, project_id: int, piece: str, part: str) -> dict[str, Any]:
    """What a picture of a piece is traced by at first, and whether it is rather engraved as it is."""
    found = own(request, project_id).design.piece(piece).part(part)
    heavy = effort_of_tracing(found) if isinstance(found.shape, Picture) else 0
    return work_out(heavy, tracing_view, found)


def _drawing(request: HttpRequest, key: str) -> DrawingFile:
    return get_object_or_404(DrawingFile, owner=request.user, key=key)


def _fonts(request: HttpRequest) -> tuple[FontEntry, ...]:
    """The maker's own fonts, for what is written in a drawing."""
    return tuple(map(own_entry, Typeface.objects.filter(owner=maker_of(request), put_away=None)))


def _said(data: AnswersIn) -> str:
    """What was said, as text that can be handed on and remembered."""
    return json.dumps(
        {"factor": data.factor, "width": data.width, "roles": data.roles, "told": data.told, "into": data.into},
        sort_keys=True,
    )


def _is_bare(project: Project, piece: str) -> bool:
    return not any(one.parts for one in project.design.pieces if one.id == piece)
