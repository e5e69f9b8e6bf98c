"""The budget: about how many segments a design comes to, reckoned from its numbers before anything is worked out.

A segment of an outline takes about 0.1 ms to weld and 1 kB to hold, so a piece that is within its budget is worked out
in seconds. What is reckoned is meant to be right within a factor of three, and to cost nothing.
"""

from graphlib import CycleError, TopologicalSorter

from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.shapes.shape import Shape
from foliant.core.errors import Refused
from foliant.core.remembering import remembered

MOST_OF_A_PIECE = 120_000
"""Segments that one piece may come to."""

MOST_OF_ALL = 500_000
"""Segments of all pieces of a project together."""

MOST_OF_ROWS = 2_000_000
"""Segments of all pieces together, those that take values from the roster counted for every row."""

MOST_INSTANCES = 10_000
"""Pieces that a project may ask for in all, copies counted."""

DEEPEST = 60
"""How many parts may be made from each other in turn."""

_TREATED = {"widened": 3.0, "halved": 2.0, "cornered": 2.0, "grown": 2.0, "hollowed": 4.0}
"""How many times over what a part is made of is gone through, for what is done to it."""


@remembered
def weight(piece: Piece) -> int:
    """About how many segments have to be gone through to work a piece out."""
    return sum(weight_of(part) for part in piece.parts if not part.hidden)


def weight_in_all(design: Design) -> int:
    """The same for all that a design makes: a piece that takes values from the roster counts for every row."""
    return sum(weight(piece) * _times(design, piece) for piece in design.pieces)


def _times(design: Design, piece: Piece) -> int:
    return max(len(design.roster.rows), 1) if piece.tied else 1


def weight_of(part: Part) -> int:
    """The same for one part with all its copies."""
    copies = part.repeat.copies if part.repeat else 1
    factor = part.shape.rounds
    for treatment, _ in part.treatments.each:
        factor *= _TREATED[treatment]
    return round(_segments(part.shape) * factor) * copies


@remembered
def _segments(shape: Shape) -> int:
    return shape.segments()


def check_budget(design: Design, before: Design | None = None) -> None:
    """Raise `Refused`, saying what to lessen, where a piece that is not in `before` or the whole would be too much."""
    known = set(map(id, before.pieces)) if before else set()
    for piece in design.pieces:
        if id(piece) not in known:
            _check_depth(piece)
            _check_piece(piece)
    total = sum(map(weight, design.pieces))
    if total > MOST_OF_ALL and (before is None or total > sum(map(weight, before.pieces))):
        raise Refused(
            f"All pieces together would come to about {total:,} lines and curves, and a project holds "
            f"{MOST_OF_ALL:,}: make two projects of it, or use fewer copies on its pieces."
        )
    total = weight_in_all(design)
    if total > MOST_OF_ROWS and (before is None or total > weight_in_all(before)):
        raise Refused(
            f"All rows together would come to about {total:,} lines and curves, and a project holds {MOST_OF_ROWS:,}: "
            "make two projects of it, or simpler pieces."
        )
    instances = _instances(design)
    if instances > MOST_INSTANCES and (before is None or instances > _instances(before)):
        raise Refused(
            f"That asks for {instances:,} pieces in all, and a project makes at most {MOST_INSTANCES:,}: ask for fewer."
        )


def _instances(design: Design) -> int:
    return sum(piece.copies * _times(design, piece) for piece in design.pieces)


def too_much(piece: Piece) -> str:
    """Why a piece is too much to work out, as a sentence that says what to lessen; empty where it is not."""
    total = weight(piece)
    if total <= MOST_OF_A_PIECE:
        return ""
    heaviest = max(piece.parts, key=weight_of)
    name, copies = heaviest.shape.label()[:40], heaviest.repeat.copies if heaviest.repeat else 1
    lessen = []
    if copies > 1:
        lessen.append(f"its {copies:,} copies")
    if heaviest.shape.lessens:
        lessen.append(heaviest.shape.lessens)
    if heaviest.treatments.each:
        lessen.append("what is done to its outline")
    what = " or ".join(lessen) or "the number of parts"
    return (
        f"{piece.name} would come to about {total:,} lines and curves, and one piece holds {MOST_OF_A_PIECE:,}. "
        f"Most are of {name}: lessen {what}."
    )


def _check_piece(piece: Piece) -> None:
    if says := too_much(piece):
        raise Refused(says)


def _check_depth(piece: Piece) -> None:
    """Parts that are made from parts, too deep."""
    made_of = {part.id: part.made_of for part in piece.parts}
    level = [key for key, of in made_of.items() if of]
    for _ in range(DEEPEST):
        level = list({one for key in level for one in made_of.get(key, ()) if made_of.get(one)})
        if not level:
            return
    try:
        TopologicalSorter(made_of).prepare()
    except CycleError:
        return  # settling says so, and names the parts
    raise Refused(
        f"On {piece.name}, parts are made from each other more than {DEEPEST} deep: make some of them plain first."
    )
