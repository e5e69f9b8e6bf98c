"""Direction: a line of words cut into runs that one face sets one way, in the order in which they stand."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Any

from bidi import algorithm as bidi

from foliant.core.lettering.faces import Face, face_of


@dataclass(frozen=True)
class Run:
    """Characters that one face sets in one direction. `face` is None where no face has them; `start` is in the line."""

    face: Face | None
    text: str
    start: int
    right_to_left: bool


def runs_of(text: str, faces: Sequence[Face]) -> list[Run]:
    """The runs of a line from left to right, by the Unicode bidirectional algorithm (UAX 9)."""
    runs: list[Run] = []
    levels: list[int] = []
    start = 0
    for (level, face), group in groupby(zip(_levels(text), _faces(text, faces), strict=True)):
        count = len(list(group))
        runs.append(Run(face, text[start : start + count], start, bool(level % 2)))
        levels.append(level)
        start += count
    return _in_order(runs, levels)


def _in_order(runs: list[Run], levels: list[int]) -> list[Run]:
    """Rule L2: from the highest level down, every stretch of that level or higher is turned round."""
    for level in range(max(levels, default=0), 0, -1):
        at = 0
        for high, group in groupby(list(levels), key=lambda found, least=level: found >= least):  # type: ignore[misc]
            count = len(list(group))
            if high:
                runs[at : at + count] = reversed(runs[at : at + count])
                levels[at : at + count] = reversed(levels[at : at + count])
            at += count
    return runs


def _levels(text: str) -> list[int]:
    """The embedding level of each character: even from left to right, odd from right to left."""
    if text.isascii():
        return [0] * len(text)
    storage: dict[str, Any] = bidi.get_empty_storage()
    base = bidi.get_base_level(text)
    storage["base_level"], storage["base_dir"] = base, ("L", "R")[base]
    bidi.get_embedding_levels(text, storage)
    bidi.explicit_embed_and_overrides(storage)
    bidi.resolve_weak_types(storage)
    bidi.resolve_neutral_types(storage, False)
    bidi.resolve_implicit_levels(storage, False)
    levels = [int(character["level"]) for character in storage["chars"]]
    return levels if len(levels) == len(text) else [base] * len(text)


def _faces(text: str, faces: Sequence[Face]) -> list[Face | None]:
    """The face of each character; a space or a mark stays with the face of what stands before it where that has it."""
    found: list[Face | None] = []
    for character in text:
        before = found[-1] if found else None
        stays = before and not character.isalnum() and ord(character) in before.characters
        found.append(before if stays else face_of(faces, character))
    return found
