"""Letters: glyphs of set words, each with its outline and its place."""

from dataclasses import dataclass, replace

import numpy as np

from foliant.core.paths import Affine, Path, similarity

Bounds = tuple[float, float, float, float]


@dataclass(frozen=True, eq=False)
class Letter:
    """A glyph: its outline about its own origin on the baseline, in mm, and where that lies.

    turn       degrees clockwise about the origin
    advance    how far the next letter stands from it, mm
    line, word the line it is on, and the word of that line, from 0
    at         the character of its line that it stands for, from 0
    """

    outline: Path
    x: float
    y: float
    advance: float
    line: int
    word: int
    at: int
    turn: float = 0.0

    @property
    def matrix(self) -> Affine:
        """The map from its outline to its place."""
        return similarity(self.turn, 1.0, self.x, self.y)

    @property
    def path(self) -> Path:
        """Its outline where it lies."""
        return self.outline.transformed(self.matrix) if self.turn else self.outline.moved(self.x, self.y)

    @property
    def bounds(self) -> Bounds:
        """The box of its ink where it lies, mm."""
        if self.turn:
            return self.path.bounds
        left, top, right, bottom = self.outline.bounds
        return left + self.x, top + self.y, right + self.x, bottom + self.y

    @property
    def height(self) -> float:
        """How far its ink reaches above its line, mm."""
        return max(-self.outline.bounds[1], 0.0)

    def moved(self, dx: float, dy: float) -> "Letter":
        """The letter shifted by (dx, dy) mm."""
        return replace(self, x=self.x + dx, y=self.y + dy)


@dataclass(frozen=True, eq=False)
class Words:
    """Set words: their letters, line by line from the left, about the origin.

    missing    the characters that the font has no glyph for
    cap, em    the height of the capitals of the first line, and its em, mm
    baselines  where the baseline of each line lies, mm
    """

    letters: tuple[Letter, ...]
    missing: str
    cap: float
    em: float
    baselines: tuple[float, ...]

    @property
    def bounds(self) -> Bounds:
        """The box of the ink; zeros where there is none."""
        return box_of(self.letters)

    def moved(self, dx: float, dy: float) -> "Words":
        """The words shifted by (dx, dy) mm."""
        letters = tuple(letter.moved(dx, dy) for letter in self.letters)
        return replace(self, letters=letters, baselines=tuple(y + dy for y in self.baselines))

    def lines(self) -> list[list[Letter]]:
        """The letters of each line that has any."""
        found: dict[int, list[Letter]] = {}
        for letter in self.letters:
            found.setdefault(letter.line, []).append(letter)
        return list(found.values())


def box_of(letters: tuple[Letter, ...] | list[Letter]) -> Bounds:
    """The box round letters; zeros where there are none."""
    if not letters:
        return 0.0, 0.0, 0.0, 0.0
    boxes = np.array([letter.bounds for letter in letters])
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])
