"""Lines: words set in a style, as letters on straight lines in mm."""

import math
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, replace

from foliant.core.errors import Refused
from foliant.core.lettering.direction import runs_of
from foliant.core.lettering.faces import WORKING_SIZE, Face, faces_of
from foliant.core.lettering.letters import Letter, Words, box_of
from foliant.core.lettering.library import font_for
from foliant.core.lettering.shaped import Shaped
from foliant.core.lettering.style import POINT, Align, Style
from foliant.core.paths import EMPTY, Path, combine, offset
from foliant.core.remembering import remembered

LONGEST = 1000
"""The most characters in one text."""

MOST_LINES = 40

LINE_HEIGHT = 1.25
"""From one baseline to the next, in em, at a line spacing of 100 %."""


def check_words(text: str) -> str:
    """The words as they can be set, line by line; raises `Refused` for what no text can hold."""
    lines = [" ".join(line.split()) for line in text.strip("\n").splitlines()] or [""]
    plain = "\n".join(lines).strip("\n")
    if not plain.strip():
        raise Refused("Type at least one letter; words made only of spaces would leave nothing to make.")
    if len(plain) > LONGEST:
        raise Refused(f"Words hold at most {LONGEST:,} characters and these have {len(plain):,}; shorten them.")
    if len(lines) > MOST_LINES:
        raise Refused(f"Words hold at most {MOST_LINES} lines and these have {len(lines):,}; use two texts.")
    if any(unicodedata.category(character) in ("Cc", "Cs", "Cn", "Co") and character != "\n" for character in plain):
        raise Refused("The words hold a control character that cannot be drawn; type them again without it.")
    return unicodedata.normalize("NFC", plain)


@dataclass(frozen=True, eq=False)
class _Glyph:
    """A shaped glyph with its face: where it stands on its line, in em, without the gaps that spacing adds."""

    face: Face
    glyph: int
    x: float
    dy: float
    advance: float
    word: int
    at: int


@remembered
def set_lines(text: str, style: Style) -> Words:
    """Words in a style, about the origin.

    The ink is centred on x = 0; half of what lies from the top of the first line's capitals to the last baseline
    is above y = 0, half below, so that words keep their place when they change.
    """
    faces = faces_of(font_for(style.font), style.axes)
    said = text.upper() if style.capitals else text
    shaped = [_shaped(line, faces, style) for line in said.split("\n")]
    missing = "".join(dict.fromkeys(character for _, lost in shaped for character in lost))
    shares = [1.0] + [style.further / 100] * (len(shaped) - 1)
    lines = [glyphs for glyphs, _ in shaped]
    em = _em(lines, shares, style, faces)
    if style.align == "filled":
        shares = _filled(lines, shares)
        em = _em(lines, shares, style, faces)
    found = _placed(lines, shares, em, style, faces)
    if style.weight and style.sized_by in ("width", "height"):
        # Weight moves the tip of a point by more than itself, but by the same at every size.
        left, top, right, bottom = box_of(found.letters)
        measure = right - left if style.sized_by == "width" else bottom - top
        em += (style.size - measure) * em / max(style.size - 2 * style.weight, 1e-6)
        found = _placed(lines, shares, max(em, 1e-3), style, faces)
    left, _, right, _ = found.bounds
    return replace(found.moved(-(left + right) / 2, (found.cap - found.baselines[-1]) / 2), missing=missing)


def _placed(
    lines: Sequence[Sequence[_Glyph]], shares: Sequence[float], em: float, style: Style, faces: Sequence[Face]
) -> Words:
    """The glyphs of all lines as letters, the first line on the baseline y = 0."""
    letters: list[Letter] = []
    baselines: list[float] = []
    y = 0.0
    for number, (line, share) in enumerate(zip(lines, shares, strict=True)):
        if number:
            y += em * share * LINE_HEIGHT * style.line_spacing / 100
        baselines.append(y)
        letters += _aligned([_letter(glyph, em * share, y, number, style) for glyph in line], style.align)
    there = tuple(letter for letter in letters if len(letter.outline))
    return Words(there, "", em * faces[0].cap_height, em, tuple(baselines))


def _shaped(line: str, faces: Sequence[Face], style: Style) -> tuple[list[_Glyph], list[str]]:
    """The glyphs of a line from the left, with spacing, in em; and the characters that no face has."""
    glyphs: list[_Glyph] = []
    missing: list[str] = []
    pen = 0.0
    gap = style.tracking / 100
    words = _word_numbers(line)
    for run in runs_of(line, faces):
        if run.face is None:
            missing += [character for character in run.text if unicodedata.category(character) not in ("Cf", "Mn")]
            pen += (0.5 + gap) * len(run.text)
            continue
        for found in _shape(run.face, run.text, run.right_to_left, style.features):
            at = run.start + found.at
            glyphs.append(_Glyph(run.face, found.glyph, pen + found.dx, found.dy, found.advance, words[at], at))
            space = line[at] == " "
            pen += found.advance * (style.word_spacing / 100 if space else 1.0) + (gap if found.advance else 0.0)
    return glyphs, missing


