"""The roster: tables as they are read, rows as they are shown, and the rows as a file."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Field, File, Router, Schema, UploadedFile
from ninja.errors import HttpError

from foliant.core.design.budget import weight, weight_in_all
from foliant.core.design.roster import MOST_ROWS
from foliant.core.errors import Refused
from foliant.core.formats.tables import LARGEST, read_table, roster_csv
from foliant.core.proof import PROOFS, write_proof
from foliant.workshop.computing import LIGHT, work_out
from foliant.workshop.makers import own
from foliant.workshop.presenters.roster import own_words, row_shown
from foliant.workshop.presenters.rows import row_pictures
from foliant.workshop.presenters.state import rows_shown

router = Router()

_SMALL = 100_000
"""A table of so many bytes is read in a moment."""

_FEW = 6


class RowsIn(Schema):
    """Rows of the roster, by their ids."""

    rows: list[str] = Field(min_length=1, max_length=MOST_ROWS)


@router.post("/tables")
def post_table(
    request: HttpRequest, file: File[UploadedFile], headed: bool | None = None, named: str = ""
) -> dict[str, Any]:
    """What is in a table, and how it was read; nothing is taken yet.

    headed  whether its first row is a heading; left out, that is found out
    named   the names that a heading is known by, one a line
    """
    if (file.size or 0) > LARGEST:
        raise Refused(f"This file has {(file.size or 0) / 1e6:.0f} MB; a table has at most {LARGEST / 1e6:.0f}.")
    content, known = file.read(), tuple(named.splitlines())
    table = work_out(0 if len(content) < _SMALL else LIGHT + 1, read_table, content, headed, known)
    found = {"heading": table.heading, "rows": table.rows, "words": table.words}
    return {**found, "found": table.found, "headed": table.headed}


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
    # A few are drawn at once; many beside the pages, so that nobody waits for them.
    heavy = weight(design.piece(piece)) * len(data.rows) + (LIGHT if len(data.rows) > _FEW else 0)
    pictures = work_out(heavy, row_pictures, design, piece, tuple(data.rows), project.shop)
    return {"revision": project.current, "pictures": pictures}


@router.get("/projects/{int:project_id}/roster.csv")
def get_csv(request: HttpRequest, project_id: int) -> HttpResponse:
    """The rows as CSV."""
    project = own(request, project_id)
    response = HttpResponse(roster_csv(project.design.roster), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{slugify(project.name) or "roster"}.csv"'
    return response


@router.get("/projects/{int:project_id}/proof/{ending}")
def get_proof(
    request: HttpRequest, project_id: int, ending: str, true_size: bool = False, prices: bool = False
) -> HttpResponse:
    """The proof: every row with its picture, as a file."""
    project = own(request, project_id)
    if ending not in PROOFS:
        raise HttpError(404, f"A proof is {' or '.join(PROOFS)}, not {ending[:20]}.")
    design = project.design
    content = work_out(weight_in_all(design), write_proof, design, project.shop, ending, true_size, prices)
    response = HttpResponse(content, content_type=PROOFS[ending].media_type)
    name = slugify(project.name) or "project"
    response["Content-Disposition"] = f'attachment; filename="{name}-proof.{ending}"'
    return response
