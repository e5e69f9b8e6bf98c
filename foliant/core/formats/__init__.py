"""Writers and readers of open formats, one file each. `WRITERS` names them by file ending.

To add a format: write its file with a function from a `Job` to bytes, and name it here.
"""

import io
import zipfile
from collections.abc import Callable
from dataclasses import dataclass

from foliant.core.design import Design
from foliant.core.equipment import Shop
from foliant.core.formats.bundle import write_bundle
from foliant.core.formats.design_file import write_design
from foliant.core.formats.dxf import write_dxf
from foliant.core.formats.gcode import write_gcode
from foliant.core.formats.hpgl import write_hpgl
from foliant.core.formats.pdf import write_pdf
from foliant.core.formats.png import write_png
from foliant.core.formats.svg import write_svg
from foliant.core.layout import all_sheets
from foliant.core.ticket import Job, plan
from foliant.core.ticket.only import only


@dataclass(frozen=True)
class Writer:
    """A format: how it is called, its media type, and the function that writes a job in it."""

    name: str
    media_type: str
    write: Callable[[Job], bytes]


DESIGN_ENDING = "json"
BUNDLE_ENDING = "zip"

WRITERS: dict[str, Writer] = {
    "svg": Writer("SVG drawing, true size", "image/svg+xml", lambda job: write_svg(job).encode()),
    "dxf": Writer("DXF drawing, true size", "image/vnd.dxf", lambda job: write_dxf(job).encode()),
    "pdf": Writer("PDF drawing, true size", "application/pdf", write_pdf),
    "gcode": Writer("G-code for the machine", "text/plain; charset=utf-8", lambda job: write_gcode(job).encode()),
    "plt": Writer("HPGL for cutters and plotters", "application/vnd.hp-hpgl", lambda job: write_hpgl(job).encode()),
    "png": Writer("PNG picture, true size at 300 dpi", "image/png", write_png),
    DESIGN_ENDING: Writer("Foliant design file", "application/json", lambda job: write_design(job.design).encode()),
    BUNDLE_ENDING: Writer("Design file with its pictures", "application/zip", lambda job: write_bundle(job.design)),
}


def written(design: Design, shop: Shop, ending: str, sheet: int = 1, what: str = "") -> bytes:
    """One of a design's sheets in a format of `WRITERS`, or only some of it, see `only`; its design file also where the
    sheet cannot be planned.
    """
    if ending == DESIGN_ENDING:
        return write_design(design).encode()
    if ending == BUNDLE_ENDING:
        return write_bundle(design)
    return WRITERS[ending].write(only(plan(design, shop, sheet), what))


def every_sheet(design: Design, shop: Shop, ending: str, name: str = "sheet") -> bytes:
    """All sheets of a design in a format of `WRITERS`, in one archive."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for number in range(1, len(all_sheets(design)) + 1):
            archive.writestr(f"{name}-{number}.{ending}", written(design, shop, ending, number))
    return out.getvalue()


__all__ = ["WRITERS", "Writer", "every_sheet", "write_design", "write_gcode", "write_svg", "written"]
