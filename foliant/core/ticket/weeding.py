"""Weeding: a frame cut round all pieces of a foil, and lines between them, so that the waste comes off in strips."""

from collections.abc import Sequence
from itertools import pairwise

from foliant.core.layout import Layout
from foliant.core.paths import EMPTY, Path, PathPen, join
from foliant.core.paths.shapes import rectangle

Box = tuple[float, float, float, float]

_WITHIN = 1.0
"""The frame stays so far within the sheet, mm."""

_NARROWEST = 0.6
"""No line goes between pieces that lie nearer than so many mm."""


def weeding_path(layout: Layout, kind: str, margin: float) -> Path:
    """The frame (`frame`), and the lines between (`lines`), on the sheet: the frame `margin` mm outside of all pieces,
    or as far as the sheet reaches. Nothing where nothing lies there.
    """
    if kind == "none" or not layout.instances:
        return EMPTY
    left, top, right, bottom = layout.bounds
    frame = (
        max(left - margin, min(left, _WITHIN)),
        max(top - margin, min(top, _WITHIN)),
        min(right + margin, max(right, layout.width - _WITHIN)),
        min(bottom + margin, max(bottom, layout.height - _WITHIN)),
    )
    boxes = [laid.bounds for laid in layout.instances]
    lines = _between(boxes, frame, "down") if kind == "lines" else []
    width, height = frame[2] - frame[0], frame[3] - frame[1]
    round_all = rectangle(width, height).moved(frame[0] + width / 2, frame[1] + height / 2)
    return join([round_all, *(_line(*line) for line in lines)])


def _between(boxes: Sequence[Box], room: Box, way: str) -> list[tuple[float, float, float, float]]:
    """Straight lines through the gaps between boxes, from edge to edge of their room: level ones first, then upright
    ones in each row that those leave, and so on as long as there are gaps.
    """
    low, high = (1, 3) if way == "down" else (0, 2)
    groups = _groups(boxes, low, high)
    other = "across" if way == "down" else "down"
    if len(groups) == 1:
        return _between(boxes, room, other) if way == "down" and len(boxes) > 1 else []
    cuts = [(max(box[high] for box in one) + min(box[low] for box in two)) / 2 for one, two in pairwise(groups)]
    edges = [room[low], *cuts, room[high]]
    found = []
    for number, group in enumerate(groups):
        inner = list(room)
        inner[low], inner[high] = edges[number], edges[number + 1]
        if len(group) > 1:
            found += _between(group, (inner[0], inner[1], inner[2], inner[3]), other)
    level = way == "down"
    return [*((room[0], at, room[2], at) if level else (at, room[1], at, room[3]) for at in cuts), *found]


def _groups(boxes: Sequence[Box], low: int, high: int) -> list[list[Box]]:
    """Boxes that follow each other one way without a gap that a line could go through."""
    groups: list[list[Box]] = []
    end = 0.0
    for box in sorted(boxes, key=lambda one: one[low]):
        if groups and box[low] - end < _NARROWEST:
            groups[-1].append(box)
            end = max(end, box[high])
        else:
            groups.append([box])
            end = box[high]
    return groups


def _line(x0: float, y0: float, x1: float, y1: float) -> Path:
    pen = PathPen()
    pen.moveTo((x0, y0))
    pen.lineTo((x1, y1))
    pen.endPath()
    return pen.path()
