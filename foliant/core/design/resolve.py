"""Resolving: from the parts of a piece to its outline and its marks.

Whatever a design holds, it can be shown: where an outline or a mark cannot be worked out, the piece is drawn from its
parts as they are, and says what the trouble is.
"""

import logging
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

from foliant.core.design.budget import too_much
from foliant.core.design.model import Part, Piece
from foliant.core.design.placing import Form, part_bounds, placed, placements
from foliant.core.errors import Refused
from foliant.core.paths import EMPTY, NOTHING, Affine, Path, Region, combine, join
from foliant.core.paths.nesting import chosen_contours
from foliant.core.remembering import remembered

_Placed = tuple[str, Form, tuple[Affine, ...]]
Answer = TypeVar("Answer")

logger = logging.getLogger("foliant.resolve")


@dataclass(frozen=True, eq=False)
class ResolvedPiece:
    """What a piece comes to, in its own coordinates (mm). Each is worked out when it is first asked for.

    lost  what kept parts from being placed at all; empty where nothing did
    """

    parts: tuple[_Placed, ...]
    lost: str = ""

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
    def scored(self) -> Path:
        """The lines to score, each part welded in itself, open lines as they are."""
        return self._found_scored[0]

    @cached_property
    def guides(self) -> Path:
        """Lines that no machine sees."""
        return self._as_they_are("guides")

    @cached_property
    def trouble(self) -> str:
        """Why the piece cannot be worked out, as a sentence; empty where it can, as nearly always."""
        found = (self._found_outline[1], self._found_engraved[1], self._found_strokes[1], self._found_scored[1])
        return next(filter(None, (self.lost, *found)), "")

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of the outline, or of the marks where there is no outline."""
        if len(self.outline.path):
            return self.outline.path.bounds
        return join([self.engraved.path, self.strokes, self.scored]).bounds

    @cached_property
    def _found_outline(self) -> tuple[Region, str]:
        if self.lost:
            return self._bare_outline(), ""
        return _tried(lambda: _outline(self._of("adds", "cuts")), self._bare_outline)

    @cached_property
    def _found_engraved(self) -> tuple[Region, str]:
        return _tried(lambda: _engraved(self._of("engraves")), lambda: NOTHING)

    @cached_property
    def _found_strokes(self) -> tuple[Path, str]:
        return _tried(
            lambda: join(
                chosen_contours(path, ~path.closed) for path in _paths(self._of("engraves")) if not path.closed.all()
            ),
            lambda: EMPTY,
        )

    @cached_property
    def _found_scored(self) -> tuple[Path, str]:
        return _tried(
            lambda: join(_lines(shape, matrices) for _, shape, matrices in self._of("scores")),
            lambda: self._as_they_are("scores"),
        )

    def _of(self, *roles: str) -> tuple[_Placed, ...]:
        return tuple(part for part in self.parts if part[0] in roles)

    def _bare_outline(self) -> Region:
        """The edges of what adds, side by side; they bound nothing that could be cut."""
        return Region(self._as_they_are("adds"), NOTHING.shape)

    def _as_they_are(self, role: str) -> Path:
        return join(path for part in self._of(role) for path in _paths_if_any(part))


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
        found.append((part.role, part.form, maps))
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


def _paths_if_any(part: _Placed) -> list[Path]:
    nothing: list[Path] = []
    return _tried(lambda: _paths([part]), lambda: nothing)[0]


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
def _outline(parts: tuple[_Placed, ...]) -> Region:
    adds = [part for part in parts if part[0] == "adds"]
    return combine(
        _paths(part for part in adds if not part[1].keeps),
        _paths(part for part in parts if part[0] == "cuts"),
        _paths(part for part in adds if part[1].keeps),
    )


@remembered
def _engraved(parts: tuple[_Placed, ...]) -> Region:
    return combine(_paths(parts))


@remembered
def _lines(shape: Form, matrices: tuple[Affine, ...]) -> Path:
    """What scoring a shape draws: its areas welded, and its open lines."""
    paths = [path for matrix in matrices for path in placed(shape, matrix)]
    return join([combine(paths).path, *(chosen_contours(path, ~path.closed) for path in paths)])


def _paths(parts: Iterable[_Placed]) -> list[Path]:
    return [path for _, shape, matrices in parts for matrix in matrices for path in placed(shape, matrix)]
