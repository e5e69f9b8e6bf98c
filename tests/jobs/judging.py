"""What a maker would notice about a finished job. Each judge yields a sentence for whatever is wrong."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from foliant.core.checks import Finding, check_piece
from foliant.core.design import Part, Piece, apply, read_design, read_edit, resolve
from foliant.core.design.binding import bound_rows, tied_pieces
from foliant.core.design.placing import part_bounds, part_region
from foliant.core.design.shapes import Hole, Words
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.layout import lay_sheets
from foliant.core.pricing import price
from tests.jobs.doing import Doing, findings, tall, wide
from tests.making import plan

Verdicts = Iterator[str]

NEAR = 0.02
"""How far, in mm, what is measured may be from what was typed."""
LITTLE = 0.05
"""The area, in mm², over which marks may lie on each other."""
CROSSED = 0.5
"""The length, in mm, over which a line may run through letters."""
MOST_MENDED = 4
"""How many findings are mended, and by how many of their presses."""
READABLE = 1.2
"""Capitals under this, in mm, nobody reads; Check says so before."""
FILLED = 0.25
"""The share of a plate that its words take at least, one way or the other."""
OF_OTHER_SIZE = {"", "topper", "name-between-bars", "keyring-plate", "round-lettering", "slot-gauge", "stirrer"}
"""Starters whose words do not fill a plate."""


def what_was_typed_is_measured(doing: Doing) -> Verdicts:
    for claim in doing.claims:
        if abs(claim.typed - claim.measured) > NEAR:
            yield f"{claim.says}: {claim.typed:.2f} typed, {claim.measured:.2f} measured"


def what_was_whole_is_whole(doing: Doing) -> Verdicts:
    """Sizing leaves bodies whole, and holes as wide as they were."""
    for sizing in doing.sizings:
        for old in sizing.before.pieces:
            new = sizing.after.piece(old.id)
            was, now = len(resolve(old).outline.bodies), len(resolve(new).outline.bodies)
            if now != was:
                yield f"{sizing.says}: {was} bodies became {now}"
            for part in old.parts:
                hole = new.part(part.id).shape
                if isinstance(part.shape, Hole) and isinstance(hole, Hole) and hole != part.shape:
                    yield f"{sizing.says}: a hole of {part.shape.width:.2f} mm became one of {hole.width:.2f}"


def words_can_be_read(doing: Doing) -> Verdicts:
    """Words that are too small to be read are found by Check."""
    for piece in doing.pieces():
        small = [part for part in _lettered(piece) if _capitals(part) < READABLE]
        if small and "letters_can_be_read" not in _said(doing, piece):
            least = min(small, key=_capitals)
            yield f"“{least.shape.label()[:30]}” has capitals of {_capitals(least):.2f} mm: nothing says so"


def words_fill_their_plate(doing: Doing) -> Verdicts:
    """Words of a ready piece are as large as its size lets them be."""
    as_it_comes = not doing.sizings and not doing.listed and not any("font" in line for line in doing.story)
    for piece in doing.design.pieces if as_it_comes and doing.starter not in OF_OTHER_SIZE else ():
        across, down = _plate(piece)
        for part in _lettered(piece):
            left, top, right, bottom = part_bounds(part)
            share = max((right - left) / across, (bottom - top) / down)
            if share < FILLED and not part.plays("adds"):
                yield f"words take {share:.0%} of {piece.name}, {across:.1f} × {down:.1f} mm"


def _plate(piece: Piece) -> tuple[float, float]:
    """How wide and tall (mm) the largest part that adds material is."""
    boxes = [part_bounds(part) for part in piece.made if part.plays("adds") and not isinstance(part.shape, Words)]
    sizes = [(right - left, bottom - top) for left, top, right, bottom in boxes]
    return max(sizes, key=lambda size: size[0] * size[1], default=(wide(piece), tall(piece)))


def nothing_lies_on_another(doing: Doing) -> Verdicts:
    """No words lie on a hole, a line that is marked, or other words, unless Check says so."""
    for piece in doing.pieces():
        said = _said(doing, piece)
        lettered = [(part, part_region(part).shape) for part in _lettered(piece) if part.plays("engraves", "scores")]
        others = [(part, part_region(part).shape) for part in piece.made if not isinstance(part.shape, Words)]
        for at, (part, ink) in enumerate(lettered):
            on = f"“{part.shape.label()[:30]}” on {piece.name}"
            for other, shape in others if "marks_lie_on_the_piece" not in said else ():
                if other.plays("cuts") and ink.intersection(shape).area > LITTLE:
                    yield f"{other.shape.label()} is under {on}"
            for other, shape in others if "nothing_is_marked_twice" not in said else ():
                if other.plays("scores") and ink.intersection(shape.boundary).length > CROSSED:
                    yield f"the line of {other.shape.label()} crosses {on}"
            for later, there in lettered[at + 1 :] if "nothing_is_marked_twice" not in said else ():
                if ink.intersection(there).area > LITTLE:
                    yield f"“{later.shape.label()[:30]}” lies on {on}"


def what_fits_is_laid(doing: Doing) -> Verdicts:
    """A piece that fits an empty sheet, turned or not, lies on one."""
    stock, margin = doing.design.stock, doing.design.sheet.margin
    room = sorted((stock.width - 2 * margin, stock.height - 2 * margin))
    for piece, many in lay_sheets(doing.design)[0].left_over:
        sides = sorted((wide(piece), tall(piece)))
        if sides[0] <= room[0] and sides[1] <= room[1]:
            size = f"{wide(piece):.1f} × {tall(piece):.1f} mm"
            yield f"{many} of {piece.name}, {size}, without room on {stock.width:g} × {stock.height:g}"


def check_is_right(doing: Doing) -> Verdicts:
    """Each press that a finding offers makes that finding go, and brings no other kind."""
    before = findings(doing.design)
    kinds = {finding.check for finding in before}
    for finding in before[:MOST_MENDED]:
        for fix in finding.fixes[:MOST_MENDED]:
            try:
                mended = apply(doing.design, fix.edit.with_shop(SHIPPED, doing.design))
            except Refused as refusal:
                yield f"“{fix.says}” is refused: {refusal}"
                continue
            later = findings(mended)
            if _about(finding) in set(map(_about, later)):
                yield f"“{fix.says}” does not mend: {finding.title}"
            if new := [one.title for one in later if one.check not in kinds]:
                yield f"“{fix.says}” for “{finding.title}” brings: {new[0]}"


def a_list_is_called_by_its_names(doing: Doing) -> Verdicts:
    """Rows of a list go by what reads like a name, and say it."""
    if not doing.listed:
        return
    roster, tied = doing.design.roster, tied_pieces(doing.design)
    called = [roster.called(row, at) for at, row in enumerate(roster.rows, 1)]
    if called != doing.listed:
        yield f"rows are called {called[:3]} instead of {doing.listed[:3]}"
    for piece in [piece for piece in doing.design.pieces if piece.id in tied]:
        for name, bound in zip(doing.listed, bound_rows(doing.design, piece), strict=False):
            said = " ".join(part.shape.label() for part in _lettered(bound.piece))
            if said and name not in said:
                yield f"the row of {name} says “{said[:40]}”"


def it_is_kept_as_it_is(doing: Doing) -> Verdicts:
    if read_design(doing.design.model_dump(mode="json")) != doing.design:
        yield "the design is another once it was stored"


def more_is_never_dearer(doing: Doing) -> Verdicts:
    """A piece costs no more each where two are made on a sheet than where one is."""
    job = plan(doing.design)
    if tied_pieces(doing.design) or len(job.layout.instances) != 1:
        return
    twice = {"do": "change", "of": f"piece {doing.design.pieces[0].id}", "values": {"copies": 2}}
    two = plan(apply(doing.design, read_edit(twice)))
    if len(two.layout.instances) == 2 and price(two).each > price(job).each * 1.001:
        yield f"one costs {price(job).each:.3f}, of two each {price(two).each:.3f}"


JUDGES: tuple[Callable[[Doing], Verdicts], ...] = (
    what_was_typed_is_measured,
    what_was_whole_is_whole,
    words_can_be_read,
    words_fill_their_plate,
    nothing_lies_on_another,
    what_fits_is_laid,
    check_is_right,
    a_list_is_called_by_its_names,
    it_is_kept_as_it_is,
    more_is_never_dearer,
)


@dataclass(frozen=True)
class Verdict:
    """What a judge says is wrong."""

    judge: str
    says: str


def judged(doing: Doing) -> list[Verdict]:
    """All that is wrong with a job."""
    return [Verdict(judge.__name__, says) for judge in JUDGES for says in judge(doing)]


def _lettered(piece: Piece) -> list[Part]:
    return [part for part in piece.made if isinstance(part.shape, Words)]


def _capitals(part: Part) -> float:
    """How tall capitals are, mm; of fitted words the tallest letter."""
    shape = part.shape
    assert isinstance(shape, Words)
    if shape.fit is None:
        return shape.cap
    return max((path.bounds[3] - path.bounds[1] for path in shape.paths() if len(path)), default=0.0)


def _said(doing: Doing, piece: Piece) -> set[str]:
    """The checks that say something about a piece as it is made."""
    return {finding.check for finding in check_piece(doing.design, piece, SHIPPED)}


def _about(finding: Finding) -> tuple[str, str, str]:
    """What a finding is about, whatever it measures."""
    return finding.check, finding.row, re.sub(r"[\d.]+", "", finding.title)
