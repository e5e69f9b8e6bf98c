"""What came in: its size, its groups with their pictures and roles, and what could not be read."""

import json
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from foliant.core.bringing import LEFT, WORDS, Answers, Group, groups_of, taken_in
from foliant.core.bringing.report import title_of, unit_of, unread_of
from foliant.core.bringing.words import as_words
from foliant.core.cleaning import FAULTS, TOLD, USUAL
from foliant.core.design import Part, Piece
from foliant.core.design.edits.cleaning import can_be_cleaned, counted, faults_of
from foliant.core.design.edits.tracing import TracePictures, pictured_of
from foliant.core.design.placing import part_matrix
from foliant.core.design.shapes import Picture
from foliant.core.drawings import Drawing, unpacked
from foliant.core.errors import Refused
from foliant.core.lettering import FontEntry
from foliant.core.lettering.matching import nearest_font
from foliant.core.paths import LINE, join
from foliant.core.paths import Path as Curve
from foliant.core.paths.data import path_data
from foliant.core.quantities import sized
from foliant.core.remembering import remembered
from foliant.core.seeing.tracing import Tracing, darkness_of, is_photograph, usual_darkness
from foliant.core.units import Unit, format_length

MOST_DRAWN = 6000
"""Segments of a group that are shown in full; more are shown by their ends alone."""

MOST_WORDS = 40
"""Lines of words that are shown."""

_WIDTH = sized("The width")


@remembered
def _read(path: str) -> Drawing:
    try:
        return unpacked(Path(path).read_bytes())
    except OSError:
        raise Refused("The file of this drawing is no longer there; bring it in once more.") from None


def drawing_view(path: str, said: str, bare: bool, unit: Unit, fonts: tuple[FontEntry, ...] = ()) -> dict[str, Any]:
    """All that is shown of a drawing that was read, with what is said of it so far; raises `Refused`."""
    plain = _read(path)
    answers = _answers(plain, said, unit, "")
    drawing = plain.resized(answers.factor)
    groups = groups_of(drawing, bare)
    left, top, right, bottom = drawing.bounds
    natural = (right - left) / answers.factor
    return {
        "size": f"× {format_length(bottom - top, unit)}, {unit_of(plain)}",
        "width": format_length(right - left, unit),
        "factor": answers.factor,
        "meanings": [
            {"says": what, "factor": factor, "width": format_length(natural * factor, unit)}
            for what, factor in plain.meanings
        ],
        "box": [left, top, right - left, bottom - top],
        "groups": [_group(group, answers) for group in groups],
        "words": [_written(text.text, text.family, fonts) for text in drawing.texts[:MOST_WORDS]],
        "wordsData": path_data(_plain(_drawn_words(drawing, fonts)), 3),
        "wordsRole": answers.roles.get(WORDS, "engraves"),
        "into": answers.into,
        "unread": unread_of(drawing),
    }


def taking(
    path: str, said: str, bare: bool, unit: Unit, piece: str, name: str, fonts: tuple[FontEntry, ...]
) -> tuple[str, float]:
    """The edit that takes it in, as text, and how many times as large it is taken; raises `Refused`."""
    drawing = _read(path)
    answers = _answers(drawing, said, unit, name)
    return taken_in(drawing, answers, piece, bare, fonts).model_dump_json(), answers.factor


def there_says(there: Sequence[object]) -> str:
    """What can be exchanged for what is in the file now; empty where nothing of it is in the design."""
    return f"in place of {len(there)} part{'' if len(there) == 1 else 's'}" if there else ""


