"""Resolving: from the parts of a piece to its outline and its marks."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from foliant.core.design.model import Piece
from foliant.core.design.placing import Form, placed, placements
from foliant.core.paths import Affine, Path, Region, combine, join
from foliant.core.paths.nesting import chosen_contours
from foliant.core.remembering import remembered

_Placed = tuple[str, Form, tuple[Affine, ...]]


@dataclass(frozen=True, eq=False)
class ResolvedPiece:
    """What a piece comes to, in its own coordinates (mm). Each is worked out when it is first asked for."""

    parts: tuple[_Placed, ...]

    @cached_property
    def outline(self) -> Region:
        """The union of what adds minus what cuts away, and with what nothing cuts away."""
        return _outline(self._of("adds", "cuts"))

    @cached_property
    def engraved(self) -> Region:
        """The area to fill, parts welded together."""
        return _engraved(self._of("engraves"))

    @cached_property
    def strokes(self) -> Path:
        """The open lines of what engraves, followed once where an area would be filled."""
        return join(
            chosen_contours(path, ~path.closed) for path in _paths(self._of("engraves")) if not path.closed.all()
        )

    @cached_property
    def scored(self) -> Path:
        """The lines to score, each part welded in itself, open lines as they are."""
        return join(_lines(shape, matrices) for _, shape, matrices in self._of("scores"))

    @cached_property
    def guides(self) -> Path:
        """Lines that no machine sees."""
        return join(_paths(self._of("guides")))

    def _of(self, *roles: str) -> tuple[_Placed, ...]:
        return tuple(part for part in self.parts if part[0] in roles)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of the outline, or of the marks where there is no outline."""
        if len(self.outline.path):
            return self.outline.path.bounds
        return join([self.engraved.path, self.strokes, self.scored]).bounds


def resolve(piece: Piece) -> ResolvedPiece:
    """A piece's outline and marks. Kept by content: only what an edit touched is computed again."""
    return _resolve(tuple((part.role, part.form, placements(part)) for part in piece.made))


@remembered(maxsize=512)
def _resolve(parts: tuple[_Placed, ...]) -> ResolvedPiece:
    return ResolvedPiece(parts)


@remembered(maxsize=512)
def _outline(parts: tuple[_Placed, ...]) -> Region:
    adds = [part for part in parts if part[0] == "adds"]
    return combine(
        _paths(part for part in adds if not part[1].keeps),
        _paths(part for part in parts if part[0] == "cuts"),
        _paths(part for part in adds if part[1].keeps),
    )


@remembered(maxsize=512)
def _engraved(parts: tuple[_Placed, ...]) -> Region:
    return combine(_paths(parts))


@remembered(maxsize=2048)
def _lines(shape: Form, matrices: tuple[Affine, ...]) -> Path:
    """What scoring a shape draws: its areas welded, and its open lines."""
    paths = [path for matrix in matrices for path in placed(shape, matrix)]
    return join([combine(paths).path, *(chosen_contours(path, ~path.closed) for path in paths)])


def _paths(parts: Iterable[_Placed]) -> list[Path]:
    return [path for _, shape, matrices in parts for matrix in matrices for path in placed(shape, matrix)]