def _word_numbers(line: str) -> list[int]:
    return [line[:at].count(" ") for at in range(len(line))]


@remembered
def _shape(face: Face, text: str, right_to_left: bool, features: tuple[str, ...]) -> tuple[Shaped, ...]:
    return tuple(face.shape(text, _features(text, features), right_to_left))


def _features(text: str, features: tuple[str, ...]) -> dict[str, bool | int]:
    """The features as HarfBuzz takes them: "swsh first" on the first letter of every word alone."""
    found: dict[str, bool | int] = {}
    for feature in features:
        tag, _, where = feature.removeprefix("-").partition(" ")
        on = not feature.startswith("-")
        if not where:
            found[tag] = on
            continue
        for word_at, word in _words(text):
            at = word_at if where == "first" else word_at + len(word) - 1
            found[f"{tag}[{at}:{at + 1}]"] = on
    return found


def _words(text: str) -> list[tuple[int, str]]:
    found, at = [], 0
    for word in text.split(" "):
        if word:
            found.append((at, word))
        at += len(word) + 1
    return found


def _em(lines: Sequence[Sequence[_Glyph]], shares: Sequence[float], style: Style, faces: Sequence[Face]) -> float:
    """The size of the first line's em, mm, that gives the measure which the style keeps.

    Weight moves every edge of the ink by itself, and the rest is in proportion to the em.
    """
    match style.sized_by:
        case "points":
            return style.size * POINT
        case "capitals":
            return style.size / faces[0].cap_height
    lean = math.tan(math.radians(style.slant))
    tops, bottoms, widths = [], [], []
    y = 0.0
    for number, (line, share) in enumerate(zip(lines, shares, strict=True)):
        if number:
            y += share * LINE_HEIGHT * style.line_spacing / 100
        ink = _ink(line, lean)
        if ink:
            tops.append(y + ink[1] * share)
            bottoms.append(y + ink[3] * share)
            widths.append((ink[2] - ink[0]) * share)
    if not widths:
        return style.size / faces[0].cap_height
    measure = max(bottoms) - min(tops) if style.sized_by == "height" else max(widths)
    return max(style.size - 2 * style.weight, style.size * 0.05) / max(measure, 1e-6)


def _ink(line: Sequence[_Glyph], lean: float) -> tuple[float, float, float, float] | None:
    """The box of a line's ink, in em."""
    boxes = []
    for glyph in line:
        outline = _leaning(glyph.face, glyph.glyph, lean)
        if len(outline):
            left, top, right, bottom = outline.bounds
            boxes.append((left + glyph.x, top + glyph.dy, right + glyph.x, bottom + glyph.dy))
    if not boxes:
        return None
    lefts, tops, rights, bottoms = zip(*boxes, strict=True)
    return min(lefts), min(tops), max(rights), max(bottoms)


def _filled(lines: Sequence[Sequence[_Glyph]], shares: Sequence[float]) -> list[float]:
    """The share of each line that makes it as wide as the first."""
    inks = [_ink(line, 0.0) for line in lines]
    widths = [(ink[2] - ink[0]) * share if ink else 0.0 for ink, share in zip(inks, shares, strict=True)]
    first = next((width for width in widths if width), 1.0)
    return [share * first / width if width else share for share, width in zip(shares, widths, strict=True)]


def _letter(glyph: _Glyph, em: float, y: float, line: int, style: Style) -> Letter:
    outline = _outline(glyph.face, glyph.glyph, round(em, 9), style.slant, style.weight)
    return Letter(outline, glyph.x * em, y + glyph.dy * em, glyph.advance * em, line, glyph.word, glyph.at)


@remembered
def _outline(face: Face, glyph: int, em: float, slant: float, weight: float) -> Path:
    """A glyph's outline about its origin, in mm."""
    if weight and not face.single_line:
        heavier = _heavier(face, glyph, slant, round(weight / em, 9))
        return heavier.transformed((em, 0, 0, em, 0, 0))
    return _leaning(face, glyph, math.tan(math.radians(slant))).transformed((em, 0, 0, em, 0, 0))


@remembered
def _leaning(face: Face, glyph: int, lean: float) -> Path:
    outline = face.glyph(glyph)
    return outline.transformed((1, 0, -lean, 1, 0, 0)) if lean and len(outline) else outline


@remembered
def _heavier(face: Face, glyph: int, slant: float, weight: float) -> Path:
    """A glyph's outline in em, moved outwards by `weight` em; offset at a size that the tolerances are made for."""
    outline = _leaning(face, glyph, math.tan(math.radians(slant)))
    if not len(outline):
        return EMPTY
    scale = WORKING_SIZE / 10
    region = combine([outline.transformed((scale, 0, 0, scale, 0, 0))])
    return offset(region, weight * scale, "sharp").path.transformed((1 / scale, 0, 0, 1 / scale, 0, 0))


def _aligned(letters: list[Letter], align: Align) -> list[Letter]:
    """A line with its ink's left, middle or right at x = 0."""
    left, _, right, _ = box_of([letter for letter in letters if len(letter.outline)])
    at = {"left": left, "right": right}.get(align, (left + right) / 2)
    return [letter.moved(-at, 0) for letter in letters]
