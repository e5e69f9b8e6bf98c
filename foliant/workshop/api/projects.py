"""Projects: their state, edits, history, and what is chosen on a piece; opening, deleting and bringing back."""

from collections.abc import Callable
from typing import Any, Literal

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Field, File, Router, Schema, UploadedFile

from foliant.core.design import Design, Edit
from foliant.core.design.benches import on_bench
from foliant.core.design.budget import weight
from foliant.core.design.edits.raising import RaiseParts
from foliant.core.errors import Refused
from foliant.core.formats import bundle
from foliant.core.formats.json_file import LARGEST as LARGEST_DESIGN
from foliant.core.layout import nested
from foliant.workshop.actions import (
    ApplyEdit,
    DeleteProject,
    OpenDesign,
    PurgeProject,
    RestoreProject,
    StaleRevision,
    WalkHistory,
)
from foliant.workshop.computing import LIGHT, work_out
from foliant.workshop.makers import own
from foliant.workshop.models import Project
from foliant.workshop.owning import edit_in_own_keys
from foliant.workshop.presenters import checks, lettering, scene, state
from foliant.workshop.presenters.roster import as_shown, row_shown
from foliant.workshop.trying import tried

router = Router()


class EditIn(Schema):
    """An edit with the revision it was made on."""

    revision: int
    edit: Edit


class RevisionIn(Schema):
    """The revision that the page shows."""

    revision: int


class SelectionIn(Schema):
    """Chosen parts of a piece, and the node (contour, number) that is chosen on the only one."""

    piece: str
    parts: list[str] = Field(max_length=2000)
    node: list[int] | None = Field(None, min_length=2, max_length=2)


def of_piece(function: Callable[..., dict[str, Any]], design: Design, piece: str, *args: Any) -> dict[str, Any]:
    """What a function makes of one piece."""
    found = design.piece(piece)
    return work_out(weight(found), function, found, *args)


def _as_shown(design: Design, row: str) -> Design:
    """The design as a row has it; what is heavy to bind is bound beside the pages."""
    return work_out(sum(map(weight, design.pieces)), as_shown, design, row) if row_shown(design, row) else design


def _mine(request: HttpRequest, project: Project, edit: Edit) -> Edit:
    """An edit as it is meant for this maker: with their own fonts, and what it takes from their shop."""
    design = on_bench(project.design, edit.where(project.design))
    return edit_in_own_keys(edit, request.user).with_shop(project.shop, design)


@router.get("/projects/{int:project_id}")
def get_project(request: HttpRequest, project_id: int, row: str = "") -> dict[str, Any]:
    """The whole state of a project."""
    return state.changed(own(request, project_id), None, row)


@router.post("/projects/{int:project_id}/edits")
def post_edit(request: HttpRequest, project_id: int, data: EditIn, row: str = "") -> dict[str, Any]:
    """Apply an edit; answers with what changed."""
    project = own(request, project_id)
    before = project.design
    edit = _mine(request, project, data.edit)
    if isinstance(edit, RaiseParts):
        edit = work_out(LIGHT + 1, nested, before, edit)
    ApplyEdit(project, data.revision, edit, request.user).execute()
    return state.changed(project, before, row)


@router.post("/projects/{int:project_id}/preview")
def post_preview(request: HttpRequest, project_id: int, data: EditIn, row: str = "") -> dict[str, Any]:
    """What an edit would give, without keeping it."""
    project = own(request, project_id)
    if project.current != data.revision:
        raise StaleRevision
    before = project.design
    return state.shown(tried(before, _mine(request, project, data.edit)), project.shop, before, row)


@router.post("/projects/{int:project_id}/undo")
def post_undo(request: HttpRequest, project_id: int, data: RevisionIn, row: str = "") -> dict[str, Any]:
    """Go back one revision."""
    return _walk(request, project_id, data.revision, "undo", row)


@router.post("/projects/{int:project_id}/redo")
def post_redo(request: HttpRequest, project_id: int, data: RevisionIn, row: str = "") -> dict[str, Any]:
    """Go forward one revision."""
    return _walk(request, project_id, data.revision, "redo", row)


def _walk(
    request: HttpRequest, project_id: int, revision: int, way: Literal["undo", "redo"], row: str
) -> dict[str, Any]:
    project = own(request, project_id)
    before = project.design
    WalkHistory(project, revision, way).execute()
    return state.changed(project, before, row)


@router.post("/projects/{int:project_id}/selection")
def post_selection(request: HttpRequest, project_id: int, data: SelectionIn, row: str = "") -> dict[str, Any]:
    """What is chosen, said as a sentence, and what is likely done with it next."""
    design = _as_shown(own(request, project_id).design, row)
    if data.node and not data.parts:
        raise Refused("A node is one of a part: name the part.")
    if len(data.parts) < 2 and not data.node and weight(design.piece(data.piece)) > LIGHT:
        return {"sentence": None, "steps": []}  # what takes long to work out is not worked out for this
    return of_piece(scene.selection_view, design, data.piece, tuple(data.parts), tuple(data.node or ()), design.unit)


@router.get("/projects/{int:project_id}/pieces/{piece}/snaps")
def get_snaps(request: HttpRequest, project_id: int, piece: str, row: str = "") -> dict[str, Any]:
    """The points and edges that parts can be put on."""
    return of_piece(scene.snap_view, _as_shown(own(request, project_id).design, row), piece)


@router.get("/projects/{int:project_id}/pieces/{piece}/findings")
def get_findings(request: HttpRequest, project_id: int, piece: str, row: str = "") -> dict[str, Any]:
    """What is to be said about one piece, and how it can be mended."""
    project = own(request, project_id)
    design = project.design
    return of_piece(checks.piece_findings, design, piece, design, project.shop, row)


@router.get("/projects/{int:project_id}/pieces/{piece}/words/{part}")
def get_words(request: HttpRequest, project_id: int, piece: str, part: str, row: str = "") -> dict[str, Any]:
    """All that can be said of words, the shapes that their font has for them, and how well the piece holds."""
    design = _as_shown(own(request, project_id).design, row)
    found = design.piece(piece)
    return of_piece(lettering.lettering_view, design, piece, found.part(part), design.unit)


@router.delete("/projects/{int:project_id}")
def delete_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """Put a project out of sight."""
    DeleteProject(own(request, project_id)).execute()
    return {"deleted": project_id}


@router.delete("/projects/{int:project_id}/for-good")
def purge_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """Delete a project that is out of sight for good."""
    PurgeProject(get_object_or_404(Project, pk=project_id, owner=request.user)).execute()
    return {"deleted": project_id}


@router.post("/designs")
def post_design(request: HttpRequest, file: File[UploadedFile]) -> dict[str, Any]:
    """Open a design file as a new project."""
    most = bundle.LARGEST if (file.name or "").lower().endswith(".zip") else LARGEST_DESIGN
    if (file.size or 0) > most:
        raise Refused(f"This file has {(file.size or 0) / 1e6:.0f} MB; a design file has at most {most / 1e6:.0f} MB.")
    project = OpenDesign(request.user, file.read()).execute()
    return {"id": project.pk, "name": project.name}


@router.post("/projects/{int:project_id}/restore")
def restore_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """Bring a deleted project back."""
    RestoreProject(get_object_or_404(Project, pk=project_id, owner=request.user)).execute()
    return {"restored": project_id}
