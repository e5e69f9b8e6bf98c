"""Whether Braille can be read: what it says, its sizes, and the room about it.

The numbers are those of the ADA Standards for Accessible Design (2010), 703.3, and of the European medium.
"""

from collections.abc import Iterator

import numpy as np
import shapely

from foliant.core.braille import LANGUAGES, SIZES
from foliant.core.braille.sizes import BOUNDS, CLEAR
from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix, outlines, say
from foliant.core.design import Part, Piece, resolve
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.placing import MoveParts
from foliant.core.design.placing import part_matrix, part_region
from foliant.core.design.shapes import Braille, Words

_NEARLY = 0.05


def brailles(piece: Piece) -> Iterator[tuple[Part, Braille]]:
    """The Braille that is made on a piece."""
    for part in piece.made:
        if isinstance(part.shape, Braille):
            yield part, part.shape


def braille_says_its_words(bench: Bench) -> Iterator[Finding]:
    """A letter that a table does not know is left out, and the sign says something else."""
    for part, shape in brailles(bench.piece):
        if shape.unknown:
            listed = ", ".join(f"“{character}”" for character in shape.unknown[:8])
            language = LANGUAGES[shape.language].name if shape.language in LANGUAGES else shape.language
            yield Finding(
                "braille_says_its_words",
                "stop",
                f"There is no Braille for {listed}",
                f"The Braille of “{shape.text[:40]}” on {bench.piece.name} leaves out {listed}, which {language} has "
                "no cells for: choose another language, or other words.",
                "shape",
                bench.piece.id,
                _block(part, shape).bounds,
                outlines([_block(part, shape)]),
            )


def braille_tells_what_is_written(bench: Bench) -> Iterator[Finding]:
    """Words that were changed, and Braille that goes on saying the old ones."""
    piece = bench.piece
    words = [part for part in piece.made if isinstance(part.shape, Words)]
    for part, shape in brailles(piece):
        said = _plain(shape.text)
        if shape.of or not words or not said or said in {_plain(one.shape.says) for one in words}:
            continue
        if said in _plain(" ".join(one.shape.says for one in words)):
            continue
        nearest = min(words, key=lambda one: float(part_region(one).shape.distance(_block(part, shape))))
        edit = Change(do="change", of=f"part {part.id}", values={"of": nearest.id})
        label = nearest.shape.label()[:40]
        yield Finding(
            "braille_tells_what_is_written",
            "look",
            f"Nothing on {piece.name[:30]} reads “{shape.text[:30]}”",
            f"The Braille says “{shape.text[:40]}” and no words on {piece.name} do: have it say “{label}”, or type the "
            "words again.",
            "shape",
            piece.id,
            _block(part, shape).bounds,
            outlines([_block(part, shape)]),
            (Fix(f"Have it say “{label[:24]}”", edit),),
        )


def _plain(text: str) -> str:
    return " ".join(text.casefold().split())


def braille_has_the_size_that_is_read(bench: Bench) -> Iterator[Finding]:
    """Fingers read cells of one size only."""
    for part, shape in brailles(bench.piece):
        astray = [
            f"{name} are {say(getattr(shape, field), bench.unit)} {how} and should be {least:g} to {most:g} mm"
            for field, (name, how, least, most) in BOUNDS.items()
            if not least - 1e-6 <= getattr(shape, field) <= most + 1e-6
        ]
        if astray:
            edit = Change(do="change", of=f"part {part.id}", values={"sizes": "signs"})
            yield Finding(
                "braille_has_the_size_that_is_read",
                "look",
                f"The Braille of “{shape.text[:30]}” is hard to read",
                f"In the Braille of “{shape.text[:40]}” {'; '.join(astray)} (US 703.3, and the European medium).",
                "shape",
                bench.piece.id,
                _block(part, shape).bounds,
                outlines([_block(part, shape)]),
                (Fix(f"Size it {SIZES['signs'].title}", edit),),
            )


def braille_stands_clear(bench: Bench) -> Iterator[Finding]:
    """A finger goes along Braille: letters and edges must leave it room."""
    piece = bench.piece
    bodies = shapely.get_parts(resolve(piece).outline.shape)
    plate = shapely.union_all([shapely.Polygon(body.exterior) for body in bodies])  # its own holes are no edges
    for part, shape in brailles(piece):
        block = _block(part, shape)
        others = [other for other in piece.made if other is not part and not other.plays("adds", "guides")]
        found = {other.id: (other, float(part_region(other).shape.distance(block))) for other in others}
        nearest, gap = min(found.values(), key=lambda one: one[1], default=(None, CLEAR))
        edge = float(plate.boundary.distance(block)) if not plate.is_empty else CLEAR
        inside = plate.covers(block) or plate.is_empty
        fixes: list[Fix] = []
        if inside and min(gap, edge) >= CLEAR - _NEARLY:
            continue
        if not inside:
            what = f"reaches beyond {piece.name}: make the lines of the Braille shorter, or the piece wider"
        elif nearest is None or edge < gap:
            what = f"is {say(edge, bench.unit)} from the edge of {piece.name}"
        else:
            what = f"is {say(gap, bench.unit)} from {nearest.shape.label()[:40]}"
            fixes = list(_lowered(piece, part, nearest, block, plate, CLEAR - gap))
        yield Finding(
            "braille_stands_clear",
            "look",
            f"The Braille of “{shape.text[:30]}” has too little room",
            f"The Braille of “{shape.text[:40]}” {what}; fingers need {CLEAR:g} mm (US 703.3.2).",
            "shape",
            piece.id,
            block.bounds,
            outlines([block]),
            tuple(fixes),
        )


def _lowered(
    piece: Piece, part: Part, other: Part, block: shapely.Geometry, plate: shapely.Geometry, by: float
) -> Iterator[Fix]:
    """Moving it down from what lies above it, where there is room below."""
    lower = shapely.transform(block, lambda points: points + np.array([0.0, by]))
    if part_region(other).shape.bounds[3] > block.bounds[1] + _NEARLY or not plate.covers(lower):
        return
    edit = MoveParts(do="move-parts", piece=piece.id, parts=(part.id,), dx=0.0, dy=round(by + 0.005, 2))
    yield Fix(f"Move it down {by:.1f} mm", edit)


def _block(part: Part, shape: Braille) -> shapely.Polygon:
    """The box round all cells of a part, where it lies."""
    a, b, c, d, e, f = part_matrix(part)
    left, top, right, bottom = shape.box()
    corners = ((left, top), (right, top), (right, bottom), (left, bottom))
    return shapely.Polygon([(a * x + c * y + e, b * x + d * y + f) for x, y in corners])
