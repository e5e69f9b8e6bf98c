"""Whether letters stand clear of each other, as their font means them to."""

from collections.abc import Iterator
from itertools import pairwise

import shapely

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix
from foliant.core.design import Part
from foliant.core.design.edits.change import Change
from foliant.core.design.placing import part_bounds, part_matrix
from foliant.core.design.shapes import Words
from foliant.core.lettering.letters import Letter
from foliant.core.paths import join
from foliant.core.paths.overlay import fine_shape

_TOUCH = 1e-3  # mm² of two letters that lie on each other
_FINE = 0.02  # mm
_STEPS = (1, 2, 3, 5, 8, 12, 18, 25)  # per cent of tracking that are tried, one after the other


def letters_stand_clear(bench: Bench) -> Iterator[Finding]:
    """Letters that touch only since they are bent along an edge, or set too tight, read as one."""
    for part in bench.piece.made:
        words = part.shape
        if not isinstance(words, Words) or words.joined or words.fit or part.plays("adds"):
            continue
        if not words.edge and words.tracking >= 0:
            continue
        meant = _touching(words.model_copy(update={"edge": None, "tracking": 0.0, "sources": ()}))
        if not (pairs := _touching(words) - meant):
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
            tuple(_spaced(part, words, meant)),
        )


def _touching(words: Words) -> set[int]:
    """The letters that touch the next one of their word, by their number."""
    letters = words.setting().letters
    shapes = [_shape(letter) for letter in letters]
    return {
        at
        for at, ((one, two), (here, there)) in enumerate(zip(pairwise(letters), pairwise(shapes), strict=True))
        if (one.line, one.word) == (two.line, two.word) and here.intersection(there).area > _TOUCH
    }


def _shape(letter: Letter) -> shapely.Geometry:
    return fine_shape(letter.path, _FINE)


def _spaced(part: Part, words: Words, meant: set[int]) -> Iterator[Fix]:
    """The least tracking with which no letters touch that are not meant to."""
    for more in _STEPS:
        tracking = round(words.tracking + more, 2)
        if not _touching(words.model_copy(update={"tracking": tracking})) - meant:
            edit = Change(do="change", of=f"part {part.id}", values={"tracking": tracking})
            yield Fix(f"Track them {tracking:g} %", edit)
            return
