"""SVG: a sheet as a drawing of true size."""

from xml.sax.saxutils import escape, quoteattr

from foliant.core.paths.data import path_data
from foliant.core.seeing import Pictured, as_burnt
from foliant.core.ticket import Job, Line
from foliant.core.works.picture import PictureSettings

_STROKE = 0.1
"""The width of lines in mm."""


def write_svg(job: Job) -> str:
    """The sheet as SVG: 1 user unit = 1 mm, one group for each operation that is on, in run order."""
    stock = job.design.stock
    width, height = f"{stock.width:g}", f"{stock.height:g}"
    size = f'width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}"'
    groups = [_group(line) for line in job.lines if line.on]
    return "\n".join(
        [
            '<?xml version="1.0" encoding="UTF-8"?>',
            f'<svg xmlns="http://www.w3.org/2000/svg" {size}>',
            f"<title>{escape(job.design.name)}</title>",
            *_as_it_lies(job, groups),
            "</svg>",
            "",
        ]
    )


def _as_it_lies(job: Job, groups: list[str]) -> list[str]:
    """Mirrored where the sheet lies face down."""
    if job.design.ticket.face == "up":
        return groups
    return [f'<g transform="matrix(-1 0 0 1 {job.design.stock.width:g} 0)">', *groups, "</g>"]


def _group(line: Line) -> str:
    work = line.work
    stroke = f'fill="none" stroke="{work.ink}" stroke-width="{_STROKE}"'
    fill = f'fill="{work.ink}" fill-rule="evenodd" stroke="none"' if work.filled else stroke
    styled = ((line.areas, fill), (line.lines, stroke))
    paths = [f'<path d="{path_data(path)}" {style}/>' for path, style in styled if len(path)]
    pictures = [_image(one, line, shift) for marks, shift in line.marks for one in marks.pictures]
    return "\n".join([f'<g id="{line.id}" aria-label={quoteattr(line.title)}>', *paths, *pictures, "</g>"])


def _image(pictured: Pictured, line: Line, shift: tuple[float, float]) -> str:
    """A picture as it is burnt, dot for dot; without settings, its greys."""
    how = line.settings if isinstance(line.settings, PictureSettings) else None
    burnt = as_burnt(pictured, how.interval if how else 0.1, how.tone if how else "grey", line.work.ink)
    left, top, width, height = burnt.box
    at = f'x="{left + shift[0]:.4g}" y="{top + shift[1]:.4g}" width="{width:.6g}" height="{height:.6g}"'
    return f'<image {at} preserveAspectRatio="none" image-rendering="pixelated" href="{burnt.address}"/>'
