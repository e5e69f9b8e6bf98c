"""PDF: a sheet as a drawing of true size on one page."""

import io
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas

from foliant.core.formats.as_drawn import layers_of, lying
from foliant.core.paths import CUBIC, LINE, Path
from foliant.core.ticket import Job

_POINT = 72 / 25.4
_STROKE = 0.1
"""The width of lines in mm."""


def write_pdf(job: Job) -> bytes:
    """The sheet on a page of its own size, its operations in run order in their colours."""
    out = io.BytesIO()
    stock = job.design.stock
    canvas = Canvas(out, pagesize=(stock.width * _POINT, stock.height * _POINT), invariant=1, pageCompression=1)
    canvas.setTitle(job.design.name)
    canvas.transform(_POINT, 0, 0, -_POINT, 0, stock.height * _POINT)  # mm, y down
    canvas.transform(*lying(job))
    canvas.setLineWidth(_STROKE)
    for layer in layers_of(job):
        ink = HexColor(layer.line.work.ink)
        canvas.setFillColor(ink)
        canvas.setStrokeColor(ink)
        filled = layer.line.work.filled
        _draw(canvas, layer.areas, filled)
        _draw(canvas, layer.lines, False)
        for burnt, (across, down) in layer.pictures:
            left, top, wide, high = burnt.box
            canvas.saveState()
            canvas.transform(1, 0, 0, -1, left + across, top + down + high)
            canvas.drawImage(ImageReader(io.BytesIO(burnt.png)), 0, 0, wide, high, mask="auto")
            canvas.restoreState()
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _draw(canvas: Any, path: Path, filled: bool) -> None:
    if not len(path):
        return
    plain, drawn = path.without_arcs(), canvas.beginPath()
    for segments, closed in plain.contours():
        points = plain.points[segments]
        drawn.moveTo(*points[0, 0])
        for kind, row in zip(plain.kinds[segments].tolist(), points, strict=True):
            if kind == LINE:
                drawn.lineTo(*row[3])
            elif kind == CUBIC:
                drawn.curveTo(*row[1:].ravel())
        if closed:
            drawn.close()
    canvas.drawPath(drawn, stroke=0 if filled else 1, fill=1 if filled else 0, fillMode=FILL_EVEN_ODD)
