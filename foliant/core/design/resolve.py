"""Resolving: from the parts of a piece to its outline and its marks.

Whatever a design holds, it can be shown: where an outline or a mark cannot be worked out, the piece is drawn from its
parts as they are, and says what the trouble is.
"""

import logging
from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

from foliant.core.design.budget import too_much
from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import Form, part_bounds, placed, placements, welded
from foliant.core.errors import Refused
from foliant.core.paths import EMPTY, NOTHING, Affine, Path, Region, combine, intersect, join
from foliant.core.paths.nesting import chosen_contours
from foliant.core.paths.shapes import rectangle
from foliant.core.remembering import remembered
from foliant.core.seeing import Look, Pictured, frames

_Lying = tuple[Form, tuple[Affine, ...]]
_Placed = tuple[tuple[str, ...], Form, tuple[Affine, ...]]
Answer = TypeVar("Answer")

logger = logging.getLogger("foliant.resolve")


@dataclass(frozen=True, eq=False)
class ResolvedPiece:
    """What a piece comes to, in its own coordinates (mm). Each is worked out when it is first asked for.

    parts  the roles, form and places of every part that is made, in their order
    lost   what kept parts from being placed at all; empty where nothing did
    """

    parts: tuple[_Placed, ...]
    lost: str

    @property
    def outline(self) -> Region:
        """The union of what adds minus what cuts away, and with what nothing cuts away."""
        return self._found_outline[0]

    @property
    def engraved(self) -> Region:
        """The area to fill, parts welded together."""
        return self._found_engraved[0]

    @property
    def strokes(self) -> Path:
        """The open lines of what engraves, followed once where an area would be filled."""
        return self._found_strokes[0]

    @property
    def slits(self) -> Path:
        """The open lines of what cuts, cut through where they run."""
        return self._found_slits[0]

    @property
    def scored(self) -> Path:
        """The lines to score, each part welded in itself, open lines as they are."""
        return self._found_scored[0]

    @cached_property
    def pictures(self) -> tuple[tuple[int, Pictured], ...]:
        """The pictures to burn, each with the index of its part."""
        return self._found_pictures[0]

    @cached_property
    def guiding(self) -> tuple[tuple[int, Pictured], ...]:
        """The pictures that are only guides, likewise: they are seen while it is drawn and never burnt."""
        return self._pictures("guides")[0]

    @cached_property
    def guides(self) -> Path:
        """Lines that no machine sees."""
        return self._as_they_are("guides")

    @cached_property
    def trouble(self) -> str:
        """Why the piece cannot be worked out, as a sentence; empty where it can, as nearly always."""
        faces = (self._found_engraved[1], self._found_pictures[1], self._found_strokes[1])
        says = (self.lost, self._found_outline[1], *faces, self._found_slits[1], self._found_scored[1])
        return next(filter(None, says), "")

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of the outline, or of the marks where there is no outline."""
        if len(self.outline.path):
            return self.outline.path.bounds
        pictured = frames(tuple(one for _, one in self.pictures))
        return join([self.engraved.path, pictured, self.strokes, self.slits, self.scored]).bounds

    @cached_property
    def _found_outline(self) -> tuple[Region, str]:
        if self.lost:
            return self._bare_outline(), ""
        return _tried(lambda: _outline(self._of("adds"), self._of("cuts")), self._bare_outline)

    @cached_property
    def _found_engraved(self) -> tuple[Region, str]:
        return _tried(lambda: _engraved(self._of("engraves")), lambda: NOTHING)

    @cached_property
    def _found_strokes(self) -> tuple[Path, str]:
        return _tried(lambda: _open_lines(self._of("engraves")), lambda: EMPTY)

    @cached_property
    def _found_pictures(self) -> tuple[tuple[tuple[int, Pictured], ...], str]:
        return self._pictures("engraves")

    def _pictures(self, role: str) -> tuple[tuple[tuple[int, Pictured], ...], str]:
        parts = [(index, form, maps) for index, (roles, form, maps) in enumerate(self.parts) if role in roles]
        looks = [(index, form, form.look, maps) for index, form, maps in parts if form.look]

        def lying() -> tuple[tuple[int, Pictured], ...]:
            every = ((index, _pictured(form, look, at)) for index, form, look, maps in looks for at in maps)
            return tuple(one for one in every if len(one[1].region.path))

        return _tried(lying, lambda: ())

    @cached_property
    def _found_slits(self) -> tuple[Path, str]:
        return _tried(lambda: _open_lines(self._of("cuts")), lambda: EMPTY)

    @cached_property
    def _found_scored(self) -> tuple[Path, str]:
        return _tried(
            lambda: join(_lines(shape, matrices) for shape, matrices in self._of("scores")),
            lambda: self._as_they_are("scores"),
        )

    def engraved_of(self, parts: Collection[int]) -> tuple[Region, Path]:
        """The area to fill, and the open lines to follow, of some of the parts that engrave."""
        chosen = self._of("engraves", parts)
        return (
            _tried(lambda: _engraved(chosen), lambda: NOTHING)[0],
            _tried(lambda: _open_lines(chosen), lambda: EMPTY)[0],
        )

    def slits_of(self, parts: Collection[int]) -> Path:
        """The slits of some of the parts that cut."""
        chosen = self._of("cuts", parts)
        return _tried(lambda: _open_lines(chosen), lambda: EMPTY)[0]

    def scored_of(self, parts: Collection[int]) -> Path:
        """The lines to score of some of the parts that score."""
        lying = self._of("scores", parts)
        return _tried(lambda: join(_lines(*each) for each in lying), lambda: join(map(_bare, lying)))[0]

    def edges_of(self, part: int) -> Path:
        """The outlines of one part, and of its copies, as they are."""
        return _bare(self.parts[part][1:])

    def _of(self, role: str, parts: Collection[int] | None = None) -> tuple[_Lying, ...]:
        """What plays a role as areas and lines: pictures are engraved in a way of their own."""
        numbered = enumerate(self.parts)
        playing = (part[1:] for i, part in numbered if role in part[0] and (parts is None or i in parts))
        return tuple(lying for lying in playing if role != "engraves" or not lying[0].look)

    def _bare_outline(self) -> Region:
        """The edges of what adds, side by side; they bound nothing that could be cut."""
        return Region(self._as_they_are("adds"), NOTHING.shape)

    def _as_they_are(self, role: str) -> Path:
        return join(map(_bare, self._of(role)))


@remembered
def resolve(piece: Piece) -> ResolvedPiece:
    """A piece's outline and marks. Kept by content: only what an edit touched is computed again."""
    if piece.unread:
        return _resolve((), "It was made by another version of Foliant and cannot be read by this one.")
    if says := too_much(piece):
        return _resolve((), says)
    found: list[_Placed] = []
    lost = ""
    for part in piece.made:
        maps, trouble = _maps(part)
        found.append((part.roles, part.form, maps))
        lost = lost or (trouble and f"{part.shape.label()[:40]}: {trouble}")
    return _resolve(tuple(found), lost)


