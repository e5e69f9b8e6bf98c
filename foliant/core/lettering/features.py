"""Features: the alternates, swashes and ligatures that a font has for given words, each shown as it would look."""

from dataclasses import dataclass, replace

from foliant.core.lettering.faces import OutlineFace, faces_of
from foliant.core.lettering.library import font_for
from foliant.core.lettering.lines import set_lines
from foliant.core.lettering.style import Style
from foliant.core.paths import Path, join

_NAMES = {
    "swsh": "Swashes",
    "cswh": "Swashes by their neighbours",
    "salt": "Other letter shapes",
    "titl": "Titling capitals",
    "hist": "Old letter shapes",
    "dlig": "Rare ligatures",
    "hlig": "Old ligatures",
    "smcp": "Small capitals",
    "c2sc": "Small capitals for capitals",
    "onum": "Old-style figures",
    "lnum": "Lining figures",
    "tnum": "Figures of one width",
    "zero": "Slashed zero",
    "ordn": "Raised ordinals",
    "frac": "Fractions",
    "case": "Marks for capitals",
    "-liga": "Without ligatures",
    "-calt": "Without joins by their neighbours",
    "-kern": "Without kerning",
}
_ENDS = ("swsh", "salt", "cswh")


@dataclass(frozen=True, eq=False)
class Feature:
    """A feature of a font: its key as a style takes it, its name, whether it is on, and the words set with it."""

    key: str
    name: str
    on: bool
    path: Path


def features_for(text: str, style: Style) -> list[Feature]:
    """The features that change how the words look, and those that are on."""
    plain = replace(style, features=(), sized_by="capitals", size=10.0, weight=0.0)
    first = text.split("\n")[0]
    usual = set_lines(first, plain)
    found = []
    for key in dict.fromkeys([*_offered(style.font), *style.features]):
        on = key in style.features
        words = set_lines(first, replace(plain, features=(key,)))
        changed = [letter.outline for letter in words.letters] != [letter.outline for letter in usual.letters]
        if changed or on:
            found.append(Feature(key, _name(key), on, join(letter.path for letter in words.letters)))
    return found


def _offered(font: str) -> list[str]:
    """The features of a font that a maker may choose, in the order they are offered."""
    faces = [face for face in faces_of(font_for(font)) if isinstance(face, OutlineFace)]
    tags = {tag for face in faces for tag in face.features}
    sets = sorted(tag for tag in tags if tag[:2] in ("ss", "cv") and tag[2:].isdigit())
    offered = [key for key in _NAMES if key.removeprefix("-") in tags]
    ends = [f"{key} {where}" for key in offered if key in _ENDS for where in ("first", "last")]
    return [*ends, *offered, *sets, *(f"{tag} last" for tag in sets)]


def _name(key: str) -> str:
    tag, _, where = key.partition(" ")
    number = tag[2:].lstrip("0")
    name = _NAMES.get(tag) or (f"Variant {number}" if tag.startswith("cv") else f"Style {number}")
    return f"{name}, {where} letter only" if where else name
