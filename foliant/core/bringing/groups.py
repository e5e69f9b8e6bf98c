"""What came in, in groups: by layer, by colour, and by whether it is an area, an outline or an open line."""

import hashlib
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
import shapely

from foliant.core.bringing.colours import colour_word
from foliant.core.cleaning.gaps import joined
from foliant.core.cleaning.strokes import sides
from foliant.core.design.model import Role
from foliant.core.drawings import Drawing, Item
from foliant.core.drawings.areas import painted, stroked
from foliant.core.errors import Refused
from foliant.core.paths import Path, join
from foliant.core.paths.flatten import flatten
from foliant.core.paths.nesting import alternating, chosen_contours, contour, depths

Kind = Literal["outer", "inner", "open", "wide", "area"]
Told = Literal["line", "area"]

KINDS: dict[Kind, str] = {
    "outer": "outermost outline",
    "inner": "inner outline",
    "open": "open line",
    "wide": "wide line",
    "area": "area",
}

_ROLES: tuple[tuple[Role, str], ...] = (
    ("guides", r"guide|construct|hilf|hulp|guía|guia|repère|repere|reference|pomoc"),
    ("scores", r"score|scoring|fold|crease|ritz|falz|rill|vouw|pli\b|pliage"),
    ("engraves", r"engrav|etch|raster|gravur|gravier|grave|graver|incis"),
    ("cuts", r"\bcut|cutting|schneid|schnitt|snij|coupe|corte|taglio|kontur|through"),
)
_MOST_NESTED = 30_000
_MOST_LOOKS = 100


@dataclass(frozen=True, eq=False)
class Group:
    """Things of a drawing that belong together.

    kind   what its things are
    layer, colour  what they have in common
    lines  their lines or outlines, one path for each thing; none of areas
    areas  the areas that they cover; empty for lines as thin as can be
    width  how wide their lines are drawn, mm
    role   what they are guessed to be meant for
    """

    kind: Kind
    layer: str
    colour: str
    lines: tuple[Path, ...]
    items: tuple[Item, ...]
    width: float
    role: Role

    @cached_property
    def key(self) -> str:
        told = f"{self.kind} {self.layer} {self.colour}"
        return f"{self.kind}-{hashlib.sha256(told.encode()).hexdigest()[:10]}"

    @cached_property
    def areas(self) -> tuple[Path, ...]:
        """What the things cover, each filled by the nonzero rule."""
        found: list[Path] = []
        for item in self.items:
            try:
                found += painted(item) if self.kind == "area" else [stroked(item)] if item.width > 0 else []
            except Refused:
                found += [item.path]
        return tuple(path for path in found if len(path))

    @property
    def told(self) -> Told:
        """How it is taken unless it is said otherwise: as lines, or as the areas that they cover."""
        return "area" if self.kind in ("area", "wide") else "line"

    @property
    def count(self) -> int:
        """How many things it holds."""
        return len(self.items) if self.kind == "area" else sum(len(path.starts) for path in self.lines)

    def drawn(self, told: Told) -> tuple[Path, ...]:
        """Its paths, taken as lines or as areas."""
        return self.areas if told == "area" or not self.lines else self.lines


def groups_of(drawing: Drawing, bare: bool = False) -> tuple[Group, ...]:
    """The groups of a drawing, in the order in which they come; `bare` where there is no material yet that they could
    be meant to mark.
    """
    areas, lined = _sorted(_gathered(drawing.items))
    found = [
        Group("area", layer, colour, (), tuple(items), 0.0, "engraves") for (layer, colour), items in areas.items()
    ]
    found += _line_groups(lined, drawing.widest_thin)
    guessed = [_with_role(group) for group in found]
    if bare and not any(group.role == "adds" for group in guessed):
        largest = max((group for group in guessed if group.kind == "area"), key=_extent, default=None)
        if largest is not None:
            guessed = [_as(group, "adds") if group is largest else group for group in guessed]
    return tuple(guessed)


def _gathered(items: Sequence[Item]) -> Sequence[Item]:
    """The things with fewer colours, and without their layers, where those are too many to be answered one by one:
    colours of one name count as one.
    """
    if len(_looks(items)) <= _MOST_LOOKS:
        return items
    first: dict[str, str] = {"": ""}

    def alike(colour: str) -> str:
        return first.setdefault(colour and colour_word(colour), colour)

    fewer = [replace(item, fill=alike(item.fill), stroke=alike(item.stroke)) for item in items]
    return fewer if len(_looks(fewer)) <= _MOST_LOOKS else [replace(item, layer="") for item in fewer]


def _looks(items: Iterable[Item]) -> set[tuple[str, str]]:
    """The layers and colours of things."""
    return {(item.layer, colour) for item in items for colour in (item.fill, item.stroke) if colour}


