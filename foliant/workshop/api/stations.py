"""The stations of a project: what each shows, the rehearsal, and the sheet as a file."""

from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Query, Router
from ninja.errors import HttpError

from foliant.core.design.model import MOST_SHEETS_IN_ALL
from foliant.core.formats import WRITERS, every_sheet, written
from foliant.workshop.actions import KeepAsRecipe, KeepField
from foliant.workshop.computing import planned
from foliant.workshop.makers import own
from foliant.workshop.presenters import checks, costs, standing, state, ticket

router = Router()
SheetNumber = Annotated[int, Query(1, ge=1, le=MOST_SHEETS_IN_ALL)]
"""Which sheet of a project, from 1."""

Station = Literal["shape", "sheet", "ticket", "check", "run"]


@router.get("/projects/{int:project_id}/standing")
def get_standing(request: HttpRequest, project_id: int, sheet: SheetNumber = 1) -> dict[str, Any]:
    """A few words for every station."""
    project = own(request, project_id)
    return standing.standing(project, project.design, sheet)


@router.get("/projects/{int:project_id}/costs")
def get_costs(request: HttpRequest, project_id: int, sheet: SheetNumber = 1) -> dict[str, Any]:
    """What all sheets cost; null where nothing lies on them."""
    project = own(request, project_id)
    return {"costs": planned(costs.costs, project.design, project.shop, sheet, every=True)}


@router.get("/projects/{int:project_id}/stations/{station}")
def get_station(request: HttpRequest, project_id: int, station: Station, sheet: SheetNumber = 1) -> dict[str, Any]:
    """What a station shows beyond the project's state."""
    project = own(request, project_id)
    return state.station_view(station, project, project.design, sheet)


@router.post("/projects/{int:project_id}/operations/{operation}/recipe")
def post_recipe(request: HttpRequest, project_id: int, operation: str, bench: str = "") -> dict[str, Any]:
    """Keep the settings of an operation as the recipe for its work."""
    return {"kept": KeepAsRecipe(own(request, project_id), operation, bench).execute().says}


@router.get("/projects/{int:project_id}/ticket.pdf")
def get_ticket(request: HttpRequest, project_id: int, sheet: SheetNumber = 1) -> HttpResponse:
    """The ticket on one page."""
    project = own(request, project_id)
    response = HttpResponse(
        planned(ticket.ticket_file, project.design, project.shop, sheet), content_type="application/pdf"
    )
    response["Content-Disposition"] = f'attachment; filename="{slugify(project.name) or "project"}-ticket.pdf"'
    return response


@router.post("/projects/{int:project_id}/card/{int:row}/{int:column}")
def post_field(request: HttpRequest, project_id: int, row: int, column: int) -> dict[str, Any]:
    """Keep the field of a test card that came out best as the recipe."""
    return {"kept": KeepField(own(request, project_id), row, column).execute().says}


@router.get("/projects/{int:project_id}/operations/{operation}/fills")
def get_fills(request: HttpRequest, project_id: int, operation: str, sheet: SheetNumber = 1) -> dict[str, Any]:
    """Every way to fill what an operation takes, with its time."""
    project = own(request, project_id)
    return {"ways": planned(ticket.ways_view, project.design, project.shop, operation, sheet)}


@router.get("/projects/{int:project_id}/rehearsal")
def get_rehearsal(request: HttpRequest, project_id: int, sheet: SheetNumber = 1) -> HttpResponse:
    """The toolpath with its clock, packed (see `presenters.checks.rehearsal_points`)."""
    project = own(request, project_id)
    points = planned(checks.rehearsal_of, project.design, project.shop, sheet)
    return HttpResponse(points, content_type="application/octet-stream")


@router.get("/projects/{int:project_id}/exports/{ending}")
def get_exports(request: HttpRequest, project_id: int, ending: str) -> HttpResponse:
    """All sheets as files, in one archive."""
    project = own(request, project_id)
    if ending not in WRITERS:
        raise HttpError(404, f"Foliant writes {', '.join(WRITERS)}, not {ending[:20]}.")
    name = slugify(project.name) or "project"
    content = planned(every_sheet, project.design, project.shop, ending, name)
    response = HttpResponse(content, content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{name}-{ending}.zip"'
    return response


@router.get("/projects/{int:project_id}/export/{ending}")
def get_export(
    request: HttpRequest, project_id: int, ending: str, sheet: SheetNumber = 1, only: str = ""
) -> HttpResponse:
    """The sheet as a file."""
    project = own(request, project_id)
    writer = WRITERS.get(ending)
    if writer is None:
        raise HttpError(404, f"Foliant writes {', '.join(WRITERS)}, not {ending[:20]}.")
    name = (slugify(project.name) or "project") + (f"-{sheet}" if sheet > 1 else "")
    response = HttpResponse(
        planned(written, project.design, project.shop, ending, sheet, only), content_type=writer.media_type
    )
    response["Content-Disposition"] = f'attachment; filename="{name}.{ending}"'
    return response
