"""Works that follow lines: the edges of areas, and lines as they are."""

from collections.abc import Sequence

from foliant.core.paths import Path, join
from foliant.core.works.work import Marks, Moves, Settings, Work, count_along


class FollowingWork(Work):
    """A work that goes along every edge and line."""

    def fills(self, marks: Marks, settings: Settings, gap: float) -> Sequence[Moves]:
        return ()

    def lines(self, marks: Marks) -> Path:
        return join([marks.area.path, marks.lines])

    def count(self, marks: Marks, settings: Settings) -> int:
        return (count_along(marks.area.path) + count_along(marks.lines)) * settings.passes
