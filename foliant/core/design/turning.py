"""What a piece comes to when it is turned on the sheet: the same lines and areas, with nothing worked out again."""

from collections.abc import Collection
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from foliant.core.design.resolve import ResolvedPiece
from foliant.core.paths import Affine, Path, Region
from foliant.core.paths.path import similarity
from foliant.core.remembering import remembered
from foliant.core.seeing import Pictured


def turned(resolved: ResolvedPiece, degrees: float) -> ResolvedPiece:
    """A resolved piece turned clockwise about its origin. Equal ones at one turn are one and the same."""
    return _turned(resolved, degrees % 360) if degrees % 360 else resolved


@remembered
def _turned(resolved: ResolvedPiece, degrees: float) -> ResolvedPiece:
    parts = tuple((roles, form, ()) for roles, form, _ in resolved.parts)
    return _Turned(parts, resolved.lost, resolved, _exact(similarity(degrees)))


def _exact(matrix: Affine) -> Affine:
    """Quarter turns without a trace of rounding, so that straight lines stay level."""
    a, b, c, d, e, f = (float(np.round(value, 15)) for value in matrix)
    return (a, b, c, d, e, f)


@dataclass(frozen=True, eq=False)
class _Turned(ResolvedPiece):
    """A resolved piece under a turn of the page."""

    straight: ResolvedPiece
    map: Affine

    @cached_property
    def guides(self) -> Path:
        return self.straight.guides.transformed(self.map)

    @cached_property
    def pictures(self) -> tuple[tuple[int, Pictured], ...]:
        return tuple((index, one.transformed(self.map)) for index, one in self.straight.pictures)

    @cached_property
    def trouble(self) -> str:
        return self.straight.trouble

    @cached_property
    def _found_outline(self) -> tuple[Region, str]:
        return self._region(self.straight.outline), ""

    @cached_property
    def _found_engraved(self) -> tuple[Region, str]:
        return self._region(self.straight.engraved), ""

    @cached_property
    def _found_strokes(self) -> tuple[Path, str]:
        return self.straight.strokes.transformed(self.map), ""

    @cached_property
    def _found_slits(self) -> tuple[Path, str]:
        return self.straight.slits.transformed(self.map), ""

    @cached_property
    def _found_scored(self) -> tuple[Path, str]:
        return self.straight.scored.transformed(self.map), ""

    def engraved_of(self, parts: Collection[int]) -> tuple[Region, Path]:
        area, lines = self.straight.engraved_of(parts)
        return self._region(area), lines.transformed(self.map)

    def slits_of(self, parts: Collection[int]) -> Path:
        return self.straight.slits_of(parts).transformed(self.map)

    def scored_of(self, parts: Collection[int]) -> Path:
        return self.straight.scored_of(parts).transformed(self.map)

    def edges_of(self, part: int) -> Path:
        return self.straight.edges_of(part).transformed(self.map)

    def _region(self, region: Region) -> Region:
        a, b, c, d, _, _ = self.map
        shape = shapely.transform(region.shape, lambda points: points @ np.array([[a, b], [c, d]]))
        return Region(region.path.transformed(self.map), shape, region.rough.transformed(self.map))
