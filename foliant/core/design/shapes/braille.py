"""Words in Braille: cells of dots, made as holes for beads, as dots, or as the ground about them."""

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from foliant.core.braille import LANGUAGES, SIZES, TYPED, Telling, broken, dots_of, letters_of, tell
from foliant.core.braille.louis import MISSING, is_here
from foliant.core.design.shapes.shape import Shape, short
from foliant.core.errors import Refused
from foliant.core.paths import Path, join
from foliant.core.paths.nesting import alternating
from foliant.core.paths.shapes import circle, rectangle
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, SomeWords, build, sized
from foliant.core.units import Unit

_LANGUAGES = (*((key, language.name) for key, language in LANGUAGES.items()), (TYPED, "cells by their dots"))
_WRITINGS = (("plain", "uncontracted"), ("contracted", "contracted"))
_CAPITALS = (("marked", "capitals marked"), ("left", "capitals not marked"))
_SIZES = (*((key, sizes.title) for key, sizes in SIZES.items()), ("own", "as typed"))
_MADE = (
    ("holes", "holes for beads"),
    ("dots", "dots"),
    ("ground", "the ground about dots that stand"),
    ("embossed", "dots pressed from behind, mirrored"),
)
_USUAL = {"holes": "cuts", "dots": "scores", "ground": "engraves", "embossed": "engraves"}
"""What its part does where its dots are made so; dots that are glued have their places scored."""

_SIZED = ("dot", "apart", "cell", "line")
_GROUND = 3.0
"""How far, mm, the ground that is taken away reaches beyond the dots."""

_DOTS_A_CELL = 3
_SHOWN = 60
"""Cells that its sentence shows."""