def _tried(compute: Callable[[], Answer], instead: Callable[[], Answer]) -> tuple[Answer, str]:
    """What `compute` gives and no trouble; or what stands in for it, and why."""
    try:
        return compute(), ""
    except Refused as refusal:
        return instead(), str(refusal)
    except Exception:  # whatever is stored can be shown
        logger.exception("A piece cannot be resolved")
        return instead(), "Its outlines lie over each other in a way that cannot be worked out."


def _bare(part: _Lying) -> Path:
    """The outlines of a part as they are, if they can be had."""
    return _tried(lambda: join(_paths([part])), lambda: EMPTY)[0]


def _maps(part: Part) -> tuple[tuple[Affine, ...], str]:
    """Where a part and its copies lie, and why it cannot be said."""

    def measured() -> tuple[Affine, ...]:
        part_bounds(part)
        return placements(part)

    return _tried(measured, lambda: ())


@remembered
def _resolve(parts: tuple[_Placed, ...], lost: str) -> ResolvedPiece:
    return ResolvedPiece(parts, lost)


@remembered
def _outline(adds: tuple[_Lying, ...], cuts: tuple[_Lying, ...]) -> Region:
    return combine(
        _paths(part for part in adds if not part[0].keeps),
        _paths(cuts),
        _paths(part for part in adds if part[0].keeps),
    )


def _engraved(parts: tuple[_Lying, ...]) -> Region:
    return welded(*parts[0]) if len(parts) == 1 else _together(parts)


@remembered
def _pictured(form: Form, look: Look, matrix: Affine) -> Pictured:
    """A picture at one of its places; whatever is done to its outline, no more is seen than there is."""
    whole = rectangle(look.width, look.height).transformed(matrix)
    return Pictured(look, matrix, intersect([placed(form, matrix), [whole]]))


@remembered
def _together(parts: tuple[_Lying, ...]) -> Region:
    return combine(_paths(parts))


@remembered
def _open_lines(parts: tuple[_Lying, ...]) -> Path:
    return join(chosen_contours(path, ~path.closed) for path in _paths(parts) if not path.closed.all())


@remembered
def _lines(shape: Form, matrices: tuple[Affine, ...]) -> Path:
    """What scoring a shape draws: its areas welded, and its open lines."""
    paths = [path for matrix in matrices for path in placed(shape, matrix)]
    return join([welded(shape, matrices).path, *(chosen_contours(path, ~path.closed) for path in paths)])


def _paths(parts: Iterable[_Lying]) -> list[Path]:
    return [path for shape, matrices in parts for matrix in matrices for path in placed(shape, matrix)]
