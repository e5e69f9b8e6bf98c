"""Treatments: what is done to any part's outline, live: widened, mirrored from one half, corners, grown, hollowed.

They are done in that order, each at most once, and every value stays editable.
"""

from collections.abc import Collection
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely

from foliant.core.design.shapes.shape import Shape
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen
from foliant.core.paths import Ends, Joins, Path, Region, combine, intersect, join, offset, widened
from foliant.core.paths.corners import Corners, CornerStyle, corners_of, largest_corner, with_corners
from foliant.core.paths.flatten import flatten, on_grid
from foliant.core.paths.nesting import chosen_contours
from foliant.core.paths.shapes import rectangle
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.remembering import remembered
from foliant.core.seeing import Look
from foliant.core.units import Unit, format_length

JOINS = (("round", "round"), ("sharp", "sharp"), ("bevelled", "bevelled"))

_Joins = Annotated[Joins, Quantity("choice", "How it goes round corners", choices=JOINS)]


_DEEPEST_CORNER = 2.001
"""A corner that would reach so many widths into a frame's opening is rounded: it would make the frame so deep there."""


class Widened(Frozen):
    """Lines made areas: an open line cuts, adds or engraves with a width."""

    width: Annotated[float, sized("The width of the line")] = 2.0
    ends: Annotated[Ends, Quantity("choice", "Its ends", choices=(("round", "round"), ("flat", "flat")))] = "round"

    title: ClassVar[str] = "widened"
    first: ClassVar[str] = "width"

    def sentence(self) -> tuple[Bit, ...]:
        return "widened to ", Value("width"), " with ", Value("ends"), " ends"

    def done(self, region: Region, lines: Path) -> Region:
        return widened(lines, self.width, self.ends)


class Halved(Frozen):
    """One half kept and mirrored, so that both sides are alike."""

    half: Annotated[
        Literal["left", "right", "upper", "lower"],
        Quantity(
            "choice",
            "The half that is mirrored",
            choices=(("left", "left"), ("right", "right"), ("upper", "upper"), ("lower", "lower")),
        ),
    ] = "left"

    title: ClassVar[str] = "mirrored half"
    first: ClassVar[str] = ""

    def sentence(self) -> tuple[Bit, ...]:
        return "its ", Value("half"), " half mirrored"

    def done(self, region: Region, lines: Path) -> Region:
        left, top, right, bottom = region.path.bounds
        wide, tall = right - left, bottom - top
        # The mirror stands on the grid, or the two halves would not meet.
        x, y = on_grid(np.array([left + right, top + bottom]) / 2).tolist()
        across = self.half in ("left", "right")
        way = -1 if self.half in ("left", "upper") else 1
        # A sheet that covers one half with room round it.
        sheet = rectangle(wide + 2, tall + 2)
        shift = (way * (wide / 2 + 1), 0.0) if across else (0.0, way * (tall / 2 + 1))
        half = intersect([[region.path], [sheet.moved(x + shift[0], y + shift[1])]]).path
        mirror = (-1.0, 0.0, 0.0, 1.0, 2 * x, 0.0) if across else (1.0, 0.0, 0.0, -1.0, 0.0, 2 * y)
        return combine([half, half.transformed(mirror)])


class Cornered(Frozen):
    """Corners rounded, scooped or cut off: all, or those that `only` names by their order along the outline."""

    style: Annotated[
        CornerStyle,
        Quantity("choice", "The corners", choices=(("rounded", "rounded"), ("scooped", "scooped"), ("cut", "cut off"))),
    ] = "rounded"
    size: Annotated[float, sized("The corner size", 0.05)] = 2.0
    only: tuple[int, ...] = ()

    title: ClassVar[str] = "corners"
    first: ClassVar[str] = "size"

    def sentence(self) -> tuple[Bit, ...]:
        some = f"{len(self.only)} of its corners " if self.only else "corners "
        return some, Value("style"), " ", Value("size")

    def done(self, region: Region, lines: Path) -> Region:
        return combine([with_corners(region.path, self.style, self.size, self.only)])


class Grown(Frozen):
    """The outline moved outward by a distance, or inward where it is negative."""

    distance: Annotated[float, Quantity("length", "The distance", -300, 300)] = 0.5
    joins: _Joins = "round"

    title: ClassVar[str] = "grown"
    first: ClassVar[str] = "distance"

    def sentence(self) -> tuple[Bit, ...]:
        verb = "grown by " if self.distance >= 0 else "shrunk: grown by "
        return verb, Value("distance"), " with ", Value("joins"), " joins"

    def done(self, region: Region, lines: Path) -> Region:
        return offset(region, self.distance, self.joins)


