"""Ordering: in which order everything on a sheet is done.

Operations come in the ticket's order, but nothing that lies inside a contour is worked after that is cut: a contour
waits for what lies in it, on the piece itself and on pieces that lie in its openings.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

import numpy as np
import shapely

from foliant.core.layout import Laid
from foliant.core.paths import Path
from foliant.core.paths.flatten import flatten
from foliant.core.paths.nesting import contour
from foliant.core.program import Block, Strand
from foliant.core.ticket.sorting import Sorted


@dataclass(frozen=True, eq=False)
class Item:
    """Something done in one go on an instance.

    turn     the operation that it comes with: its own, or a later one that works inside it
    height   how many others come with the same operation before it, each inside the next
    own      the index of its operation on the ticket
    instance the index of its instance on the sheet
    what     a block that covers an area in a set order, or a line that may be begun and come anywhere
    """

    turn: int
    height: int
    own: int
    instance: int
    what: Block | Strand

    @property
    def fills(self) -> bool:
        """Whether it covers an area in a set order."""
        return isinstance(self.what, Block)


@dataclass(frozen=True, eq=False)
class Done:
    """What the operations that run do on one piece, sorted: on its face, and along the contours of its outline.

    faces  (operation, blocks that fill and lines)
    edges  (operation, depth, line, whether it goes through)
    """

    faces: tuple[tuple[int, tuple[Block | Strand, ...]], ...]
    edges: tuple[tuple[int, int, Strand, bool], ...]


def items_of(instances: Sequence[Laid], done: Sequence[Done], sorts: Sequence[Sorted]) -> list[Item]:
    """Everything that is done on the instances of a sheet, as it may be sorted by (turn, height, own)."""
    lies_in = _nested(instances, sorts)
    reached: dict[int, dict[int, int]] = {}  # for each instance, the turns of what is done on it and their heights
    found: list[Item] = []
    for number in _from_within(len(instances), lies_in):
        work = done[number]
        found += [
            Item(operation, 0, operation, number, what) for operation, found_there in work.faces for what in found_there
        ]
        inside: dict[int, int] = {}
        for depth in sorted(set(sorts[number].depth.tolist()), reverse=True):
            if depth % 2 == 0:  # a body comes off after all that is marked on it
                _raise(inside, {operation: 0 for operation, _ in work.faces})
            for inner in (i for i, at in lies_in if at == (number, depth)):
                _raise(inside, reached[inner])
            level = []
            for operation, at, line, through in work.edges:
                if at == depth:
                    turn = max(operation, *inside, -1) if through else operation
                    height = inside.get(turn, -1) + 1 if through else 0
                    level.append(Item(turn, height, operation, number, line))
            for item in level:
                _raise(inside, {item.turn: item.height})
            found += level
        _raise(inside, {operation: 0 for operation, _ in work.faces})
        reached[number] = inside
    return found


def _raise(heights: dict[int, int], others: dict[int, int]) -> None:
    for turn, height in others.items():
        heights[turn] = max(heights.get(turn, 0), height)


Nested = list[tuple[int, tuple[int, int]]]


def _nested(instances: Sequence[Laid], sorts: Sequence[Sorted]) -> Nested:
    """Which instance lies in an opening of which other, as (inner, (outer, depth of the opening))."""
    if len(instances) < 2:
        return []
    boxes = shapely.box(*np.array([instance.bounds for instance in instances]).T)
    inner, outer = shapely.STRtree(boxes).query(boxes, predicate="covered_by")
    found: Nested = []
    for i, o in zip(inner.tolist(), outer.tolist(), strict=True):
        if i == o or not sorts[o].depth.any():
            continue
        at = shapely.transform(instances[i].resolved.outline.shape, lambda points, i=i: points + instances[i].shift)
        inside = at.representative_point() if not at.is_empty else shapely.Point(instances[i].bounds[:2])
        depth = -1
        for level, ring in zip(sorts[o].depth.tolist(), _rings(sorts[o].outline), strict=True):
            shifted = shapely.transform(ring, lambda points, o=o: points + instances[o].shift)
            if shifted.contains(inside):
                depth = max(depth, level)
        if depth % 2 == 1:  # in an opening, not on the material
            found.append((i, (o, depth)))
    return found


def _rings(outline: Path) -> list[shapely.Polygon]:
    """The area inside each contour of an outline."""
    flats = (flatten(contour(outline, number)) for number in range(len(outline.starts)))
    return [shapely.Polygon(flat.points) if len(flat.points) > 2 else shapely.Polygon() for flat in flats]


def _from_within(count: int, lies_in: Nested) -> list[int]:
    """The instances, those first that lie in others."""
    sorter: TopologicalSorter[int] = TopologicalSorter({number: set() for number in range(count)})
    for inner, (outer, _) in lies_in:
        sorter.add(outer, inner)
    try:
        return list(sorter.static_order())
    except CycleError:  # two that lie over each other: the check says so
        return list(range(count))
