"""Whether words can be read once they are made."""

import statistics
from collections.abc import Iterator
from dataclasses import replace

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix, say
from foliant.core.checks.marks import marks_lie_on_the_piece
from foliant.core.checks.overlaid import nothing_is_marked_twice
from foliant.core.design import Part, apply, part_paths
from foliant.core.design.benches import alone
from foliant.core.design.edits.adding import room_for_words
from foliant.core.design.edits.change import Change
from foliant.core.design.placing import part_bounds
from foliant.core.design.shapes import Words
from foliant.core.errors import Refused
from foliant.core.lettering import Style, set_lines
from foliant.core.paths import join
from foliant.core.remembering import remembered

_LEAST_CAPITALS = 1.5
_LEAST_SMALL = 1.0
"""What the eye reads at arm's length: the height of capitals and of small letters, mm."""

_OF_THE_CUT = {"cuts": 14.0, "adds": 14.0, "engraves": 8.0, "scores": 8.0}
"""How many widths of the cut capitals take at least to keep their openings."""

_PRESSED = 5.0
"""How many times narrower or wider than in their font fitted letters may be."""

_MORE = 1.1
"""How much taller than the least letters are made."""

_NO_DESCENDERS = frozenset("acemnorsuvwxz")
_NARROW = "oswald"


def letters_can_be_read(bench: Bench) -> Iterator[Finding]:
    """Capitals, small letters and proportions that this work on this material still shows."""
    for part in bench.piece.made:
        words = part.shape
        if not isinstance(words, Words):
            continue
        role = next((role for role in ("cuts", "adds", "engraves", "scores") if part.plays(role)), None)
        if role is None or not (trouble := _trouble(words, bench, _OF_THE_CUT[role])):
            continue
        title, why = trouble
        label = words.label()[:40]
        yield Finding(
            "letters_can_be_read",
            "look",
            f"“{label[:30]}” {title}",
            f"{why} on {bench.piece.name}: that is hard to read. Shorten “{label}”, set it in two lines or in another "
            "font, or give it more room.",
            "shape",
            bench.piece.id,
            part_bounds(part),
            join(part_paths(part)),
            tuple(_mended(bench, part, words, _OF_THE_CUT[role])),
        )


def _trouble(words: Words, bench: Bench, widths: float) -> tuple[str, str] | None:
    """What makes words hard to read, as a title and the beginning of a sentence; None where nothing does."""
    capitals, small, pressed = _measured(words)
    least, least_small = _least(bench, widths)
    if 0 < capitals < least - 0.01:
        return "is too small to be read", f"Capitals are {say(capitals, bench.unit)} tall"
    if 0 < small < least_small - 0.01:
        return "has small letters too small to be read", f"Small letters are {say(small, bench.unit)} tall"
    if pressed > _PRESSED:
        return "is pressed too far to be read", f"Letters are pressed to {1 / pressed:.0%} of their width"
    if pressed < 1 / _PRESSED:
        return "is stretched too far to be read", f"Letters are stretched to {1 / pressed:.1f} times their width"
    return None


def _least(bench: Bench, widths: float) -> tuple[float, float]:
    """How tall capitals and small letters are at least, mm."""
    return max(_LEAST_CAPITALS, widths * bench.kerf), max(_LEAST_SMALL, 0.6 * widths * bench.kerf)


@remembered
def _measured(words: Words) -> tuple[float, float, float]:
    """How tall its capitals and small letters are, mm, 0 where it has none; and how many times narrower than in their
    font its letters are.
    """
    bare = set_lines(words.text, Style(words.font, size=10.0))
    boxes = [(letter, letter.outline.bounds) for letter in bare.letters if len(letter.outline)]
    if not boxes:
        return 0.0, 0.0, 1.0
    lines = words.text.split("\n")
    small = [box[3] - box[1] for letter, box in boxes if lines[letter.line][letter.at] in _NO_DESCENDERS]
    small_share = statistics.median(small) / 10.0 if small else 0.0
    if words.fit is None:
        return words.cap, words.cap * small_share, 1.0
    found = [letter.path.bounds for letter in words.setting().letters if len(letter.path)]
    if not found:
        return 0.0, 0.0, 1.0
    natural = statistics.median((box[2] - box[0]) / max(box[3] - box[1], 1e-9) for _, box in boxes)
    fitted = statistics.median((box[2] - box[0]) / max(box[3] - box[1], 1e-9) for box in found)
    tall = max(box[3] - box[1] for box in found)
    return tall, tall * small_share if words.fit.letters != "each" else 0.0, natural / max(fitted, 1e-9)


def _mended(bench: Bench, part: Part, words: Words, widths: float) -> Iterator[Fix]:
    """Values with which it can be read, and lies on nothing that it did not lie on."""
    of = f"part {part.id}"
    tried: list[tuple[str, dict[str, object]]] = []
    if room := room_for_words(bench.piece, part):
        tried.append((f"Let it be {say(room, bench.unit)} wide", {"at_most": room}))
    if halves := _in_two(words.text):
        tried.append(("Set it in two lines", {"text": halves}))
    tried.append(("Set it in a narrow font", {"font": _NARROW}))
    if words.at_most is None and words.fit is None and words.sized_by == "capitals":
        (capitals, small, _), (least, least_small) = _measured(words), _least(bench, widths)
        share = max(least / capitals if capitals else 1.0, least_small / small if small else 1.0) * _MORE
        tall = round(words.cap_height * share + 0.05, 1)
        tried.append((f"Make capitals {say(tall, bench.unit)} tall", {"cap_height": tall}))
    if room and halves:
        tried.append(("Set it in two lines, as wide as there is room", {"text": halves, "at_most": room}))
    if room:
        tried.append(("Set it in a narrow font, as wide as there is room", {"font": _NARROW, "at_most": room}))
    for says, values in tried:
        edit = Change(do="change", of=of, values={name: str(value) for name, value in values.items()})
        if _reads(bench, part.id, edit, widths):
            yield Fix(says, edit)


def _reads(bench: Bench, part: str, edit: Change, widths: float) -> bool:
    try:
        piece = apply(alone(bench.piece), edit).pieces[0]
    except Refused:
        return False
    words = piece.part(part).shape
    now = replace(bench, piece=piece)
    if not isinstance(words, Words) or words.missing or _trouble(words, bench, widths):
        return False
    return not any(
        len(list(check(now))) > len(list(check(bench))) for check in (marks_lie_on_the_piece, nothing_is_marked_twice)
    )


def _in_two(text: str) -> str:
    """The text in two lines of about the same length; "" where it has no place to break, or lines already."""
    spaces = [at for at, character in enumerate(text) if character == " "]
    if "\n" in text or not spaces:
        return ""
    at = min(spaces, key=lambda place: abs(place - len(text) / 2))
    return f"{text[:at]}\n{text[at + 1 :]}"
