"""Splitting a piece that is larger than its sheet into pieces that are put together again."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import shapely
from pydantic import Field

from foliant.core.design.binding import tied_pieces
from foliant.core.design.edits.command import Command, with_design, with_places_if
from foliant.core.design.edits.picturing import seen_within
from foliant.core.design.lying import turn_in_rows, turned_bounds
from foliant.core.design.model import Design, Part, Piece, Role
from foliant.core.design.names import Identifier
from foliant.core.design.nodes import contours_of
from foliant.core.design.resolve import ResolvedPiece, resolve
from foliant.core.design.shapes import Drawn, Picture
from foliant.core.design.shapes.drawn import MOST_CONTOURS, MOST_NODES
from foliant.core.errors import Refused
from foliant.core.paths import Path, Region, combine, intersect, join
from foliant.core.paths.along import takers_along
from foliant.core.paths.joints import Joint, cells, within
from foliant.core.paths.nesting import bodies_of, chosen_contours, contour, depths
from foliant.core.quantities import build
from foliant.core.seeing import Pictured

MOST_IN_LINE = 20

_THIN = 2.0
"""What is narrower than that, mm, is kept out of new pieces where joints can be shifted."""

_SHARES = (0.0, 0.5, -0.5, 1.0, -1.0, 0.25, -0.25, 0.75, -0.75)
"""How far joints are shifted, of what there is room for."""

_MOST_TRIED = 72
"""So many cells are tried: where there are many, joints are shifted less often."""

_A_MARK = 4.0
"""A letter that is cut in two is as bad as so much, in mm², in a thin end."""

_MOST_SEGMENTS = 5000
"""Of a longer outline the joints are taken where they come."""

_MOST_MARKS = 2000
"""Of more marks none are looked at."""


class SplitPiece(Command):
    """Split a piece into as many columns and rows as find room on its sheets, or into so many, along straight or wavy
    joints. The new pieces are drawn as it comes out now; it stays itself, with none of it wanted.
    """

    do: Literal["split-piece"]
    piece: Identifier
    columns: int | None = Field(None, ge=1, le=MOST_IN_LINE)
    rows: int | None = Field(None, ge=1, le=MOST_IN_LINE)
    joint: Joint = "wavy"

    def apply(self, design: Design) -> Design:
        whole = design.piece(self.piece)
        if whole.id in tied_pieces(design):
            raise Refused(f"{whole.name} comes once for each row of the roster, so it is not split as one.")
        found = resolve(whole)
        if found.trouble or not len(found.outline.path):
            raise Refused(f"{whole.name} has no outline that could be split.")
        grid = self._grid(design, found)
        parts = _Parts(design.serial)
        apart = [body for cell in grid.cells(found) for body in _bodies(found, cell)]
        tiles = [tile for body in apart if (tile := tuple(parts.of(whole, body)))]
        pieces, serial = [], parts.serial
        for number, tile in enumerate(tiles, 1):
            serial += 1
            name = f"{whole.name[:60]} ({number} of {len(tiles)})"
            copies = max(whole.copies, 1)
            own = {"id": f"p{serial}", "name": name, "copies": copies, "bench": whole.bench, "parts": tile}
            own["operations"] = whole.operations
            pieces.append(build(Piece, own))
        at = design.pieces.index(whole)
        kept = whole.model_copy(update={"copies": 0})
        new = (*design.pieces[:at], kept, *pieces, *design.pieces[at + 1 :])
        return with_places_if(with_design(design, pieces=new, serial=serial), lambda place: place.piece != whole.id)

    def _grid(self, design: Design, found: ResolvedPiece) -> "_Grid":
        """How it is divided: as typed, or into as few as find room on a sheet, turned by a quarter where that takes
        fewer; raises `Refused`.
        """
        margin, stock = design.sheet.margin, design.stock
        room = stock.width - 2 * margin, stock.height - 2 * margin
        ways = [room, room[::-1]] if 90.0 in design.sheet.turns else [room]
        grids = [_Grid.of(found, one, self.joint, self.columns, self.rows) for one in ways]
        best = min(grids, key=lambda grid: grid.columns * grid.rows)
        if best.columns * best.rows == 1:
            name = design.piece(self.piece).name
            raise Refused(f"{name} finds room on one sheet as it is; say into how many it is to be split.")
        if max(best.columns, best.rows) > MOST_IN_LINE:
            raise Refused(f"A piece is split into at most {MOST_IN_LINE} in a line: take larger sheets.")
        return best

    def says(self, design: Design) -> str:
        return f"split {design.piece(self.piece).name}"


def is_larger(piece: Piece, design: Design) -> bool:
    """Whether a piece is larger than a whole sheet of the bench on which the design stands, turned or not."""
    stock, margin = design.stock, design.sheet.margin
    left, top, right, bottom = turned_bounds(piece, turn_in_rows(resolve(piece), stock, design.sheet))
    return right - left > stock.width - 2 * margin or bottom - top > stock.height - 2 * margin


@dataclass(frozen=True)
class _Grid:
    """Columns and rows of cells, and how far (mm) the joints may be shifted for each still to find room on a sheet."""

    columns: int
    rows: int
    joint: Joint
    play: tuple[float, float]

    @classmethod
    def of(
        cls, found: ResolvedPiece, room: tuple[float, float], joint: Joint, columns: int | None, rows: int | None
    ) -> "_Grid":
        """What a room (mm) takes: as many as typed, else as few as have room; raises `Refused`."""
        left, top, right, bottom = found.bounds
        reach = 10.0 if joint == "wavy" else 0.0
        counts, play = [], []
        for size, free, typed in ((right - left, room[0], columns), (bottom - top, room[1], rows)):
            if typed is None and size > free and free - reach < MOST_IN_LINE:
                raise Refused("The sheet is too small to split anything over it: take a larger one.")
            count = typed or (1 if size <= free else math.ceil(size / (free - reach)))
            counts.append(count)
            play.append(max(0.0, min(free - reach - size / count, size / count / 3)) if count > 1 else 0.0)
        return cls(counts[0], counts[1], joint, (play[0], play[1]))

    def cells(self, found: ResolvedPiece) -> list[Region]:
        """The cells, the joints shifted to where they leave few thin ends and cross few letters."""
        share = [0.0, 0.0]
        tries = max(1, _MOST_TRIED // (self.columns * self.rows))
        if len(found.outline.path) < _MOST_SEGMENTS:
            marks = _marks(found)
            for axis in [axis for axis in (0, 1) if self.play[axis]]:
                harm: dict[float, float] = {}
                for one in (*_SHARES[:tries], *self._beside(found, marks, axis)[:tries]):
                    cut = self._cells(found, one, share[1 - axis], axis)
                    harm[one] = _harm(found.outline.shape, marks, cut)
                    if not harm[one]:
                        break
                share[axis] = min(harm, key=lambda one: (harm[one], abs(one)))
        return self._cells(found, share[0], share[1], 0)

    def _beside(self, found: ResolvedPiece, marks: np.ndarray, axis: int) -> list[float]:
        """The shares at which a joint lies in a gap between marks, the least first."""
        low, high, count = found.bounds[axis], found.bounds[axis + 2], (self.columns, self.rows)[axis]
        spans = shapely.bounds(marks).reshape(-1, 4)[:, [axis, axis + 2]]
        spans = spans[np.argsort(spans[:, 0])]
        reached = np.maximum.accumulate(spans[:, 1])
        free = [(end + begin) / 2 for end, begin in zip(reached[:-1], spans[1:, 0], strict=True) if begin > end]
        joints = [low + (high - low) * number / count for number in range(1, count)]
        shares = ((place - joint) / self.play[axis] for place in free for joint in joints)
        return sorted((float(share) for share in shares if abs(share) <= 1), key=abs)

    def _cells(self, found: ResolvedPiece, share: float, other: float, axis: int) -> list[Region]:
        along = (share, other) if axis == 0 else (other, share)
        shift = self.play[0] * along[0], self.play[1] * along[1]
        return cells(found.bounds, self.columns, self.rows, self.joint, shift)


def _marks(found: ResolvedPiece) -> np.ndarray:
    """What joints had better not cross: what is engraved, letter by letter, and what is cut from it."""
    bodies = shapely.get_parts(found.outline.shape)
    openings = [shapely.Polygon(ring) for body in bodies for ring in body.interiors]
    openings = [] if len(openings) > _MOST_MARKS else shapely.buffer(openings, _THIN / 2).tolist()
    marks = np.array([*shapely.get_parts(found.engraved.shape), *openings], dtype=object)
    return marks if len(marks) < _MOST_MARKS else marks[:0]


def _harm(shape: shapely.Geometry, marks: np.ndarray, cut: list[Region]) -> float:
    """How much it harms to cut along some joints: thin ends by their area (mm²), and what they cross."""
    crossed = sum(int(shapely.intersects(cell.shape, marks).sum()) for cell in cut) - len(marks)
    return round(_thin_ends(shape, cut), 1) + _A_MARK * crossed


def _thin_ends(shape: shapely.Geometry, cut: list[Region]) -> float:
    """How much area (mm²) lies in ends under `_THIN` across, beside what a round corner is short of a sharp one."""
    bodies = [body for cell in cut for body in shapely.get_parts(shapely.intersection(shape, cell.shape))]
    opened = shapely.buffer(shapely.buffer(bodies, -_THIN / 2), _THIN / 2)
    lost = shapely.get_parts(shapely.difference(bodies, opened))
    return float(shapely.area(lost[shapely.area(lost) > _THIN**2 / 4]).sum())


def _bodies(found: ResolvedPiece, cell: Region) -> list[Region]:
    """A cell, or each body of what was one that falls apart in it."""
    if len(found.outline.bodies) != 1:
        return [cell]
    bodies = bodies_of(intersect([[found.outline.path], [cell.path]]).path)
    return [combine([body]) for body in bodies] if len(bodies) > 1 else [cell]


class _Parts:
    """Drawn parts with ids that are new to a design."""

    def __init__(self, serial: int) -> None:
        self.serial = serial

    def of(self, piece: Piece, cell: Region) -> Iterator[Part]:
        """What of a piece lies in a cell; nothing where there is no material."""
        found = resolve(piece)
        plate = intersect([[found.outline.path], [cell.path]]).path
        if not len(plate):
            return
        yield from self._plate(plate, found.outline.path, _edges_of_their_own(piece, found))
        for own, parts in _by_operation(piece, "engraves"):
            area, strokes = found.engraved_of(parts)
            if len(area.path):
                yield from self._drawn(intersect([[area.path], [cell.path]]).path, "engraves", own)
            yield from self._drawn(within(strokes, cell), "engraves", own)
        for own, parts in _by_operation(piece, "scores"):
            yield from self._drawn(within(found.scored_of(parts), cell), "scores", own)
        for own, parts in _by_operation(piece, "cuts"):
            yield from self._drawn(within(found.slits_of(parts), cell), "cuts", own)
        yield from self._drawn(within(found.guides, cell), "guides")
        for index, pictured in found.pictures:
            yield from self._seen(piece.made[index], pictured, cell)

    def _plate(self, plate: Path, outline: Path, own: list[tuple[Path, str]]) -> Iterator[Part]:
        """The material in a cell. Edges that an operation of their own takes are drawn by themselves and stay with it,
        unless there are bodies in openings, which a cut would take away.
        """
        if not own or depths(plate).max() > 1:
            yield from self._drawn(plate, "adds")
            return
        plain = []
        for body in bodies_of(plate):
            takers = takers_along(body, own, outline)  # a joint is nobody's
            if not any(takers):
                plain.append(body)
                continue
            yield from self._drawn(contour(body, 0), "adds", takers[0])
            for taker in dict.fromkeys(takers[1:]):
                holes = np.array([False, *(one == taker for one in takers[1:])])
                yield from self._drawn(chosen_contours(body, holes), "cuts", taker)
        yield from self._drawn(join(plain), "adds")

    def _seen(self, part: Part, pictured: Pictured, cell: Region) -> Iterator[Part]:
        """What is seen of a picture in a cell."""
        assert isinstance(part.shape, Picture)
        within = intersect([[pictured.region.path], [cell.path]]).path
        if len(within) and (seen := seen_within(part.shape, pictured.matrix, within)):
            a, b, c, d, x, y = pictured.matrix
            flipped = a * d - b * c < 0
            turn = math.degrees(math.atan2(-b, -a) if flipped else math.atan2(b, a))
            self.serial += 1
            place = {"x": x, "y": y, "rotation": round(turn, 6), "flipped": flipped, "operations": part.operations}
            yield build(Part, {"id": f"a{self.serial}", "roles": ("engraves",), "shape": seen, **place})

    def _drawn(self, path: Path, role: Role, operation: str = "") -> Iterator[Part]:
        operations = {role: operation} if operation else {}
        for some in _chunks(path):
            left, top, right, bottom = some.bounds
            x, y = (left + right) / 2, (top + bottom) / 2
            self.serial += 1
            shape = Drawn(contours=contours_of(some.moved(-x, -y)))
            lies: dict[str, Any] = {"shape": shape, "x": x, "y": y}
            yield build(Part, {"id": f"a{self.serial}", "roles": (role,), "operations": operations, **lies})


def _edges_of_their_own(piece: Piece, found: ResolvedPiece) -> list[tuple[Path, str]]:
    """The edges of parts that an operation of their own takes, and its id."""
    return [
        (found.edges_of(index), operation)
        for index, part in enumerate(piece.made)
        for role, operation in part.operations
        if role in part.roles and role in ("adds", "cuts")
    ]


def _by_operation(piece: Piece, role: Role) -> list[tuple[str, list[int]]]:
    """The parts that play a role, by the operation of their own that takes it; "" for that of all others."""
    found: dict[str, list[int]] = {}
    for index, part in enumerate(piece.made):
        if role in part.roles:
            found.setdefault(dict(part.operations).get(role, ""), []).append(index)
    return list(found.items())


def _chunks(path: Path) -> Iterator[Path]:
    """A path as few drawn shapes hold it: bodies with their holes stay together."""
    closed = bodies_of(path) if path.closed.any() else []
    lines = [contour(path, number) for number, shut in enumerate(path.closed.tolist()) if not shut]
    some: list[Path] = []
    for one in (*closed, *lines):
        held = (sum(len(each.starts) for each in (*some, one)), sum(len(each) for each in (*some, one)))
        if some and (held[0] > MOST_CONTOURS or held[1] > MOST_NODES):
            yield join(some)
            some = []
        some.append(one)
    if some:
        yield join(some)
