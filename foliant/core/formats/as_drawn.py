"""What drawing formats have in common: a sheet's operations as they lie, in run order."""

from collections.abc import Iterator
from dataclasses import dataclass

from foliant.core.paths import EMPTY, Affine, Path, join
from foliant.core.paths.nesting import contour
from foliant.core.paths.shapes import circle
from foliant.core.seeing import Burnt, Pictured, as_burnt
from foliant.core.ticket import Job, Line
from foliant.core.ticket.doing import drill_of
from foliant.core.works.drill import spots_of
from foliant.core.works.picture import PictureSettings


@dataclass(frozen=True, eq=False)
class Layer:
    """An operation: its title and ink, the areas it fills (by the even-odd rule) or follows, its open lines, and its
    pictures, each with how far it lies from its place, mm.
    """

    line: Line
    areas: Path
    lines: Path
    pictures: tuple[tuple[Burnt, tuple[float, float]], ...]


def layers_of(job: Job) -> Iterator[Layer]:
    """The operations of a sheet that are on."""
    for line in job.lines:
        if line.on:
            pictures = tuple(
                (_burnt(line, pictured), shift) for marks, shift in line.marks for pictured in marks.pictures
            )
            drill = drill_of(line.settings, job.machine)
            areas, lines = (_spots(line, drill), EMPTY) if drill else (line.areas, line.lines)
            yield Layer(line, areas, lines, pictures)


def lying(job: Job) -> Affine:
    """The map from the sheet to how it lies: mirrored where that is face down."""
    up = job.design.ticket.face == "up"
    return (1.0 if up else -1.0, 0.0, 0.0, 1.0, 0.0 if up else job.design.stock.width, 0.0)


def _spots(line: Line, drill: float) -> Path:
    """What is drilled as it comes out: round, and as wide as the drill."""
    spot = circle(drill)
    taken = [contour(path, at) for path in (line.areas, line.lines) for at in range(len(path.starts))]
    return join([spot.moved(float(x), float(y)) for one in taken for x, y in spots_of(one)])


def _burnt(line: Line, pictured: Pictured) -> Burnt:
    """A picture as it is burnt, dot for dot; without settings, its greys."""
    how = line.settings if isinstance(line.settings, PictureSettings) else None
    return as_burnt(pictured, how.interval if how else 0.1, how.tone if how else "grey", line.work.ink)
