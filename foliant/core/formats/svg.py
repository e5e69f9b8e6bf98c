"""SVG: a sheet as a drawing of true size."""

from xml.sax.saxutils import escape, quoteattr

from foliant.core.formats.as_drawn import Layer, layers_of, lying
from foliant.core.paths.data import path_data
from foliant.core.seeing import Burnt
from foliant.core.ticket import Job

_STROKE = 0.1
"""The width of lines in mm."""


def write_svg(job: Job) -> str:
    """The sheet as SVG: 1 user unit = 1 mm, one group for each operation that is on, in run order."""
    stock = job.design.stock
    width, height = f"{stock.width:g}", f"{stock.height:g}"
    size = f'width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}"'
    groups = [_group(layer) for layer in layers_of(job)]
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
    return [f'<g transform="matrix({" ".join(f"{one:g}" for one in lying(job))})">', *groups, "</g>"]


def _group(layer: Layer) -> str:
    line, work = layer.line, layer.line.work
    stroke = f'fill="none" stroke="{work.ink}" stroke-width="{_STROKE}"'
    fill = f'fill="{work.ink}" fill-rule="evenodd" stroke="none"' if work.filled else stroke
    styled = ((layer.areas, fill), (layer.lines, stroke))
    paths = [f'<path d="{path_data(path)}" {style}/>' for path, style in styled if len(path)]
    pictures = [_image(burnt, shift) for burnt, shift in layer.pictures]
    return "\n".join([f'<g id="{line.id}" aria-label={quoteattr(line.title)}>', *paths, *pictures, "</g>"])


def _image(burnt: Burnt, shift: tuple[float, float]) -> str:
    """A picture as it is burnt, dot for dot."""
    left, top, width, height = burnt.box
    at = f'x="{left + shift[0]:.4g}" y="{top + shift[1]:.4g}" width="{width:.6g}" height="{height:.6g}"'
    return f'<image {at} preserveAspectRatio="none" image-rendering="pixelated" href="{burnt.address}"/>'
