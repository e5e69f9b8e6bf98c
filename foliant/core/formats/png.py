"""PNG: a sheet as a picture of true size."""

import io

import pypdfium2

from foliant.core.errors import Refused
from foliant.core.formats.pdf import write_pdf
from foliant.core.ticket import Job

DOTS = 300
"""Dots to the inch, where nothing else is asked for."""

MOST_DOTS = 20_000
"""Dots across and down at most."""


def write_png(job: Job, dots: float = DOTS) -> bytes:
    """The sheet at so many dots to the inch, its operations in their colours; raises `Refused` for a picture that is
    too large.
    """
    across = max(job.design.stock.width, job.design.stock.height) / 25.4 * dots
    if not 1 <= dots <= 5000 or across > MOST_DOTS:
        raise Refused(f"A picture of {across:,.0f} dots is too large: at most {MOST_DOTS:,} across, at 1 to 5,000 dpi.")
    pages = pypdfium2.PdfDocument(write_pdf(job))
    picture = pages[0].render(scale=dots / 72).to_pil().convert("RGB")
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(dots, dots), optimize=False)
    pages.close()
    return out.getvalue()
