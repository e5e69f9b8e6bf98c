"""Writing the pages of a proof: PDF, and one PNG picture. Each backend only draws paths."""

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import resvg_py
from fontTools.pens.basePen import BasePen
from PIL import Image
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from foliant.core.design import Design
from foliant.core.equipment import Shop
from foliant.core.errors import Refused
from foliant.core.paths.data import path_data
from foliant.core.pricing import prices_by_instance
from foliant.core.proof.pages import Page, Shape, proof_pages
from foliant.core.proof.paper import Paper, paper_pages
from foliant.core.proof.ticket import ticket_page
from foliant.core.seeing import Burnt
from foliant.core.ticket import Job, plan_all

_POINT = 72 / 25.4  # points in a mm
_DOTS = 6.0  # in a mm of a picture
_MOST_DOTS = 16_000


@dataclass(frozen=True)
class Proof:
    """A kind of proof: its name, its media type, whether it is one page, and what writes it."""

    name: str
    media_type: str
    one_page: bool
    write: Callable[[Sequence[Page], str], bytes]


def write_proof(design: Design, shop: Shop, ending: str, true_size: bool = False, with_prices: bool = False) -> bytes:
    """A design's proof as PDF or PNG; raises `Refused`."""
    proof = PROOFS.get(ending)
    if proof is None:
        raise Refused(f"A proof is written as {' or '.join(PROOFS)}, not “{ending[:20]}”.")
    prices = prices_by_instance(plan_all(design, shop)) if with_prices else {}
    return proof.write(proof_pages(design, shop, true_size, proof.one_page, prices), design.name)


def write_paper(design: Design, shop: Shop, paper: Paper, piece: str = "", sheet: int = 1) -> bytes:
    """A piece, or else a sheet, in true size over pages, as PDF; raises `Refused`."""
    return _write_pdf(paper_pages(design, shop, paper, piece, sheet), design.name)


def write_ticket(job: Job) -> bytes:
    """A job's ticket on one page, as PDF; raises `Refused` where there is nothing to do."""
    if not job.ready:
        raise Refused("There is nothing on the ticket that would run yet.")
    return _write_pdf([ticket_page(job)], job.design.name)


def _write_pdf(pages: Sequence[Page], title: str) -> bytes:
    out = io.BytesIO()
    canvas = Canvas(out, invariant=1, pageCompression=1)
    canvas.setTitle(title)
    for page in pages:
        canvas.setPageSize((page.width * _POINT, page.height * _POINT))
        canvas.transform(_POINT, 0, 0, -_POINT, 0, page.height * _POINT)  # mm, y down
        if page.inside:
            left, top, right, bottom = page.window
            canvas.saveState()
            window = canvas.beginPath()
            window.rect(left, top, right - left, bottom - top)
            canvas.clipPath(window, stroke=0, fill=0)
            _draw(canvas, page.inside)
            canvas.restoreState()
        _draw(canvas, page.shapes)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _draw(canvas: Any, shapes: Sequence[Shape]) -> None:
    for shape in shapes:
        if shape.picture:
            _draw_picture(canvas, shape, shape.picture)
            continue
        path = canvas.beginPath()
        shape.path.draw(_PdfPen(path))
        if shape.fill:
            canvas.setFillColor(HexColor(shape.fill))
        if shape.stroke:
            canvas.setStrokeColor(HexColor(shape.stroke))
            canvas.setLineWidth(shape.width)
        canvas.drawPath(path, stroke=bool(shape.stroke), fill=bool(shape.fill))


def _draw_picture(canvas: Any, shape: Shape, picture: Burnt) -> None:
    a, b, c, d, e, f = shape.matrix
    canvas.saveState()
    canvas.transform(a, b, -c, -d, e + c, f + d)  # a picture stands on its lower edge
    canvas.drawImage(ImageReader(Image.open(io.BytesIO(picture.png)).convert("RGBA")), 0, 0, 1, 1, mask="auto")
    canvas.restoreState()


class _PdfPen(BasePen):  # type: ignore[misc]  # fontTools' pens carry no types
    """Draws on a path of a PDF canvas."""

    def __init__(self, path: Any) -> None:
        super().__init__(None)
        self._path = path

    def _moveTo(self, pt: tuple[float, float]) -> None:
        self._path.moveTo(*pt)

    def _lineTo(self, pt: tuple[float, float]) -> None:
        self._path.lineTo(*pt)

    def _curveToOne(self, pt1: tuple[float, float], pt2: tuple[float, float], pt3: tuple[float, float]) -> None:
        self._path.curveTo(*pt1, *pt2, *pt3)

    def _closePath(self) -> None:
        self._path.close()


def _write_png(pages: Sequence[Page], title: str) -> bytes:
    (page,) = pages
    shapes = "".join(map(_as_svg, page.shapes))
    svg = (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {page.width:g} {page.height:g}" '
        f'width="{page.width:g}" height="{page.height:g}">{shapes}</svg>'
    )
    zoom = min(_DOTS, _MOST_DOTS / max(page.width, page.height))
    return bytes(resvg_py.svg_to_bytes(svg_string=svg, background="#ffffff", zoom=zoom, skip_system_fonts=True))


def _as_svg(shape: Shape) -> str:
    if shape.picture:
        at = f'transform="matrix({" ".join(f"{value:.6g}" for value in shape.matrix)})"'
        return f'<image width="1" height="1" preserveAspectRatio="none" {at} href="{shape.picture.address}"/>'
    painted = f'fill="{shape.fill or "none"}" stroke="{shape.stroke or "none"}" stroke-width="{shape.width}"'
    return f'<path d="{path_data(shape.path, 3)}" {painted}/>'


PROOFS: dict[str, Proof] = {
    "pdf": Proof("Proof as PDF", "application/pdf", False, _write_pdf),
    "png": Proof("Proof as a picture", "image/png", True, _write_png),
}
