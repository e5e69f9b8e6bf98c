"""Placing: where a part and its copies lie on their piece, and the boxes and centres they are aligned by."""

from collections.abc import Iterable

import shapely
from fontTools.misc.transform import Transform

from foliant.core.design.model import Part, Piece
from foliant.core.design.references import BOX_REFERENCES, Bounds, Point, Reference, point_of, union
from foliant.core.design.repeats import Rows, copies
from foliant.core.design.shapes import Shape
from foliant.core.design.treatments import Treated
from foliant.core.paths import Affine, Path, Region, combine, join, similarity
from foliant.core.remembering import remembered

Form = Shape | Treated
"""What a part's outline is made from."""


def part_matrix(part: Part) -> Affine:
    """The map from a part's shape to its piece."""
    return _matrix(part.x, part.y, part.rotation, part.flipped)


def placements(part: Part) -> tuple[Affine, ...]:
    """The maps of a part and of its copies, the first first."""
    return tuple(copy_maps(part).values())


def copy_maps(part: Part) -> dict[int, Affine]:
    """The maps of a part (0) and its copies, by their numbers."""
    matrix = part_matrix(part)
    if part.repeat is None:
        return {0: matrix}
    return {number: compose(matrix, found) for number, found in copies(part.repeat, own_bounds(part)).items()}


def compose(first: Affine, then: Affine) -> Affine:
    """The map that does `first`, then `then`."""
    found: Affine = Transform(*then).transform(first)
    return found


def inverse(matrix: Affine) -> Affine:
    """The map back."""
    found: Affine = Transform(*matrix).inverse()
    return found


def part_paths(part: Part) -> tuple[Path, ...]:
    """A part's outlines, and its copies', where they lie on the piece."""
    return tuple(path for matrix in placements(part) for path in placed(part.form, matrix))


def part_region(part: Part) -> Region:
    """What a part and its copies bound, welded: what adding it alone gives."""
    return welded(part.form, placements(part))


@remembered
def welded(shape: Form, matrices: tuple[Affine, ...]) -> Region:
    """What a shape bounds under some maps, welded."""
    return combine([path for matrix in matrices for path in placed(shape, matrix)])


@remembered
def placed(shape: Form, matrix: Affine) -> tuple[Path, ...]:
    """A shape's outlines under a map."""
    return tuple(path.transformed(matrix) for path in shape_paths(shape))


@remembered
def shape_paths(shape: Form) -> tuple[Path, ...]:
    """A shape's outlines about its own origin."""
    return shape.paths()


@remembered
def shape_bounds(shape: Form) -> Bounds:
    """The box of a shape about its own origin."""
    return join(shape_paths(shape)).bounds


def own_bounds(part: Part) -> Bounds:
    """The box of a part alone, without its copies."""
    return _bounds(part.form, part_matrix(part))


@remembered
def part_bounds(part: Part) -> Bounds:
    """The box of a part with all its copies."""
    return union([_bounds(part.form, matrix) for matrix in placements(part)])


def box_round(parts: Iterable[Part]) -> Bounds:
    """The box round parts with all their copies; what has no outline has no place in it."""
    found = [part for part in parts if any(map(len, shape_paths(part.form)))]
    return union([part_bounds(part) for part in found]) if found else (0.0, 0.0, 0.0, 0.0)


def placing_box(part: Part) -> Bounds:
    """The box by which a part is placed: that of its outline, or for words the box of their capitals."""
    return _placing_box(part.form, part_matrix(part))


def whole_box(part: Part) -> Bounds:
    """The box that others are held to: with all copies."""
    return union([_placing_box(part.form, matrix) for matrix in placements(part)])


def held_bounds(part: Part) -> Bounds:
    """The box by which a part is held or aligned: rows as a whole, other repeats by their first."""
    return whole_box(part) if isinstance(part.repeat, Rows) else placing_box(part)


def ink_box(part: Part) -> Bounds:
    """The box of all that a part draws, as it is held or aligned: rows as a whole, other repeats by their first."""
    return part_bounds(part) if isinstance(part.repeat, Rows) else own_bounds(part)


def middle_box(part: Part) -> Bounds:
    """The box whose middle is that of the part: the ink of what stands on a line, else the box that it is placed by."""
    return held_bounds(part) if part.shape.baseline is None else ink_box(part)


def visual_centre(part: Part) -> Point:
    """The centroid of a part's area; the middle of its box where it bounds none."""
    return area_centre(part_paths(part) if isinstance(part.repeat, Rows) else placed(part.form, part_matrix(part)))


@remembered
def area_centre(paths: tuple[Path, ...]) -> Point:
    """The centroid of the area that paths bound together, in mm."""
    region = combine(paths)
    if region.shape.is_empty:
        return point_of(join(paths).bounds, "middle")
    centre = shapely.centroid(region.shape)
    return float(centre.x), float(centre.y)


def reference_point(part: Part, reference: Reference) -> Point:
    """Where a part's reference point lies on its piece."""
    return visual_centre(part) if reference == "visual" else point_of(placing_box(part), reference)


def measured_point(part: Part, reference: Reference) -> Point:
    """The same as it is measured and typed: half way down is half way down the ink."""
    x, y = reference_point(part, reference)
    half = reference in BOX_REFERENCES and BOX_REFERENCES[reference][1] == 0.5
    return (x, point_of(own_bounds(part), reference)[1]) if half and part.shape.baseline is not None else (x, y)


def frame_parts(piece: Piece, without: frozenset[str] = frozenset()) -> tuple[Part, ...]:
    """The parts that make the piece's frame: what adds to it, without those named and those held to the piece."""
    held = dependents(piece)
    return tuple(part for part in piece.made if part.plays("adds") and part.id not in without and part.id not in held)


def dependents(piece: Piece) -> frozenset[str]:
    """The parts that are placed by the piece's frame, at first or at second hand."""
    placed_by: dict[str, list[str]] = {}
    for part in piece.parts:
        for to in targets(part):
            placed_by.setdefault(to, []).append(part.id)
    found: set[str] = set()
    waiting = ["piece"]
    while waiting:
        more = [key for key in placed_by.get(waiting.pop(), ()) if key not in found]
        found.update(more)
        waiting += more
    return frozenset(found)


def targets(part: Part) -> set[str]:
    """What a part is placed by, or made from: ids of parts, or "piece"."""
    named = {hold.to for hold in (part.across, part.down) if hold}
    about = getattr(part.repeat, "about", "")
    if about:
        named.add(about)
    named.update(part.made_of)
    if part.shape.keeps_margin:
        named.add("piece")
    return named


@remembered
def _bounds(shape: Form, matrix: Affine) -> Bounds:
    if matrix[:4] == (1.0, 0.0, 0.0, 1.0):  # what is only shifted need not be measured again
        left, top, right, bottom = shape_bounds(shape)
        return left + matrix[4], top + matrix[5], right + matrix[4], bottom + matrix[5]
    return join(placed(shape, matrix)).bounds


@remembered
def _placing_box(shape: Form, matrix: Affine) -> Bounds:
    box = shape.box()
    if box is None:
        return _bounds(shape, matrix)
    a, b, c, d, e, f = matrix
    corners = [(a * x + c * y + e, b * x + d * y + f) for x in box[::2] for y in box[1::2]]
    return union([(x, y, x, y) for x, y in corners])


@remembered
def _matrix(x: float, y: float, rotation: float, flipped: bool) -> Affine:
    a, b, c, d, e, f = similarity(rotation, 1.0, x, y)
    return (-a, -b, c, d, e, f) if flipped else (a, b, c, d, e, f)
