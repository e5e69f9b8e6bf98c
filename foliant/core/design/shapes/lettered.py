"""What is done with set words: bent along an edge, fitted, joined, bridged. Each is None while it is not done.

Each says itself in a phrase, `sentence`, for the spec line; `more` is the rest, for the panel of letters.
"""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from foliant.core.frozen import Frozen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized

_Link = Annotated[str, Field(pattern=r"^[a-z][a-z0-9]{0,15}$")]
_Overlap = Annotated[float, Quantity("length", "The overlap", -50, 50)]
_Letters = Annotated[
    Literal["together", "each"],
    Quantity(
        "choice",
        "What reaches the edges",
        choices=(("together", "the words as a whole"), ("each", "every letter")),
    ),
]


class OnEdge(Frozen):
    """Along the edge of the part `to`. Angles are clockwise from the top, seen from the middle of that part."""

    to: _Link
    gap: Annotated[float, Quantity("length", "The distance from the edge", -200, 500)] = 2.0
    side: Annotated[
        Literal["outside", "inside", "opening"],
        Quantity(
            "choice",
            "The side of the edge",
            choices=(("outside", "outside"), ("inside", "inside"), ("opening", "within the opening of")),
        ),
    ] = "inside"
    reads: Annotated[
        Literal["top", "bottom"],
        Quantity(
            "choice",
            "How it reads",
            choices=(("top", "heads outwards, clockwise"), ("bottom", "feet outwards, read from below")),
        ),
    ] = "top"
    angle: Annotated[float, Quantity("angle", "The angle of its middle", -360, 360)] = 0.0
    spread: Annotated[float, Quantity("angle", "The angle it is spread over", 0, 360)] = 0.0

    title: ClassVar[str] = "on an edge"

    def sentence(self) -> Sequence[Bit]:
        return [Value("gap"), " ", Value("side"), " ", Value("to"), ", middle at ", Value("angle")]

    def more(self) -> Sequence[Bit]:
        return [
            ", ",
            Value("reads"),
            ", spread over ",
            Value("spread"),
            *([] if self.spread else [", as they are set"]),
        ]


class Fitting(Frozen):
    """Stretched into a box of its own (`of` is empty), between two parts, or to the rim of one.

    width, height, fills, stretch   of a box: its size, what is filled, and the most that letters are stretched
    margin                          of parts: what is left free at both ends
    overlap                         how far they reach beyond the edges
    """

    of: Annotated[tuple[_Link, ...], Field(max_length=2)] = ()
    width: Annotated[float, sized("The width of the box")] = 60.0
    height: Annotated[float, sized("The height of the box")] = 20.0
    fills: Annotated[
        Literal["both", "width", "height"],
        Quantity(
            "choice",
            "What is filled",
            choices=(("both", "both ways"), ("width", "its width"), ("height", "its height")),
        ),
    ] = "both"
    stretch: Annotated[float, Quantity("percent", "The most that letters are stretched", 100, 1000)] = 150.0
    margin: Annotated[float, sized("The margin at the ends", 0, 500)] = 3.0
    overlap: _Overlap = 0.0
    letters: _Letters = "together"

    title: ClassVar[str] = "fitted"

    def sentence(self) -> Sequence[Bit]:
        if self.of:
            return ["fitted to ", Value("of"), ", ", Value("overlap"), " into it"]
        return ["fitted into ", Value("width"), " × ", Value("height"), ", ", Value("overlap"), " over"]

    def more(self) -> Sequence[Bit]:
        if self.of:
            return [", ", Value("margin"), " free at the ends, reached by ", Value("letters")]
        return [
            ", filling ",
            Value("fills"),
            ", stretched ",
            Value("stretch"),
            " at most, reached by ",
            Value("letters"),
        ]


class Joined(Frozen):
    """Letters brought together until each reaches `overlap` mm into the one before, and lines into each other."""

    overlap: Annotated[float, sized("The overlap of letters", 0, 20)] = 0.5
    dots: Annotated[
        Literal["bridged", "lowered", "left"],
        Quantity(
            "choice",
            "Dots and accents",
            choices=(("bridged", "bridged"), ("lowered", "lowered"), ("left", "left as they are")),
        ),
    ] = "bridged"
    bridge: Annotated[float, sized("The width of bridges", 0.1, 50)] = 1.2
    bar: Annotated[float, sized("The height of the bar under it", 0, 100)] = 0.0

    title: ClassVar[str] = "joined"

    def sentence(self) -> Sequence[Bit]:
        bar: list[Bit] = [" on a bar ", Value("bar"), " high"] if self.bar else []
        return ["letters joined by ", Value("overlap"), *bar]

    def more(self) -> Sequence[Bit]:
        bar: list[Bit] = [] if self.bar else [", a bar under it ", Value("bar")]
        return [", dots ", Value("dots"), ", bridges ", Value("bridge"), " wide", *bar]


class Bridged(Frozen):
    """Stencil bridges across letters that are cut out, so that no counter falls.

    moved    (letter, counter, mm) of bridges that are moved sideways; letters and counters are numbered from 0
    removed  (letter, counter) of those that are taken out
    """

    width: Annotated[float, sized("The width of stencil bridges", 0.1, 50)] = 1.0
    number: Annotated[int, Quantity("count", "The number of bridges for each counter", 1, 2)] = 2
    direction: Annotated[
        Literal["upright", "level", "slanting"],
        Quantity(
            "choice",
            "Which way they run",
            choices=(("upright", "upright"), ("level", "level"), ("slanting", "slanting")),
        ),
    ] = "upright"
    moved: Annotated[tuple[tuple[int, int, float], ...], Field(max_length=500)] = ()
    removed: Annotated[tuple[tuple[int, int], ...], Field(max_length=500)] = ()

    title: ClassVar[str] = "bridged"

    def sentence(self) -> Sequence[Bit]:
        return ["counters held by bridges ", Value("width"), " wide"]

    def more(self) -> Sequence[Bit]:
        return [", ", Value("number"), " each, ", Value("direction")]


LetteringKey = Literal["edge", "fit", "joined", "stencil"]
AnyLettering = OnEdge | Fitting | Joined | Bridged
LETTERING: dict[LetteringKey, type[AnyLettering]] = {
    "edge": OnEdge,
    "fit": Fitting,
    "joined": Joined,
    "stencil": Bridged,
}
