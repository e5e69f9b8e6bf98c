"""Edits of the parts that a piece has, what they do, and how they are kept: role, order, groups, locks."""

from typing import Literal

from foliant.core.design.edits.command import (
    PartsCommand,
    Values,
    moved,
    renumbered,
    shifted,
    with_members,
    with_parts,
    with_piece,
)
from foliant.core.design.edits.command import members as combined_members
from foliant.core.design.edits.landing import beside
from foliant.core.design.edits.putting import Holder, put
from foliant.core.design.model import ROLES, Design, Group, Part, Piece, Role
from foliant.core.design.placing import compose, copy_maps, inverse, part_matrix, shape_paths
from foliant.core.design.references import Point
from foliant.core.design.shapes import Drawn, Words
from foliant.core.design.treatments import Treatments
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.quantities import Across, Down


class SetRole(PartsCommand):
    """Give parts another role; with `also`, one beside those they play, or take it from those that play it."""

    do: Literal["set-role"]
    role: Role
    also: bool = False

    def apply(self, design: Design) -> Design:
        for part in self.chosen(design):
            design = put(design, Holder("part", (part.id,)), {"roles": self._roles(part)})
        return design

    def _roles(self, part: Part) -> tuple[Role, ...]:
        if not self.also:
            return (self.role,)
        return tuple({*part.roles} ^ {self.role})

    def says(self, design: Design) -> str:
        return f"{self.named(design)}: {'also ' if self.also else ''}{ROLES[self.role]}"


class DuplicateParts(PartsCommand):
    """Copies of parts, shifted by (dx, dy) mm, or straight across or down beside the first where neither is given; held
    ones keep their holds only where they stay in place.
    """

    do: Literal["duplicate-parts"]
    dx: Across | None = None
    dy: Down | None = None

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        parts = self.chosen(design)
        dx, dy = self._step(piece, parts)
        copies, ids = renumbered(with_members(piece, parts), design.serial)
        placed = [
            shifted(_let_go(copy, set(ids.values()), dx, dy), dx, dy).model_copy(update={"locked": False})
            for copy in copies
        ]
        placed, groups = _regrouped(placed, piece, design.serial + len(copies))
        grown = piece.model_copy(update={"parts": (*piece.parts, *placed), "groups": (*piece.groups, *groups)})
        return with_piece(design, grown, serial=design.serial + len(copies) + len(groups))

    def _step(self, piece: Piece, parts: list[Part]) -> Point:
        if self.dx is None and self.dy is None:
            return beside(piece, parts)
        return self.dx or 0.0, self.dy or 0.0

    def says(self, design: Design) -> str:
        return f"duplicate {self.named(design)}"