def faults_view(piece: Piece, ids: tuple[str, ...]) -> dict[str, Any]:
    """The faults of some parts of a piece together, each with its lines and what mends it; raises `Refused`."""
    chosen = [piece.part(one) for one in ids] or [part for part in piece.parts if not part.locked]
    parts = [part for part in chosen if can_be_cleaned(part)]
    if ids and not parts:
        raise Refused("What is chosen is told by its values and is clean; make it plain first.")
    counts = counted(parts, TOLD)
    return {
        "title": f"Clean up {parts[0].shape.label()[:40]}" if len(parts) == 1 else "Clean up",
        "parts": [part.id for part in parts if faults_of(part, TOLD)],
        "faults": [
            {
                "key": key,
                "says": FAULTS[key].said(count),
                "usual": key in USUAL,
                "ways": _ways(key),
                "d": path_data(_plain(_places(parts, key)), 3),
            }
            for key, count in counts.items()
        ],
    }


def usual_tracing() -> dict[str, Any]:
    """What tracing begins with, by the names of its edit."""
    fields = TracePictures.model_fields
    usual = {name: fields[name].default for name in ("what", "tones", "speck", "smooth", "corner", "inverted")}
    return {**usual, "dark": 50, "role": "", "picture": "guides"}


def tracing_view(part: Part) -> dict[str, Any]:
    """The darkness that parts a picture best, and what speaks against tracing it; raises `Refused` for what is none."""
    if not isinstance(part.shape, Picture):
        raise Refused("Choose a picture, as nothing else can be traced.")
    darkness = darkness_of(pictured_of(part), Tracing())
    about = "It has many greys, as photographs have: engraved as a picture it shows more than traced."
    return {"dark": usual_darkness(darkness), "about": about if is_photograph(darkness) else ""}


def _ways(key: str) -> list[dict[str, str]]:
    """The ways to mend a fault, each by its key and in words."""
    return [{"key": one, "says": fault.mends} for one, fault in FAULTS.items() if key in (one, fault.instead)]


def _places(parts: list[Part], key: str) -> Curve:
    """The lines of one fault, where they lie on the piece."""
    found = ((part, faults_of(part, TOLD).get(key)) for part in parts)
    return join(one.places.transformed(part_matrix(part)) for part, one in found if one)


def _answers(drawing: Drawing, said: str, unit: Unit, name: str) -> Answers:
    told = json.loads(said)
    factor = told["factor"]
    if told["width"]:
        left, _, right, _ = drawing.bounds
        factor = _WIDTH.number(told["width"], unit) / max(right - left, 1e-9)
    return Answers(factor, told["roles"], told["told"], told["into"], name)


def _group(group: Group, answers: Answers) -> dict[str, Any]:
    role = answers.role_of(group)
    told = answers.told_of(group)
    shown = join(group.drawn(told))
    left, top, right, bottom = shown.bounds
    return {
        "key": group.key,
        "title": title_of(group),
        "colour": group.colour,
        "role": role or LEFT,
        "told": told,
        "said": group.key in answers.told,
        "wide": group.kind != "area" and group.width > 0,
        "filled": told == "area" or role in ("adds", "cuts"),
        "box": [left, top, right - left, bottom - top],
        "d": path_data(_plain(shown), 3),
    }


def _plain(path: Curve) -> Curve:
    """A path as it is shown small: one of very many curves by their ends alone."""
    if len(path) <= MOST_DRAWN:
        return path
    points = path.points.copy()
    points[:, 1], points[:, 2] = points[:, 0], points[:, 3]
    return Curve((path.kinds * 0 + LINE).astype(path.kinds.dtype), points, path.starts, path.closed)


def _drawn_words(drawing: Drawing, fonts: tuple[FontEntry, ...]) -> Curve:
    """The words as they will be set."""
    parts = as_words(drawing.texts[:MOST_WORDS], "engraves", 0, fonts)
    placed = (path.transformed(part_matrix(part)) for part in parts for path in part.shape.paths())
    return join(placed)


def _written(text: str, family: str, fonts: tuple[FontEntry, ...]) -> dict[str, str]:
    entry, same = nearest_font(family, fonts)
    named = family or "no font that is named"
    return {"text": text, "font": f"in {entry.name}" if same else f"in {entry.name}, the nearest to {named}"}
