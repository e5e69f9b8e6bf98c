"""What lies on a sheet, and where."""

from dataclasses import dataclass
from functools import cached_property

import shapely

from foliant.core.design import Piece, Place, ResolvedPiece
from foliant.core.design.lying import digest_of
from foliant.core.design.turning import turned
from foliant.core.making import Instance
from foliant.core.paths import Affine, Path
from foliant.core.paths.path import similarity


@dataclass(frozen=True, eq=False)
class Laid:
    """An instance on the sheet: where its piece's origin lies there (mm), how far it is turned about that, clockwise in
    degrees, and the place it was put at, if it was: by hand or by packing.
    """

    instance: Instance
    x: float
    y: float
    turn: float = 0.0
    place: Place | None = None

    @property
    def piece(self) -> Piece:
        """The piece it is one of."""
        return self.instance.piece

    @property
    def number(self) -> int:
        """Which one of its piece."""
        return self.instance.number

    @property
    def sheet(self) -> int:
        """Which sheet it was put on; 1 where it was not."""
        return self.place.sheet if self.place else 1

    @cached_property
    def resolved(self) -> ResolvedPiece:
        """What it comes to, turned as it lies, about the piece's own origin."""
        return turned(self.instance.resolved, self.turn)

    @property
    def label(self) -> str:
        """How it is named in sentences."""
        return self.instance.label

    @property
    def locked(self) -> bool:
        """Whether packing leaves it there."""
        return self.place is not None and self.place.locked

    @property
    def outdated(self) -> bool:
        """Whether it was packed and has another outline now."""
        proved = self.place.proved if self.place else ""
        return bool(proved) and proved != digest_of(self.instance.resolved)

    @property
    def shift(self) -> tuple[float, float]:
        """From the coordinates of the piece, turned, to the sheet's."""
        return (self.x, self.y)

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) on the sheet."""
        left, top, right, bottom = self.resolved.bounds
        return (self.x + left, self.y + top, self.x + right, self.y + bottom)

    @property
    def matrix(self) -> Affine:
        """From the coordinates of the piece, as it was drawn, to the sheet's."""
        return similarity(self.turn, dx=self.x, dy=self.y)

    def on_sheet(self, path: Path) -> Path:
        """A path of the piece, as it was drawn, where it lies on the sheet."""
        return path.transformed(self.matrix) if self.turn else path.moved(self.x, self.y)

    def shape_on_sheet(self) -> shapely.Geometry:
        """The outline's polygons where they lie on the sheet."""
        return shapely.transform(self.resolved.outline.shape, lambda points: points + self.shift)


@dataclass(frozen=True, eq=False)
class Layout:
    """What lies on one of the sheets of a project.

    number, count  which it is, from 1, and how many there are
    width, height  its size, mm
    left_over      (piece, how many) for what found no room on any of them
    gone           what of it is gone: only the first can have been begun
    """

    number: int
    count: int
    width: float
    height: float
    instances: tuple[Laid, ...]
    left_over: tuple[tuple[Piece, int], ...]
    gone: tuple[shapely.Polygon, ...] = ()

    @cached_property
    def area(self) -> float:
        """The area of stock that is there, mm²."""
        sheet = shapely.box(0, 0, self.width, self.height)
        return (
            float(sheet.area - sum(shapely.area(shapely.intersection(sheet, self.gone)))) if self.gone else sheet.area
        )

    @cached_property
    def taken(self) -> float:
        """The area that becomes pieces, mm²."""
        return sum(laid.resolved.outline.path.area for laid in self.instances)

    @property
    def used(self) -> float:
        """The share of the stock that becomes pieces, 0 to 1."""
        return self.taken / self.area if self.area > 0 else 0.0

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of all that lies on the sheet; zeros where nothing does."""
        if not self.instances:
            return (0.0, 0.0, 0.0, 0.0)
        left, top, right, bottom = zip(*(laid.bounds for laid in self.instances), strict=True)
        return (min(left), min(top), max(right), max(bottom))
