"""The eye: what the camera over a machine sees, learning its lens, and closer looks."""

from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Field, Query, Router, Schema

from foliant.core.design import Design
from foliant.core.design.model import MOST_SHEETS_IN_ALL
from foliant.core.equipment import MachineProfile
from foliant.core.errors import Refused
from foliant.core.eye.lens import Lens
from foliant.core.layout import at_sheet
from foliant.workshop.actions import LayOnBed, LearnLens
from foliant.workshop.computing import LIGHT, work_out
from foliant.workshop.machines import camera_over, machine_of
from foliant.workshop.makers import own
from foliant.workshop.models import Project
from foliant.workshop.presenters import eye, runs

router = Router()

Mm = Annotated[float, Field(ge=-5000, le=5000, allow_inf_nan=False)]


class SheetIn(Schema):
    """Which of a project's sheets."""

    sheet: int = Field(1, ge=1, le=MOST_SHEETS_IN_ALL)


class LayIn(SheetIn):
    """What is laid on the bed of a simulated machine."""

    what: Literal["sheet", "marks", "nothing"]


class CloserIn(SheetIn):
    """A place of the bed, mm."""

    x: Mm = 0.0
    y: Mm = 0.0


@router.post("/projects/{int:project_id}/eye/look")
def post_look(request: HttpRequest, project_id: int, data: SheetIn) -> dict[str, Any]:
    """The bed as the camera sees it, from straight above, and where the sheet lies on it."""
    project = own(request, project_id)
    design, machine, lens = _looking(project, data.sheet)
    bed, stock = (machine.bed_width, machine.bed_height), design.stock
    picture = camera_over(machine).picture()
    found = work_out(LIGHT + 1, eye.seen, picture, lens, bed, stock.actual, (stock.width, stock.height))
    return eye.look_view(design, *found)


@router.get("/projects/{int:project_id}/eye/closer.jpg")
def get_closer(request: HttpRequest, project_id: int, asked: Query[CloserIn]) -> HttpResponse:
    """A closer look at a place of the bed."""
    project = own(request, project_id)
    design, machine, lens = _looking(project, asked.sheet)
    picture = camera_over(machine).picture()
    content = work_out(LIGHT + 1, eye.closer, picture, lens, (asked.x, asked.y), design.stock.actual)
    return HttpResponse(content, content_type="image/jpeg")


@router.post("/projects/{int:project_id}/eye/learn")
def post_learn(request: HttpRequest, project_id: int, data: SheetIn) -> dict[str, Any]:
    """Learn the lens from the marks on the bed."""
    project = own(request, project_id)
    machine = machine_of(at_sheet(project.design, data.sheet)[0], project.shop)
    lens = LearnLens(request.user, machine).execute()
    return runs.eye_view(machine.model_copy(update={"lens": lens}))


@router.post("/projects/{int:project_id}/eye/lay")
def post_lay(request: HttpRequest, project_id: int, data: LayIn) -> dict[str, Any]:
    """Lay the sheet, or the marks, on the bed of a simulated machine, as its maker would by hand."""
    project = own(request, project_id)
    design = at_sheet(project.design, data.sheet)[0]
    LayOnBed(project.owner_id, machine_of(design, project.shop), project.shop, design, data.what).execute()
    return {"laid": data.what}


def _looking(project: Project, sheet: int) -> tuple[Design, MachineProfile, Lens]:
    """The design on a sheet's bench, its machine, and the lens over that; raises `Refused` where none is known."""
    design = at_sheet(project.design, sheet)[0]
    machine = machine_of(design, project.shop)
    if machine.lens is None:
        raise Refused(
            "The eye has to learn its lens first: lay the sheet of marks on the bed, and have it look at that."
        )
    return design, machine, machine.lens
