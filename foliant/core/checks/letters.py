"""Whether letters stand clear of each other, as their font means them to."""

from collections.abc import Iterator

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix
from foliant.core.design import Part
from foliant.core.design.edits.change import Change
from foliant.core.design.placing import part_bounds, part_matrix
from foliant.core.design.shapes import Words
from foliant.core.design.spacing import parted, touching
from foliant.core.paths import join


def letters_stand_clear(bench: Bench) -> Iterator[Finding]:
    """Letters that touch only since they are bent along an edge, or set too tight, read as one."""
    for part in bench.piece.made:
        words = part.shape
        if not isinstance(words, Words) or words.joined or words.fit or part.plays("adds"):
            continue
        if not words.edge and words.tracking >= 0:
            continue
        if not (pairs := touching(words)):
            continue
        letters = words.setting().letters
        places = [letters[at + side].path.transformed(part_matrix(part)) for at in sorted(pairs) for side in (0, 1)]
        many = "Two letters touch" if len(pairs) == 1 else f"{len(pairs)} pairs of letters touch"
        yield Finding(
            "letters_stand_clear",
            "look",
            f"Letters of “{words.label()[:30]}” touch",
            f"{many} in “{words.label()[:40]}” on {bench.piece.name} that stand apart in this font: give them a little "
            "more tracking.",
            "shape",
            bench.piece.id,
            part_bounds(part),
            join(places),
            tuple(_spaced(part, words)),
        )


def _spaced(part: Part, words: Words) -> Iterator[Fix]:
    tracking = parted(words)
    if tracking is not None:
        edit = Change(do="change", of=f"part {part.id}", values={"tracking": tracking})
        yield Fix(f"Track them {tracking:g} %", edit)
