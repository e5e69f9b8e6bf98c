"""Cutting: through the material, along every edge; or only through what lies uppermost."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np

from foliant.core.paths import Path
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.works.dashes import with_bridges
from foliant.core.works.following import FollowingWork
from foliant.core.works.work import Moves, MovingSettings, Settings, as_moves

Side = Literal["waste", "outside", "inside", "on"]
SIDES: dict[Side, str] = {
    "waste": "in the waste",
    "outside": "outside of the line",
    "inside": "inside of the line",
    "on": "on the line",
}


class CutSettings(MovingSettings):
    """The same, how wide the cut is, and what is left standing so that nothing drops or tilts.

    kerf     mm; None for what the machine's cut is wide
    bridges  how many stretches of each line are not cut
    bridge   how long each of them is, mm
    lead     how far from its line a cut begins, in the waste, mm
    side     on which side of the line it runs, whatever the ticket says
    """

    kerf: Annotated[float | None, sized("The width of the cut", 0, 25)] = None
    bridges: Annotated[int, Quantity("count", "The number of bridges", 0, 60)] = 0
    bridge: Annotated[float, sized("The width of a bridge", 0.1, 10)] = 0.6
    lead: Annotated[float, sized("The lead-in", 0, 20)] = 0.0
    side: Annotated[Side, Quantity("choice", "The side of the line", choices=tuple(SIDES.items()))] = "waste"

    def sentence(self) -> Sequence[Bit]:
        held: list[Bit] = [", ", Value("bridges"), " bridge" if self.bridges == 1 else " bridges"]
        wide: list[Bit] = [" of ", Value("bridge")] if self.bridges else []
        runs: list[Bit] = [", ", Value("kerf"), " wide, ", Value("side"), ", led in over ", Value("lead")]
        return [*super().sentence(), *runs, *held, *wide]

    def beside(self, half: float, in_waste: bool) -> tuple[float, float]:
        """How far outside of what it goes round it runs, mm, along outer edges and along inner ones, where the cut is
        twice `half` wide; 0 on the line. Whether it is in the waste that it runs, the ticket says.
        """
        if self.side == "waste" and not in_waste:
            return 0.0, 0.0
        return {"waste": (half, -half), "outside": (half, half), "inside": (-half, -half), "on": (0.0, 0.0)}[self.side]


class Cut(FollowingWork):
    """Goes through; what it goes round comes off the sheet."""

    key = "cut"
    title = "Cutting"
    verb = "cut"
    ink = "#7c2d5a"
    swatch = ("M0 8h36", 3.2, "")
    through = True
    parts = True
    deep = True
    settings = CutSettings

    def along(self, contour: Path, settings: Settings) -> Moves:
        assert isinstance(settings, CutSettings)
        if not settings.bridges:
            return super().along(contour, settings)
        kinds, points, working = with_bridges(*as_moves(contour), settings.bridges, settings.bridge)
        times = settings.passes
        return Moves.along(np.tile(kinds, times), np.tile(points, (times, 1, 1)), working=np.tile(working, times))


class KissCut(FollowingWork):
    """Goes through a foil and not through what carries it: what it goes round is lifted off."""

    key = "kiss"
    title = "Kiss cutting"
    verb = "kiss-cut"
    ink = "#9a4f86"
    swatch = ("M0 5h36M0 11h36", 1.8, "")
    parts = True
