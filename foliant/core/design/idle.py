"""Idle parts: those that add nothing, cut nothing, or of which nothing is left."""

import shapely

from foliant.core.design.budget import too_much
from foliant.core.design.model import Piece
from foliant.core.design.placing import part_paths, part_region, shape_paths
from foliant.core.remembering import remembered

_NOTHING = 0.01
"""An area, in mm², that no machine can make."""


@remembered
def idle_parts(piece: Piece) -> dict[str, str]:
    """What each part that does nothing says of itself, by id: "adds nothing", "cuts nothing", "nothing is left of it".

    A part adds nothing where others add all of it too; of two alike, the later one. What nothing cuts away, such as a
    bridge, adds what would be cut away without it. What another part is made from, or
    goes along, does that. A slit cuts nothing away, and is not idle. Of a piece that is too much nothing is said.
    """
    if too_much(piece):
        return {}
    feeds = {one for part in piece.made for one in part.made_of}
    found: dict[str, str] = {}
    adds: list[str] = []
    cuts: list[str] = []
    shapes: dict[str, shapely.Geometry] = {}
    for part in piece.made:
        paths = part_paths(part)
        if not any(len(path) for path in paths):
            if part.made_of or any(len(path) for path in shape_paths(part.shape)):
                found[part.id] = "nothing is left of it"
        elif part.plays("adds") or (part.plays("cuts") and any(path.closed.any() for path in paths)):
            shapes[part.id] = part_region(part).shape
            (adds if part.plays("adds") else cuts).append(part.id)
    ids = [key for key in adds if not shapes[key].is_empty]
    material = [shapes[key] for key in ids]
    tree = shapely.STRtree(material)
    everything = shapely.union_all(material)
    keeping = [piece.part(key).shape.keeps for key in ids]
    away = shapely.union_all([shapes[key] for key in cuts] if any(keeping) else [])
    for at, key in enumerate(ids):
        others = sorted(int(i) for i in tree.query(material[at], predicate="intersects") if int(i) != at)
        # Of two alike the first counts: a part is covered by all others, if by those of its own kind then earlier ones.
        if key in feeds:
            continue
        others = [i for i in others if i < at or not material[i].equals(material[at])]
        cover = shapely.union_all([material[i] for i in others if not (keeping[at] and keeping[i])])
        if keeping[at]:
            kept = shapely.union_all([material[i] for i in others if keeping[i]])
            cover = cover.difference(away).union(kept)
        if material[at].difference(cover).area < _NOTHING:
            found[key] = "adds nothing"
    for key in adds:
        if shapes[key].is_empty:
            found[key] = "adds nothing"
    for key in cuts:
        if key not in feeds and shapes[key].intersection(everything).area < _NOTHING:
            found[key] = "cuts nothing"
    return found
