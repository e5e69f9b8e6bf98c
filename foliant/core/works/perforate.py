"""Perforating: a line of dashes that go through, to be folded or torn along."""

from collections.abc import Sequence
from typing import Annotated

import numpy as np

from foliant.core.paths import Path
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import sized
from foliant.core.units import Speeds
from foliant.core.works.dashes import perforated
from foliant.core.works.following import FollowingWork
from foliant.core.works.work import Moves, MovingSettings, Settings, as_moves


class PerforateSettings(MovingSettings):
    """The same, and how long the dashes and the gaps between them are, mm."""

    dash: Annotated[float, sized("The length of a dash", 0.1, 100)] = 2.0
    gap: Annotated[float, sized("The gap between dashes", 0.1, 100)] = 1.0

    def sentence(self) -> Sequence[Bit]:
        return [*super().sentence(), ", ", Value("dash"), " cut and ", Value("gap"), " left"]

    def briefly(self, speeds: Speeds = "mm/s") -> str:
        return f"{super().briefly(speeds)}, {self.dash:g} mm cut and {self.gap:g} left"


class Perforate(FollowingWork):
    """Goes through in dashes; nothing comes off."""

    key = "perforate"
    title = "Perforating"
    verb = "perforate"
    ink = "#8a4b2d"
    swatch = ("M0 8h36", 3.2, "5 3")
    deep = True
    settings = PerforateSettings

    def along(self, contour: Path, settings: Settings) -> Moves:
        assert isinstance(settings, PerforateSettings)
        kinds, points, working = perforated(*as_moves(contour), settings.dash, settings.gap)
        times = settings.passes
        return Moves.along(np.tile(kinds, times), np.tile(points, (times, 1, 1)), working=np.tile(working, times))
