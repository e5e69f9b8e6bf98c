"""Whether material and openings are wide enough to be made."""

import math
from collections.abc import Iterator

import shapely

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix, outlines, say
from foliant.core.design import Part, part_paths, resolve
from foliant.core.design.edits.treating import TreatParts
from foliant.core.paths import combine
from foliant.core.paths.thin import ThinPlace, thin_openings, thin_places
from foliant.core.units import format_length

MOST_SHOWN = 60
_NEAR = 0.2


def material_is_not_too_thin(bench: Bench) -> Iterator[Finding]:
    """Webs thinner than the material holds break, or burn away."""
    piece = bench.piece
    places = thin_places(resolve(piece).outline, bench.limit)
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
        tuple(_grown(bench, places)),
    )


def _grown(bench: Bench, places: list[ThinPlace]) -> Iterator[Fix]:
    """Growing the one part that is thin in all these places by itself, by what its narrowest lacks."""
    spots = [place.shape.representative_point() for place in places]
    combined = bench.piece.combined
    for part in bench.piece.made:
        if not part.plays("adds") or part.shape.keeps or part.id in combined or part.made_of:
            continue
        own = shapely.union_all([thin.shape for thin in thin_places(combine(part_paths(part)), bench.limit)])
        if all(own.distance(spot) < _NEAR for spot in spots):
            more = math.ceil((bench.limit - places[0].width) / 2 * 20) / 20
            yield Fix(f"Grow {_name(part)} by {format_length(more, bench.unit)}", _growth(bench, part, more))
            return


def _growth(bench: Bench, part: Part, more: float) -> TreatParts:
    now = part.treatments.grown.distance if part.treatments.grown else 0.0
    values = {"distance": round(now + more, 3)}
    return TreatParts(do="treat-parts", piece=bench.piece.id, parts=(part.id,), treatment="grown", values=values)


def _name(part: Part) -> str:
    kind = "the strokes of " if part.shape.kind == "words" else ""
    return f"{kind}{part.shape.label()[:30]}"


def openings_can_be_cut(bench: Bench) -> Iterator[Finding]:
    """An opening narrower than the cut is burnt away whole."""
    piece = bench.piece
    places = thin_openings(resolve(piece).outline, bench.kerf)
    if not places:
        return
    kerf = format_length(bench.kerf, bench.unit)
    yield Finding(
        "openings_can_be_cut",
        "look",
        f"{piece.name} has an opening narrower than the cut",
        f"{len(places)} opening{'' if len(places) == 1 else 's'} on {piece.name} "
        f"{'is' if len(places) == 1 else 'are'} narrower than {kerf}, which the cut itself takes away, the narrowest "
        f"{say(max(places[0].width, 0.1), bench.unit)}: make it wider, or score a line there.",
        "shape",
        piece.id,
        shapely.union_all([place.shape for place in places]).bounds,
        outlines([place.shape for place in places[:MOST_SHOWN]]),
    )
