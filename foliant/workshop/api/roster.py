"""The roster: tables as they are read, rows as they are shown, and the rows as a file."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Field, File, Router, Schema, UploadedFile

from foliant.core.design.budget import weight
from foliant.core.design.roster import MOST_ROWS
from foliant.core.errors import Refused
from foliant.core.formats.tables import LARGEST, read_table, roster_csv
from foliant.workshop.computing import LIGHT, work_out
from foliant.workshop.makers import own
from foliant.workshop.presenters.roster import own_words, row_shown
from foliant.workshop.presenters.rows import row_pictures
from foliant.workshop.presenters.state import rows_shown

router = Router()

_SMALL = 100_000
"""A table of so many bytes is read in a moment."""


class RowsIn(Schema):
    """Rows of the roster, by their ids."""

    rows: list[str] = Field(min_length=1, max_length=MOST_ROWS)


@router.post("/projects/{int:project_id}/table")
def post_table(
    request: HttpRequest, project_id: int, file: File[UploadedFile], headed: bool | None = None
) -> dict[str, Any]:
    """What is in a table, and how it was read; nothing is taken yet."""
    design = own(request, project_id).design
    if (file.size or 0) > LARGEST:
        raise Refused(f"This file has {(file.size or 0) / 1e6:.0f} MB; a table has at most {LARGEST / 1e6:.0f}.")
    content = file.read()
    named = tuple(column.name for column in design.roster.columns)
    table = work_out(0 if len(content) < _SMALL else LIGHT + 1, read_table, content, headed, named)
    return {"heading": table.heading, "rows": table.rows, "found": table.found, "headed": table.headed}


@router.get("/projects/{int:project_id}/rows")
def get_row(request: HttpRequest, project_id: int, row: str = "") -> dict[str, Any]:
    """The pieces that take values from the roster as a row has them; without one, as they are by themselves."""
    project = own(request, project_id)
    design = project.design
    return {"row": own_words(design, row_shown(design, row)), **rows_shown(design, project.shop, row)}


@router.post("/projects/{int:project_id}/pieces/{piece}/rows")
def post_rows(request: HttpRequest, project_id: int, piece: str, data: RowsIn) -> dict[str, Any]:
    """How a piece looks for each of some rows, and what there is to look at."""
    project = own(request, project_id)
    design = project.design
    heavy = weight(design.piece(piece)) * len(data.rows)
    pictures = work_out(heavy, row_pictures, design, piece, tuple(data.rows), project.shop)
    return {"revision": project.current, "pictures": pictures}


@router.get("/projects/{int:project_id}/roster.csv")
def get_csv(request: HttpRequest, project_id: int) -> HttpResponse:
    """The rows as CSV."""
    project = own(request, project_id)
    response = HttpResponse(roster_csv(project.design.roster), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{slugify(project.name) or "roster"}.csv"'
    return response
