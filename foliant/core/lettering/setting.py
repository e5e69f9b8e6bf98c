"""Setting: words in a style, joined, fitted, bent along an edge and bridged, as outlines in mm."""

from dataclasses import dataclass, replace

from foliant.core.lettering.edge import Edge, baseline_gap, bent
from foliant.core.lettering.fitting import Box, Rails, filled, fitted, levelled
from foliant.core.lettering.joining import Joining, bars, bridges, closed_up, whole
from foliant.core.lettering.letters import Bounds, Letter, Words
from foliant.core.lettering.lines import set_lines
from foliant.core.lettering.stencil import Bridge, Stencil, stencilled
from foliant.core.lettering.style import Style
from foliant.core.paths import EMPTY, Path, join
from foliant.core.remembering import remembered


@dataclass(frozen=True, eq=False)
class Fill:
    """Rails that words fill the space between: `margin` mm free at both ends, `overlap` mm into both rails."""

    rails: Rails
    margin: float
    overlap: float


@dataclass(frozen=True)
class Fit:
    """What words are stretched into, and whether every letter reaches its edges, or only the tallest."""

    into: Box | Fill
    each: bool


@dataclass(frozen=True, eq=False)
class Setting:
    """Set words: one path a letter, then bridges and bars, in mm.

    letters   the letters where they lie
    missing   the characters the font has no glyph for
    box       the box they are placed by: across their ink, down from the first line's capitals to the last baseline,
              or what a fit fills, without the overlap
    bridges   the stencil bridges across letters
    baseline  how far the first baseline lies from the edge they run along, mm; 0 where there is none
    """

    paths: tuple[Path, ...]
    letters: tuple[Letter, ...]
    missing: str
    box: Bounds
    bridges: tuple[Bridge, ...] = ()
    baseline: float = 0.0


@remembered
def set_words(
    text: str,
    style: Style,
    joining: Joining | None = None,
    fit: Fit | None = None,
    edge: Edge | None = None,
    stencil: Stencil | None = None,
) -> Setting:
    """Set words, in this order: lines, joined letters, the fit, the edge, bridges.

    Words that are fitted are placed by the fit; an edge then bends what was fitted.
    """
    words = set_lines(text, style)
    if not words.letters:
        return Setting((EMPTY,), (), words.missing, (0.0, -words.cap / 2, 0.0, words.cap / 2))
    plain = words
    words = _joined(plain, joining, fit)
    box = _box(words)
    if fit:
        words, box, across = _fitted(words, fit.into)
        for _ in range(2 if joining else 0):
            # What is joined before it is stretched is to overlap, and its dots to be bridged, as asked when it is.
            assert joining
            narrow = replace(joining, overlap=joining.overlap / across, bridge=joining.bridge / across)
            words, box, across = _fitted(_joined(plain, narrow, fit), fit.into)
    baseline = 0.0
    if edge:
        baseline = baseline_gap(words, edge)
        words = bent(words, edge, joining)
    paths = [letter.path for letter in words.letters]
    if edge:
        box = join(paths).bounds
    held: list[Bridge] = []
    if stencil:
        paths, held = stencilled(words.letters, stencil)
    if joining:
        paths += bridges(words.letters, joining)
        if not edge and not (fit and isinstance(fit.into, Fill)):
            paths += bars(words, joining)
    return Setting(tuple(paths), words.letters, words.missing, box, tuple(held), baseline)


def _joined(words: Words, joining: Joining | None, fit: Fit | None) -> Words:
    """Words with their letters joined, if they are to be, and each of one height where each is fitted by itself."""
    words = whole(words, joining) if joining else words
    words = levelled(words) if fit and fit.each else words
    return closed_up(words, joining) if joining else words


def _fitted(words: Words, fit: Box | Fill) -> tuple[Words, Bounds, float]:
    """Words stretched by a fit, the box that they are placed by, and how many times as wide they are."""
    wide = max(words.bounds[2] - words.bounds[0], 1e-6)
    if isinstance(fit, Box):
        words, width, height = fitted(words, fit)
        return words, (-width / 2, -height / 2, width / 2, height / 2), width / wide
    width = max(float(fit.rails.x[-1] - fit.rails.x[0]) - 2 * fit.margin, 0.5)
    words = filled(words, fit.rails, width, fit.overlap)
    return words, words.bounds, width / wide


def _box(words: Words) -> Bounds:
    left, _, right, _ = words.bounds
    return left, words.baselines[0] - words.cap, right, words.baselines[-1]
