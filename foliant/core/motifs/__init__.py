"""Motifs: solid pictures that ship with Foliant, most of them one whole outline that welds like any other part.

The data is chosen from sets of free icons and written by `frontend/motifs.mjs`: the fill set of @phosphor-icons/core
(LICENSE beside it), @mdi/svg (LICENSE-MDI), and two sets under CC BY (LICENSE-CC-BY).
"""

import json
from dataclasses import dataclass
from difflib import SequenceMatcher
from importlib.resources import files

from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path

from foliant.core.paths import Path, PathPen
from foliant.core.remembering import remembered


@dataclass(frozen=True)
class Motif:
    """A motif: its key, its name, the words it is found by, and its SVG path data."""

    key: str
    words: tuple[str, ...]
    d: str

    @property
    def name(self) -> str:
        return self.key.replace("-", " ").capitalize()


def _read() -> dict[str, Motif]:
    found = json.loads(files(__package__).joinpath("motifs.json").read_text(encoding="utf-8"))
    return {item["key"]: Motif(item["key"], tuple(item["words"]), item["d"]) for item in found}


MOTIFS: dict[str, Motif] = _read()


def find_motif(key: str) -> Motif | None:
    """The motif of that key, if it is here."""
    return MOTIFS.get(key)


@remembered
def motif_for(key: str) -> Motif:
    """The motif of that key, or the one whose key reads most like it where it is not here."""
    return find_motif(key) or max(MOTIFS.values(), key=lambda motif: SequenceMatcher(None, key, motif.key).ratio())


@remembered
def outline(key: str) -> Path:
    """The outline of a motif, or of the one that stands in for it, about the middle of its box, 1 mm tall."""
    drawn, pen = RecordingPen(), PathPen()
    parse_path(motif_for(key).d, drawn)
    # What is filled is closed, whether its data says so or not.
    drawn.value = [("closePath", ()) if how == "endPath" else (how, points) for how, points in drawn.value]
    drawn.replay(pen)
    path = pen.path()
    left, top, right, bottom = path.bounds
    size = 1 / (bottom - top)
    return path.transformed((size, 0, 0, size, -(left + right) / 2 * size, -(top + bottom) / 2 * size))