Pairs = dict[tuple[str, str], list[Item]]


def _sorted(items: Iterable[Item]) -> tuple[Pairs, list[Item]]:
    """What is filled, by layer and colour, and what is drawn with a line."""
    areas: Pairs = {}
    lined: list[Item] = []
    for item in items:
        alike = item.fill and item.stroke == item.fill
        if item.fill:
            own = item if alike else Item(item.path, item.fill, item.odd, layer=item.layer)
            areas.setdefault((item.layer, item.fill), []).append(own)
        if item.stroke and not alike:
            lined.append(item)
    return areas, lined


def _line_groups(lined: list[Item], wide: float) -> Iterator[Group]:
    """Lines by layer, by colour, and by how they lie: outermost outlines, what lies in those, and open lines; those as
    wide as `wide`, mm, by themselves.
    """
    lined = _chained(lined)
    whole = join(item.path for item in lined)
    if not len(whole):
        return
    thin = np.repeat([item.width < wide for item in lined], [len(item.path.starts) for item in lined])
    depth = np.zeros(len(whole.starts), np.int64)
    if len(whole.starts) <= _MOST_NESTED and thin.any():
        depth[thin] = depths(chosen_contours(whole, thin))
        # What lies beside another line is no hole in it: they are the two sides of one stroke, or one drawn twice.
        for outer, inner, _ in sides([contour(whole, number) for number in range(len(whole.starts))], thinnest=0.0):
            depth[inner] = min(depth[inner], depth[outer])
    kinds = np.where(~whole.closed, "open", np.where(depth == 0, "outer", "inner"))
    order: dict[tuple[str, str, str], tuple[list[Path], list[Item]]] = {}
    begin = 0
    for item in lined:
        own = kinds[begin : begin + len(item.path.starts)]
        if item.width >= wide:
            own = np.full(len(own), "wide")
        begin += len(item.path.starts)
        for kind in dict.fromkeys(own.tolist()):
            chosen = np.flatnonzero(own == kind)
            path = item.path if len(chosen) == len(own) else join(contour(item.path, int(i)) for i in chosen)
            paths, items = order.setdefault((item.layer, item.stroke, kind), ([], []))
            paths.append(path)
            items.append(Item(path, "", False, item.stroke, item.width, item.ends, item.joins, item.layer))
    for (layer, colour, kind), (paths, items) in order.items():
        lines = _islands(paths) if kind == "inner" else tuple(paths)
        width = float(np.median([item.width for item in items]))
        yield Group(kind, layer, colour, lines, tuple(items), width, "engraves")  # type: ignore[arg-type]


def _chained(lined: list[Item]) -> list[Item]:
    """Lines of one look whose ends meet, as the longer lines and the outlines that they are together."""
    alike: dict[tuple[str, str, float], list[Item]] = {}
    for item in lined:
        alike.setdefault((item.layer, item.stroke, item.width), []).append(item)
    return [
        replace(some[0], path=path) for some in alike.values() for path in joined(tuple(item.path for item in some))
    ]


def _islands(paths: list[Path]) -> tuple[Path, ...]:
    """Inner outlines with those that lie in them running the other way, so that islands stay when the rest is cut."""
    whole = join(paths)
    if len(whole.starts) == 1 or not (depths(whole) > 0).any():
        return tuple(paths)
    return (alternating(whole),)


def _with_role(group: Group) -> Group:
    return _as(group, _guess(group))


def _as(group: Group, role: Role) -> Group:
    return Group(group.kind, group.layer, group.colour, group.lines, group.items, group.width, role)


def _guess(group: Group) -> Role:
    for role, words in _ROLES:
        if re.search(words, group.layer, re.IGNORECASE):
            if role != "cuts":
                return role
            return _CUT[group.kind]
    return _USUAL[group.kind]


_USUAL: dict[Kind, Role] = {"outer": "adds", "inner": "cuts", "open": "scores", "wide": "engraves", "area": "engraves"}
_CUT: dict[Kind, Role] = {**_USUAL, "wide": "adds", "area": "adds"}


def _extent(group: Group) -> float:
    left, top, right, bottom = join(item.path for item in group.items).bounds
    return (right - left) * (bottom - top)


def bodies_of(outlines: tuple[Path, ...]) -> list[shapely.Polygon]:
    """The areas that outermost outlines hold, from the top left."""
    whole = join(outlines)
    flat = flatten(whole, 0.02)
    number = whole.contour_of[flat.segment]
    found = [
        shapely.Polygon(np.concatenate([flat.points[number == i], flat.ends[number == i][-1:]]))
        for i in range(len(whole.starts))
        if (number == i).sum() >= 3
    ]
    return sorted(found, key=lambda one: (round(one.bounds[1], 1), one.bounds[0]))
