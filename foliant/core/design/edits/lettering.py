"""Edits of words: what is done with them, rim texts, names between bars, stencil bridges, one piece a letter."""

import math
from typing import Any, Literal

from pydantic import Field

from foliant.core.design.edits.command import (
    Command,
    PartsCommand,
    changed,
    fields,
    moved,
    unlocked,
    with_design,
    with_parts,
    with_piece,
)
from foliant.core.design.edits.project import copied_piece, unused_name
from foliant.core.design.holds import Hold
from foliant.core.design.model import Design, Part, Piece
from foliant.core.design.names import Identifier
from foliant.core.design.placing import (
    frame_parts,
    inverse,
    own_bounds,
    part_bounds,
    part_matrix,
    part_paths,
    placing_box,
    shape_bounds,
    visual_centre,
)
from foliant.core.design.references import point_of
from foliant.core.design.settle import settled
from foliant.core.design.shapes import Words
from foliant.core.design.shapes.lettered import Bridged, Fitting, Joined, LetteringKey, OnEdge
from foliant.core.design.shapes.words import guide_of
from foliant.core.design.spacing import parted
from foliant.core.errors import Refused
from foliant.core.lettering import Style, check_words, set_lines, sideways
from foliant.core.paths import Path, combine
from foliant.core.quantities import Across, Down, build

_WIDE = "HILLMNAW hillmnuoor"  # letters whose feet reach far to both sides
_ON_EDGES = "zilla-slab"
_FILLED = 0.92  # of the width of two bars, by the words between them
_BAR = 3.0  # mm: no bar about words is put on less high
_SAYS: dict[LetteringKey, str] = {
    "edge": "set on an edge",
    "fit": "fit",
    "joined": "join the letters of",
    "stencil": "bridge the counters of",
}


class SetLetters(PartsCommand):
    """Begin or end something that is done with words: `what`, and `to` whom or how.

    edge     the part whose edge they run along, "circle" for a guide circle of their own, or ""
    fit      "box" for one of their own as large as they are, the part they fill, or "" to end it
    joined, stencil   "on", or ""; `width` is how wide stencil bridges are, mm
    feature  a feature of the font that is turned on, or off where it was on ("swsh", "swsh first", "-liga")
    """

    do: Literal["set-letters"]
    what: Literal["edge", "fit", "joined", "stencil", "feature"]
    to: str = Field("", max_length=40)
    width: float | None = None

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        words = [part for part in self.free(design) if isinstance(part.shape, Words)]
        if not words:
            raise Refused("Choose words first.")
        if (self.what, self.to) == ("edge", "circle"):
            return self._on_circles(design, piece, words)
        return with_piece(design, with_parts(piece, [self._set(piece, part) for part in words]))

    def _on_circles(self, design: Design, piece: Piece, words: list[Part]) -> Design:
        """Each of the words on a guide circle of its own: a third of it, with their middle where it was."""
        guides = []
        for number, part in enumerate(words, design.serial + 1):
            left, _top, right, bottom = own_bounds(part)
            diameter = round(max(right - left, 1.0) * 3 / math.pi, 1)
            place = {"x": (left + right) / 2, "y": round(bottom + diameter / 2, 4)}
            circle = {"kind": "circle", "diameter": diameter}
            guides.append(build(Part, {"id": f"a{number}", "roles": ("guides",), "shape": circle, **place}))
        piece = piece.model_copy(update={"parts": (*piece.parts, *guides)})
        along = [
            SetLetters(do="set-letters", piece=piece.id, parts=(part.id,), what="edge", to=guide.id)._set(piece, part)
            for part, guide in zip(words, guides, strict=True)
        ]
        near = [_with_gap(part, 0.0) for part in along]
        return with_piece(design, with_parts(piece, near), serial=design.serial + len(guides))

    def _set(self, piece: Piece, part: Part) -> Part:
        shape = _words(part)
        if self.what == "feature":
            return changed(part, shape=build(Words, {**fields(shape), "features": _turned(shape.features, self.to)}))
        followed = bool(shape.follows)
        new = shape.model_copy(update={self.what: self._setting(piece, part), "sources": ()})
        if self.what == "joined" and self.to and not frame_parts(piece):
            part = changed(part, roles=("adds",))  # letters are joined to hold together, and here is nothing else
        if new.follows:
            return _let_go(part, new)
        if followed:  # they are on a straight line again, where they were
            left, top, right, bottom = part_bounds(part)
            return changed(part, shape=new, x=round((left + right) / 2, 6), y=round((top + bottom) / 2, 6))
        return _in_place(part, changed(part, shape=new)) if self.what == "fit" else changed(part, shape=new)

    def _setting(self, piece: Piece, part: Part) -> OnEdge | Fitting | Joined | Bridged | None:
        shape = _words(part)
        if not self.to:
            return None
        match self.what:
            case "edge":
                check_edge(piece, part, self.to)
                kept = shape.edge or OnEdge(to=self.to, side="inside" if _fits_inside(piece, self.to) else "outside")
                return kept.model_copy(update={"to": self.to})
            case "fit" if self.to == "box":
                left, top, right, bottom = shape_bounds(shape)
                size = {"width": round(max(right - left, 0.1), 2), "height": round(max(bottom - top, 0.1), 2)}
                return Fitting(**size)
            case "fit":
                check_edge(piece, part, self.to)
                return Fitting(of=(self.to,), overlap=0.5, letters="each")
            case "joined":
                return shape.joined or Joined()
        bridged = shape.stencil or Bridged()
        return build(Bridged, {**fields(bridged), "width": self.width}) if self.width else bridged

    def says(self, design: Design) -> str:
        if self.what == "feature":
            return f"change the letters of {self.named(design)}"
        return f"{_SAYS[self.what] if self.to else 'stop: ' + _SAYS[self.what]} {self.named(design)}"


