"""Lettering: all that can be said of words, the shapes that their font has for them, and how well they hold."""

from collections.abc import Sequence
from typing import Any

from foliant.core.design import Part, Piece, resolve
from foliant.core.design.shapes import Words
from foliant.core.design.shapes.lettered import LetteringKey
from foliant.core.errors import Refused
from foliant.core.lettering.features import features_for
from foliant.core.paths.data import path_data
from foliant.core.paths.touching import weakest_neck
from foliant.core.phrases import Bit as ShapeBit
from foliant.core.phrases import Value
from foliant.core.units import Unit, format_length
from foliant.workshop.presenters.spec import edge_choices, lettering_said, say, switch, text

Bits = list[dict[str, Any]]

MOST_NECK = 6.0
"""Necks wider than this, in mm, are not looked for."""

_SWITCH = (("", "no"), ("on", "yes"))


def lettering_view(piece: Piece, part: Part, unit: Unit) -> dict[str, Any]:
    """Words, row by row; the features of their font with pictures; and whether the piece holds together."""
    if not isinstance(part.shape, Words):
        raise Refused("Choose words first.")
    shapes = [
        {"key": found.key, "name": found.name, "on": found.on, "d": path_data(found.path, 2), "box": found.path.bounds}
        for found in features_for(part.shape.text, part.shape.style)
    ]
    return {"rows": _rows(piece, part, part.shape, unit), "features": shapes, **_holding(piece, unit)}


def _rows(piece: Piece, part: Part, words: Words, unit: Unit) -> list[dict[str, Any]]:
    def said(*bits: ShapeBit) -> Bits:
        return [say(f"part {part.id}", words, bit, unit) for bit in bits]

    def switched(what: LetteringKey, now: str, choices: Sequence[tuple[str, str]], label: str) -> Bits:
        setting = getattr(words, what)
        more = [text(": "), *lettering_said(what, setting, part, piece, unit, in_full=True)] if setting else []
        if setting and what == "stencil" and not part.plays("cuts"):
            more.append(text("; none where they are not cut through"))
        if what == "edge" and setting:
            more.append(text(f"; baseline {format_length(words.setting().baseline, unit)} from it"))
        return [switch(part, piece, what, now, choices, label), *more]

    edges = edge_choices(part, piece)
    fitted, bars = _fit(words)
    fits = [("", "no"), ("box", "into a box"), *bars, *((key, f"to {name}") for key, name in edges)]
    lines = [("", "straight"), *((key, f"on {name}") for key, name in edges), ("circle", "on a circle of its own")]
    heavier = (", ", Value("weight"), " heavier, slanted ", Value("slant"))
    several = (Value("align"), ", ", Value("line_spacing"), " apart, further ones ", Value("further"))
    limit: list[ShapeBit] = [] if words.at_most or words.edge else [", at most ", Value("at_most"), " wide"]
    limit += [] if words.at_most_high or words.edge else [", at most ", Value("at_most_high"), " high"]
    limit += [", ", Value("over_rows")] if words.over_rows == "each" and "part text" in dict(part.ties) else []
    one = ("one; Shift Enter, while the words are typed, begins another",)
    rows: list[tuple[str, Bits]] = [
        ("Font", said(Value("font"), *words.varied_said(), ", ", Value("capitals"), *heavier)),
        ("Size", [text("as its fit has it")] if words.fit else said(*words.size_said(), *limit)),
        ("Spacing", said("letters ", Value("tracking"), ", words ", Value("word_spacing"))),
        ("Lines", said(*(several if "\n" in words.text else one))),
        ("Joined", switched("joined", "on" if words.joined else "", _SWITCH, "Whether letters are joined")),
        ("Fitted", switched("fit", fitted, fits, "What they are fitted to")),
        ("Runs", switched("edge", words.edge.to if words.edge else "", lines, "What they run along")),
        ("Stencil", switched("stencil", "on" if words.stencil else "", _SWITCH, "Whether counters are bridged")),
    ]
    return [{"about": about, "bits": bits} for about, bits in rows]


def _fit(words: Words) -> tuple[str, list[tuple[str, str]]]:
    """What words are fitted to, as a choice, and the choice for two bars where it is those."""
    if words.fit is None:
        return "", []
    if len(words.fit.of) == 2:
        return "bars", [("bars", "between two bars")]
    return (words.fit.of[0] if words.fit.of else "box"), []


def _holding(piece: Piece, unit: Unit) -> dict[str, Any]:
    """Whether the piece is one body, and its narrowest neck with its place."""
    outline = resolve(piece).outline
    bodies = len(outline.bodies)
    if not bodies:
        return {"holds": "Nothing adds material yet.", "neck": None}
    if bodies > 1:
        return {"holds": f"{bodies} bodies: it falls apart.", "neck": None}
    neck = weakest_neck(outline, MOST_NECK)
    if neck is None:
        return {"holds": f"One body; no neck narrower than {format_length(MOST_NECK, unit)}.", "neck": None}
    width, at = neck
    return {"holds": f"One body; its narrowest neck is {format_length(width, unit)}.", "neck": at}
