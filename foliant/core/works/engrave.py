"""Engraving: an area burnt line by line; open lines are followed once."""

from collections.abc import Sequence
from typing import Annotated

import numpy as np

from foliant.core.paths import LINE, Path
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.works.fill import apart, count_fill_lines, fill_lines
from foliant.core.works.work import Marks, Moves, MovingSettings, Settings, Work, count_along


class EngraveSettings(MovingSettings):
    """The same, and mm from one line to the next."""

    interval: Annotated[float, sized("The line spacing", 0.02, 5)] = 0.1

    def sentence(self) -> Sequence[Bit]:
        return [*super().sentence(), ", lines ", Value("interval"), " apart"]

    def briefly(self) -> str:
        return f"{super().briefly()}, lines {self.interval:g} mm apart"


class Engrave(Work):
    """Fills areas with level lines."""

    key = "engrave"
    title = "Engraving"
    verb = "engrave"
    ink = "#4d5f73"
    swatch = ("M1 15l9-14M7 15l9-14M13 15l9-14M19 15l9-14M25 15l9-14", 1.8, "")
    filled = True
    settings = EngraveSettings

    def fills(self, marks: Marks, settings: Settings, gap: float) -> Sequence[Moves]:
        assert isinstance(settings, EngraveSettings)
        found = []
        for shape in apart(marks.area.shape, gap):
            strokes = fill_lines(shape, settings.interval, marks.area.shape.bounds[1])
            points = np.stack([strokes[:, 0], strokes[:, 0], strokes[:, 1], strokes[:, 1]], axis=1)
            found.append(Moves.along(np.full(len(points), LINE, np.uint8), points))
        return found

    def lines(self, marks: Marks) -> Path:
        return marks.lines

    def count(self, marks: Marks, settings: Settings) -> int:
        assert isinstance(settings, EngraveSettings)
        fills = count_fill_lines(marks.area.shape, settings.interval)
        return (fills + count_along(marks.lines)) * settings.passes
