"""Engraving: an area burnt line by line; open lines are followed once."""

from collections.abc import Sequence
from typing import Annotated, Literal

import shapely

from foliant.core.paths import Path
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Speeds
from foliant.core.works.fill import apart, count_fill_lines, crossed, dots, inwards, rows, stages
from foliant.core.works.work import Marks, Moves, MovingSettings, Settings, Work, count_along

Fill = Literal["rows", "crossed", "inwards", "dots"]
FILLS: dict[Fill, str] = {
    "rows": "in rows",
    "crossed": "in rows, then across them",
    "inwards": "following the outline inwards",
    "dots": "in dots",
}
WAYS = (("both", "there and back"), ("one", "all one way"))
MOST_STAGES = 8
By = Literal["near", "part", "piece", "sheet"]
BY: dict[By, str] = {
    "near": "near ones together",
    "part": "part by part",
    "piece": "piece by piece",
    "sheet": "the whole sheet row by row",
}


class EngraveSettings(MovingSettings):
    """The same, and how areas are filled.

    interval  mm from one line, or dot, to the next
    angle     of the lines, degrees
    ways      whether every other row is burnt on the way back
    beyond    mm that the head goes on past the ends of a row, the beam off
    by        what is done in one go
    dwell     s on each dot
    stages    in how many areas are burnt one after the other, each but the last leaving less of what stands in them, so
              that its walls slope
    step      mm that what stands is wider in each stage than in the one before, on every side
    """

    interval: Annotated[float, Quantity("spacing", "The line spacing", 0.02, 5)] = 0.1
    fill: Annotated[Fill, Quantity("choice", "How areas are filled", choices=tuple(FILLS.items()))] = "rows"
    angle: Annotated[float, Quantity("angle", "The angle of the lines", -180, 180)] = 0.0
    ways: Annotated[Literal["both", "one"], Quantity("choice", "Which way rows are burnt", choices=WAYS)] = "both"
    beyond: Annotated[float, sized("How far rows go on past the edges", 0, 50)] = 0.0
    by: Annotated[By, Quantity("choice", "What is done in one go", choices=tuple(BY.items()))] = "near"
    dwell: Annotated[float, Quantity("seconds", "The time on each dot", 0.001, 10)] = 0.01
    stages: Annotated[int, Quantity("count", "The number of stages", 1, MOST_STAGES)] = 1
    step: Annotated[float, sized("The step from stage to stage", 0.02, 2)] = 0.1

    def sentence(self) -> Sequence[Bit]:
        apart: list[Bit] = [", ", Value("interval"), " apart"]
        by: list[Bit] = [", ", Value("by"), ", in ", Value("stages"), " stage" if self.stages == 1 else " stages"]
        if self.stages > 1:
            by += [", ", Value("step"), " wider in each"]
        start = [*super().sentence(), ", ", Value("fill")]
        if self.fill == "inwards":
            return [*start, *apart, *by]
        if self.fill == "dots":
            return [*start, *apart, ", ", Value("dwell"), " on each", *by]
        lines: list[Bit] = [" at ", Value("angle"), ", ", Value("ways"), ", ", Value("beyond"), " past the edges"]
        return [*start, *apart, *lines, *by]

    def briefly(self, speeds: Speeds = "mm/s") -> str:
        how = "" if self.fill == "rows" else f" {FILLS[self.fill]},"
        stages = f", {self.stages} stages" if self.stages > 1 else ""
        return f"{super().briefly(speeds)},{how} lines {self.interval:g} mm apart{stages}"


class Engrave(Work):
    """Fills areas."""

    key = "engrave"
    title = "Engraving"
    verb = "engrave"
    ink = "#4d5f73"
    burns = True
    swatch = ("M1 15l9-14M7 15l9-14M13 15l9-14M19 15l9-14M25 15l9-14", 1.8, "")
    filled = True
    settings = EngraveSettings

    def fills(self, marks: Marks, settings: Settings, gap: float) -> Sequence[Moves]:
        assert isinstance(settings, EngraveSettings)
        whole = marks.area.shape
        parts = [whole]
        if settings.by == "near":
            parts = apart(whole, gap)
        elif settings.by == "part":
            parts = sorted(shapely.get_parts(whole), key=lambda part: part.bounds[:2])
        return [
            self._filled(stage, whole, settings)
            for part in parts
            if not part.is_empty
            for stage in stages(part, settings.stages, settings.step)
        ]

    def _filled(self, shape: shapely.Geometry, whole: shapely.Geometry, how: EngraveSettings) -> Moves:
        one_way = how.ways == "one"
        match how.fill:
            case "inwards":
                return inwards(shape, how.interval)
            case "dots":
                return dots(shape, how.interval, how.dwell, how.angle)
            case "crossed":
                return crossed(shape, how.interval, how.angle, one_way, how.beyond)
        return rows(shape, how.interval, how.angle, one_way, how.beyond, whole)

    def lines(self, marks: Marks) -> Path:
        return marks.lines

    def whole_sheet(self, settings: Settings) -> bool:
        assert isinstance(settings, EngraveSettings)
        return settings.by == "sheet"

    def count(self, marks: Marks, settings: Settings) -> int:
        assert isinstance(settings, EngraveSettings)
        shape = marks.area.shape
        fills = count_fill_lines(shape, settings.interval)
        if settings.fill == "dots":
            fills = int(shape.area / settings.interval**2)
        elif settings.fill == "inwards":
            fills = int(shape.area / settings.interval / 0.3)  # rings are made of short lines
        elif settings.fill == "crossed":
            fills *= 2
        return (fills * settings.stages + count_along(marks.lines)) * settings.passes
