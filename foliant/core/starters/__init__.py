"""Starters: ready pieces to begin with. To add one: write it beside its like, and name it there."""

from foliant.core.errors import Refused
from foliant.core.starters.gauges import GAUGES
from foliant.core.starters.plates import PLATES
from foliant.core.starters.standing import STANDING
from foliant.core.starters.starter import Starter
from foliant.core.starters.tags import TAGS

STARTERS: tuple[Starter, ...] = (*TAGS, *STANDING, *PLATES, *GAUGES)


def find_starter(key: str) -> Starter:
    """The starter of that key; raises `Refused`."""
    for starter in STARTERS:
        if starter.key == key:
            return starter
    raise Refused(f"There is no starter “{key[:40]}”; there are {', '.join(one.key for one in STARTERS)}.")


__all__ = ["STARTERS", "Starter", "find_starter"]