class Hollowed(Frozen):
    """Only a frame of the given width inside the outline; solid where it is narrower than two of them. It goes sharply
    round inward corners of up to twice its width, and round deeper ones.
    """

    width: Annotated[float, sized("The width of the frame")] = 3.0
    joins: _Joins = "sharp"

    title: ClassVar[str] = "hollow"
    first: ClassVar[str] = "width"

    def sentence(self) -> tuple[Bit, ...]:
        return "hollow, a frame ", Value("width"), " wide"

    def done(self, region: Region, lines: Path) -> Region:
        return combine([region.path], [self._opening(region).path])

    def _opening(self, region: Region) -> Region:
        """What is open in the frame: round about inward corners, but sharp where asked and not too deep."""
        if self.joins != "sharp":
            return offset(region, -self.width, self.joins)
        rounded, sharp = (offset(region, -self.width, joins) for joins in ("round", "sharp"))
        tips = combine([rounded.path], [sharp.path]).path
        if not len(tips):
            return rounded
        flat = flatten(tips)
        away = shapely.distance(shapely.boundary(region.shape), shapely.points(flat.points))
        reach = np.zeros(len(tips.starts))
        np.maximum.at(reach, tips.contour_of[flat.segment], away)
        near = chosen_contours(tips, reach < _DEEPEST_CORNER * self.width)
        return combine([rounded.path], [near]) if len(near) else rounded


TreatmentKey = Literal["widened", "halved", "cornered", "grown", "hollowed"]
AnyTreatment = Widened | Halved | Cornered | Grown | Hollowed
KINDS: dict[TreatmentKey, type[AnyTreatment]] = {
    "widened": Widened,
    "halved": Halved,
    "cornered": Cornered,
    "grown": Grown,
    "hollowed": Hollowed,
}


class Treatments(Frozen):
    """What is done to one part, in the order of these fields; None is not done."""

    widened: Widened | None = None
    halved: Halved | None = None
    cornered: Cornered | None = None
    grown: Grown | None = None
    hollowed: Hollowed | None = None

    @property
    def each(self) -> tuple[tuple[TreatmentKey, AnyTreatment], ...]:
        """Those that are done, in order, with their names."""
        return tuple((key, found) for key in KINDS if (found := getattr(self, key)) is not None)


class Treated(Frozen):
    """A shape with its treatments: what a part's outline is made from in place of the shape itself."""

    shape: Shape
    treatments: Treatments

    @property
    def keeps(self) -> bool:
        return self.shape.keeps

    @property
    def look(self) -> Look | None:
        return self.shape.look

    def paths(self) -> tuple[Path, ...]:
        """The outline about the shape's own origin; nothing where a treatment leaves nothing."""
        return (_outline(self.shape, self.treatments).path,)

    def box(self) -> tuple[float, float, float, float] | None:
        return self.shape.box()

    def segments(self) -> int:
        """See `Shape.segments`."""
        return self.shape.segments()


@remembered
def _outline(shape: Shape, treatments: Treatments) -> Region:
    lines = join(shape.paths())
    region = combine(shape.paths())
    for _, treatment in treatments.each:
        region = treatment.done(region, lines)
    return region


def corners_before(shape: Shape, treatments: Treatments) -> Corners:
    """The corners that a part's corner treatment can take, about the shape's origin, in the order it names them by."""
    return corners_of(_before(shape, treatments, "cornered").path)


def check_treatment(shape: Shape, treatments: Treatments, key: TreatmentKey, unit: Unit) -> None:
    """Raise `Refused`, with the largest value that can be, where a treatment does not fit or leaves nothing."""
    treatment = getattr(treatments, key)
    if treatment is None:
        return
    name = shape.label()[:40]
    before = _before(shape, treatments, key)
    if key == "widened":
        if not len(join(shape.paths())):
            raise Refused(f"{name} has no lines to widen.")
        return
    if not len(before.path):
        raise Refused(f"{name} bounds no area, so there is nothing to treat: widen its line first, or close it.")
    if isinstance(treatment, Cornered):
        _check_corners(before.path, treatment, name, unit)
    elif isinstance(treatment, Grown) and not len(treatment.done(before, before.path).path):
        most = shapely.maximum_inscribed_circle(before.bodies[0], tolerance=0.01).length
        raise Refused(
            f"Shrunk by {format_length(-treatment.distance, unit)} nothing is left of {name}; "
            f"by less than {format_length(round(most, 2), unit)} something is."
        )


def _check_corners(path: Path, treatment: Cornered, name: str, unit: Unit) -> None:
    corners = corners_of(path)
    if not len(corners.index):
        raise Refused(f"{name} has no corners.")
    most = largest_corner(path, treatment.style, treatment.only)
    if treatment.size > most + 0.005:
        raise Refused(
            f"Corners of {format_length(treatment.size, unit)} do not fit on {name}; "
            f"the largest that fits is {format_length(most, unit)}."
        )


def _before(shape: Shape, treatments: Treatments, key: TreatmentKey) -> Region:
    """The outline as it is when a treatment's turn comes."""
    names: Collection[TreatmentKey] = tuple(KINDS)[: tuple(KINDS).index(key)]
    return _outline(shape, treatments.model_copy(update={name: None for name in KINDS if name not in names}))
