"""Adding a part to a piece: where it lands, and what it takes over from the last of its kind."""

from collections.abc import Iterator
from contextlib import suppress
from typing import Any, Literal

from pydantic import Field

from foliant.core.design.edits.command import Command, Values, changed, last_of, with_parts, with_piece
from foliant.core.design.edits.holding import HoldParts
from foliant.core.design.edits.landing import after, edge_for, landing, lies_free, lies_on_material, under_words
from foliant.core.design.edits.room import check_room
from foliant.core.design.holds import PIECE, Hold
from foliant.core.design.model import Design, Part, Piece, Role
from foliant.core.design.names import Identifier
from foliant.core.design.placing import frame_parts, whole_box
from foliant.core.design.references import Bounds, Point, union
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes import SHAPES, Composite, Drawn, Outline, Picture, Words
from foliant.core.design.shapes.shape import Shape
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.quantities import Across, Down, Rotation, build

_A_BAR = 10.0  # mm: what is narrower than this is no plate
_LONG = 40.0  # mm: a bar that has ends is at least so long
_FINE = 5.0
"""Smaller capitals than that, mm, are sized to a tenth."""
_FOR_A_LINE = 3
"""So many sizes are tried to have a line under another, before it goes elsewhere."""
_OF_ITS_PLATE = 0.84
_SIZES = {"cap_height", "width", "height", "points", "stretch"}

KINDS = {str(shape.model_fields["kind"].default): shape for shape in SHAPES}


