"""What becomes of a drawing that came in: parts of a piece, a new piece, or a piece for each of its bodies."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

import shapely

from foliant.core.bringing.groups import Group, Told, bodies_of, groups_of
from foliant.core.bringing.words import as_words
from foliant.core.design.edits.taking_in import TakeAnew, TakeIn
from foliant.core.design.model import ROLES, Part, Role
from foliant.core.design.shapes import Outline
from foliant.core.design.shapes.outline import Came
from foliant.core.drawings import Drawing
from foliant.core.errors import Refused
from foliant.core.lettering import FontEntry
from foliant.core.paths import Path, join
from foliant.core.quantities import build

Into = Literal["parts", "piece", "bodies", "anew"]
LEFT = "left"
"""What is said of a group that stays out."""

WORDS = "words"
"""The key of what is written in the drawing, beside its groups."""


@dataclass(frozen=True)
class Answers:
    """What a maker says of a drawing.

    factor  how many times as large as it came
    roles   the role of each group, or `LEFT`, where it is not the one that was guessed
    told    whether the lines of a group are taken as lines or as the areas that they cover, where it is said
    into    what it becomes
    name    what it is called
    """

    factor: float = 1.0
    roles: Mapping[str, str] = field(default_factory=dict)
    told: Mapping[str, Told] = field(default_factory=dict)
    into: Into = "parts"
    name: str = ""

    def role_of(self, group: Group) -> Role | None:
        """The role that a group gets; None where it stays out. Raises `Refused` for one that is none."""
        said = self.roles.get(group.key, group.role)
        if said == LEFT:
            return None
        if said not in ROLES:
            raise Refused(f"There is no role “{said[:30]}”: say {', '.join(ROLES)}, or {LEFT}.")
        return said

    def told_of(self, group: Group) -> Told:
        """How a group is taken: outlines that add or cut as they run, whatever the width of their line."""
        usual: Told = "line" if group.lines and self.role_of(group) in ("adds", "cuts") else group.told
        return self.told.get(group.key, usual)


def taken_in(
    drawing: Drawing, answers: Answers, piece: str, bare: bool = False, own: Sequence[FontEntry] = ()
) -> TakeIn | TakeAnew:
    """The edit that takes a drawing in, onto the piece of that id, beside it, or for what came from it before; raises
    `Refused`.

    own  the maker's own fonts, for what is written in it
    """
    if not 1e-4 <= answers.factor <= 1e4:
        raise Refused("A drawing is made at most 10,000 times as large or as small.")
    drawing = drawing.resized(answers.factor)
    groups = groups_of(drawing, bare)
    chosen = [(group, role) for group in groups if (role := answers.role_of(group))]
    parts: list[Part] = []
    for group, role in chosen:
        parts += _parts(group, role, answers, len(parts))
    written = answers.roles.get(WORDS, "engraves")
    if written != LEFT and answers.into != "anew":  # words are their maker's own by now
        parts += as_words(drawing.texts, written, len(parts), own)
    if not parts:
        raise Refused("Every group is left out, so there is nothing to take in: give one of them a role.")
    if answers.into == "anew":
        return TakeAnew(do="take-anew", piece=piece, file=answers.name[:80], outlines=tuple(parts))
    pieces = [parts]
    if answers.into == "bodies":
        outer = [path for group, role in chosen if role == "adds" for path in group.drawn(answers.told_of(group))]
        pieces = _by_body(parts, bodies_of(tuple(outer)))
    return TakeIn(do="take-in", piece=piece, name=answers.name, into=answers.into, pieces=tuple(map(tuple, pieces)))


def _parts(group: Group, role: Role, answers: Answers, begins: int) -> list[Part]:
    paths = group.drawn(answers.told_of(group))
    if not paths:
        return []
    single = answers.into == "bodies"
    found: list[Part] = []
    for some in [[path] for path in paths] if single else [list(paths)]:
        name = group.layer or answers.name
        shape, (x, y) = Outline.of(some, name)
        if not single:
            box = {"x": round(x, 6), "y": round(y, 6), "width": shape.width, "height": shape.height}
            came = build(Came, {"file": answers.name[:80], "group": group.key, **box})
            shape = shape.model_copy(update={"came": came})
        place = {"x": round(x, 6), "y": round(y, 6), "proportional": True}
        data: dict[str, Any] = {"id": f"a{begins + len(found) + 1}", "roles": (role,), **place}
        found.append(build(Part, {**data, "shape": shape}))
    return found


def _by_body(parts: Sequence[Part], bodies: Sequence[shapely.Polygon]) -> list[list[Part]]:
    """The parts of each body; what lies in none goes to the nearest."""
    if not bodies:
        raise Refused("A piece for each body needs outlines that add material: give a group that role.")
    tree = shapely.STRtree(bodies)
    found: list[list[Part]] = [[] for _ in bodies]
    for part in parts:
        at = _inside(join(part.shape.paths()), part)
        found[int(tree.nearest(at))].append(part)
    return [own for own in found if own]


def _inside(path: Path, part: Part) -> shapely.Point:
    x, y = path.points[0, 0] if len(path) else (0.0, 0.0)
    return shapely.Point(part.x + x, part.y + y)