class WordsOnEdge(Command):
    """Words along the edge of a part: above, reading from the top, below, reading from underneath, or both.

    They are as tall as a tenth of the part, and lie inside its edge where there is room.
    """

    do: Literal["words-on-edge"]
    piece: Identifier
    part: Identifier
    top: str = ""
    bottom: str = ""

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        edge = piece.part(self.part)
        check_edge(piece, edge, self.part)
        left, upper, right, lower = part_bounds(edge)
        given = (("top", self.top, 0.0), ("bottom", self.bottom, 180.0))
        texts = [(reads, check_words(text), angle) for reads, text, angle in given if text.strip()]
        if not texts:
            raise Refused("Type the words that are to run along the edge.")
        tall = max(min(right - left, lower - upper) / 10, 2.0)
        fitting = _tallest(combine(part_paths(edge)).path, [text for _, text, _ in texts], tall)
        cap = max(int(min(tall, fitting) * 2) / 2, 1.0)
        side = "inside" if _fits_inside(piece, self.part) else "outside"
        added: list[Part] = []
        for number, (reads, text, angle) in enumerate(texts, design.serial + 1):
            gap = cap * (0.75 if reads == "bottom" else 0.5)  # below, tails reach toward the edge
            place = {"to": self.part, "gap": round(gap, 1), "side": side, "reads": reads, "angle": angle}
            words = build(Words, {"text": text, "font": _ON_EDGES, "cap_height": cap, "edge": build(OnEdge, place)})
            part = build(Part, {"id": f"a{number}", "roles": (Words.role,), "shape": words})
            added.append(self._parted(piece, part))
        grown = piece.model_copy(update={"parts": (*piece.parts, *added)})
        return with_piece(design, grown, serial=design.serial + len(added))

    def _parted(self, piece: Piece, part: Part) -> Part:
        """The words with a little tracking where letters would touch on the bend, these or others typed for them."""
        wide = part.model_copy(
            update={"shape": _words(part).model_copy(update={"text": f"{_words(part).text} {_WIDE}"})}
        )
        bent = settled(piece.model_copy(update={"parts": (*piece.parts, wide)})).part(part.id)
        tracking = parted(_words(bent)) or 0.0
        return changed(part, shape=_words(part).model_copy(update={"tracking": tracking}))

    def says(self, design: Design) -> str:
        return f"words on {design.piece(self.piece).part(self.part).shape.label()[:40]}"


