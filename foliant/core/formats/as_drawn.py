"""What drawing formats have in common: a sheet's operations as they lie, in run order."""

from collections.abc import Iterator
from dataclasses import dataclass

from foliant.core.paths import Affine, Path
from foliant.core.seeing import Burnt, Pictured, as_burnt
from foliant.core.ticket import Job, Line
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
            yield Layer(line, line.areas, line.lines, pictures)


def lying(job: Job) -> Affine:
    """The map from the sheet to how it lies: mirrored where that is face down."""
    up = job.design.ticket.face == "up"
    return (1.0 if up else -1.0, 0.0, 0.0, 1.0, 0.0 if up else job.design.stock.width, 0.0)


def _burnt(line: Line, pictured: Pictured) -> Burnt:
    """A picture as it is burnt, dot for dot; without settings, its greys."""
    how = line.settings if isinstance(line.settings, PictureSettings) else None
    return as_burnt(pictured, how.interval if how else 0.1, how.tone if how else "grey", line.work.ink)
