"""Whether material and openings are wide enough to be made."""

import math
from collections.abc import Iterator

import numpy as np
import shapely

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix, outlines, say
from foliant.core.design import Part, Piece, apply, part_paths, resolve
from foliant.core.design.benches import alone
from foliant.core.design.budget import weight
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.combining import SurroundParts
from foliant.core.design.edits.mending import FillOpenings
from foliant.core.design.edits.placing import MoveParts
from foliant.core.design.edits.treating import TreatParts
from foliant.core.design.placing import part_region, placements
from foliant.core.design.shapes import Words
from foliant.core.errors import Refused
from foliant.core.paths import Region, combine
from foliant.core.paths.thin import ThinPlace, lost_openings, thin_places
from foliant.core.remembering import remembered
from foliant.core.units import format_length

MOST_SHOWN = 60
_NEAR = 0.2
_QUICK = 3000
"""Segments (see `design.budget`) of a piece on which a fix is tried before it is offered."""

_LITTLE = 4.0
"""The area, in mm², of an opening that may be filled without being missed."""


def material_is_not_too_thin(bench: Bench) -> Iterator[Finding]:
    """Webs thinner than the material holds break, or burn away."""
    piece = bench.piece
    tips = shapely.union_all(list(_tips(piece)))
    places = [place for place in thin_places(resolve(piece).outline, bench.limit) if not tips.covers(place.shape)]
    if not places:
        return
    narrowest, limit = format_length(round(places[0].width, 2), bench.unit), format_length(bench.limit, bench.unit)
    count = "One place is" if len(places) == 1 else f"{len(places)} places are"
    yield Finding(
        "material_is_not_too_thin",
        "look",
        f"{piece.name} is thin: {narrowest} at its narrowest",
        f"{count} thinner than {limit} on {piece.name}, the narrowest {narrowest}: it may break there. "
        "Grow the strokes, move parts closer, or put a surround round them.",
        "shape",
        piece.id,
        shapely.union_all([place.shape for place in places[:MOST_SHOWN]]).bounds,
        outlines([place.shape for place in places[:MOST_SHOWN]]),
        tuple(_thickened(bench, places)),
    )


def _tips(piece: Piece) -> Iterator[shapely.Geometry]:
    """Where parts of a piece are meant to run out to a point, or to leave little between their holes."""
    for part in piece.made:
        thin = part.shape.tips if part.plays("adds") else part.shape.mesh if part.plays("cuts") else ()
        if thin:
            for a, b, c, d, e, f in placements(part):
                for x, y, reach in thin:
                    yield shapely.Point(a * x + c * y + e, b * x + d * y + f).buffer(reach)


def _thickened(bench: Bench, places: list[ThinPlace]) -> Iterator[Fix]:
    """Growing the parts that are thin by themselves, if all places are theirs; else moving two parts together, or a
    surround of all, where that does away with what is thin.
    """
    for part in bench.piece.made:
        bridges = part.shape.stencil if isinstance(part.shape, Words) and part.plays("cuts") else None
        if bridges and bridges.width < bench.limit:
            wide = math.ceil(bench.limit * 10) / 10
            wider = Change(do="change", of=f"stencil {part.id}", values={"width": f"{wide} mm"})
            yield Fix(f"Make the stencil bridges {format_length(wide, bench.unit)} wide", wider)
    more = math.ceil((bench.limit - places[0].width) / 2 * 20) / 20
    spots = [place.shape.representative_point() for place in places]
    combined = bench.piece.combined
    own = {}
    for part in bench.piece.made:
        if part.plays("adds") and not part.shape.keeps and part.id not in combined and not part.made_of:
            thin = [found.shape for found in thin_places(part_region(part), bench.limit)]
            own[part.id] = shapely.union_all(thin)
    thin_parts = [part for part in bench.piece.made if part.id in own and not own[part.id].is_empty]
    guilty = [part for part in thin_parts if any(own[part.id].distance(spot) < _NEAR for spot in spots)]
    if guilty and all(any(own[part.id].distance(spot) < _NEAR for part in guilty) for spot in spots):
        what = _name(guilty[0]) if len(guilty) == 1 else f"{len(guilty)} parts"
        yield Fix(f"Grow {what} by {format_length(more, bench.unit)}", _growth(bench, guilty, more))
        return
    if weight(bench.piece) > _QUICK:
        return
    movable = [part for part in bench.piece.made if part.id in own and not part.locked]
    if len(places) == 1 and (edit := _closer(bench, movable, places[0])):
        yield Fix(f"Move {_name(bench.piece.part(edit.parts[0]))} closer", edit)
    adds = tuple(part.id for part in bench.piece.made if part.plays("adds") and part.id not in combined)
    around = SurroundParts(do="surround-parts", piece=bench.piece.id, parts=adds, values={"distance": more})
    if not _thin_after(bench, around):
        yield Fix(f"Put a surround of {format_length(more, bench.unit)} round it", around)


