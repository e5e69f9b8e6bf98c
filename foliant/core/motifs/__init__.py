"""Motifs: solid pictures that ship with Foliant, each one whole outline that welds like any other part.

The data is the fill set of @phosphor-icons/core (MIT, see LICENSE beside it), chosen and written by
`frontend/motifs.mjs`.
"""

import json
from dataclasses import dataclass
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


@remembered
def outline(key: str) -> Path:
    """The outline of a motif about the middle of its box, 1 mm tall."""
    drawn, pen = RecordingPen(), PathPen()
    parse_path(MOTIFS[key].d, drawn)
    drawn.replay(pen)
    path = pen.path()
    left, top, right, bottom = path.bounds
    size = 1 / (bottom - top)
    return path.transformed((size, 0, 0, size, -(left + right) / 2 * size, -(top + bottom) / 2 * size))
