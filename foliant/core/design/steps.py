"""Likely next steps: what a maker most often does with what is chosen now, each of them one edit.

They are read off the design alone. To offer another, add it to the list of what it is for: piece, plate, words, hole,
mark or several; the first `MOST` that can be done are shown.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import chain, islice
from typing import Any

import shapely

from foliant.core.braille.louis import is_here
from foliant.core.cleaning import FAULTS
from foliant.core.design.benches import alone
from foliant.core.design.distances import gap_between
from foliant.core.design.edits import apply, read_edit
from foliant.core.design.edits.cleaning import counted
from foliant.core.design.edits.reviving import pieces_of
from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import frame_parts, middle_box, part_bounds, part_paths, placing_box, shape_paths
from foliant.core.design.references import Bounds, union
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes import Braille, Eye, Hole, Outline, Picture, Surround, Words
from foliant.core.design.treatments import corners_before
from foliant.core.errors import Refused
from foliant.core.lettering.library import font_for
from foliant.core.paths import ARC, combine, join

MOST = 4

_SMALL = 0.2  # of the area of all else: what is no larger and to one side is often wanted on the other too
_MOST_CORNERS = 12
_SIGN = 15.0  # mm: capitals from this height on are those of signs
_THROUGH = 0.2  # mm: a copy nearer than this to where it came from lies on it


@dataclass(frozen=True)
class Step:
    """A step: how it is said, the edit that does it, and the value that is typed next.

    opens  the address of that value; `new` stands for the part that the edit puts on
    """

    says: str
    edit: dict[str, Any]
    opens: str = ""


def next_steps(piece: Piece, ids: Sequence[str]) -> tuple[Step, ...]:
    """The likely next steps where these parts of a piece are chosen, the likeliest first; raises `Refused`."""
    parts = [piece.part(one) for one in ids]
    if any(part.locked or part.hidden for part in parts):
        return ()
    if not parts:
        found = _on(piece, []) if resolve(piece).outline.bodies else iter(())
    elif len(parts) > 1:
        found = chain(_of_lines(piece, parts), _of_several(piece, parts))
    elif isinstance(parts[0].shape, Words):
        found = _of_words(piece, parts[0], parts[0].shape)
    elif isinstance(parts[0].shape, Hole):
        found = _of_hole(piece, parts[0], parts[0].shape)
    elif isinstance(parts[0].shape, Picture):
        found = _of_picture(piece, parts[0], parts[0].shape)
    elif parts[0].plays("adds"):
        found = chain(_of_lines(piece, parts), _of_plate(piece, parts[0]))
    else:
        found = chain(_of_lines(piece, parts), _of_mark(piece, parts[0]))
    return tuple(islice((step for step in found if _can_be_done(piece, step)), MOST))


def _can_be_done(piece: Piece, step: Step) -> bool:
    """Whether the edit of a step is not refused."""
    try:
        apply(alone(piece), read_edit(step.edit))
    except Refused:
        return False
    return True


def _of_lines(piece: Piece, parts: list[Part]) -> Iterator[Step]:
    """Clean-up, of lines that were brought in or traced."""
    drawn = [part for part in parts if isinstance(part.shape, Outline)]
    counts = counted(drawn)
    if counts:
        listed = ", ".join(FAULTS[key].said(count) for key, count in counts.items())
        yield Step(f"Clean up {listed}", _edit("clean-parts", piece, drawn))
    if not drawn or len(drawn) < len(parts):
        return
    single = len(parts) == 1
    count = sum(max(1, len(pieces_of(part))) for part in parts)
    if count > len(parts):
        it = "it" if single else "them"
        yield Step(f"Take {it} apart into {count:,}", _edit("separate-parts", piece, parts))
    if not any(part.plays("adds") for part in parts):
        edit = _edit("replace-with-words", piece, parts, text="Words")
        yield Step("Words in its place" if single else "Words in their place", edit, "part new text")


def _of_plate(piece: Piece, part: Part) -> Iterator[Step]:
    if part.treatments.cornered is None and 1 <= _corners(part) <= _MOST_CORNERS:
        edit = _edit("treat-parts", piece, [part], treatment="cornered", values={"style": "rounded"})
        yield Step("Round its corners", edit, f"cornered {part.id} size")
    yield from _held_inside(piece, part)
    yield from _mirrored(piece, part)
    if isinstance(part.shape, Surround) and not any(isinstance(other.shape, (Hole, Eye)) for other in piece.made):
        yield _eye(piece)
    yield from _on(piece, [part])
    if _round(part):
        yield _along(piece, part)


def _held_inside(piece: Piece, part: Part) -> Iterator[Step]:
    """Tabs to the frame that it lies in and does not touch."""
    box = part_bounds(part)
    for frame in piece.made:
        if frame is part or not frame.plays("adds") or frame.made_of or part.id in piece.combined:
            continue
        if union([box, part_bounds(frame)]) == part_bounds(frame) and _apart([part, frame]):
            edit = _edit("tab-parts", piece, [part, frame])
            yield Step(f"Hold it with tabs in {frame.shape.label()[:40]}", edit, "part new count")
            return


def _mirrored(piece: Piece, part: Part) -> Iterator[Step]:
    """The same on the other side, of something small that lies to one side of the rest."""
    frame = frame_parts(piece, frozenset((part.id,)))
    if not frame or part.repeat or part.made_of:
        return
    box, all_else = part_bounds(part), union([part_bounds(other) for other in frame])
    if _area(box) > _SMALL * _area(all_else):
        return
    x, y = _off_middle(box, all_else)
    if abs(x) * 4 > box[2] - box[0]:
        yield Step("The same on the right and left", _edit("repeat-parts", piece, [part], kind="mirrored"))
    elif abs(y) * 2 > box[3] - box[1] and part.shape.goes == "middle":
        edit = _edit("repeat-parts", piece, [part], kind="mirrored", axis="down")
        yield Step("The same above and below", edit)


def _along(piece: Piece, part: Part) -> Step:
    """Words along the edge of a part: above, or below where there are some above."""
    there = any(part.id in other.made_of and isinstance(other.shape, Words) for other in piece.made)
    edit = {"do": "words-on-edge", "piece": piece.id, "part": part.id, "bottom" if there else "top": "Words"}
    return Step("Words along its lower edge" if there else "Words along its edge", edit, "part new text")


def _on(piece: Piece, onto: list[Part]) -> Iterator[Step]:
    """What is put on a plate, or on all there is."""
    plates = onto or [part for part in piece.made if part.plays("adds") and not part.locked]
    yield Step("Words on it", _added("words", piece, onto), "part new text")
    if not any(isinstance(part.shape, (Hole, Eye)) for part in piece.made):
        yield Step("A hole in it", _added("hole", piece, onto), "part new width")
    if plates and not any(isinstance(part.shape, Surround) and part.plays("scores") for part in piece.made):
        edit = _edit("surround-parts", piece, plates, role="scores")
        yield Step("A line inside its edge", edit, "part new distance")


def _of_words(piece: Piece, part: Part, words: Words) -> Iterator[Step]:
    followed = any(part.id in other.made_of for other in piece.made)
    if not words.joined and font_for(words.font).kind == "joined script":
        yield Step("Join its letters", _edit("set-letters", piece, [part], what="joined", to="on"))
    if not words.fit and not words.edge and part.plays("adds"):
        yield from _fits(piece, part)
    if not followed and not words.edge:
        edit = _edit("surround-parts", piece, [part], role="adds")
        yield Step("A plate round it", edit, "part new distance")
    if not words.fit and not words.edge and frame_parts(piece) in ((), (part,)):
        yield Step("Between two bars", _edit("bar-words", piece, [part]))
    if words.fit and not any(isinstance(other.shape, (Hole, Eye)) for other in piece.made):
        yield _eye(piece)
    if not words.edge and not words.fit and resolve(piece).outline.bodies:
        yield Step("Words below it", _added("words", piece, []), "part new text")
        if part.across is None and part.down is None:
            yield Step("Hold it where it is", _edit("hold-parts", piece, [part]))
    if (
        words.cap >= _SIGN
        and is_here()
        and not any(isinstance(other.shape, Braille) and other.shape.of == part.id for other in piece.made)
    ):
        yield Step("Braille beneath it", _edit("braille-beneath", piece, [part]))
    yield from _raised(piece, [part])


def _raised(piece: Piece, parts: list[Part]) -> Iterator[Step]:
    """Letters and pictograms of a sign that is read by touch, cut from another material."""
    plain = all(part.plays("engraves") and not isinstance(part.shape, (Braille, Picture)) for part in parts)
    if plain and any(isinstance(other.shape, Braille) for other in piece.made):
        it = "it" if len(parts) == 1 else "them"
        yield Step(f"Cut {it} raised, from other material", _edit("raise-parts", piece, parts))


def _fits(piece: Piece, part: Part) -> Iterator[Step]:
    """What words that add material can be fitted to: the opening round them, or the bars above and below."""
    box = placing_box(part)
    others = [other for other in piece.made if other is not part and other.plays("adds") and not other.made_of]
    for other in others:
        frame = part_bounds(other)
        if union([box, frame]) == frame and not isinstance(other.shape, Words) and not _lies_on(other, box):
            fit = _edit("set-letters", piece, [part], what="fit", to=other.id)
            yield Step(f"Fit it to {other.shape.label()}", fit)
            return
    above = [other for other in others if part_bounds(other)[3] <= box[1] + _THROUGH]
    below = [other for other in others if part_bounds(other)[1] >= box[3] - _THROUGH]
    if above and below:
        bars = [max(above, key=lambda one: part_bounds(one)[3]), min(below, key=lambda one: part_bounds(one)[1])]
        yield Step("Fit it between the bars", _edit("fit-between", piece, [part, *bars]))


def _lies_on(part: Part, box: Bounds) -> bool:
    """Whether the middle of a box lies on a part's material."""
    middle = shapely.Point((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
    return bool(combine(part_paths(part)).shape.covers(middle))


def _eye(piece: Piece) -> Step:
    return Step("An eye to hang it by", _added("eye", piece, []), "part new hole")


def _of_hole(piece: Piece, part: Part, hole: Hole) -> Iterator[Step]:
    if hole.keeps_margin or not resolve(piece).outline.bodies:
        return
    box, frame = part_bounds(part), resolve(piece).bounds
    x, y = _off_middle(box, frame)
    ways = [(-2 * x, 0.0), (0.0, -2 * y)]
    ways.sort(key=lambda way: -abs(way[0] / (frame[2] - frame[0]) + way[1] / (frame[3] - frame[1])))
    for dx, dy in ways:
        if max(abs(dx), abs(dy)) > _THROUGH and _is_material(piece, box, dx, dy):
            edit = _edit("duplicate-parts", piece, [part], dx=round(dx, 4), dy=round(dy, 4))
            yield Step("Another across from it", edit)
            break
    if not part.repeat and _corners_are_material(piece, box, frame):
        yield Step("One in each corner", _edit("corner-parts", piece, [part]))
    near = _nearest(box, frame)
    keep = {"do": "change", "of": f"part {part.id}", "values": {"near": near}}
    yield Step("Keep it from every edge", keep, f"part {part.id} margin")
    yield Step("One more beside it", _edit("duplicate-parts", piece, [part]))


def _of_mark(piece: Piece, part: Part) -> Iterator[Step]:
    """What engraves, scores, cuts or guides, and is neither words nor a hole."""
    yield from _raised(piece, [part])
    if isinstance(part.shape, Braille) and part.shape.made in ("holes", "dots"):
        edit = _edit("raise-parts", piece, [part], place="bare" if part.plays("guides") else "scored")
        yield Step("Cut its dots from another sheet", edit)
    if not part.made_of:
        yield Step("One more beside it", _edit("duplicate-parts", piece, [part]))
    if part.plays("engraves") and resolve(piece).outline.bodies:
        yield Step("Cut it out instead", _edit("set-role", piece, [part], role="cuts"))
    if part.plays("engraves", "scores"):
        edit = _edit("surround-parts", piece, [part], role="adds")
        yield Step("A plate round it", edit, "part new distance")
    if part.plays("engraves", "scores") and resolve(piece).outline.bodies:
        yield Step("Words beside it", _added("words", piece, []), "part new text")


def _of_picture(piece: Piece, part: Part, picture: Picture) -> Iterator[Step]:
    if picture.mask:
        yield Step("Without its mask", _edit("unmask-pictures", piece, [part]))
    elif resolve(piece).outline.bodies:
        yield Step("Only within the outline", _edit("mask-pictures", piece, [part]))
    yield Step("Trace it", _edit("trace-pictures", piece, [part]))
    yield Step("Even out its tones", _edit("even-tones", piece, [part]))
    turned = {"inverted": "no" if picture.inverted == "yes" else "yes"}
    yield Step("Dark for light", {"do": "change", "of": f"part {part.id}", "values": turned})
    if resolve(piece).outline.bodies:
        yield Step("Words below it", _added("words", piece, []), "part new text")
    else:
        edit = _edit("surround-parts", piece, [part], role="adds")
        yield Step("A plate round it", edit, "part new distance")


def _of_several(piece: Piece, parts: list[Part]) -> Iterator[Step]:
    yield from _raised(piece, parts)
    adding = all(part.plays("adds") for part in parts)
    others = [part for part in parts if not isinstance(part.shape, Picture)]
    if others and len(others) < len(parts):
        within = others[0].shape.label()[:40] if len(others) == 1 else "the others"
        yield Step(f"Show it only inside {within}", _edit("mask-pictures", piece, parts))
    plain = not any(part.id in piece.combined for part in parts)
    if len(parts) == 2 and adding and plain and _apart(parts):
        yield Step("Hold it with tabs", _edit("tab-parts", piece, parts), "part new count")
    if adding or all(part.plays("engraves", "scores") for part in parts):
        edit = _edit("surround-parts", piece, parts, role="adds")
        yield Step("A plate round them", edit, "part new distance")
    words = [part for part in parts if isinstance(part.shape, Words)]
    if len(words) == 1 and len(parts) == 3 and adding:
        yield Step("Fit the words between", _edit("fit-between", piece, parts))
    if adding and plain:
        yield Step("Weld them into one", _edit("combine-parts", piece, parts, how="weld"))
    yield from _centred(piece, parts)
    if len({part.group for part in parts}) > 1 or parts[0].group is None:
        yield Step("Keep them together", _edit("group-parts", piece, parts))


def _centred(piece: Piece, parts: list[Part]) -> Iterator[Step]:
    """The smaller of several put in the middle of the largest, where they are not there yet and can be."""
    largest = max(parts, key=lambda part: _area(part_bounds(part)))
    others = [part for part in parts if part is not largest]
    away = [_off_middle(middle_box(part), middle_box(largest)) for part in others]
    if (
        not largest.plays("adds")
        or any(part.made_of for part in others)
        or all(max(abs(x), abs(y)) < _THROUGH for x, y in away)
    ):
        return
    middles = {"across": "middle", "down": "middle"}
    yield Step(f"Centre on {largest.shape.label()}", _edit("align-parts", piece, others, to=largest.id, **middles))


def _edit(do: str, piece: Piece, parts: Sequence[Part], **more: Any) -> dict[str, Any]:
    return {"do": do, "piece": piece.id, "parts": [part.id for part in parts], **more}


def _added(kind: str, piece: Piece, onto: Sequence[Part]) -> dict[str, Any]:
    return {"do": "add-part", "piece": piece.id, "kind": kind, "onto": [part.id for part in onto]}


def _corners(part: Part) -> int:
    return len(corners_before(part.shape, part.treatments).index)


def _round(part: Part) -> bool:
    """Whether its outer edge is a circle, all arcs."""
    path = join(shape_paths(part.shape))
    return bool(len(path)) and bool((path.kinds == ARC).all())


def _apart(parts: list[Part]) -> bool:
    """Whether one of two lies inside the other, with room between."""
    one, other = sorted((part_bounds(part) for part in parts), key=lambda box: box[2] - box[0])
    inside = union([one, other]) == other
    return inside and (gap_between(*parts) or 0.0) > _THROUGH


def _area(box: Bounds) -> float:
    return (box[2] - box[0]) * (box[3] - box[1])


def _is_material(piece: Piece, box: Bounds, dx: float, dy: float) -> bool:
    """Whether a box, moved by so much, lies on material."""
    there = shapely.box(box[0] + dx, box[1] + dy, box[2] + dx, box[3] + dy)
    return bool(resolve(piece).outline.shape.covers(there))


def _corners_are_material(piece: Piece, box: Bounds, frame: Bounds) -> bool:
    """Whether a box has material under it in every corner of the frame, as far from both edges as it lies from one."""
    gap = min(box[0] - frame[0], box[1] - frame[1], frame[2] - box[2], frame[3] - box[3])
    wide, tall = box[2] - box[0], box[3] - box[1]
    xs, ys = (frame[0] + gap, frame[2] - gap - wide), (frame[1] + gap, frame[3] - gap - tall)
    if gap <= 0 or xs[1] < frame[0] + gap + wide or ys[1] < frame[1] + gap + tall:
        return False
    there = [(x, y) for x in xs for y in ys]
    outline = resolve(piece).outline.shape.union(shapely.box(*box))
    return all(outline.covers(shapely.box(x, y, x + wide, y + tall)) for x, y in there)


def _off_middle(box: Bounds, frame: Bounds) -> tuple[float, float]:
    return (box[0] + box[2] - frame[0] - frame[2]) / 2, (box[1] + box[3] - frame[1] - frame[3]) / 2


def _nearest(box: Bounds, frame: Bounds) -> str:
    """The side of the frame that a box lies nearest to."""
    away = {
        "left": box[0] - frame[0],
        "top": box[1] - frame[1],
        "right": frame[2] - box[2],
        "bottom": frame[3] - box[3],
    }
    return min(away, key=lambda side: away[side])
