"""Cleaning up lines that others drew."""

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field

from foliant.core.cleaning import FAULTS, USUAL, Found, Paths, cleaned, found_in
from foliant.core.design.edits.command import PartsCommand, moved
from foliant.core.design.model import Design, Part
from foliant.core.design.placing import part_matrix, shape_paths
from foliant.core.design.shapes import Drawn, Outline
from foliant.core.design.shapes.shape import Shape
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.remembering import remembered


class CleanParts(PartsCommand):
    """Mend these faults, or all, of outlines that were brought in or drawn; what is left stays where it lies."""

    do: Literal["clean-parts"]
    faults: Annotated[tuple[str, ...], Field(max_length=20)] = USUAL

    def apply(self, design: Design) -> Design:
        parts = self.free(design)
        for part in parts:
            if not can_be_cleaned(part):
                raise Refused(f"{part.shape.label()[:40]} is told by its values and is clean; make it plain first.")
        changed = [clean for part in parts if (clean := _cleaned(part, self.faults)) is not part]
        if not changed:
            raise Refused("There is nothing to clean up.")
        return self.replaced(design, changed, moved=True)

    def says(self, design: Design) -> str:
        return f"clean up {self.named(design)}"


def can_be_cleaned(part: Part) -> bool:
    """Whether a part is of lines as somebody drew them."""
    return isinstance(part.shape, (Outline, Drawn))


def faults_of(part: Part, faults: tuple[str, ...] = USUAL) -> dict[str, Found]:
    """These faults of a part, where it has any, by their keys, about its own origin."""
    return {key: found for key, found in _faults(part.shape, faults).items() if not _is_meant(part, key)}


def mended(part: Part, faults: Iterable[str] = USUAL) -> tuple[Paths, dict[str, int]]:
    """The outlines of a part without these faults, about its own origin, and how many of each there were."""
    return cleaned(shape_paths(part.shape), [key for key in faults if not _is_meant(part, key)])


@remembered
def _faults(shape: Shape, faults: tuple[str, ...]) -> dict[str, Found]:
    return found_in(shape_paths(shape), faults)


def _is_meant(part: Part, fault: str) -> bool:
    """Whether it is no fault of this part: a stroke that is engraved is an area between its sides."""
    return part.plays("engraves") and fault in FAULTS and FAULTS[fault].fills


def counted(parts: Iterable[Part], faults: tuple[str, ...] = USUAL) -> dict[str, int]:
    """How many of each of these faults some parts have together, in the order in which they are mended."""
    found = dict.fromkeys(FAULTS, 0)
    for part in parts:
        for key, one in faults_of(part, faults).items():
            found[key] += one.count
    return {key: count for key, count in found.items() if count}


def _cleaned(part: Part, faults: tuple[str, ...]) -> Part:
    paths, counts = mended(part, faults)
    if not counts:
        return part
    if isinstance(part.shape, Drawn):
        whole = join(paths)
        left, top, right, bottom = whole.bounds
        x, y = (left + right) / 2, (top + bottom) / 2
        shape: Shape = Drawn.of(whole.moved(-x, -y))
    else:
        shape, (x, y) = Outline.of(paths, part.shape.name if isinstance(part.shape, Outline) else "")
    a, b, c, d, _, _ = part_matrix(part)
    # Outlines that have become lines, and have no width, add nothing any more: they are scored.
    bare = "ribbons" in counts and part.treatments.widened is None and not any(path.closed.any() for path in paths)
    roles = tuple(dict.fromkeys("scores" if bare and role == "adds" else role for role in part.roles))
    return moved(part.model_copy(update={"shape": shape, "roles": roles}), a * x + c * y, b * x + d * y)