class RemoveParts(PartsCommand):
    """Take parts off a piece."""

    do: Literal["remove-parts"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        gone = {part.id for part in with_members(piece, self.free(design))}
        left = tuple(part for part in piece.parts if part.id not in gone)
        return with_piece(design, _without_empty_groups(piece.model_copy(update={"parts": left})))

    def says(self, design: Design) -> str:
        return f"delete {self.named(design)}"


class MarkParts(PartsCommand):
    """Lock or unlock parts, hide or show them, keep their proportions or not: what is None stays."""

    do: Literal["mark-parts"]
    locked: bool | None = None
    hidden: bool | None = None
    proportional: bool | None = None

    def apply(self, design: Design) -> Design:
        marks = self.model_dump(include={"locked", "hidden", "proportional"}, exclude_none=True)
        for part in self.chosen(design):
            design = put(design, Holder("part", (part.id,)), marks)
        return design

    def says(self, design: Design) -> str:
        words = {
            ("locked", True): "lock",
            ("locked", False): "unlock",
            ("hidden", True): "hide",
            ("hidden", False): "show",
            ("proportional", True): "keep the proportions of",
            ("proportional", False): "free the proportions of",
        }
        marks = self.model_dump(include={"locked", "hidden", "proportional"}, exclude_none=True)
        return f"{' and '.join(words[mark] for mark in marks.items()) or 'mark'} {self.named(design)}"


class OrderParts(PartsCommand):
    """Move parts in the order of the piece: what comes later lies above and is chosen first."""

    do: Literal["order-parts"]
    to: Literal["top", "up", "down", "bottom"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        chosen = {part.id for part in self.chosen(design)}
        parts = list(piece.parts)
        if self.to in ("top", "bottom"):
            parts.sort(key=lambda part: (part.id in chosen) == (self.to == "top"))
        else:
            step = 1 if self.to == "up" else -1
            for at in range(len(parts))[::-step]:
                other = at + step
                if parts[at].id in chosen and 0 <= other < len(parts) and parts[other].id not in chosen:
                    parts[at], parts[other] = parts[other], parts[at]
        return with_piece(design, piece.model_copy(update={"parts": tuple(parts)}))

    def says(self, design: Design) -> str:
        words = {"top": "bring to the top", "up": "raise", "down": "lower", "bottom": "send to the bottom"}
        return f"{words[self.to]}: {self.named(design)}"


class GroupParts(PartsCommand):
    """Make parts one group; the groups that lie wholly in it become its members."""

    do: Literal["group-parts"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        chosen = {part.id for part in self.chosen(design)}
        if len(chosen) < 2:
            raise Refused("A group needs at least two parts.")
        new = Group(id=f"g{design.serial + 1}")
        whole = {
            group.id
            for group in piece.groups
            if group.group is None and {part.id for part in members(piece, group.id)} <= chosen
        }
        groups = tuple(
            group.model_copy(update={"group": new.id}) if group.id in whole else group for group in piece.groups
        )

        def joined(part: Part) -> Part:
            inside = any(root in whole for root in ancestry(piece, part.group))
            return part if part.id not in chosen or inside else part.model_copy(update={"group": new.id})

        parts = tuple(joined(part) for part in piece.parts)
        grouped = piece.model_copy(update={"parts": parts, "groups": (*groups, new)})
        return with_piece(design, _without_empty_groups(grouped), serial=design.serial + 1)

    def says(self, design: Design) -> str:
        return f"group {self.named(design)}"


class UngroupParts(PartsCommand):
    """Undo the outermost group of the parts; groups within it stay."""

    do: Literal["ungroup-parts"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        gone = {ancestry(piece, part.group)[-1] for part in self.chosen(design) if part.group}
        if not gone:
            raise Refused("What is chosen is not in a group.")
        parts = tuple(part.model_copy(update={"group": None}) if part.group in gone else part for part in piece.parts)
        groups = tuple(
            group.model_copy(update={"group": None}) if group.group in gone else group
            for group in piece.groups
            if group.id not in gone
        )
        return with_piece(design, piece.model_copy(update={"parts": parts, "groups": groups}))

    def says(self, design: Design) -> str:
        return f"ungroup {self.named(design)}"


class MakePlain(PartsCommand):
    """Turn parts into drawn shapes with nodes; what is repeated becomes one drawn shape of all its copies."""

    do: Literal["make-plain"]

    def apply(self, design: Design) -> Design:
        parts = self.free(design)
        piece = design.piece(self.piece)
        gone = {one.id for part in parts for one in combined_members(piece, part.id)}
        left = tuple(part for part in piece.parts if part.id not in gone)
        plain = with_parts(piece.model_copy(update={"parts": left}), [self._plain(part) for part in parts])
        return with_piece(design, plain)

    def _plain(self, part: Part) -> Part:
        if isinstance(part.shape, Drawn) and part.repeat is None and part.form is part.shape:
            return part
        if part.shape.look:
            raise Refused(f"{part.shape.label()[:40]} is a picture, which has no outline to be made plain.")
        first = part_matrix(part)
        back = inverse(first)
        paths = [
            path.transformed(compose(matrix, back))
            for matrix in copy_maps(part).values()
            for path in shape_paths(part.form)
        ]
        if not any(len(path) for path in paths):
            raise Refused(f"Nothing is left of {part.shape.label()[:40]}, so there is nothing to make plain.")
        shape = Drawn.of(join(paths)).model_copy(update={"name": _worded(part)})
        left, top, right, bottom = join(shape.paths()).bounds
        x, y = (left + right) / 2, (top + bottom) / 2
        centred = shape.with_contours(contour.moved(-x, -y) for contour in shape.contours)
        a, b, c, d, _, _ = first
        plain = part.model_copy(update={"shape": centred, "repeat": None, "treatments": Treatments()})
        return moved(plain, a * x + c * y, b * x + d * y)

    def says(self, design: Design) -> str:
        return f"make {self.named(design)} plain"


def _worded(part: Part) -> str:
    """What is kept of the name of a part that is made plain: its words, or the name that it was brought in by."""
    made_of = (source.form for source in getattr(part.shape, "sources", ()))
    of = (part.shape, *(getattr(form, "shape", form) for form in made_of))
    worded = any(getattr(shape, "says", "") or getattr(shape, "name", "") for shape in of)
    return " ".join(part.shape.label().split())[:60] if worded else ""


class SplitWords(PartsCommand):
    """Words made into one part a letter, each where it stood, so that they can be placed one by one."""

    do: Literal["split-words"]

    def apply(self, design: Design) -> Design:
        piece = design.piece(self.piece)
        serial = design.serial
        parts: list[Part] = []
        chosen = {part.id for part in self.free(design)}
        for part in piece.parts:
            if part.id not in chosen or not isinstance(part.shape, Words):
                parts.append(part)
                continue
            a, b, c, d, _, _ = part_matrix(part)
            for letter, x, y, turn in part.shape.letters():
                serial += 1
                single = part.model_copy(
                    update={
                        "id": f"a{serial}",
                        "shape": letter,
                        "rotation": part.rotation + (-turn if part.flipped else turn),
                        "across": None,
                        "down": None,
                        "repeat": None,
                    }
                )
                parts.append(moved(single, a * x + c * y, b * x + d * y))
        if serial == design.serial:
            raise Refused("Only words can be split into letters.")
        return with_piece(design, piece.model_copy(update={"parts": tuple(parts)}), serial=serial)

    def says(self, design: Design) -> str:
        return f"split {self.named(design)} into letters"


def _let_go(copy: Part, copied: set[str], dx: float, dy: float) -> Part:
    """A copy that is moved cannot be held where its original is."""
    gone: Values = {}
    if dx and copy.across and copy.across.to not in copied:
        gone["across"] = None
    if dy and copy.down and copy.down.to not in copied:
        gone["down"] = None
    return copy.model_copy(update=gone)


def ancestry(piece: Piece, group: str | None) -> list[str]:
    """A group and the groups it lies in, from the inside out."""
    found: list[str] = []
    above = {item.id: item.group for item in piece.groups}
    while group is not None and group in above and group not in found:
        found.append(group)
        group = above[group]
    return found


def members(piece: Piece, group: str) -> list[Part]:
    """The parts of a group, and of the groups in it."""
    return [part for part in piece.parts if group in ancestry(piece, part.group)]


def _regrouped(parts: list[Part], piece: Piece, serial: int) -> tuple[list[Part], list[Group]]:
    """Copies in groups of their own, made as those of their originals."""
    wanted = dict.fromkeys(group for part in parts for group in ancestry(piece, part.group))
    ids = {group: f"g{serial + i}" for i, group in enumerate(wanted, 1)}
    above = {item.id: item.group for item in piece.groups}
    groups = [Group(id=new, group=ids.get(above[old] or "")) for old, new in ids.items()]
    return [part.model_copy(update={"group": ids.get(part.group or "")}) for part in parts], groups


def _without_empty_groups(piece: Piece) -> Piece:
    used = {group for part in piece.parts for group in ancestry(piece, part.group)}
    return piece.model_copy(update={"groups": tuple(group for group in piece.groups if group.id in used)})