def _closer(bench: Bench, parts: list[Part], place: ThinPlace) -> MoveParts | None:
    """The shortest move of one of the two parts that meet in a place, toward the other, after which nothing is thin."""
    spot = shapely.Point(place.at)
    shapes = {part.id: part_region(part).shape for part in parts}
    near = [part for part in parts if shapes[part.id].distance(spot) < bench.limit]
    if len(near) != 2:
        return None
    mover, other = sorted(near, key=lambda part: shapes[part.id].area)
    way = np.subtract(*(np.array(shapes[part.id].centroid.coords[0]) for part in (other, mover)))
    way = way / (np.hypot(*way) or 1)
    for step in (0.25, 0.5, 1.0, 2.0, 4.0):
        dx, dy = np.round(way * step * bench.limit, 2).tolist()
        edit = MoveParts(do="move-parts", piece=bench.piece.id, parts=(mover.id,), dx=dx, dy=dy)
        if not _thin_after(bench, edit):
            return edit
    return None


def _thin_after(bench: Bench, edit: SurroundParts | MoveParts) -> bool:
    """Whether anything is thin, or the piece falls apart, once an edit is done."""
    try:
        piece = apply(alone(bench.piece), edit).pieces[0]
    except Refused:
        return True
    outline = resolve(piece).outline
    return bool(thin_places(outline, bench.limit)) or len(outline.bodies) > len(resolve(bench.piece).outline.bodies)


def _growth(bench: Bench, parts: list[Part], more: float) -> TreatParts:
    now = max(part.treatments.grown.distance if part.treatments.grown else 0.0 for part in parts)
    ids, values = tuple(part.id for part in parts), {"distance": round(now + more, 3)}
    return TreatParts(do="treat-parts", piece=bench.piece.id, parts=ids, treatment="grown", values=values)


def _name(part: Part) -> str:
    kind = "the strokes of " if part.shape.kind == "words" else ""
    return f"{kind}{part.shape.label()[:30]}"


def openings_can_be_cut(bench: Bench) -> Iterator[Finding]:
    """An opening that vanishes in the cut, or falls apart in it, is not what was drawn."""
    piece = bench.piece
    openings = _openings(piece)
    places = lost_openings(openings, bench.kerf)
    if not places:
        return
    kerf = format_length(bench.kerf, bench.unit)
    many = "One opening" if len(places) == 1 else f"{len(places)} openings"
    narrowest = say(max(places[0].width, 0.1), bench.unit)
    yield Finding(
        "openings_can_be_cut",
        "look",
        f"{piece.name} has an opening narrower than the cut",
        f"{many} on {piece.name} {'vanishes' if len(places) == 1 else 'vanish'} in the cut, which is {kerf} wide, or "
        f"{'falls' if len(places) == 1 else 'fall'} apart in it; the narrowest place is {narrowest}. Make it wider, "
        "fill it, or score a line there.",
        "shape",
        piece.id,
        shapely.union_all([place.shape for place in places]).bounds,
        outlines([place.shape for place in places[:MOST_SHOWN]]),
        tuple(_opened(bench, openings, places)),
    )


def _openings(piece: Piece) -> shapely.Geometry:
    """What is open in a piece: the holes in its bodies, and what is cut away of its edges."""
    cuts = tuple(part for part in piece.made if part.plays("cuts"))
    adds = tuple(part for part in piece.made if part.plays("adds")) if cuts else ()
    return _open_between(resolve(piece).outline, adds, cuts)


@remembered
def _open_between(outline: Region, adds: tuple[Part, ...], cuts: tuple[Part, ...]) -> shapely.Geometry:
    holes = [shapely.Polygon(ring) for body in shapely.get_parts(outline.shape) for ring in body.interiors]
    if not cuts:
        return shapely.union_all(holes)
    whole, away = (combine([path for part in parts for path in part_paths(part)]).shape for parts in (adds, cuts))
    return shapely.union_all([*holes, shapely.intersection(whole, away)]).difference(outline.shape)


def _opened(bench: Bench, openings: shapely.Geometry, places: list[ThinPlace]) -> Iterator[Fix]:
    """Growing the one part that cuts all these places, or else filling those that vanish."""
    spots = [shapely.Point(place.at) for place in places]
    for part in bench.piece.made:
        if part.plays("cuts") and not part.made_of and not part.shape.keeps_margin:
            own = part_region(part).shape
            if all(own.distance(spot) < 1e-6 for spot in spots):
                if part.shape.mesh:  # its openings have the size that they are to have
                    return
                more = math.ceil((bench.kerf - places[0].width) / 2 * 20 + 0.2) / 20
                yield Fix(f"Widen {_name(part)} by {format_length(2 * more, bench.unit)}", _growth(bench, [part], more))
                return
    if all(place.shape.area < _LITTLE for place in places):
        at = tuple((round(place.at[0], 4), round(place.at[1], 4)) for place in places[:MOST_SHOWN])
        title = "Fill it" if len(places) == 1 else "Fill them"
        yield Fix(title, FillOpenings(do="fill-openings", piece=bench.piece.id, at=at))