class AddPart(Command):
    """Put a shape on a piece, its origin at (x, y) or where it is most likely wanted: on what it is put `onto`, else on
    the piece.

    A drawn shape brings its contours in `contours`, in the piece's own coordinates, or about (x, y). With `held` it
    stays where it lands, whatever becomes of the piece; what goes to an edge is held there in any case.
    """

    do: Literal["add-part"]
    piece: Identifier
    kind: str
    role: Role | None = None
    x: Across | None = None
    y: Down | None = None
    rotation: Rotation = 0.0
    onto: tuple[Identifier, ...] = Field(default=(), max_length=2000)
    held: bool = False
    values: Values = Field(default_factory=dict)
    contours: list[Any] = Field(default_factory=list, max_length=500)

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        if self.kind not in KINDS:
            raise Refused(f"There is no “{self.kind[:40]}” on the shelf; it holds {', '.join(KINDS)}.")
        if issubclass(KINDS[self.kind], Composite):
            raise Refused(f"{KINDS[self.kind].title} is made from other parts: choose them first.")
        if issubclass(KINDS[self.kind], Outline):
            raise Refused("An outline comes from a drawing or a picture: bring one in, or trace one.")
        part = self._drawn(design) if self.kind == "drawn" else self._placed(piece, design)
        check_room(piece, part, design.unit)
        there = bool(frame_parts(piece))
        design = with_piece(design, piece.model_copy(update={"parts": (*piece.parts, part)}), serial=design.serial + 1)
        if not (self.held and there) or part.across or part.down or part.shape.keeps_margin:
            return design
        return HoldParts(do="hold-parts", piece=piece.id, parts=(part.id,)).apply(design)

    def _drawn(self, design: Design) -> Part:
        shape = build(Drawn, {"contours": self.contours})
        left, top, right, bottom = join(shape.paths()).bounds
        x, y = (left + right) / 2, (top + bottom) / 2
        contours = tuple(contour.moved(-x, -y) for contour in shape.contours)
        role = self.role or ("scores" if shape.is_open else "adds")
        at = {"x": x if self.x is None else self.x, "y": y if self.y is None else self.y}
        data = {"id": f"a{design.serial + 1}", "roles": (role,), **at}
        return build(Part, {**data, "shape": Drawn(contours=contours)})

    def _placed(self, piece: Piece, design: Design) -> Part:
        kind = KINDS[self.kind]
        shape, (onto, to) = self._shaped(kind, design), self._onto(piece)
        role, given = self.role or kind.role, self.x is not None or self.y is not None
        data: Values = {"id": f"a{design.serial + 1}", "rotation": self.rotation, "proportional": kind.proportioned}
        if onto is None:
            own = join(shape.paths()).bounds
            x, y = -own[0], -own[1]
            if not given:  # what a piece begins with grows right and down, so that the piece keeps its corner
                data["reference"] = "top-left"
        else:
            shape, role, (x, y) = self._landed(piece, shape, role, onto, given)
        if onto and kind.goes != "middle" and not (given or shape.keeps_margin) and frame_parts(piece):
            data |= _held(piece, shape, onto, to)
        place = {"x": x if self.x is None else self.x, "y": y if self.y is None else self.y}
        return build(Part, {**data, **place, "roles": (role,), "shape": shape})

    def _landed(self, piece: Piece, shape: Shape, role: Any, onto: Bounds, given: bool) -> tuple[Shape, Any, Point]:
        """Its size, its role and its place.

        Pictures and words without a size of their own are as large as suits their plate, smaller where that leaves no
        room beside what is there. In the open middle of a frame they add material. What adds goes to the end of a bar.
        Where there is none yet, they follow each other: lines of words below, all else to the right.
        """
        centre = (onto[0] + onto[2]) / 2, (onto[1] + onto[3]) / 2
        plated, typed = bool(frame_parts(piece)), bool(_SIZES & set(self.values))
        if plated and not typed:
            shape = _words_that_fit(shape, onto) if isinstance(shape, Words) else _picture_that_fits(shape, onto)
        if given:
            return shape, role, centre
        if role == "adds" and (end := _end_of_bar(onto)):
            return shape, role, end
        if type(shape).role != "engraves":
            return shape, role, landing(piece, join(shape.paths()).bounds, onto, role) or centre
        if not plated:
            return shape, role, after(join(shape.paths()).bounds, onto, isinstance(shape, Words))
        if self.role is None and not lies_on_material(piece, centre):
            return shape, "adds", centre
        sizes = [shape, *([] if typed else _smaller(shape))]
        for smaller in sizes[:_FOR_A_LINE] if isinstance(shape, Words) else ():
            if at := under_words(piece, join(smaller.paths()).bounds, onto):
                return smaller, role, at
        for smaller in sizes:
            if at := landing(piece, join(smaller.paths()).bounds, onto, role):
                return smaller, role, at
        return shape, role, centre

    def _shaped(self, kind: type[Shape], design: Design) -> Shape:
        """As it comes, with what the last of its kind had, and with what was typed."""
        plain = build(kind, last_of(design, kind))
        size = {name: raw for name, raw in self.values.items() if name in ("width", "height")}
        if not kind.proportioned or len(size) != 1:
            return plain.typed(self.values, design.unit)
        # One size is typed: the other is in proportion.
        rest = {name: raw for name, raw in self.values.items() if name not in size}
        return plain.typed(rest, design.unit).in_proportion(size, design.unit) or plain

    def _onto(self, piece: Piece) -> tuple[Bounds | None, str]:
        """The box of what it is meant for, and what is held to: the chosen parts that add material, unless they are a
        mere bar, else all there is.
        """
        if not piece.parts:
            return None, PIECE
        chosen = [part for part in piece.made if part.id in self.onto and part.plays("adds")]
        left, top, right, bottom = union([whole_box(part) for part in chosen]) if chosen else (0.0, 0.0, 0.0, 0.0)
        if min(right - left, bottom - top) < _A_BAR:
            return resolve(piece).bounds, PIECE
        return (left, top, right, bottom), chosen[0].id if len(chosen) == 1 else PIECE

    def says(self, design: Design) -> str:
        return f"put on {KINDS[self.kind].title.lower()}"


def with_suiting_words(design: Design, piece_id: str, before: Part) -> Design:
    """The design once words say something else: where nobody has sized them, they are as large as suits that."""
    piece, old = design.piece(piece_id), before.shape
    part = piece.part(before.id)
    words = part.shape
    if not (isinstance(old, Words) and isinstance(words, Words)) or not _stands_plain(part, words):
        return design
    rest = _without(piece, part)
    onto = next((box for box in _plates(rest, part) if _came_with(old, box)), None)
    if onto is None:
        return design
    fitting = _words_that_fit(words, onto)
    for smaller in (fitting, *_smaller(fitting)):
        if lies_free(rest, join(smaller.paths()).bounds, onto, (part.x, part.y)):
            return with_piece(design, with_parts(piece, [changed(part, shape=smaller)]))
    return design


