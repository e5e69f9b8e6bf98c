"""Works: what a machine can do with a mark. One file each, all named in `WORKS`.

To add a work: write its file with a `Work`, and name it here. Its title, pattern, ink, settings and moves are read from
there by the ticket, the legend, the rehearsal, the drawings and the page; recipes may then name it.
"""

from foliant.core.errors import Refused
from foliant.core.works.cut import Cut, KissCut
from foliant.core.works.drill import Drill
from foliant.core.works.engrave import Engrave
from foliant.core.works.perforate import Perforate
from foliant.core.works.picture import BurnPicture
from foliant.core.works.score import Score
from foliant.core.works.work import Marks, Moves, Settings, Work

WORKS: dict[str, Work] = {
    work.key: work for work in (Engrave(), BurnPicture(), Score(), Drill(), Perforate(), KissCut(), Cut())
}


def find_work(key: str) -> Work:
    """The work of that key; raises `Refused`."""
    try:
        return WORKS[key]
    except KeyError:
        raise Refused(f"There is no work “{key[:40]}”; the works are {', '.join(WORKS)}.") from None


__all__ = ["WORKS", "Marks", "Moves", "Settings", "Work", "find_work"]
