"""The JSON edge: what the page asks and tells. Thin: every call finds the maker's own project, then hands on."""

from collections.abc import Callable
from typing import Any, Literal

from django.contrib.auth.decorators import login_required
from django.contrib.auth.models import User
from django.core.exceptions import RequestDataTooBig
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils.text import slugify
from ninja import Field, File, Form, NinjaAPI, Schema, UploadedFile
from ninja.errors import HttpError, ValidationError
from ninja.security import SessionAuth

from foliant.core.design import Design, Edit
from foliant.core.design.budget import weight
from foliant.core.errors import Refused, shortened
from foliant.core.formats import WRITERS, written
from foliant.core.formats.design_file import LARGEST as LARGEST_DESIGN
from foliant.core.lettering.intake import LARGEST
from foliant.core.machine import LinkLost
from foliant.workshop.actions import (
    AddFont,
    ApplyEdit,
    CommandRun,
    DeleteProject,
    MarkFont,
    OpenDesign,
    PressPanel,
    PurgeProject,
    PutFontAway,
    RestoreProject,
    StaleRevision,
    StartRun,
    WalkHistory,
)
from foliant.workshop.computing import asked_by, give_up, planned, waiting, work_out
from foliant.workshop.fonts import edit_in_own_fonts, own_key, stored_key
from foliant.workshop.models import Project, Run, Typeface
from foliant.workshop.presenters import checks, fonts, lettering, runs, scene, standing, state
from foliant.workshop.trouble import troubled
from foliant.workshop.trying import tried


class Asked(SessionAuth):
    """A signed-in maker, for whom all that follows is worked out."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        user = super().authenticate(request, key)
        if user:
            asked_by(user.pk, "preview" if request.path.endswith("/preview") else "")
        return user


api = NinjaAPI(
    title="Foliant",
    version="1",
    auth=Asked(),
    docs_url=None,
    docs_decorator=login_required,
)


class EditIn(Schema):
    """An edit with the revision it was made on."""

    revision: int
    edit: Edit


class RevisionIn(Schema):
    """The revision that the page shows."""

    revision: int


class RunIn(Schema):
    """What to send to the machine."""

    kind: Literal["job", "trace"]


class CommandIn(Schema):
    """What to tell a running machine."""

    command: Literal["HOLD", "RESUME", "STOP"]


class ButtonIn(Schema):
    """A button on the machine's panel."""

    button: Literal["start", "stop"]


class SelectionIn(Schema):
    """Chosen parts of a piece, and the node (contour, number) that is chosen on the only one."""

    piece: str
    parts: list[str] = Field(min_length=1, max_length=2000)
    node: list[int] | None = Field(None, min_length=2, max_length=2)


class FontMarkIn(Schema):
    """What a maker thinks of a font."""

    favourite: bool | None = None
    taken: bool = False


Station = Literal["shape", "sheet", "ticket", "check", "run"]


@api.exception_handler(Refused)
def refused(request: HttpRequest, refusal: Refused) -> HttpResponse:
    """What cannot be done, said in a sentence."""
    return api.create_response(request, {"message": str(refusal)}, status=422)


