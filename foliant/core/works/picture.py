"""Pictures: burnt row by row, their greys as power or as dots."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np

from foliant.core.paths import EMPTY, Path
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.remembering import remembered
from foliant.core.seeing import Pictured, count_of_dots, dots_of
from foliant.core.units import Speeds
from foliant.core.works.engrave import WAYS
from foliant.core.works.fill import along_rows
from foliant.core.works.work import Marks, Moves, MovingSettings, Settings, Work

Tone = Literal["scattered", "grey", "grid", "spots", "plain"]
TONES: dict[Tone, str] = {
    "scattered": "in scattered dots",
    "grey": "by power",
    "grid": "in dots on a grid",
    "spots": "in round spots that grow",
    "plain": "in black and white",
}
_COUNTED = 20_000_000
"""The moves of pictures of more dots than that are told by the dots."""


class PictureSettings(MovingSettings):
    """The same, and how greys are told.

    interval  mm from one row, and from one dot, to the next
    tone      how greys are told
    least     power of the lightest grey, where they are told by power, %
    ways      whether every other row is burnt on the way back
    beyond    mm that the head goes on past the ends of a row, the beam off
    """

    interval: Annotated[float, Quantity("spacing", "The line spacing", 0.02, 5)] = 0.1
    tone: Annotated[Tone, Quantity("choice", "How greys are told", choices=tuple(TONES.items()))] = "scattered"
    least: Annotated[float, Quantity("percent", "The power of the lightest grey", 0, 100)] = 0.0
    ways: Annotated[Literal["both", "one"], Quantity("choice", "Which way rows are burnt", choices=WAYS)] = "both"
    beyond: Annotated[float, sized("How far rows go on past the edges", 0, 50)] = 0.0

    def sentence(self) -> Sequence[Bit]:
        start, *rest = super().sentence()
        told: list[Bit] = [", greys ", Value("tone")]
        if self.tone == "grey":
            told += [" from ", Value("least")]
        rows: list[Bit] = [", ", Value("interval"), " apart, ", Value("ways"), ", ", Value("beyond"), " past the edges"]
        return [start, *rest, *told, *rows]

    def briefly(self, speeds: Speeds = "mm/s") -> str:
        return f"{super().briefly(speeds)}, greys {TONES[self.tone]}, lines {self.interval:g} mm apart"


class BurnPicture(Work):
    """Burns pictures."""

    key = "picture"
    title = "Pictures"
    verb = "shade"
    ink = "#7a4b6e"
    burns = True
    swatch = (
        "M2 2h3M8 2h1M13 2h6M24 2h2M30 2h4M2 8h1M6 8h5M15 8h2M21 8h6M32 8h2M2 14h6M12 14h2M18 14h3M25 14h9",
        1.8,
        "",
    )
    filled = True
    pictures = True
    settings = PictureSettings

    def fills(self, marks: Marks, settings: Settings, gap: float) -> Sequence[Moves]:
        assert isinstance(settings, PictureSettings)
        return [_burnt(one, settings) for one in marks.pictures]

    def lines(self, marks: Marks) -> Path:
        return EMPTY

    def count(self, marks: Marks, settings: Settings) -> int:
        assert isinstance(settings, PictureSettings)
        every = sum(count_of_dots(one, settings.interval) for one in marks.pictures)
        if every > _COUNTED:
            return every * settings.passes
        return settings.passes * sum(len(_runs(one, settings.interval, settings.tone)[0]) for one in marks.pictures)


def _burnt(pictured: Pictured, settings: PictureSettings) -> Moves:
    """Every row, as long as it is not blank, in runs of one darkness."""
    row, first, end, dark = _runs(pictured, settings.interval, settings.tone)
    dots = dots_of(pictured, settings.interval, settings.tone)
    y = dots.top + row * dots.spacing
    left = dots.left - dots.spacing / 2
    strokes = np.empty((len(row), 2, 2))
    strokes[:, 0, 0], strokes[:, 1, 0] = left + first * dots.spacing, left + end * dots.spacing
    strokes[:, :, 1] = y[:, None]
    turn = np.unique(row, return_inverse=True)[1]  # blank rows do not count
    backward = (turn % 2 == 1) & (settings.ways == "both")
    strokes[backward] = strokes[backward][:, ::-1]
    order = np.lexsort((np.where(backward, -first, first), row))
    lightest = min(settings.least, settings.power) / settings.power if settings.tone == "grey" else 0.0
    share = lightest + (1 - lightest) * dark / 255
    return along_rows(strokes[order], settings.beyond, share[order] if settings.tone == "grey" else None)


Runs = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]


@remembered
def _runs(pictured: Pictured, spacing: float, tone: str) -> Runs:
    """Dots of one darkness side by side: their row, the first of them and the one after the last, and how dark."""
    darkness = dots_of(pictured, spacing, tone).darkness
    wide = darkness.shape[1]
    # A blank column at the end of every row, so that no run goes on from one to the next.
    flat = np.pad(darkness, ((0, 0), (0, 1))).ravel()
    begins = np.flatnonzero(np.diff(flat, prepend=np.uint8(0))) if flat.size else np.zeros(0, np.int64)
    ends = np.append(begins[1:], flat.size) if len(begins) else begins
    burnt = flat[begins] > 0
    begins, ends = begins[burnt], ends[burnt]
    row = begins // (wide + 1)
    return row, begins - row * (wide + 1), ends - row * (wide + 1), flat[begins]