class FitBetween(PartsCommand):
    """Words fitted between two bars: they stand on the lower one, and the upper one is held to them.

    The words are joined, reach into both bars by `overlap` mm, and fill the width that the bars share; the room that
    is between the bars now is how high they get. Where a text is too long for that, its width wins, it gets less
    high, and the upper bar comes down with it. Where the bars are to `stay`, every letter is stretched from one
    to the other instead, and follows both.
    """

    do: Literal["fit-between"]
    overlap: float = Field(0.5, ge=0, le=20)
    stay: bool = False

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        parts = self.free(design)
        words = [part for part in parts if isinstance(part.shape, Words)]
        bars = sorted((part for part in parts if part not in words), key=lambda part: sum(part_bounds(part)[1::2]))
        if len(words) != 1 or len(bars) != 2:
            raise Refused("Choose the words and the two bars that they are to stand between.")
        upper, lower = bars
        left = max(part_bounds(bar)[0] for bar in bars)
        right = min(part_bounds(bar)[2] for bar in bars)
        top, bottom = part_bounds(upper)[3], part_bounds(lower)[1]
        if right - left < 1 or bottom - top < 1:
            raise Refused("The bars must lie one above the other, with room between them.")
        shape = _words(words[0])
        if self.stay:
            between = Fitting(of=(upper.id, lower.id), overlap=self.overlap, letters="each")
            follows = shape.model_copy(update={"fit": between, "edge": None, "sources": ()})
            return with_piece(design, with_parts(piece, [_let_go(words[0], follows, roles=("adds",))]))
        size = {"width": round((right - left) * _FILLED, 2), "height": round(bottom - top, 2)}
        fit = Fitting(**size, overlap=self.overlap)
        joined = shape.joined or Joined(overlap=max(self.overlap, 0.1))
        fitted = shape.model_copy(update={"fit": fit, "joined": joined, "edge": None, "sources": ()})
        stands = changed(
            words[0],
            shape=fitted,
            roles=("adds",),
            rotation=0.0,
            flipped=False,
            x=round((left + right) / 2, 6),
            across=Hold(to=lower.id, anchor="middle"),
            down=Hold(to=lower.id, anchor="before"),
        )
        held = changed(upper, down=Hold(to=stands.id, anchor="before"))
        free = changed(lower, down=None if lower.down and lower.down.to in (upper.id, stands.id) else lower.down)
        return with_piece(design, with_parts(piece, [stands, held, free]))

    def says(self, design: Design) -> str:
        return "fit words between two bars"


