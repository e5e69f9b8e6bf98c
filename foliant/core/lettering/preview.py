"""Previews: a few words in a font, drawn as its file has them, quickly enough for a whole list of fonts."""

from dataclasses import dataclass

from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen

from foliant.core.lettering.catalogue import FontEntry
from foliant.core.lettering.direction import runs_of
from foliant.core.lettering.faces import OutlineFace, faces_of
from foliant.core.remembering import remembered

SIZE = 100
LONGEST_SHOWN = 40


@dataclass(frozen=True)
class Preview:
    """Path data about a baseline at 0, capitals 70 high, y down; its box (left, top, right, bottom); what it lacks."""

    d: str
    box: tuple[float, float, float, float]
    missing: str


@remembered
def preview(text: str, entry: FontEntry) -> Preview:
    """The first line of some words in a font. Letters that overlap are left so: it is filled by the nonzero rule."""
    line = text.split("\n")[0][:LONGEST_SHOWN]
    faces = faces_of(entry)
    scale = 0.7 * SIZE / max(faces[0].cap_height, 0.1)
    pen = SVGPathPen(None, ntos=lambda number: f"{number:.0f}")
    x = 0.0
    missing: list[str] = []
    for run in runs_of(line, faces):
        if run.face is None:
            missing += run.text
            x += 0.5 * scale * len(run.text)
            continue
        for found in run.face.shape(run.text, {}, run.right_to_left):
            at = (x + found.dx * scale, found.dy * scale)
            if isinstance(run.face, OutlineFace):
                unit = scale / run.face.per_em
                run.face.draw(found.glyph, TransformPen(pen, (unit, 0, 0, -unit, *at)))
            else:
                run.face.glyph(found.glyph).draw(TransformPen(pen, (scale, 0, 0, scale, *at)))
            x += found.advance * scale
    return Preview(pen.getCommands(), (0.0, -1.1 * SIZE, x, 0.45 * SIZE), "".join(dict.fromkeys(missing)))
