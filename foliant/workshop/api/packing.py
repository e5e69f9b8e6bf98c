"""The sheet: packing it, filling what is left of it, what that costs, and the sheet on paper."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Field, Query, Router, Schema

from foliant.core.design.budget import weight_in_all
from foliant.core.design.model import MOST_SHEETS_IN_ALL
from foliant.core.layout import MOST_SECONDS, filled, slid
from foliant.core.layout.filling import MOST_COPIES
from foliant.core.layout.packed import USUAL_SECONDS
from foliant.core.proof import Paper, write_paper
from foliant.core.quantities import with_values
from foliant.workshop.actions import ApplyEdit, StartPacking, StopPacking, TakePacking
from foliant.workshop.computing import LIGHT, planned, work_out
from foliant.workshop.makers import own
from foliant.workshop.presenters import packing, state

router = Router()


class PackIn(Schema):
    """How long to look for better ways, s, and on which bench."""

    bench: str = Field("", max_length=16)
    seconds: float = Field(USUAL_SECONDS, ge=1, le=MOST_SECONDS)


class TakeIn(Schema):
    """The revision that the page shows."""

    revision: int


class FillIn(Schema):
    """What to fill the sheet with, on the revision that the page shows."""

    revision: int
    piece: str
    sheet: int = Field(1, ge=1, le=MOST_SHEETS_IN_ALL)
    most: int = Field(MOST_COPIES, ge=1, le=MOST_COPIES)


class PaperIn(Schema):
    """What to print: a piece, or else a sheet; the paper, its lengths as they are typed, and how it is shown."""

    piece: str = ""
    sheet: int = Field(1, ge=1, le=MOST_SHEETS_IN_ALL)
    size: str = "a4"
    width: str = ""
    height: str = ""
    overlap: str = ""
    mirrored: bool = False
    lines: bool = False


class SlideIn(Schema):
    """An instance, and where its left and top are dragged to, mm."""

    piece: str
    row: str = ""
    number: int = Field(ge=1)
    sheet: int = Field(1, ge=1, le=MOST_SHEETS_IN_ALL)
    x: float = Field(ge=-5000, le=5000)
    y: float = Field(ge=-5000, le=5000)


@router.post("/projects/{int:project_id}/packing")
def post_packing(request: HttpRequest, project_id: int, data: PackIn) -> dict[str, Any]:
    """Begin to pack the sheet."""
    project = own(request, project_id)
    return packing.packing_view(project, StartPacking(project, data.seconds, data.bench).execute())


@router.get("/projects/{int:project_id}/packing")
def get_packing(request: HttpRequest, project_id: int, seen: int = 0, sheet: int = 1) -> dict[str, Any]:
    """How packing stands; with the sheet as it would be laid, where there is a better answer than was seen."""
    project = own(request, project_id)
    return packing.packing_view(project, project.packings.first(), seen, sheet)


@router.delete("/projects/{int:project_id}/packing")
def delete_packing(request: HttpRequest, project_id: int) -> dict[str, Any]:
    """This will do."""
    project = own(request, project_id)
    return packing.packing_view(project, StopPacking(project).execute())


@router.post("/projects/{int:project_id}/packing/take")
def post_take(request: HttpRequest, project_id: int, data: TakeIn, row: str = "") -> dict[str, Any]:
    """Lay the sheet as it was packed; answers with what changed."""
    project = own(request, project_id)
    before = project.design
    TakePacking(project, data.revision, request.user).execute()
    return state.changed(project, before, row)


@router.get("/projects/{int:project_id}/filling")
def get_filling(request: HttpRequest, project_id: int, sheet: int = 1) -> dict[str, Any]:
    """How many more of each piece what is left of a sheet takes, where the next would lie; and a whole one."""
    project = own(request, project_id)
    return {"revision": project.current, "more": work_out(LIGHT + 1, packing.filling, project.design, sheet)}


@router.post("/projects/{int:project_id}/filling")
def post_filling(request: HttpRequest, project_id: int, data: FillIn, row: str = "") -> dict[str, Any]:
    """Ask for as many more of a piece as what is left takes, and lay them; answers with what changed."""
    project = own(request, project_id)
    before = project.design
    edit = work_out(LIGHT + 1, filled, before, data.piece, data.sheet, data.most)
    ApplyEdit(project, data.revision, edit, request.user).execute()
    return state.changed(project, before, row)


@router.post("/projects/{int:project_id}/slide")
def post_slide(request: HttpRequest, project_id: int, data: SlideIn) -> dict[str, Any]:
    """Where an instance that is dragged comes to lie."""
    design = own(request, project_id).design
    of = (data.piece, data.row, data.number)
    found = work_out(weight_in_all(design), slid, design, of, data.x, data.y, data.sheet)
    return {"x": found.x, "y": found.y, "clear": found.clear}


@router.get("/projects/{int:project_id}/paper.pdf")
def get_paper(request: HttpRequest, project_id: int, asked: Query[PaperIn]) -> HttpResponse:
    """A sheet, or a piece, in true size on pages."""
    project = own(request, project_id)
    design = project.design
    values = {name: getattr(asked, name) for name in ("size", "width", "height", "overlap")}
    typed = {name: value for name, value in values.items() if value}
    look: dict[str, Any] = {"mirrored": asked.mirrored, "look": "lines" if asked.lines else "made"}
    paper = with_values(Paper(), typed, design.unit).model_copy(update=look)
    content = work_out(weight_in_all(design), write_paper, design, project.shop, paper, asked.piece, asked.sheet)
    response = HttpResponse(content, content_type="application/pdf")
    response["Content-Disposition"] = f'attachment; filename="{slugify(project.name) or "project"}-paper.pdf"'
    return response


@router.get("/projects/{int:project_id}/prices.csv")
def get_prices(request: HttpRequest, project_id: int, by: str = "") -> HttpResponse:
    """What the sheets cost, piece by piece, order by order and in other quantities, as CSV."""
    project = own(request, project_id)
    content = planned(packing.prices_file, project.design, project.shop, by)
    response = HttpResponse(content, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{slugify(project.name) or "project"}-prices.csv"'
    return response