def room_for_words(piece: Piece, part: Part) -> float | None:
    """How wide (mm) words can be where they stand, with a margin to what they are engraved on; None where they follow
    something, or there is none.
    """
    words = part.shape
    if not isinstance(words, Words) or not _stands_plain(part, words):
        return None
    rest = _without(piece, part)
    _, top, _, bottom = words.box()
    for onto in _plates(rest, part):
        wide = 2 * min(part.x - onto[0], onto[2] - part.x)
        for share in (0.92, 0.85, 0.75, 0.65, 0.5):
            half = share * wide / 2
            if lies_free(rest, (-half, top, half, bottom), onto, (part.x, part.y)):
                return round(2 * half, 1)
    return None


def _without(piece: Piece, part: Part) -> Piece:
    """The piece without a part and what goes round it, such as a surround."""
    left = (other for other in piece.parts if other.id != part.id and part.id not in other.made_of)
    return piece.model_copy(update={"parts": tuple(left)})


def _stands_plain(part: Part, words: Words) -> bool:
    """Whether words are engraved as they are put on, neither turned nor made to follow anything."""
    turned = part.rotation or part.flipped or part.repeat or words.fit or words.edge
    return not turned and part.plays("engraves") and words.sized_by == "capitals"


def _plates(piece: Piece, words: Part) -> Iterator[Bounds]:
    """What words may have been put on: the parts that add material about their middle, and all of it."""
    boxes = [whole_box(part) for part in piece.made if part.plays("adds")]
    yield from (box for box in boxes if box[0] < words.x < box[2] and box[1] < words.y < box[3])
    if frame_parts(piece):
        yield resolve(piece).bounds


def _came_with(words: Words, onto: Bounds) -> bool:
    """Whether words have the size that they come with on a plate."""
    usual = _words_that_fit(words, onto)
    sizes = (size.cap_height for size in (usual, *_smaller(usual)) if isinstance(size, Words))
    return any(abs(words.cap_height - size) < 1e-4 for size in sizes)


def _held(piece: Piece, shape: Shape, onto: Bounds, to: str) -> Values:
    """The holds that keep something at an edge, whatever becomes of it and of the piece."""
    found = edge_for(piece, shape, onto)
    if found is None:
        return {}
    side, anchor, gap = found
    near, middle = build(Hold, {"to": to, "anchor": anchor, "gap": gap}), Hold(to=to)
    return {"across": near, "down": middle} if side in ("left", "right") else {"across": middle, "down": near}


def _end_of_bar(box: Bounds) -> Point | None:
    """The upper or left end of a box that is a mere bar."""
    left, top, right, bottom = box
    if min(right - left, bottom - top) >= _A_BAR or max(right - left, bottom - top) < _LONG:
        return None
    return ((left + right) / 2, top) if bottom - top > right - left else (left, (top + bottom) / 2)


def _smaller(shape: Shape) -> Iterator[Shape]:
    """The sizes that are tried where there is little room."""
    for share in (0.75, 0.55, 0.4, 0.3):
        with suppress(Refused):  # it may be as small as can be
            yield shape.resized(share, share)


def _picture_that_fits(shape: Shape, onto: Bounds) -> Shape:
    """A picture as large as leaves an edge of its plate; anything else as it is."""
    if not isinstance(shape, Picture):
        return shape
    wide, tall = onto[2] - onto[0], onto[3] - onto[1]
    share = _OF_ITS_PLATE * min(wide / shape.width, tall / shape.height)
    return shape.resized(share, share)


def _words_that_fit(words: Words, onto: Bounds) -> Words:
    """The words a quarter as tall as their plate, a letter or two taller, or smaller so that they stay well within its
    width.
    """
    wide, tall = onto[2] - onto[0], onto[3] - onto[1]
    left, _, right, _ = join(words.paths()).bounds
    by_width = words.cap_height * wide / (right - left) if right > left else words.cap_height
    cap = min(max(min(wide, tall) / 4, min(0.45 * min(wide, tall), 0.3 * by_width)), 0.7 * by_width)
    step = 0.5 if cap >= _FINE else 0.1
    return words.model_copy(update={"cap_height": min(max(round(int(cap / step + 1e-9) * step, 1), 1.0), 200.0)})
