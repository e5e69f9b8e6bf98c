"""Words in a font: their setting, and whether they are joined, fitted, bent along an edge or bridged."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from foliant.core.design.shapes.following import Following, region_of
from foliant.core.design.shapes.lettered import AnyLettering, Bridged, Fitting, Joined, LetteringKey, OnEdge
from foliant.core.design.shapes.shape import Shape, StandIn, even, short
from foliant.core.errors import Refused
from foliant.core.lettering import (
    Box,
    Edge,
    Fill,
    Fit,
    Joining,
    Rails,
    Setting,
    Stencil,
    Style,
    axes_of,
    find_font,
    font_for,
    font_name,
    rails_between,
    rails_inside,
    set_lines,
    set_words,
)
from foliant.core.lettering.style import POINT
from foliant.core.paths import Path
from foliant.core.paths.nesting import contour, depths
from foliant.core.phrases import Bit, Measure, Value
from foliant.core.quantities import Font, Quantity, SomeWords, quantity_of, sized
from foliant.core.remembering import remembered
from foliant.core.units import Unit

_SIZED_BY = (
    ("capitals", "capitals"),
    ("height", "from top to bottom"),
    ("width", "from end to end"),
    ("points", "type of"),
)
_ALIGN = (
    ("left", "left"),
    ("middle", "middle"),
    ("right", "right"),
    ("filled", "each filled to the width of the first"),
)
_OVER_ROWS = (("each", "each row its own"), ("one", "one for all rows"))
_AXES = {"boldness": "wght", "breadth": "wdth"}
_A_LETTER = 26
"""About how many segments a letter has."""

_ROUNDS = {"joined": 2.0, "fit": 1.5, "edge": 1.5, "stencil": 2.0}
_NO_LIGATURES = ("-liga", "-clig", "-dlig", "-calt")
Feature = Annotated[str, Field(pattern=r"^-?[a-z][a-z0-9]{3}( first| last)?$")]


class Words(Following):
    """Lines of words. On a straight line the ink is centred on the origin, and half of what lies from the top of the
    first capitals to the last baseline is above it.

    Of `cap_height`, `height`, `width` and `points` the one that `sized_by` names counts, unless the words would be
    wider than `at_most` or higher than `at_most_high`: then they are smaller. Where they come from rows, `over_rows`
    gives all the size of the smallest. `boldness` and `breadth` are the weight (400 is regular) and the width
    of type that can be varied; see `lettering.Style` for the rest.
    `edge` and `fit` may have the words follow other parts: they then lie on the piece where those put them.
    """

    kind: Literal["words"] = "words"
    text: SomeWords = "Quillmoor"
    font: Font = "playfair-display"
    sized_by: Annotated[
        Literal["capitals", "height", "width", "points"], Quantity("choice", "How it is sized", choices=_SIZED_BY)
    ] = "capitals"
    cap_height: Annotated[float, sized("The height of the capitals", 0.5, 500)] = 7.5
    height: Annotated[float, sized("The height of the words", 0.5, 1000)] = 10.0
    width: Annotated[float, sized("The width of the words", 0.5, 3000)] = 50.0
    points: Annotated[float, Quantity("points", "The size of the type", 1, 4000)] = 30.0
    at_most: Annotated[float | None, sized("How wide the words are at most", 0.5, 3000)] = None
    at_most_high: Annotated[float | None, sized("How high the words are at most", 0.5, 1000)] = None
    over_rows: Annotated[Literal["each", "one"], Quantity("choice", "The size over rows", choices=_OVER_ROWS)] = "each"
    tracking: Annotated[float, Quantity("percent", "Tracking", -50, 300)] = 0.0
    word_spacing: Annotated[float, Quantity("percent", "The space between words", 0, 1000)] = 100.0
    line_spacing: Annotated[float, Quantity("percent", "The space between lines", 10, 1000)] = 100.0
    align: Annotated[Literal["left", "middle", "right", "filled"], Quantity("choice", "The lines", choices=_ALIGN)] = (
        "middle"
    )
    further: Annotated[float, Quantity("percent", "The size of further lines", 5, 1000)] = 100.0
    capitals: Annotated[
        Literal["typed", "all"],
        Quantity("choice", "Capitals", choices=(("typed", "as typed"), ("all", "all capitals"))),
    ] = "typed"
    weight: Annotated[float, Quantity("length", "The weight added", -20, 20)] = 0.0
    slant: Annotated[float, Quantity("angle", "The slant", -60, 60)] = 0.0
    boldness: Annotated[int, Quantity("count", "The weight of the type", 1, 1000)] = 400
    breadth: Annotated[float, Quantity("percent", "The width of the type", 10, 400)] = 100.0
    features: Annotated[tuple[Feature, ...], Field(max_length=40)] = ()
    joined: Joined | None = None
    fit: Fitting | None = None
    edge: OnEdge | None = None
    stencil: Bridged | None = None

    title: ClassVar[str] = "Words"
    role: ClassVar[str] = "engraves"
    shelf: ClassVar[str] = "first"
    first: ClassVar[str] = "text"
    remembers: ClassVar[tuple[str, ...]] = ("font",)

    @property
    def says(self) -> str:
        return self.text

    @property
    def follows(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys(((self.edge.to,) if self.edge else ()) + (self.fit.of if self.fit else ())))

    def following(self, ids: Mapping[str, str]) -> Self:
        changes: dict[str, AnyLettering | None] = {}
        if self.edge:
            to = ids.get(self.edge.to)
            changes["edge"] = self.edge.model_copy(update={"to": to}) if to else None
        if self.fit and self.fit.of:
            of = tuple(ids[key] for key in self.fit.of if key in ids)
            changes["fit"] = self.fit.model_copy(update={"of": of}) if len(of) == len(self.fit.of) else None
        return self.model_copy(update=changes)

    @property
    def settings(self) -> tuple[tuple[LetteringKey, AnyLettering], ...]:
        """What is done with the words, in order, with its names."""
        found: tuple[tuple[LetteringKey, AnyLettering | None], ...] = (
            ("joined", self.joined),
            ("fit", self.fit),
            ("edge", self.edge),
            ("stencil", self.stencil),
        )
        return tuple((key, setting) for key, setting in found if setting is not None)

    @property
    def style(self) -> Style:
        """How they are set."""
        style = self._as_sized
        if (self.at_most is None and self.at_most_high is None) or self.fit or self.edge:
            return style
        left, top, right, bottom = set_lines(self.text, style).bounds
        limits = ((self.at_most, right - left), (self.at_most_high, bottom - top))
        share = min(limit / max(extent, 1e-9) for limit, extent in limits if limit is not None)
        return style if share >= 1 else replace(style, size=style.size * share, weight=style.weight * share)

    @property
    def _as_sized(self) -> Style:
        """How they are set where they have room."""
        sizes = {"capitals": self.cap_height, "height": self.height, "width": self.width, "points": self.points}
        return Style(
            self.font,
            self.sized_by,
            sizes[self.sized_by],
            self.tracking,
            self.word_spacing,
            self.line_spacing,
            self.align,
            self.capitals == "all",
            self.weight,
            self.slant,
            self.further,
            self.features,
            tuple((tag, float(getattr(self, field))) for field, tag in _AXES.items() if tag in self.varies),
        )

    @property
    def varies(self) -> dict[str, tuple[float, float]]:
        """The ends of what its font can be varied along."""
        return axes_of(font_for(self.font))

    def made_in(self, roles: tuple[str, ...]) -> Shape:
        """Counters fall only out of letters that are cut through, so that bridges have no use in others."""
        return self if self.stencil is None or "cuts" in roles else self.model_copy(update={"stencil": None})

    def setting(self) -> Setting:
        """The set words: their outlines, and what the font lacks."""
        one, other = self.joined, self.stencil
        joining = Joining(one.overlap, one.dots, one.bridge, one.bar) if one else None
        stencil = Stencil(other.width, other.number, other.direction, other.moved, other.removed) if other else None
        return set_words(self.text, self.style, joining, self._fit(), self._edge(), stencil)

    def _fit(self) -> Fit | None:
        fit = self.fit
        if fit is None:
            return None
        each = fit.letters == "each"
        if not fit.of:
            return Fit(Box(fit.width, fit.height, fit.fills, fit.overlap, fit.stretch), each)
        paths = [region_of((source,)).path for source in self.sources if source.id in fit.of]
        if len(paths) < len(fit.of) or not all(len(path) for path in paths):
            return None
        if len(paths) == 1:
            rails = rails_inside(paths[0])
        else:
            rails = rails_between(*sorted(paths, key=lambda path: path.bounds[1] + path.bounds[3]))
        return Fit(_fill(rails, fit.margin, fit.overlap), each) if rails else None

    def _edge(self) -> Edge | None:
        edge = self.edge
        source = next((source for source in self.sources if edge and source.id == edge.to), None)
        if edge is None or source is None:
            return None
        guide = guide_of(region_of((source,)).path, edge.side == "opening")
        if guide is None:
            return None
        side: Literal["outside", "inside"] = "outside" if edge.side == "outside" else "inside"
        return Edge(guide, edge.gap, side, edge.reads, edge.angle, edge.spread)

    def paths(self) -> tuple[Path, ...]:
        return self.setting().paths

    def box(self) -> tuple[float, float, float, float]:
        """Across its ink; down from the capitals' top to the last baseline, so that other words stand on one line.

        What is fitted into a box fills it less the overlap: so bars held to its edges are overlapped.
        """
        return self.setting().box

    @property
    def goes_along(self) -> bool:
        return bool(self.follows)

    @property
    def missing(self) -> str:
        return self.setting().missing

    @property
    def baseline(self) -> float | None:
        return self.box()[3]

    def segments(self) -> int:
        return _A_LETTER * max(1, len(self.text))

    @property
    def rounds(self) -> float:
        return math.prod([_ROUNDS[key] for key, _ in self.settings], start=2.0 if self.weight else 1.0)

    @property
    def lessens(self) -> str:
        return f"its {len(self.text):,} characters"

    def stand_in(self) -> StandIn | None:
        if find_font(self.font):
            return None
        near = font_for(self.font)
        return StandIn("font", font_name(self.font), near.name, {"font": near.key}, alike=True)

    def changed_from(self, before: Shape) -> Shape:
        """Sized another way, words keep the size that they have but where one is typed with it; in another font, they
        have what that has of weight and width.
        """
        if not isinstance(before, Words):
            return self
        if before.sized_by == self.sized_by:
            return self._in_range(before)
        plain = set_lines(before.text, before.style)
        left, top, right, bottom = plain.bounds
        sizes = {"capitals": plain.cap, "height": bottom - top, "width": right - left, "points": plain.em / POINT}
        field = {"capitals": "cap_height"}.get(self.sized_by, self.sized_by)
        typed = getattr(self, field) != getattr(before, field)
        return self if typed or right <= left else self.sized(**{field: sizes[self.sized_by]})

    def _in_range(self, before: "Words") -> Shape:
        """The words with a weight and a width that their font has; raises `Refused` where others were typed."""
        changes = {}
        for field, tag in _AXES.items():
            now, (low, high) = getattr(self, field), self.varies.get(tag, (-math.inf, math.inf))
            fits = type(now)(min(max(now, low), high))
            if fits != now and before.font == self.font:
                label = quantity_of(Words, field).label
                raise Refused(f"{label} of {font_for(self.font).name} goes from {low:g} to {high:g}.")
            changes[field] = fits
        return self.model_copy(update=changes)

    def carried(self, dx: float, dy: float, turned: float) -> "Words":
        """Words that follow an edge, moved or turned by hand: their middle goes along it."""
        if self.edge is None:
            return self
        if abs(turned) > 1e-9:
            return self._at(self.edge.angle + turned)
        guide = self._edge()
        letters = self.setting().letters
        if guide is None or not letters:
            return self
        left, top, right, bottom = guide.guide.bounds
        middle = np.array([(left + right) / 2, (top + bottom) / 2])
        way = math.radians(self.edge.angle)
        reach = max(np.hypot(*(np.array([letter.x, letter.y]) - middle)) for letter in letters)
        at = np.array([math.sin(way), -math.cos(way)]) * reach + np.array([dx, dy])
        return self._at(math.degrees(math.atan2(at[0], -at[1])))

    def _at(self, angle: float) -> "Words":
        assert self.edge
        angle = round((angle + 180) % 360 - 180, 2)
        return self.model_copy(update={"edge": self.edge.model_copy(update={"angle": angle})})

    def resized(self, across: float, down: float) -> Shape:
        """A box of its own takes both sizes; other words keep their proportions."""
        if self.fit and self.fit.of:
            raise Refused(f"These words take their size from {self.names()}: size that instead.")
        if self.fit:
            size = {"width": round(self.fit.width * across, 6), "height": round(self.fit.height * down, 6)}
            # What is pulled wider by hand is meant to be stretched.
            stretch = min(round(self.fit.stretch * max(across / down, down / across), 2), 1000.0)
            fit = self.fit.model_copy(update={**size, "stretch": stretch})
            return self.model_copy(update={"fit": fit})
        return self.scaled(even(across, down))

    def scaled(self, factor: float) -> Shape:
        sizes = ("cap_height", "height", "width", "points", "weight", *self._limits)
        return self.sized(**{name: getattr(self, name) * factor for name in sizes})

    @property
    def _is_limited(self) -> bool:
        """Whether a limit makes it smaller than it would be."""
        return bool(self._limits) and self.style.size < self._as_sized.size - 1e-6

    @property
    def _limits(self) -> tuple[str, ...]:
        """The limits of its size that there are."""
        return tuple(name for name in ("at_most", "at_most_high") if getattr(self, name))

    def letters(self) -> list[tuple["Words", float, float, float]]:
        """Each letter as words of its own, and where its origin lies from this one: across, down, and how it turns.

        Raises `Refused` for words that are stretched, or written so that letters do not stand for themselves.
        """
        if self.fit:
            raise Refused("These words are stretched to fit: end the fit first, or make them plain.")
        alone = self.model_copy(update={"features": (*self.features, *_NO_LIGATURES), "stencil": None, "joined": None})
        lines = (self.text.upper() if self.capitals == "all" else self.text).split("\n")
        found = []
        for letter in alone.setting().letters:
            cap = alone.cap if letter.line == 0 else alone.cap * self.further / 100
            single = self.model_copy(
                update={
                    "text": lines[letter.line][letter.at],
                    "sized_by": "capitals",
                    "cap_height": round(cap, 6),
                    "at_most": None,
                    "at_most_high": None,
                    "edge": None,
                    "joined": None,
                    "sources": (),
                }
            )
            left, _, right, _ = letter.outline.bounds
            a, b, c, d, e, f = letter.matrix
            x, y = (left + right) / 2, -cap / 2
            found.append((single, a * x + c * y + e, b * x + d * y + f, letter.turn))
        if len(found) != sum(not character.isspace() for line in lines for character in line):
            raise Refused("The letters of these words do not stand for themselves; make them plain instead.")
        return found

    @property
    def cap(self) -> float:
        """The height of the capitals of the first line, mm."""
        return set_lines(self.text, self.style).cap

    def sentence(self) -> Sequence[Bit]:
        bits: list[Bit] = ["Words ", Value("text"), " in ", Value("font"), *self.varied_said()]
        bits += [] if self.fit else [", ", *self.size_said()]
        bits += [", tracking ", Value("tracking")]
        if "\n" in self.text:
            bits += [", lines ", Value("align"), ", ", Value("line_spacing"), " apart"]
            bits += [", further ones ", Value("further")] if self.further != 100 else []
        if self.word_spacing != 100:
            bits += [", words ", Value("word_spacing"), " apart"]
        if self.capitals != "typed":
            bits += [", ", Value("capitals")]
        if self.weight:
            bits += [", ", Value("weight"), " heavier"]
        if self.slant:
            bits += [", slanted ", Value("slant")]
        return bits

    def varied_said(self) -> list[Bit]:
        """The weight and the width of type that can be varied."""
        said: dict[str, list[Bit]] = {"wght": [", weight ", Value("boldness")], "wdth": [", width ", Value("breadth")]}
        return [bit for tag, bits in said.items() if tag in self.varies for bit in bits]

    def size_said(self) -> list[Bit]:
        """Its size: what is measured, and how much."""
        field = {"capitals": "cap_height"}.get(self.sized_by, self.sized_by)
        said: list[Bit] = [Value("sized_by"), " ", Value(field), *([" tall"] if self.sized_by == "capitals" else [])]
        said += [", at most ", Value("at_most"), " wide"] if self.at_most else []
        said += [", at most ", Value("at_most_high"), " high"] if self.at_most_high else []
        said += [": capitals ", Measure(round(self.cap, 2))] if self._is_limited else []
        said += [", ", Value("over_rows")] if self.over_rows != "each" else []
        return said

    def label(self) -> str:
        return self.text.replace("\n", " / ")

    def summary(self, unit: Unit) -> str:
        return "fitted" if self.fit else short(self.cap, unit)


@remembered
def _fill(rails: Rails, margin: float, overlap: float) -> Fill:
    """Kept, so that the same fit is found in the caches."""
    return Fill(rails, margin, overlap)


@remembered
def guide_of(path: Path, opening: bool) -> Path | None:
    """The largest outer contour of an outline, or the largest of its openings; None where it has none."""
    depth = depths(path)
    wanted = np.flatnonzero(path.closed & (depth % 2 == (1 if opening else 0)))
    contours = [contour(path, int(i)) for i in wanted]
    return max(contours, key=lambda one: abs(one.area), default=None)
