"""Drilling: the tool stands still and burns one spot."""

from collections.abc import Sequence
from typing import Annotated

import numpy as np
import shapely

from foliant.core.paths import LINE, Path
from foliant.core.paths.flatten import flatten
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.units import Speeds
from foliant.core.works.following import FollowingWork
from foliant.core.works.work import Marks, Moves, Settings


class DrillSettings(Settings):
    """Power, how many seconds the tool stays on each spot, and how wide that comes out, mm; None for what the machine's
    spot or cutter is wide.
    """

    dwell: Annotated[float, Quantity("seconds", "The time on each spot", 0.01, 60)] = 0.5

    across: Annotated[float | None, sized("How wide it drills", 0.02, 25)] = None

    def sentence(self) -> Sequence[Bit]:
        spot: list[Bit] = [" on each spot, ", Value("across"), " wide, "]
        return [Value("power"), " power for ", Value("dwell"), *spot, *self._times()]

    def briefly(self, speeds: Speeds = "mm/s") -> str:
        return f"{self.power:g} % for {self.dwell:g} s, {self._passes()}"


class Drill(FollowingWork):
    """Burns a spot at the middle of every closed outline, and at every node of an open line."""

    key = "drill"
    title = "Drilling"
    verb = "drill"
    ink = "#2f6f73"
    burns = True
    swatch = ("M4 8h4M16 8h4M28 8h4", 4.0, "")
    anywhere = False
    deep = True
    settings = DrillSettings

    def count(self, marks: Marks, settings: Settings) -> int:
        return (len(marks.area.path) + len(marks.lines)) * settings.passes

    def along(self, contour: Path, settings: Settings) -> Moves:
        assert isinstance(settings, DrillSettings)
        spots = np.repeat(spots_of(contour), settings.passes, axis=0)
        points = np.repeat(spots[:, None], 4, axis=1)
        return Moves.along(np.full(len(points), LINE, np.uint8), points, settings.dwell)


def spots_of(contour: Path) -> np.ndarray:
    """Where it stands still for one contour, (n, 2), mm."""
    return _middle(contour) if contour.closed[0] else np.vstack([contour.points[:, 0], contour.points[-1:, 3]])


def _middle(contour: Path) -> np.ndarray:
    flat = flatten(contour)
    ring = shapely.Polygon(flat.points) if len(flat.points) > 2 else shapely.MultiPoint(flat.points)
    return np.array([shapely.centroid(ring).coords[0]])