class BarWords(PartsCommand):
    """Words put between two new bars, as wide as the words are, and fitted between them; see `FitBetween`."""

    do: Literal["bar-words"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        words = self.free(design)
        if len(words) != 1:
            raise Refused("Choose the words that are to stand between two bars.")
        left, top, right, bottom = part_bounds(changed(words[0], shape=_words(words[0]), rotation=0.0))
        tall = max(round(_words(words[0]).cap_height / 4, 1), _BAR)
        size = {"kind": "rectangle", "width": round((right - left) / _FILLED, 1), "height": tall}
        bars = [
            build(Part, {"id": f"a{number}", "roles": ("adds",), "shape": size, "x": (left + right) / 2, "y": y})
            for number, y in enumerate((top - tall / 2, bottom + tall / 2), design.serial + 1)
        ]
        grown = piece.model_copy(update={"parts": (*piece.parts, *bars)})
        both = with_piece(design, grown, serial=design.serial + 2)
        ids = (words[0].id, *(bar.id for bar in bars))
        return FitBetween(do="fit-between", piece=piece.id, parts=ids).apply(both)

    def says(self, design: Design) -> str:
        return f"two bars about {self.named(design)}"


class MoveBridge(Command):
    """Move the stencil bridges of a counter by (dx, dy) mm along it, or take them out (`out`), or put them back."""

    do: Literal["move-bridge"]
    piece: Identifier
    part: Identifier
    letter: int = Field(ge=0, le=2000)
    counter: int = Field(ge=0, le=100)
    dx: Across = 0.0
    dy: Down = 0.0
    out: bool = False

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        part = unlocked(piece.part(self.part))
        shape = part.shape
        if not isinstance(shape, Words) or shape.stencil is None:
            raise Refused("These words have no stencil bridges.")
        key = (self.letter, self.counter)
        moved = {(letter, counter): shift for letter, counter, shift in shape.stencil.moved}
        moved[key] = 0.0 if self.out else round(moved.get(key, 0.0) + self._along(part, shape), 3)
        removed = set(shape.stencil.removed) - {key} | ({key} if self.out else set())
        changes = {
            "moved": tuple((*at, shift) for at, shift in sorted(moved.items()) if shift),
            "removed": tuple(sorted(removed)),
        }
        stencil = build(Bridged, {**fields(shape.stencil), **changes})
        new = build(Words, {**fields(shape), "stencil": stencil})
        return with_piece(design, with_parts(piece, [changed(part, shape=new)]))

    def _along(self, part: Part, words: Words) -> float:
        """How far the shift goes the way that the bridges of the letter can, mm."""
        letters = words.setting().letters
        if words.stencil is None or self.letter >= len(letters):
            return 0.0
        a, b, c, d, _, _ = inverse(part_matrix(part))
        x, y = sideways(words.stencil.direction, letters[self.letter].turn)
        return x * (a * self.dx + c * self.dy) + y * (b * self.dx + d * self.dy)

    def says(self, design: Design) -> str:
        return "take out a stencil bridge" if self.out else "move a stencil bridge"


class SpellPieces(Command):
    """A word as a row of pieces, one letter each: the piece of the words for every letter, alike but for that letter.

    The piece itself takes the first letter. Spaces make no piece. Letters stand on one baseline, and across by their
    visual centres: an L looks off its middle otherwise.
    """

    do: Literal["spell-pieces"]
    piece: Identifier
    part: Identifier

    def apply(self, design: Design) -> Design:
        source = design.piece(self.piece)
        part = unlocked(source.part(self.part))
        if not isinstance(part.shape, Words):
            raise Refused("Choose the words that are to be spelt, one piece a letter.")
        letters = [letter for letter in part.shape.text if not letter.isspace()]
        if len(letters) < 2:
            raise Refused("One letter is on one piece already; type a word first.")
        single = _words(part)
        # All letters are as tall as the word was, whatever it was sized by.
        sized = single.model_copy(update={"sized_by": "capitals", "cap_height": round(single.cap, 6)})
        pieces, serial = [], design.serial
        taken = design
        for number, letter in enumerate(letters):
            shape = build(Words, {**fields(sized), "text": letter})
            copy, serial = (source, serial) if number == 0 else copied_piece(source, serial)
            at = source.parts.index(part)
            own = _by_eye(changed(copy.parts[at], shape=shape), point_of(placing_box(part), "middle")[0])
            named = f"{source.name} {letter}"
            name = unused_name(named, taken)
            copy = build(Piece, {**fields(with_parts(copy, [own])), "name": name})
            taken = taken.model_copy(update={"pieces": (*taken.pieces, copy)})
            pieces.append(copy)
        where = design.pieces.index(source)
        return with_design(design, pieces=(*design.pieces[:where], *pieces, *design.pieces[where + 1 :]), serial=serial)

    def says(self, design: Design) -> str:
        return "one piece a letter"


def _by_eye(part: Part, across: float) -> Part:
    """A letter placed across by its visual centre, down by its baseline: held so, or where the word's middle was."""
    if part.down:
        part = changed(part, down=part.down.by("capitals"))  # as each letter has another middle
    if part.across:
        return changed(part, across=part.across.by("visual"))
    return moved(part, across - visual_centre(part)[0], 0.0)


def _tallest(outline: Path, texts: list[str], tall: float) -> float:
    """The height of capitals, mm, at which all texts go round an edge together and leave gaps between them.

    `tall` is about how high they are, and so how far inside the edge they run.
    """
    guide = guide_of(outline, False)
    boxes = [set_lines(text, Style(_ON_EDGES, size=10.0)).bounds for text in texts]
    length = sum(box[2] - box[0] for box in boxes)
    round_it = (guide.length if guide else 0.0) - 2 * math.pi * tall * 1.5
    return 10.0 * 0.85 * round_it / max(length, 1e-6)


def check_edge(piece: Piece, part: Part, to: str) -> None:
    """Raise `Refused` unless `to` is a part with an edge that closes."""
    other = piece.part(to)
    if other.id == part.id and isinstance(part.shape, Words):
        raise Refused("Words cannot run along themselves.")
    if guide_of(combine(part_paths(other)).path, False) is None:
        raise Refused(f"{other.shape.label()[:40]} has no edge that closes, so nothing can run along it.")


def _fits_inside(piece: Piece, to: str) -> bool:
    """Whether words are rather wanted inside the edge of a part: what is a guide is run along outside."""
    return not piece.part(to).plays("guides")


def _let_go(part: Part, shape: Words, **values: Any) -> Part:
    """The part with words that follow other parts: they lie where those put them."""
    return changed(part, shape=shape, x=0.0, y=0.0, rotation=0.0, flipped=False, across=None, down=None, **values)


def _with_gap(part: Part, gap: float) -> Part:
    shape = _words(part)
    edge = shape.edge and shape.edge.model_copy(update={"gap": gap})
    return changed(part, shape=shape.model_copy(update={"edge": edge}))


def _in_place(before: Part, after: Part) -> Part:
    """The part with the middle of its ink where it was: what is fitted is placed by another box."""
    old, new = (point_of(own_bounds(part), "middle") for part in (before, after))
    return moved(after, old[0] - new[0], old[1] - new[1])


def _words(part: Part) -> Words:
    assert isinstance(part.shape, Words)
    return part.shape


def _turned(features: tuple[str, ...], feature: str) -> tuple[str, ...]:
    """The features with one of them turned round; the same feature elsewhere in the word gives way to it."""
    if feature in features:
        return tuple(found for found in features if found != feature)
    tag = feature.partition(" ")[0]
    return (*(found for found in features if found.partition(" ")[0] != tag), feature)