@api.exception_handler(ValidationError)
def malformed(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """A request that is not what the page sends: the first thing wrong, as a sentence."""
    first = error.errors[0]
    message = str(first.get("ctx", {}).get("error") or first["msg"])
    where = " → ".join(str(step) for step in first["loc"][2:])
    sentence = shortened(f"This cannot be read at “{where}”: {message}.")
    return api.create_response(request, {"message": sentence}, status=422)


@api.exception_handler(RequestDataTooBig)
def too_large(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    """More than the server takes in at once."""
    message = "That is too large to take in at once, so nothing was changed; copy or draw less at a time."
    return api.create_response(request, {"message": message}, status=422)


@api.exception_handler(LinkLost)
def lost(request: HttpRequest, error: LinkLost) -> HttpResponse:
    """A machine that does not answer."""
    return api.create_response(request, {"message": str(error)}, status=424)


@api.exception_handler(Exception)
def unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
    """A fault of ours: logged with its trace under a number that the maker is told."""
    return api.create_response(request, {"message": troubled(request, error)}, status=500)


@api.exception_handler(StaleRevision)
def stale(request: HttpRequest, error: StaleRevision) -> HttpResponse:
    """An edit on an old revision: the present state, so that nothing is lost or doubled."""
    project = _own(request, request.resolver_match.kwargs["project_id"])
    message = "This project was changed in another window. You see it as it is now; your last change was not applied."
    answer = {"message": message, "state": state.project_state(project, project.design)}
    return api.create_response(request, answer, status=409)


def _maker(request: HttpRequest) -> User:
    assert isinstance(request.user, User)
    return request.user


def _own(request: HttpRequest, project_id: int) -> Project:
    return get_object_or_404(Project.objects.of(_maker(request)), pk=project_id)


def of_piece(function: Callable[..., dict[str, Any]], design: Design, piece: str, *args: Any) -> dict[str, Any]:
    """What a function makes of one piece."""
    found = design.piece(piece)
    return work_out(weight(found), function, found, *args)


def _answer(project: Project, before: Design | None) -> dict[str, Any]:
    project.refresh_from_db()
    return state.project_state(project, project.design, before)


@api.get("/projects/{int:project_id}")
def get_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """The whole state of a project."""
    return _answer(_own(request, project_id), None)


@api.post("/projects/{int:project_id}/edits")
def post_edit(request: HttpRequest, project_id: int, data: EditIn) -> dict[str, Any]:
    """Apply an edit; answers with what changed."""
    project = _own(request, project_id)
    before = project.design
    ApplyEdit(project, data.revision, edit_in_own_fonts(data.edit, request.user), request.user).execute()
    return _answer(project, before)


@api.post("/projects/{int:project_id}/preview")
def post_preview(request: HttpRequest, project_id: int, data: EditIn) -> dict[str, Any]:
    """What an edit would give, without keeping it."""
    project = _own(request, project_id)
    if project.current != data.revision:
        raise StaleRevision
    before = project.design
    return state.shown(tried(before, edit_in_own_fonts(data.edit, request.user)), before)


@api.post("/projects/{int:project_id}/undo")
def post_undo(request: HttpRequest, project_id: int, data: RevisionIn) -> dict[str, Any]:
    """Go back one revision."""
    return _walk(request, project_id, data.revision, "undo")


@api.post("/projects/{int:project_id}/redo")
def post_redo(request: HttpRequest, project_id: int, data: RevisionIn) -> dict[str, Any]:
    """Go forward one revision."""
    return _walk(request, project_id, data.revision, "redo")


def _walk(request: HttpRequest, project_id: int, revision: int, way: Literal["undo", "redo"]) -> dict[str, Any]:
    project = _own(request, project_id)
    before = project.design
    WalkHistory(project, revision, way).execute()
    return _answer(project, before)


@api.post("/projects/{int:project_id}/selection")
def post_selection(request: HttpRequest, project_id: int, data: SelectionIn) -> dict[str, Any]:
    """What is chosen, said as a sentence."""
    design = _own(request, project_id).design
    return of_piece(scene.selection_view, design, data.piece, tuple(data.parts), tuple(data.node or ()), design.unit)


@api.get("/projects/{int:project_id}/pieces/{piece}/snaps")
def get_snaps(request: HttpRequest, project_id: int, piece: str) -> dict[str, Any]:
    """The points and edges that parts can be put on."""
    return of_piece(scene.snap_view, _own(request, project_id).design, piece)


@api.get("/projects/{int:project_id}/pieces/{piece}/findings")
def get_findings(request: HttpRequest, project_id: int, piece: str) -> dict[str, Any]:
    """What is to be said about one piece, and how it can be mended."""
    design = _own(request, project_id).design
    return of_piece(checks.piece_findings, design, piece, design)


@api.get("/projects/{int:project_id}/pieces/{piece}/words/{part}")
def get_words(request: HttpRequest, project_id: int, piece: str, part: str) -> dict[str, Any]:
    """All that can be said of words, the shapes that their font has for them, and how well the piece holds."""
    design = _own(request, project_id).design
    found = design.piece(piece)
    return of_piece(lettering.lettering_view, design, piece, found.part(part), design.unit)


@api.get("/fonts")
def get_fonts(request: HttpRequest, words: str = "") -> dict[str, Any]:
    """The fonts that the maker can choose from, each with a picture of these words."""
    return fonts.fonts_view(request.user, words[:200])


@api.post("/fonts")
def post_font(request: HttpRequest, file: File[UploadedFile], licence: Form[str] = "") -> dict[str, Any]:
    """Add a font file to the maker's own."""
    if (file.size or 0) > LARGEST:
        raise Refused(
            f"The font file is {(file.size or 0) / 1e6:.0f} MB large; up to {LARGEST / 1e6:.0f} MB can be added."
        )
    typeface = AddFont(request.user, file.read(), licence).execute()
    return {"key": own_key(typeface.key, typeface.owner_id), "name": typeface.name, "licence": typeface.licence}


@api.post("/fonts/{key}/mark")
def post_font_mark(request: HttpRequest, key: str, data: FontMarkIn) -> dict[str, Any]:
    """Note that the maker likes a font, or took it."""
    if not fonts.is_offered(request.user, key):
        raise Http404
    use = MarkFont(request.user, key, data.favourite, data.taken).execute()
    return {"key": use.key, "favourite": use.favourite}


@api.delete("/fonts/{key}")
def delete_font(request: HttpRequest, key: str) -> dict[str, Any]:
    """Put one of the maker's own fonts away; designs that name it keep it."""
    PutFontAway(get_object_or_404(Typeface, owner=request.user, key=stored_key(key))).execute()
    return {"away": key}


@api.post("/fonts/{key}/restore")
def restore_font(request: HttpRequest, key: str) -> dict[str, Any]:
    """Bring back a font that was put away."""
    PutFontAway(get_object_or_404(Typeface, owner=request.user, key=stored_key(key)), away=False).execute()
    return {"restored": key}


@api.get("/projects/{int:project_id}/standing")
def get_standing(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """A few words for every station."""
    project = _own(request, project_id)
    return standing.standing(project, project.design)


@api.get("/projects/{int:project_id}/stations/{station}")
def get_station(request: HttpRequest, project_id: int, station: Station) -> dict[str, Any]:
    """What a station shows beyond the project's state."""
    project = _own(request, project_id)
    return state.station_view(station, project, project.design)


@api.get("/projects/{int:project_id}/rehearsal")
def get_rehearsal(request: HttpRequest, project_id: int) -> HttpResponse:
    """The toolpath with its clock, packed (see `presenters.checks.rehearsal_points`)."""
    points = planned(checks.rehearsal_of, _own(request, project_id).design)
    return HttpResponse(points, content_type="application/octet-stream")


@api.get("/projects/{int:project_id}/export/{ending}")
def get_export(request: HttpRequest, project_id: int, ending: str) -> HttpResponse:
    """The sheet as a file."""
    project = _own(request, project_id)
    writer = WRITERS.get(ending)
    if writer is None:
        raise HttpError(404, f"Foliant writes {', '.join(WRITERS)}, not {ending[:20]}.")
    response = HttpResponse(planned(written, project.design, ending), content_type=writer.media_type)
    response["Content-Disposition"] = f'attachment; filename="{slugify(project.name) or "project"}.{ending}"'
    return response


@api.delete("/projects/{int:project_id}")
def delete_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """Put a project out of sight."""
    DeleteProject(_own(request, project_id)).execute()
    return {"deleted": project_id}


@api.delete("/projects/{int:project_id}/for-good")
def purge_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """Delete a project that is out of sight for good."""
    PurgeProject(get_object_or_404(Project, pk=project_id, owner=request.user)).execute()
    return {"deleted": project_id}


@api.post("/designs")
def post_design(request: HttpRequest, file: File[UploadedFile]) -> dict[str, Any]:
    """Open a design file as a new project."""
    if (file.size or 0) > LARGEST_DESIGN:
        raise Refused(
            f"This file has {(file.size or 0) / 1e6:.0f} MB; a design file has at most {LARGEST_DESIGN / 1e6:.0f} MB."
        )
    project = OpenDesign(request.user, file.read()).execute()
    return {"id": project.pk, "name": project.name}


@api.post("/projects/{int:project_id}/restore")
def restore_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """Bring a deleted project back."""
    RestoreProject(get_object_or_404(Project, pk=project_id, owner=request.user)).execute()
    return {"restored": project_id}


@api.post("/projects/{int:project_id}/machine/connect")
def post_connect(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """Ask the machine whether it is there."""
    design = _own(request, project_id).design
    status = runs.greet(design.ticket.machine)
    return {"state": status.state, "x": status.x, "y": design.stock.height - status.y}


@api.post("/projects/{int:project_id}/runs")
def post_run(request: HttpRequest, project_id: int, data: RunIn) -> dict[str, Any]:
    """Send the job, or a trace of its bounds, to the machine."""
    project = _own(request, project_id)
    run = StartRun(project, Run.Kind(data.kind)).execute()
    return runs.run_view(run, project.design.stock.height)


@api.get("/projects/{int:project_id}/runs/newest")
def get_run(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """How the newest run stands."""
    project = _own(request, project_id)
    run = runs.newest_run(project)
    return {"run": runs.run_view(run, project.design.stock.height) if run else None}


@api.get("/projects/{int:project_id}/runs/{int:run_id}/burnt")
def get_burnt(request: HttpRequest, project_id: int, run_id: int) -> dict[str, Any]:
    """What the machine has burnt in a run."""
    project = _own(request, project_id)
    run = get_object_or_404(project.runs, pk=run_id)
    return {"strokes": runs.burnt_data(run, project.design.stock.height)}


@api.post("/projects/{int:project_id}/runs/{int:run_id}/command")
def post_command(request: HttpRequest, project_id: int, run_id: int, data: CommandIn) -> dict[str, Any]:
    """Hold, resume or stop."""
    project = _own(request, project_id)
    run = CommandRun(get_object_or_404(project.runs, pk=run_id), data.command).execute()
    return runs.run_view(run, project.design.stock.height)


@api.post("/projects/{int:project_id}/machine/panel")
def post_panel(request: HttpRequest, project_id: int, data: ButtonIn) -> dict[str, Any]:
    """Press a button on the simulated machine itself, as its maker would by hand."""
    machine = _own(request, project_id).design.ticket.machine
    PressPanel(request.user, machine, data.button).execute()
    return {"pressed": data.button}


@api.get("/computing")
def get_computing(request: HttpRequest) -> dict[str, Any]:
    """For how many seconds the maker has waited for something heavy that is being worked out; 0 where nothing is."""
    return {"seconds": waiting(_maker(request).pk)}


@api.delete("/computing")
def delete_computing(request: HttpRequest) -> dict[str, Any]:
    """Give up what is being worked out for the maker."""
    return {"stopped": give_up(_maker(request).pk)}
