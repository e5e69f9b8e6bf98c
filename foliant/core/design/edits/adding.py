"""Adding a part to a piece: where it lands, and what it takes over from the last of its kind."""

from typing import Any, Literal

from pydantic import Field

from foliant.core.design.edits.command import Command, Values, last_of, with_piece
from foliant.core.design.edits.landing import edge_landing, landing
from foliant.core.design.edits.room import check_room
from foliant.core.design.holds import PIECE, Hold
from foliant.core.design.model import Design, Part, Piece, Role
from foliant.core.design.names import Identifier
from foliant.core.design.placing import frame_parts, whole_box
from foliant.core.design.references import Bounds, union
from foliant.core.design.resolve import resolve
from foliant.core.design.shapes import SHAPES, Composite, Drawn, Hole, Words
from foliant.core.design.shapes.shape import Shape
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.quantities import Across, Down, Rotation, build

KINDS = {str(shape.model_fields["kind"].default): shape for shape in SHAPES}


class AddPart(Command):
    """Put a shape on a piece, its origin at (x, y) or where it is most likely wanted: on what it is put `onto`, else on
    the piece.

    A drawn shape brings its contours in `shape`, in the piece's own coordinates.
    """

    do: Literal["add-part"]
    piece: Identifier
    kind: str
    role: Role | None = None
    x: Across | None = None
    y: Down | None = None
    rotation: Rotation = 0.0
    onto: tuple[Identifier, ...] = Field(default=(), max_length=2000)
    values: Values = Field(default_factory=dict)
    contours: list[Any] = Field(default_factory=list, max_length=500)

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        if self.kind not in KINDS:
            raise Refused(f"There is no “{self.kind[:40]}” on the shelf; it holds {', '.join(KINDS)}.")
        if issubclass(KINDS[self.kind], Composite):
            raise Refused(f"{KINDS[self.kind].title} is made from other parts: choose them first.")
        part = self._drawn(design) if self.kind == "drawn" else self._placed(piece, design)
        check_room(piece, part, design.unit)
        return with_piece(design, piece.model_copy(update={"parts": (*piece.parts, part)}), serial=design.serial + 1)

    def _drawn(self, design: Design) -> Part:
        shape = build(Drawn, {"contours": self.contours})
        left, top, right, bottom = join(shape.paths()).bounds
        x, y = (left + right) / 2, (top + bottom) / 2
        contours = tuple(contour.moved(-x, -y) for contour in shape.contours)
        role = self.role or ("scores" if shape.is_open else "adds")
        data = {"id": f"a{design.serial + 1}", "roles": (role,), "x": x, "y": y}
        return build(Part, {**data, "shape": Drawn(contours=contours)})

    def _placed(self, piece: Piece, design: Design) -> Part:
        kind = KINDS[self.kind]
        shape = self._shaped(kind, design)
        onto = self._onto(piece)
        if isinstance(shape, Words) and onto and not {"cap_height", "width", "height", "points"} & set(self.values):
            shape = _words_that_fit(shape, onto)
        role: Any = self.role or kind.role
        data: Values = {"id": f"a{design.serial + 1}", "roles": (role,), "shape": shape, "rotation": self.rotation}
        data["proportional"] = kind.proportioned
        own = join(shape.paths()).bounds
        if onto is None and self.x is None and self.y is None:
            # What a piece begins with grows right and down, so that the piece keeps its corner.
            data["reference"] = "top-left"
        elif onto and kind is Hole and self.x is None and self.y is None:
            data |= self._near_an_edge(piece, own, onto)
        x, y = landing(piece, own, onto, role) if onto else (-own[0], -own[1])
        return build(Part, {**data, "x": x if self.x is None else self.x, "y": y if self.y is None else self.y})

    def _near_an_edge(self, piece: Piece, own: Bounds, onto: Bounds) -> Values:
        """The holds that keep a hole near an edge, whatever becomes of it and of the piece."""
        found = edge_landing(piece, own, onto)
        plates = [part.id for part in self._chosen(piece)]
        to = plates[0] if len(plates) == 1 else PIECE
        if found is None or not frame_parts(piece):
            return {}
        side, gap = found
        near = Hold(to=to, anchor="near" if side in ("left", "top") else "far", gap=round(gap, 4))
        middle = Hold(to=to, anchor="middle")
        return {"across": near, "down": middle} if side in ("left", "right") else {"across": middle, "down": near}

    def _shaped(self, kind: type[Shape], design: Design) -> Shape:
        """As it comes, with what the last of its kind had, and with what was typed."""
        plain = build(kind, last_of(design, kind))
        kept = plain.in_proportion(self.values, design.unit) if kind.proportioned else None
        return kept or plain.typed(self.values, design.unit)

    def _onto(self, piece: Piece) -> Bounds | None:
        """The box of what it is meant for: the chosen parts that add material, else all there is."""
        if not piece.parts:
            return None
        chosen = self._chosen(piece)
        return union([whole_box(part) for part in chosen]) if chosen else resolve(piece).bounds

    def _chosen(self, piece: Piece) -> list[Part]:
        return [part for part in piece.made if part.id in self.onto and part.plays("adds")]

    def says(self, design: Design) -> str:
        return f"put on {KINDS[self.kind].title.lower()}"


def _words_that_fit(words: Words, bounds: Bounds) -> Words:
    """The words at their own size, or smaller so that they stay within four fifths of the piece."""
    left, _, right, _ = join(words.paths()).bounds
    room = (bounds[2] - bounds[0]) * 0.8
    if right - left <= room:
        return words
    fitting = int(words.cap_height * room / (right - left) * 2) / 2
    return words.model_copy(update={"cap_height": max(fitting, 1.0)})