class Braille(Shape):
    """Lines of cells about the middle of their dots, in mm; `of` is the part whose words it follows, if any.

    `cells` are the text as liblouis has it, `reads` is what they say, and `told` what they were told of: settling keeps
    them up, and the document keeps them, so that a sign is drawn alike where there is no liblouis.
    """

    kind: Literal["braille"] = "braille"
    text: SomeWords = "Quillmoor"
    of: Annotated[str, Field(pattern=r"^([a-z][a-z0-9]{0,15})?$")] = ""
    language: Annotated[str, Quantity("choice", "The language", choices=_LANGUAGES)] = "en"
    writing: Annotated[Literal["plain", "contracted"], Quantity("choice", "The Braille", choices=_WRITINGS)] = "plain"
    capitals: Annotated[Literal["marked", "left"], Quantity("choice", "Capitals", choices=_CAPITALS)] = "marked"
    made: Annotated[
        Literal["holes", "dots", "ground", "embossed"], Quantity("choice", "How the dots are made", choices=_MADE)
    ] = "holes"
    bead: Annotated[float, sized("The width of a bead", 0.5, 10)] = 1.6
    tight: Annotated[float, sized("How much narrower its hole is", 0, 1)] = 0.05
    sizes: Annotated[Literal["signs", "medium", "own"], Quantity("choice", "The sizes", choices=_SIZES)] = "signs"
    dot: Annotated[float, sized("The width of a dot", 0.5, 10)] = SIZES["signs"].dot
    apart: Annotated[float, sized("From dot to dot", 1, 20)] = SIZES["signs"].apart
    cell: Annotated[float, sized("From cell to cell", 2, 50)] = SIZES["signs"].cell
    line: Annotated[float, sized("From line to line", 3, 100)] = SIZES["signs"].line
    wide: Annotated[float, sized("How wide a line is at most", 3, 3000)] = 200.0
    align: Annotated[
        Literal["left", "middle"], Quantity("choice", "The lines", choices=(("left", "left"), ("middle", "middle")))
    ] = "left"
    cells: Annotated[str, Field(max_length=60_000, pattern=r"^[\u2800-\u28ff\n]*$")] = ""
    reads: Annotated[str, Field(max_length=60_000)] = ""
    unknown: Annotated[str, Field(max_length=5_000)] = ""
    told: Annotated[str, Field(max_length=6_000)] = ""

    title: ClassVar[str] = "Braille"
    role: ClassVar[str] = "cuts"
    first: ClassVar[str] = "text"
    keeps_size: ClassVar[bool] = True
    remembers: ClassVar[tuple[str, ...]] = ("language", "writing", "capitals", "made", "bead", "tight")

    def typed(self, values: dict[str, Any], unit: Unit) -> "Braille":
        whose = {"of": values["of"]} if "of" in values else {}
        found = super().typed({name: value for name, value in values.items() if name != "of"}, unit)
        assert isinstance(found, Braille)
        found = found.kept_up(None)
        return build(Braille, {**dict(found), **whose}) if whose else found

    @classmethod
    def lacks(cls) -> str:
        return "" if is_here() else MISSING

    @property
    def says(self) -> str:
        return self.text

    def kept_up(self, words: str | None) -> "Braille":
        """With the cells of its text, or of the words that it follows, where it has not got them; raises `Refused`."""
        text = self.text if words is None else words
        telling = Telling(self.language, self.writing, self.capitals == "marked")
        told = f"{self.language} {self.writing} {self.capitals} {text}"
        found = self
        if told != self.told:
            what = tell(text, telling)
            changes = {"cells": what.cells, "reads": what.reads, "unknown": what.missing, "told": told}
            found = self.model_copy(update={"text": text, **changes})
        broken(found.cells, found.most)
        return found

    @property
    def most(self) -> int:
        """How many cells a line has room for."""
        return max(0, int((self.wide - self.dot - self.apart) / self.cell + 1e-9) + 1)

    @property
    def spots(self) -> np.ndarray:
        """The middles of the dots, (n, 2), mm about the middle of the block."""
        lines = broken(self.cells, self.most)
        longest = max(1, *map(len, lines))
        found = []
        for row, line in enumerate(lines):
            begins = (longest - len(line)) / 2 * self.cell if self.align == "middle" else 0.0
            for at, cell in enumerate(line):
                for dot in dots_of(cell):
                    column, level = (dot - 1) // 3, (dot - 1) % 3
                    found.append((begins + at * self.cell + column * self.apart, row * self.line + level * self.apart))
        middle = np.array([(longest - 1) * self.cell + self.apart, (len(lines) - 1) * self.line + 2 * self.apart]) / 2
        return np.array(found, np.float64).reshape(-1, 2) - middle

    @property
    def stands(self) -> float:
        """How wide its dots are that stand out once it is made, mm; 0 where that is another's matter."""
        return {"holes": self.bead, "ground": self.dot}.get(self.made, 0.0)

    def paths(self) -> tuple[Path, ...]:
        across = self.bead - self.tight if self.made == "holes" else self.dot
        way = -1 if self.made == "embossed" else 1
        round_dot = circle(max(across, 0.1))
        dots = join(round_dot.moved(way * x, y) for x, y in self.spots.tolist())
        if self.made != "ground" or not len(dots):
            return (dots,)
        left, top, right, bottom = self.box()
        ground = rectangle(right - left + 2 * _GROUND, bottom - top + 2 * _GROUND)
        return (alternating(join([ground, dots])),)

    def box(self) -> tuple[float, float, float, float]:
        """Round all its cells, whichever of their dots they have, so that lines of Braille stand alike."""
        lines = broken(self.cells, self.most)
        wide = (max(1, *map(len, lines)) - 1) * self.cell + self.apart + self.dot
        high = (len(lines) - 1) * self.line + 2 * self.apart + self.dot
        return -wide / 2, -high / 2, wide / 2, high / 2

    @property
    def mesh(self) -> tuple[tuple[float, float, float], ...]:
        return tuple((x, y, self.apart) for x, y in self.spots.tolist())

    def segments(self) -> int:
        return 2 * _DOTS_A_CELL * max(len(self.cells), len(self.text))

    @property
    def lessens(self) -> str:
        return f"its {len(self.text):,} characters"

    def changed_from(self, before: Shape) -> "Braille":
        """Words that are typed follow no others; sizes are those of a standard, or as they are typed."""
        if not isinstance(before, Braille):
            return self
        found = self if self.text == before.text else self.model_copy(update={"of": ""})
        if found.sizes != before.sizes and found.sizes in SIZES:
            standard = SIZES[found.sizes]
            return found.model_copy(update={name: getattr(standard, name) for name in _SIZED})
        if any(getattr(found, name) != getattr(before, name) for name in _SIZED):
            return found.model_copy(update={"sizes": "own"})
        return found

    def roles_after(self, before: Shape, roles: tuple[str, ...]) -> tuple[str, ...]:
        """Dots that are made in another way are another work, unless the maker has chosen one."""
        usual = isinstance(before, Braille) and before.made != self.made and roles == (_USUAL[before.made],)
        return (_USUAL[self.made],) if usual else roles

    def resized(self, across: float, down: float) -> Shape:
        raise Refused("Braille has the size that fingers read; change the widths and distances in its sentence.")

    def scaled(self, factor: float) -> Shape:
        return self.resized(factor, factor)

    def sentence(self) -> Sequence[Bit]:
        bits: list[Bit] = ["Braille of ", Value("text")]
        bits += [", kept up with those words"] if self.of else []
        if 0 < len(self.cells) <= _SHOWN:
            shown, letters = (" / ".join(text.splitlines()) for text in (self.cells, letters_of(self.cells)))
            bits += [f", cells {shown}, in letters “{letters}”"]
        bits += [f", reading “{' / '.join(self.reads.splitlines())}”"] if self.reads else []
        bits += [", in ", Value("language")]
        if self.language != TYPED:
            bits += [", ", Value("writing"), ", ", Value("capitals")]
        bits += [", as ", Value("made")]
        if self.made == "holes":
            bits += [" ", Value("bead"), " wide, narrower by ", Value("tight")]
        bits += ["; sizes ", Value("sizes"), ": dots ", Value("dot"), " wide, ", Value("apart"), " apart, cells "]
        bits += [Value("cell"), ", lines ", Value("line"), " and at most ", Value("wide"), " wide"]
        if len(broken(self.cells, self.most)) > 1:
            bits += [", ", Value("align")]
        return bits

    def label(self) -> str:
        return f"⠃ {self.text}".replace("\n", " / ")

    def summary(self, unit: Unit) -> str:
        left, top, right, bottom = self.box()
        return f"{short(right - left, unit)} × {short(bottom - top, unit)}"
